import { X } from 'lucide-react';
import { Dialog as Base } from 'radix-ui';
import type { ReactNode } from 'react';

interface Props {
  readonly title: string;
  readonly onClose: () => void;
  readonly children: ReactNode;
  readonly width?: string;
}

/** A dialog that is open as long as it is there: it holds the focus, gives it back, and Escape closes it. */
export function Dialog({ title, onClose, children, width = 'w-[34rem]' }: Props) {
  return (
    <Base.Root open onOpenChange={(open) => !open && onClose()}>
      <Base.Portal>
        <Base.Overlay className="fixed inset-0 z-40 bg-ink/30" />
        <Base.Content
          aria-describedby={undefined}
          className={`-translate-x-1/2 -translate-y-1/2 slim-scroll fixed top-1/2 left-1/2 z-40 max-h-[86vh] max-w-[94vw] overflow-auto rounded border border-ink bg-sheet text-ink shadow-lg focus:outline-none ${width}`}
        >
          <div className="sticky top-0 z-10 flex items-center justify-between border-rule border-b bg-sheet px-4 py-2.5">
            <Base.Title className="text-lg">{title}</Base.Title>
            {/* a tip of the usual kind would take the Esc that is meant for the dialog */}
            <Base.Close aria-label="Close" title="Close, Esc" className="p-1 text-ink-soft hover:text-ink">
              <X size={18} aria-hidden />
            </Base.Close>
          </div>
          <div className="p-4">{children}</div>
        </Base.Content>
      </Base.Portal>
    </Base.Root>
  );
}

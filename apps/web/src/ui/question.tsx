import { AlertDialog } from 'radix-ui';
import type { ReactNode } from 'react';
import { Button } from './button.tsx';

interface Props {
  readonly title: string;
  readonly children: ReactNode;
  /** what is done when the maker says so */
  readonly yes: string;
  readonly no: string;
  /** another way out */
  readonly or?: { readonly label: string; readonly run: () => void };
  onYes(): void;
  onNo(): void;
}

/** Asks before something with consequences. Escape says no. */
export function Question({ title, children, yes, no, or, onYes, onNo }: Props) {
  return (
    <AlertDialog.Root open onOpenChange={(open) => !open && onNo()}>
      <AlertDialog.Portal>
        <AlertDialog.Overlay className="fixed inset-0 z-50 bg-ink/30" />
        <AlertDialog.Content
          className={`${or ? 'w-[35rem]' : 'w-[26rem]'} -translate-x-1/2 -translate-y-1/2 fixed top-1/2 left-1/2 z-50 max-w-[94vw] rounded border border-ink bg-sheet p-4 text-ink shadow-lg focus:outline-none`}
        >
          <AlertDialog.Title className="mb-1.5 text-lg">{title}</AlertDialog.Title>
          <AlertDialog.Description asChild>
            <div>{children}</div>
          </AlertDialog.Description>
          <div className="mt-4 flex flex-wrap justify-end gap-2">
            <AlertDialog.Cancel asChild>
              <Button>{no}</Button>
            </AlertDialog.Cancel>
            {or && (
              <AlertDialog.Action asChild>
                <Button onClick={or.run}>{or.label}</Button>
              </AlertDialog.Action>
            )}
            <AlertDialog.Action asChild>
              <Button look="danger" onClick={onYes}>
                {yes}
              </Button>
            </AlertDialog.Action>
          </div>
        </AlertDialog.Content>
      </AlertDialog.Portal>
    </AlertDialog.Root>
  );
}

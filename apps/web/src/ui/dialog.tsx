import { X } from 'lucide-react';
import { type ReactNode, useEffect, useRef } from 'react';

interface Props {
  readonly title: string;
  readonly onClose: () => void;
  readonly children: ReactNode;
  readonly width?: string;
}

/** A dialog of the browser's own kind: it holds the focus, and Escape closes it. */
export function Dialog({ title, onClose, children, width = 'w-[34rem]' }: Props) {
  const element = useRef<HTMLDialogElement>(null);
  useEffect(() => {
    const dialog = element.current;
    dialog?.showModal();
    return () => dialog?.close();
  }, []);
  return (
    <dialog
      ref={element}
      aria-label={title}
      onCancel={(e) => {
        e.preventDefault();
        onClose();
      }}
      className={`m-auto max-h-[86vh] max-w-[94vw] overflow-auto rounded border border-ink bg-sheet p-0 text-ink shadow-lg backdrop:bg-ink/30 ${width}`}
    >
      <div className="flex items-center justify-between border-rule border-b px-4 py-2.5">
        <h2 className="text-lg">{title}</h2>
        <button type="button" aria-label="Close" className="p-1 text-ink-soft hover:text-ink" onClick={onClose}>
          <X size={18} aria-hidden />
        </button>
      </div>
      <div className="p-4">{children}</div>
    </dialog>
  );
}

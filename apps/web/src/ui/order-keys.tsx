import { ArrowDown, ArrowUp, Trash2 } from 'lucide-react';
import type { ReactNode } from 'react';
import { Button } from './button.tsx';

interface Props {
  readonly index: number;
  readonly last: boolean;
  onMove(to: number): void;
  onDelete(): void;
  readonly className?: string;
  readonly children?: ReactNode;
}

/** Keys that move an entry of a list earlier or later, and delete it. */
export function OrderKeys({ index, last, onMove, onDelete, className = '', children }: Props) {
  const look = 'h-6 px-1 text-sm';
  return (
    <div className={`flex flex-wrap items-center ${className}`}>
      <Button look="quiet" className={look} disabled={index === 0} onClick={() => onMove(index - 1)}>
        <ArrowUp size={13} aria-hidden /> earlier
      </Button>
      <Button look="quiet" className={look} disabled={last} onClick={() => onMove(index + 1)}>
        <ArrowDown size={13} aria-hidden /> later
      </Button>
      <Button look="quiet" className={`${look} text-stop`} onClick={onDelete}>
        <Trash2 size={13} aria-hidden /> delete
      </Button>
      {children}
    </div>
  );
}

import { ChevronDown } from 'lucide-react';
import { Popover as Base } from 'radix-ui';
import type { ReactNode } from 'react';
import { Button } from './button.tsx';

/** A key that opens a small sheet of settings beside it. */
export function Popover({ label, children }: { label: string; children: ReactNode }) {
  return (
    <Base.Root>
      <Base.Trigger asChild>
        <Button>
          {label} <ChevronDown size={15} aria-hidden />
        </Button>
      </Base.Trigger>
      <Base.Portal>
        <Base.Content
          aria-label={label}
          align="end"
          sideOffset={3}
          collisionPadding={8}
          className="z-40 min-w-44 rounded border border-rule-strong bg-sheet p-3 shadow"
        >
          {children}
        </Base.Content>
      </Base.Portal>
    </Base.Root>
  );
}

import { ChevronDown } from 'lucide-react';
import { ContextMenu, DropdownMenu } from 'radix-ui';
import type { ReactNode } from 'react';
import { Button } from './button.tsx';

/** Something that a menu offers to do. */
export interface MenuEntry {
  readonly title: string;
  readonly keys?: string;
  readonly off?: boolean;
  /** it takes something away */
  readonly danger?: boolean;
  /** a rule stands above it */
  readonly apart?: boolean;
  run(): void;
}

const SHEET = 'z-50 max-h-[22rem] min-w-44 overflow-y-auto rounded border border-ink bg-sheet py-1 shadow-lg';
const ENTRY =
  'flex cursor-default items-center justify-between gap-6 px-2.5 py-1 outline-none data-[highlighted]:bg-lapis data-[highlighted]:text-sheet data-[disabled]:opacity-45';

/** A key that opens a list of things to do. */
export function DropMenu({ label, entries }: { label: string; entries: readonly MenuEntry[] }) {
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger asChild>
        <Button>
          {label} <ChevronDown size={15} aria-hidden />
        </Button>
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content align="end" sideOffset={3} collisionPadding={8} className={SHEET}>
          {entries.map((e) => (
            <div key={e.title}>
              {e.apart && <DropdownMenu.Separator className="my-1 h-px bg-rule" />}
              <DropdownMenu.Item
                disabled={e.off ?? false}
                onSelect={e.run}
                className={`${ENTRY} ${e.danger ? 'text-stop' : ''}`}
              >
                {e.title} {e.keys && <kbd className="num text-[12px] opacity-80">{e.keys}</kbd>}
              </DropdownMenu.Item>
            </div>
          ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}

/** What can be done with the thing that `children` shows: by the right button, a long touch, or the menu key. */
export function Offers({ entries, children }: { entries: readonly MenuEntry[]; children: ReactNode }) {
  return (
    <ContextMenu.Root>
      <ContextMenu.Trigger asChild>{children}</ContextMenu.Trigger>
      <ContextMenu.Portal>
        <ContextMenu.Content collisionPadding={8} className={SHEET}>
          {entries.map((e) => (
            <div key={e.title}>
              {e.apart && <ContextMenu.Separator className="my-1 h-px bg-rule" />}
              <ContextMenu.Item
                disabled={e.off ?? false}
                onSelect={e.run}
                className={`${ENTRY} ${e.danger ? 'text-stop' : ''}`}
              >
                {e.title} {e.keys && <kbd className="num text-[12px] opacity-80">{e.keys}</kbd>}
              </ContextMenu.Item>
            </div>
          ))}
        </ContextMenu.Content>
      </ContextMenu.Portal>
    </ContextMenu.Root>
  );
}

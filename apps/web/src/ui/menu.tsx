import { ChevronDown } from 'lucide-react';
import { ContextMenu, DropdownMenu } from 'radix-ui';
import { Fragment, type ReactNode } from 'react';
import { Button } from './button.tsx';

/** Something that a menu offers to do. */
export interface MenuEntry {
  readonly title: string;
  readonly off?: boolean;
  /** it takes something away */
  readonly danger?: boolean;
  /** a rule stands above it */
  readonly apart?: boolean;
  run(): void;
}

type Parts = Pick<typeof DropdownMenu | typeof ContextMenu, 'Item' | 'Separator'>;

const SHEET = 'z-50 max-h-[22rem] min-w-44 overflow-y-auto rounded border border-ink bg-sheet py-1 shadow-lg';
const ENTRY =
  'cursor-default px-2.5 py-1 outline-none data-[highlighted]:bg-lapis data-[highlighted]:text-sheet data-[disabled]:opacity-45';

/** The entries, drawn with the parts of either kind of menu. */
function Entries({ of: { Item, Separator }, entries }: { of: Parts; entries: readonly MenuEntry[] }) {
  return entries.map((e) => (
    <Fragment key={e.title}>
      {e.apart && <Separator className="my-1 h-px bg-rule" />}
      <Item disabled={e.off ?? false} onSelect={e.run} className={`${ENTRY} ${e.danger ? 'text-stop' : ''}`}>
        {e.title}
      </Item>
    </Fragment>
  ));
}

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
          <Entries of={DropdownMenu} entries={entries} />
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}

/** What can be done with the thing that `children` shows: by the right button or a long touch. */
export function Offers({ entries, children }: { entries: readonly MenuEntry[]; children: ReactNode }) {
  return (
    <ContextMenu.Root>
      <ContextMenu.Trigger asChild>{children}</ContextMenu.Trigger>
      <ContextMenu.Portal>
        <ContextMenu.Content collisionPadding={8} className={SHEET}>
          <Entries of={ContextMenu} entries={entries} />
        </ContextMenu.Content>
      </ContextMenu.Portal>
    </ContextMenu.Root>
  );
}

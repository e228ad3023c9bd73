import { Tabs as Base } from 'radix-ui';
import type { ReactNode } from 'react';

interface Props<T extends string> {
  readonly label: string;
  readonly tabs: readonly T[];
  readonly chosen: T;
  onChoose(tab: T): void;
  /** what the chosen word opens */
  readonly children: ReactNode;
}

/** A row of words of which one is open, and what it opens. */
export function Tabs<T extends string>({ label, tabs, chosen, onChoose, children }: Props<T>) {
  return (
    <Base.Root value={chosen} onValueChange={(t) => onChoose(t as T)}>
      <Base.List aria-label={label} className="flex border-rule border-b">
        {tabs.map((t) => (
          <Base.Trigger
            key={t}
            value={t}
            className="h-9 grow border-transparent border-b-2 px-1 text-ink-soft hover:text-ink data-[state=active]:border-cut data-[state=active]:font-semibold data-[state=active]:text-ink"
          >
            {t}
          </Base.Trigger>
        ))}
      </Base.List>
      {tabs.map((t) => (
        <Base.Content key={t} value={t} tabIndex={-1} className="focus:outline-none">
          {t === chosen && children}
        </Base.Content>
      ))}
    </Base.Root>
  );
}

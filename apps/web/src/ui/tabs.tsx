interface Props<T extends string> {
  readonly label: string;
  readonly tabs: readonly T[];
  readonly chosen: T;
  onChoose(tab: T): void;
}

/** A row of words of which one is open. */
export function Tabs<T extends string>({ label, tabs, chosen, onChoose }: Props<T>) {
  return (
    <div role="tablist" aria-label={label} className="flex border-rule border-b">
      {tabs.map((t) => (
        <button
          key={t}
          type="button"
          role="tab"
          aria-selected={t === chosen}
          className={`h-9 grow border-b-2 px-1 ${t === chosen ? 'border-cut font-semibold' : 'border-transparent text-ink-soft hover:text-ink'}`}
          onClick={() => onChoose(t)}
        >
          {t}
        </button>
      ))}
    </div>
  );
}

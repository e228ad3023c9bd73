import { ToggleGroup } from 'radix-ui';

interface Props<T extends string> {
  readonly label: string;
  readonly value: T;
  readonly options: readonly { readonly value: T; readonly label: string }[];
  onChange(value: T): void;
}

/** One of a few words, as a row of keys. */
export function Choice<T extends string>({ label, value, options, onChange }: Props<T>) {
  return (
    <div>
      <p className="mb-0.5 text-sm text-ink-soft" aria-hidden>
        {label}
      </p>
      <ToggleGroup.Root
        type="single"
        aria-label={label}
        value={value}
        onValueChange={(v) => v && onChange(v as T)}
        className="flex rounded border border-rule-strong bg-sheet"
      >
        {options.map((o) => (
          <ToggleGroup.Item
            key={o.value}
            value={o.value}
            className="h-[28px] grow border-rule border-r px-2 last:border-r-0 hover:bg-paper data-[state=on]:bg-lapis-wash data-[state=on]:font-semibold data-[state=on]:text-lapis"
          >
            {o.label}
          </ToggleGroup.Item>
        ))}
      </ToggleGroup.Root>
    </div>
  );
}

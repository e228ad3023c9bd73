interface Props<T extends string> {
  readonly label: string;
  readonly value: T;
  readonly options: readonly { readonly value: T; readonly label: string }[];
  readonly hideLabel?: boolean;
  onChange(value: T): void;
}

/** One of several words, as a list that opens. */
export function Pick<T extends string>({ label, value, options, hideLabel, onChange }: Props<T>) {
  return (
    <label className="block min-w-0 grow">
      <span className={hideLabel ? 'sr-only' : 'mb-0.5 block text-ink-soft text-sm'}>{label}</span>
      <select
        className="h-[30px] w-full rounded border border-rule-strong bg-sheet px-1.5"
        value={value}
        onChange={(e) => onChange(e.target.value as T)}
      >
        {options.map((o) => (
          <option key={o.value} value={o.value}>
            {o.label}
          </option>
        ))}
      </select>
    </label>
  );
}

import { useId } from 'react';

interface Props<T extends string> {
  readonly label: string;
  readonly value: T;
  readonly options: readonly { readonly value: T; readonly label: string }[];
  readonly hideLabel?: boolean;
  onChange(value: T): void;
}

/** One of several words, as a list that opens. */
export function Pick<T extends string>({ label, value, options, hideLabel, onChange }: Props<T>) {
  const id = useId();
  return (
    <div className="min-w-0 grow">
      <label htmlFor={id} className={hideLabel ? 'sr-only' : 'mb-0.5 block text-ink-soft text-sm'}>
        {label}
      </label>
      <select
        id={id}
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
    </div>
  );
}

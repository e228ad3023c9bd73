import { Check, ChevronDown } from 'lucide-react';
import { Select } from 'radix-ui';
import { useId } from 'react';
import { nonce } from './nonce.ts';

interface Props<T extends string> {
  readonly label: string;
  readonly value: T;
  readonly options: readonly { readonly value: T; readonly label: string }[];
  readonly hideLabel?: boolean;
  /** the label stands before the field, not above it */
  readonly inline?: boolean;
  onChange(value: T): void;
}

// the primitive takes no empty value, which means "none yet" here
const inside = (value: string): string => `=${value}`;

/** One of several words, as a list that opens. */
export function Pick<T extends string>({ label, value, options, hideLabel, inline, onChange }: Props<T>) {
  const id = useId();
  return (
    <div className={`min-w-0 ${inline ? 'flex items-center gap-2' : 'grow'}`}>
      <label
        htmlFor={id}
        className={hideLabel ? 'sr-only' : inline ? 'shrink-0 text-ink-soft' : 'mb-0.5 block text-ink-soft text-sm'}
      >
        {label}
      </label>
      <Select.Root value={inside(value)} onValueChange={(v) => onChange(v.slice(1) as T)}>
        <Select.Trigger
          id={id}
          className={`flex h-[30px] min-w-0 items-center justify-between gap-1.5 rounded text-left hover:border-ink data-[state=open]:border-lapis ${inline ? 'grow' : 'w-full'} ${inline && hideLabel ? 'border border-transparent' : 'border border-rule-strong bg-sheet px-2'}`}
        >
          <span className="truncate">
            <Select.Value />
          </span>
          <Select.Icon className="shrink-0 text-ink-soft">
            <ChevronDown size={15} aria-hidden />
          </Select.Icon>
        </Select.Trigger>
        <Select.Portal>
          <Select.Content
            position="popper"
            sideOffset={3}
            collisionPadding={8}
            className="z-50 max-h-[min(22rem,var(--radix-select-content-available-height))] min-w-[var(--radix-select-trigger-width)] max-w-[24rem] overflow-hidden rounded border border-ink bg-sheet shadow-lg"
          >
            <Select.Viewport {...(nonce && { nonce })} className="py-1">
              {options.map((o) => (
                <Select.Item
                  key={o.value}
                  value={inside(o.value)}
                  className="flex cursor-default items-center justify-between gap-3 px-2.5 py-1 outline-none data-[highlighted]:bg-lapis data-[highlighted]:text-sheet"
                >
                  <Select.ItemText>{o.label}</Select.ItemText>
                  <Select.ItemIndicator>
                    <Check size={14} aria-hidden />
                  </Select.ItemIndicator>
                </Select.Item>
              ))}
            </Select.Viewport>
          </Select.Content>
        </Select.Portal>
      </Select.Root>
    </div>
  );
}

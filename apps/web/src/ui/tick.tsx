import { Check } from 'lucide-react';
import { Checkbox } from 'radix-ui';
import { type ReactNode, useId } from 'react';

interface Props {
  readonly checked: boolean;
  onChange(checked: boolean): void;
  /** what stands beside the box; without it `label` is only spoken */
  readonly children?: ReactNode;
  /** spoken in place of what stands beside it */
  readonly label?: string;
  /** ink in the colour of what it is about */
  readonly tone?: 'lapis' | 'cut' | 'ink';
  readonly className?: string;
}

const TONES = {
  lapis: 'data-[state=checked]:border-lapis data-[state=checked]:bg-lapis',
  cut: 'data-[state=checked]:border-cut data-[state=checked]:bg-cut',
  ink: 'data-[state=checked]:border-ink data-[state=checked]:bg-ink',
};

/** A box to tick, with its words beside it. */
export function Tick({ checked, onChange, children, label, tone = 'lapis', className = '' }: Props) {
  const id = useId();
  const box = (
    <Checkbox.Root
      id={id}
      checked={checked}
      aria-label={label}
      onCheckedChange={(now) => onChange(now === true)}
      className={`flex h-4 w-4 shrink-0 items-center justify-center rounded-[2px] border border-rule-strong bg-sheet text-sheet hover:border-ink ${TONES[tone]}`}
    >
      <Checkbox.Indicator>
        <Check size={13} strokeWidth={3} aria-hidden />
      </Checkbox.Indicator>
    </Checkbox.Root>
  );
  if (children === undefined) return box;
  return (
    <div className={`flex items-center gap-2 ${className}`}>
      {box}
      <label htmlFor={id} className="min-w-0 grow">
        {children}
      </label>
    </div>
  );
}

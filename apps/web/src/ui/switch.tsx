import { Switch as Base } from 'radix-ui';
import type { ReactNode } from 'react';

/** A setting that is on or off at once, as how a drawing is drawn; what is chosen for later is a tick. */
export function Switch({
  checked,
  onChange,
  className = '',
  children,
}: {
  checked: boolean;
  onChange: (on: boolean) => void;
  className?: string;
  children: ReactNode;
}) {
  return (
    // biome-ignore lint/a11y/noLabelWithoutControl: the switch is the control
    <label className={`flex items-center gap-1.5 ${className}`}>
      <Base.Root
        checked={checked}
        onCheckedChange={onChange}
        className="relative h-[18px] w-8 shrink-0 rounded-full border border-rule-strong bg-paper-deep data-[state=checked]:border-lapis data-[state=checked]:bg-lapis"
      >
        <Base.Thumb className="block h-3 w-3 translate-x-0.5 rounded-full bg-ink-soft transition-transform data-[state=checked]:translate-x-4 data-[state=checked]:bg-sheet motion-reduce:transition-none" />
      </Base.Root>
      {children}
    </label>
  );
}

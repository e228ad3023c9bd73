import { Progress } from 'radix-ui';

/** How far work has come, 0 … 1. */
export function Bar({ label, share, className = 'w-28' }: { label: string; share: number; className?: string }) {
  const percent = Math.round(Math.min(1, Math.max(0, share)) * 100);
  return (
    <Progress.Root
      value={percent}
      aria-label={label}
      className={`inline-block h-2 shrink-0 overflow-hidden rounded bg-rule ${className}`}
    >
      <Progress.Indicator className="block h-full rounded bg-lapis" style={{ width: `${percent}%` }} />
    </Progress.Root>
  );
}

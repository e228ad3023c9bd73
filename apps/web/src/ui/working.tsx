import { Bar } from './bar.tsx';
import { Button } from './button.tsx';

/** Long work under way: how far it is, and a way to end it. */
export function Working({
  label,
  working: { share, what, cancel },
}: {
  label: string;
  working: { readonly share: number; readonly what: string; cancel(): void };
}) {
  return (
    <div className="flex items-center gap-2" role="group" aria-label={label}>
      <Bar label={label} share={share} className="w-20 shrink-0" />
      <span className="min-w-0 grow text-ink-soft text-sm leading-tight">{what}</span>
      <Button onClick={cancel}>Cancel</Button>
    </div>
  );
}

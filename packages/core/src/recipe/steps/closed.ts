import { type Body, isClosed } from '../../body/index.ts';
import { GephyraError } from '../../errors.ts';

/** Throws GephyraError `recipe.open` when one of the bodies is open. */
export function requireClosed(bodies: readonly Body[], what: string): void {
  const open = bodies.find((b) => !isClosed(b));
  if (!open) return;
  throw new GephyraError(
    'recipe.open',
    `${open.name} is open, so it cannot be ${what}. Mend it first, or leave it out.`,
    {
      body: open.id,
    },
  );
}

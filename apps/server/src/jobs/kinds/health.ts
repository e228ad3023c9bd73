import type { HealthReport } from '@gephyra/contract';
import { diagnose, isClosed, modelBox, overlapping, sizeOf } from '@gephyra/core';
import { shapedOf } from '../models.ts';
import { type AskedKind, MIB, MINUTE } from './kind.ts';
import { type RecipeWish, recorded } from './shape.ts';

/** Health of every body after a recipe, as JSON: bodies, and pairs that overlap. */
export const health: AskedKind<'health', RecipeWish> = {
  deadline: 15 * MINUTE,
  isLight: () => false,
  keep: { newest: 60, days: 90, bytes: 64 * MIB },
  record: recorded,
  async work(request, tell) {
    const { bodies } = await shapedOf(request, request.steps, request.locked, () => {});
    const modelSize = Math.hypot(...sizeOf(modelBox(bodies)));
    const report = bodies.map((b, i) => {
      tell(i / bodies.length, `Examining ${b.name}`);
      return diagnose(b, { crossing: true, modelSize });
    });
    tell(0.9, 'Looking for bodies that overlap');
    const solid = bodies.filter(isClosed);
    const overlaps = solid.flatMap((a, i) =>
      solid.slice(i + 1).flatMap((b) => {
        const at = overlapping(a.mesh, b.mesh);
        return at ? [{ bodies: [a.id, b.id] as const, at }] : [];
      }),
    );
    const found: HealthReport = { bodies: report, overlaps };
    const bytes = new TextEncoder().encode(JSON.stringify(found));
    return { do: 'file', bytes, fileName: 'health.json' };
  },
};

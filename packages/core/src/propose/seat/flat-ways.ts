import type { Plan } from '../../document/index.ts';
import { add, normalize, type Vec3 } from '../../mesh/index.ts';
import { flatOfPart, type MatingFace } from '../../seams/index.ts';

/** The mean normal of a seam's flats, by the planes of them; the zero vector where they look all ways, as round a ring. */
export function waysOfFlats(plan: Plan, faces: readonly MatingFace[]): Map<string, Vec3> {
  const out = new Map<string, Vec3>();
  for (const seam of plan.seams) {
    const own = faces.filter((f) => f.seam === seam.id && flatOfPart(seam, f.part ?? 0));
    const sum = own.reduce((s: Vec3, f) => add(s, f.frame.normal), [0, 0, 0]);
    const way: Vec3 = Math.hypot(...sum) > 0.5 * own.length ? normalize(sum) : [0, 0, 0];
    for (const f of own) out.set(f.plane, way);
  }
  return out;
}

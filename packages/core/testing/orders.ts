import { type Assembly, Blocking, checkOrder, proposeOrder } from '../src/assembly/index.ts';
import { applyChange, type PlanInput, parsePlan, type SeamInput } from '../src/document/index.ts';
import { type Evaluation, pieceMesh } from '../src/evaluate/index.ts';
import { finished } from '../src/finished.ts';
import type { IndexedMesh } from '../src/mesh/index.ts';
import { seatJoints } from '../src/propose/seat/index.ts';
import { toKernel } from '../src/solid/index.ts';
import { kernel } from './judges.ts';
import { cutBy } from './plans.ts';

/** The order of joining that is proposed for what was evaluated. */
export const orderOf = (e: Evaluation) => {
  const { plan } = e.context;
  return finished(proposeOrder(e, plan.seams, new Blocking(e)));
};

/** An order of joining, each step looked at. */
export const checked = (e: Evaluation, order: PlanInput['order']): Assembly =>
  finished(checkOrder(parsePlan({ ...e.context.plan, order }), e, new Blocking(e)));

/** Pieces of a solid parted by seams, with joints seated by themselves. */
export function jointed(mesh: IndexedMesh, seams: readonly SeamInput[]): Evaluation {
  const bare = cutBy(mesh, seams);
  const { joints } = seatJoints(bare.context.plan, bare);
  const plan = applyChange(bare.context.plan, { do: 'addJoints', joints });
  return cutBy(mesh, seams, { joints: plan.joints });
}

/** mm³ that the groups of each step have in common at places along its way, as the kernel sees it; what each may have. */
export function judged(e: Evaluation, { steps }: Assembly): { common: number; allowed: number }[] {
  const solids = new Map(e.pieces.map((p) => [p.key, toKernel(kernel, pieceMesh(p).mesh)]));
  return steps.flatMap(({ parts, out, travel, area }) => {
    const come = kernel.Manifold.union(parts[parts.length - 1].map((k) => solids.get(k)!));
    const stay = kernel.Manifold.union(parts.slice(0, -1).flatMap((p) => p.map((k) => solids.get(k)!)));
    return [0.5, 3, 15, 0.3 * travel, 0.8 * travel].map((way) => ({
      common: come
        .translate([out[0] * way, out[1] * way, out[2] * way])
        .intersect(stay)
        .volume(),
      // what float32 makes of faces that only touch
      allowed: area * 1e-6 * 400 + 0.02,
    }));
  });
}

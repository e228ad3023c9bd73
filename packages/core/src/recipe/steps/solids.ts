import { type Body, bodiesOfMesh, shapeOf } from '../../body/index.ts';
import type { StepOf } from '../../document/index.ts';
import { shells, splitBy } from '../../mesh/index.ts';
import { offsetSurface } from '../../skin/index.ts';
import { differenceOf, unionOf } from '../../solid/index.ts';
import { bodiesNamed } from '../bodies.ts';
import { inSolids } from '../regroup.ts';
import { inOrder } from './bench.ts';
import { requireClosed } from './closed.ts';
import type { Bench, HeavyStep, Work } from './step.ts';

export const join: HeavyStep<StepOf<'join'>> = {
  work(step, { chosen, inPlace, progress, tools }) {
    requireClosed(chosen, 'joined');
    progress(0.1, 'Joining');
    const mesh = unionOf(
      tools.kernel,
      chosen.map((b) => b.mesh),
    );
    const first = chosen[0];
    const joined = inSolids({ ...first, ...shapeOf(mesh), name: step.name ?? first.name });
    return {
      bodies: inPlace(joined),
      notes: joined.length > 1 ? [`They make ${joined.length} solids, as not all of them touch.`] : [],
      deviation: null,
    };
  },
};

export const separate: HeavyStep<StepOf<'separate'>> = {
  work: (_, { chosen, inPlace }) => ({ bodies: inPlace(chosen.flatMap(separated)), notes: [], deviation: null }),
};

export const takeOut: HeavyStep<StepOf<'takeOut'>> = {
  work: takenOut,
};

/** One body per shell; hollows stay with what is round them. */
function separated(body: Body): Body[] {
  const found = shells(body.mesh);
  if (found.count === 1) return [body];
  const shapes =
    body.loose > 0
      ? splitBy(body.mesh, found.ofTriangle, found.count).map((m) => shapeOf(m))
      : bodiesOfMesh(body.mesh).bodies;
  return shapes.map((shape, i) => ({
    ...body,
    ...shape,
    id: i === 0 ? body.id : `${body.id}-${i + 1}`,
    name: shapes.length > 1 ? `${body.name} ${i + 1}` : body.name,
  }));
}

function takenOut(step: StepOf<'takeOut'>, { state, tools, progress }: Bench): Work {
  const [rider] = bodiesNamed([step.body], state.bodies);
  const from = bodiesNamed(step.from, state.bodies).filter((b) => b !== rider);
  requireClosed([rider, ...from], 'taken out or cut');
  progress(0.1, `Making room round ${rider.name}`);
  const room = step.gap > 0 ? offsetSurface(rider.mesh, step.gap) : rider.mesh;
  const notes: string[] = [];
  const cut = from.flatMap((b, i) => {
    progress(0.2 + (i / from.length) * 0.7, `Cutting ${b.name}`);
    const mesh = differenceOf(tools.kernel, b.mesh, [room]);
    if (mesh.tags.length === 0) {
      notes.push(`Nothing of ${b.name} is left.`);
      return [];
    }
    return inSolids({ ...b, ...shapeOf(mesh) });
  });
  const rest = state.bodies.filter((b) => !from.includes(b));
  return { bodies: inOrder(state.bodies, [...rest, ...cut]), notes, deviation: null };
}

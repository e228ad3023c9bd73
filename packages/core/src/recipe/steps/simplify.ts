import { shapeOf } from '../../body/index.ts';
import type { StepOf } from '../../document/index.ts';
import { boxOf, sizeOf } from '../../mesh/index.ts';
import { twoSidedDistance } from '../../repair/index.ts';
import { simplified } from '../../solid/index.ts';
import type { Bench, HeavyStep, Work } from './step.ts';

export const simplify: HeavyStep<StepOf<'simplify'>> = {
  work: lighter,
};

function lighter(step: StepOf<'simplify'>, { chosen, inPlace, progress }: Bench): Work {
  const total = chosen.reduce((n, b) => n + b.mesh.tags.length, 0);
  let worst = 0;
  const notes: string[] = [];
  const bodies = chosen.map((b, i) => {
    progress(i / chosen.length, `Simplifying ${b.name}`);
    const goal = step.triangles === undefined ? 4 : (step.triangles * b.mesh.tags.length) / total;
    let error = step.deviation ?? Infinity;
    for (let k = 0; k < 8; k++) {
      const mesh = simplified(b.mesh, goal, Math.min(error, 1e6));
      const shape = shapeOf(mesh);
      const off = twoSidedDistance(b.mesh, mesh);
      // of very few triangles a solid may come out torn, or turned inside out
      const torn = b.topology.watertight && !(shape.topology.watertight && shape.volume > 0);
      if (!torn && (step.deviation === undefined || off <= step.deviation)) {
        worst = Math.max(worst, off);
        return { ...b, ...shape, loose: b.loose };
      }
      if (torn && step.deviation === undefined)
        error = Math.hypot(...sizeOf(boxOf(b.mesh.positions))) * 0.01 * 0.5 ** k;
      else error *= 0.6;
    }
    notes.push(`${b.name} was left as it is: it could not be made simpler that way.`);
    return b;
  });
  return { bodies: inPlace(bodies), notes, deviation: { old: worst, added: worst } };
}

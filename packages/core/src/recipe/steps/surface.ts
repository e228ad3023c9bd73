import { isClosed, pairEdges, shapeOf } from '../../body/index.ts';
import type { StepOf } from '../../document/index.ts';
import { boxOf, halfEdges, type IndexedMesh, shells, sizeOf, splitBy, volume, weldWithin } from '../../mesh/index.ts';
import {
  closeHoles,
  cornerFans,
  dropDuplicates,
  dropFlat,
  mendSurface,
  orientConsistently,
  untangle as resolveCrossings,
  resolveCrowded,
  splitFans,
  usualTolerance,
  without,
} from '../../repair/index.ts';
import { kernelStatus } from '../../solid/index.ts';
import { modelBox } from '../state.ts';
import { requireClosed } from './closed.ts';
import type { Bench, HeavyStep, Work } from './step.ts';

export const weld: HeavyStep<StepOf<'weld'>> = {
  work: (step, { surfaces }) =>
    surfaces('Welding', (mesh) => ({ mesh: dropDuplicates(weldWithin(mesh, step.tolerance)).mesh })),
};

export const drop: HeavyStep<StepOf<'drop'>> = {
  work: (step, { surfaces }) => surfaces('Dropping', (mesh) => ({ mesh: dropped(mesh, step) })),
};

export const split: HeavyStep<StepOf<'split'>> = {
  work: (_, { surfaces }) => {
    return surfaces('Splitting', (mesh) => {
      const { mesh: resolved, dropped: gone } = resolveCrowded(pairEdges(mesh).mesh);
      return {
        mesh: splitFans(resolved, cornerFans(resolved, halfEdges(resolved))).mesh,
        notes: gone > 0 ? [`${gone} triangles of inner sheets and fins went.`] : [],
      };
    });
  },
};

export const orient: HeavyStep<StepOf<'orient'>> = {
  work: (_, { surfaces }) => {
    return surfaces('Turning', (mesh) => {
      const { mesh: out, oneSided } = orientConsistently(mesh);
      return { mesh: out, notes: oneSided > 0 ? ['A surface is one-sided: it has no outside.'] : [] };
    });
  },
};

export const close: HeavyStep<StepOf<'close'>> = {
  work: (step, { surfaces }) => {
    return surfaces('Closing holes', (mesh) => {
      const {
        mesh: out,
        closed,
        openings,
        failed,
      } = closeHoles(orientConsistently(mesh).mesh, { ...step, most: step.most ?? Infinity });
      return {
        mesh: out,
        notes: [
          `${closed} holes were closed.`,
          ...(openings > 0 ? [`${openings} were left, as they are meant to be open or wider than asked.`] : []),
          ...(failed > 0 ? [`${failed} could not be closed: their rim does not close. Mend all may do it.`] : []),
        ],
      };
    });
  },
};

export const mend: HeavyStep<StepOf<'mend'>> = {
  work(step, bench) {
    const tolerance = step.tolerance ?? usualTolerance(Math.hypot(...sizeOf(modelBox(bench.state.bodies))));
    const work = bench.surfaces('Mending', (mesh) => mendSurface(mesh, tolerance, step.openings));
    return { ...work, ...checkedSolids(work, bench) };
  },
};

export const untangle: HeavyStep<StepOf<'untangle'>> = {
  work: (_, bench) => {
    requireClosed(bench.chosen, 'freed of what passes through itself');
    const work = bench.each('Resolving', ({ mesh, name }) => {
      const { mesh: out, pairs } = resolveCrossings(mesh);
      if (pairs === 0) return { mesh };
      const [before, after] = [volume(mesh), volume(out)].map((v) => `${(v / 1000).toPrecision(5)} cm³`);
      return {
        mesh: out,
        notes: [
          `${name}: ${pairs} pairs of triangles went through each other. What it encloses counted ${before}, where some counted twice or less than nothing, and is ${after}.`,
        ],
      };
    });
    return { ...work, ...checkedSolids(work, bench) };
  },
};

/** After mending a body counts as closed only when the kernel takes it; of those still open it is said why. */
function checkedSolids(work: Work, { tools, progress, chosen: before }: Bench): Pick<Work, 'notes' | 'bodies'> {
  progress(0.95, 'Checking the solids');
  const notes = [...work.notes];
  const known = new Set(before.map((b) => b.mesh));
  const bodies = work.bodies.map((b) => {
    if (!isClosed(b) || known.has(b.mesh)) return b;
    const refused = kernelStatus(tools.kernel, b.mesh);
    return refused === 'NoError' ? b : { ...b, refused };
  });
  const open = bodies.filter((b) => !isClosed(b));
  for (const b of open.slice(0, 8)) {
    const t = b.topology;
    const why = [
      t.openEdges > 0 ? `${t.openEdges} open edges` : '',
      t.nonManifoldEdges > 0 ? `${t.nonManifoldEdges} edges of more than two triangles` : '',
      t.inconsistentEdges > 0 ? `${t.inconsistentEdges} edges whose sides disagree` : '',
      b.loose > 0 ? `${b.loose} loose shells` : '',
      b.refused === undefined ? '' : `the solid kernel refuses it (${b.refused})`,
    ].filter(Boolean);
    notes.push(`${b.name} is still open: ${why.join(', ')}.`);
  }
  if (open.length > 8) notes.push(`${open.length - 8} more bodies are still open.`);
  return { notes, bodies };
}

function dropped(mesh: IndexedMesh, step: StepOf<'drop'>): IndexedMesh {
  let out = step.duplicates ? dropDuplicates(mesh).mesh : mesh;
  if (step.slivers > 0) out = dropFlat(out, step.slivers).mesh;
  if (step.dust <= 0) return out;
  const found = shells(out);
  const parts = splitBy(out, found.ofTriangle, found.count);
  const small = parts.map((p) => sizeOf(boxOf(p.positions)).every((x) => x < step.dust) && !isHollow(p));
  if (!small.includes(true)) return out;
  const drop = Uint8Array.from(found.ofTriangle, (s) => (small[s] ? 1 : 0));
  return without(out, drop);
}

/** A closed shell that is inside out bounds a hollow, and is no dust. */
const isHollow = (mesh: IndexedMesh): boolean => {
  const shape = shapeOf(mesh);
  return shape.topology.watertight && shape.volume < 0;
};

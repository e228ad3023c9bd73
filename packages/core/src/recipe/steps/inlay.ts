import { type Body, shapeOf } from '../../body/index.ts';
import { besideLoop, type FlatRegion, type Frame, makeFrame, prismOf, regionsOfLoops } from '../../cut/index.ts';
import type { StepOf } from '../../document/index.ts';
import { GephyraError } from '../../errors.ts';
import {
  buildBlocks,
  dot,
  halfEdges,
  type IndexedMesh,
  type Loop2,
  mapPoint,
  nearest,
  noPlace,
  normalize,
  rayHits,
  sub,
  tagBorders,
  tagPatch,
  treeOf,
  triangleCross,
  type Vec3,
} from '../../mesh/index.ts';
import { carve, kernelTriangulator } from '../../solid/index.ts';
import { radians } from '../../units.ts';
import { freeBodyId } from '../bodies.ts';
import { inSolids } from '../regroup.ts';
import { inOrder } from './bench.ts';
import { requireClosed } from './closed.ts';
import type { Bench, HeavyStep, Work } from './step.ts';
import { lengthText } from './words.ts';

//       patch                  inlay, narrower by the gap
//    ___=====___            ___.=====.___
//   |           |    to    |   |_____|   |   depth under the lowest place of the patch
//   |___________|          |_____________|

export const inlay: HeavyStep<StepOf<'inlay'>> = {
  work: inlaid,
};

/** A patch turns away from its mean direction by no more than 80°. */
const STEEPEST = Math.cos(radians(80));
/** The room for it is open above its highest place, mm. */
const ABOVE = 1;
/** Less under it is told, mm. */
const THIN = 0.8;

function inlaid(step: StepOf<'inlay'>, { state, chosen, inPlace, tools, progress }: Bench): Work {
  requireClosed(chosen, 'inlaid');
  const at = mapPoint(state.map, step.at);
  const { body, triangle } = nearestBody(chosen, at);
  const patch = tagPatch(body.mesh, triangle);
  if (patch.length === body.mesh.tags.length) {
    throw new GephyraError('inlay.whole', `${body.name} has one colour all over. Pick a patch of another colour.`);
  }
  const frame = frameOf(body.mesh, patch);
  const region = outlineOf(body.mesh, patch, frame);
  const heights = patch.flatMap((i) =>
    [0, 1, 2].map((k) => heightOf(body.mesh, body.mesh.triangles[i * 3 + k], frame)),
  );
  const [low, high] = [heights.reduce((a, b) => Math.min(a, b)), heights.reduce((a, b) => Math.max(a, b))];
  const floor = low - step.depth;
  const under = wallUnder(body.mesh, patch, frame, floor);
  if (under <= 0) {
    throw new GephyraError(
      'inlay.through',
      `An inlay ${lengthText(step.depth)} deep would come out on the other side of ${body.name}. Make it shallower.`,
    );
  }
  progress(0.2, 'Making room for the inlay');
  const fallback = kernelTriangulator(tools.kernel);
  const paint = body.mesh.tags[triangle];
  const room = prismOf(region, frame, floor, high + ABOVE, fallback);
  const beyond = beyondPaint(body.mesh, patch);
  const { outside } = carve(tools.kernel, body.mesh, room, CUTTER);
  const rest = { ...outside, tags: outside.tags.map((t) => (t >= CUTTER ? beyond : t)) };
  progress(0.6, 'Cutting the inlay');
  const narrower = step.gap > 0 ? shrunk(region, step.gap) : region;
  if (!narrower) {
    throw new GephyraError(
      'inlay.narrow',
      `The patch is narrower than two gaps of ${lengthText(step.gap)}. Take a smaller gap.`,
    );
  }
  const { inside } = carve(
    tools.kernel,
    body.mesh,
    prismOf(narrower, frame, floor + step.gap, high + ABOVE, fallback),
    CUTTER,
  );
  const piece = { ...inside, tags: inside.tags.map(() => paint) };
  const own = inSolids({ ...body, ...shapeOf(rest) });
  const id = freeBodyId(`${body.id}i`, state.bodies);
  const put = inSolids({ ...body, ...shapeOf(piece), id, name: `${body.name} inlay` });
  const bodies = inOrder(state.bodies, inPlace(own));
  const wall =
    Number.isFinite(under) && under < THIN ? ` Only ${lengthText(Number(under.toFixed(2)))} stay under it.` : '';
  return {
    bodies: [...bodies, ...put],
    notes: [
      `${put.length === 1 ? 'The inlay is a body' : `The inlay comes in ${put.length} bodies`} of its own.${wall}`,
    ],
    deviation: null,
  };
}

function nearestBody(bodies: readonly Body[], [x, y, z]: Vec3): { body: Body; triangle: number } {
  let best = { body: bodies[0], triangle: 0, squared: Infinity };
  for (const body of bodies) {
    const place = noPlace();
    nearest(treeOf(body.mesh), x, y, z, best.squared, place);
    if (place.triangle >= 0 && place.squared < best.squared)
      best = { body, triangle: place.triangle, squared: place.squared };
  }
  return best;
}

/** A frame whose normal is the mean direction of a patch. Throws where it bends too far round. */
function frameOf({ positions: p, triangles: t }: IndexedMesh, patch: readonly number[]): Frame {
  const sum: [number, number, number] = [0, 0, 0];
  const ways = patch.map((i) => triangleCross(p, t, i));
  for (const w of ways) for (let k = 0; k < 3; k++) sum[k] += w[k];
  const normal = normalize(sum);
  if (ways.some((w) => dot(w, normal) < STEEPEST * Math.hypot(...w))) {
    throw new GephyraError(
      'inlay.round',
      'This patch bends too far round for an inlay that drops in straight. Part it with a seam along its colour.',
    );
  }
  const v = t[patch[0] * 3] * 3;
  return makeFrame([p[v], p[v + 1], p[v + 2]], normal);
}

const heightOf = ({ positions: p }: IndexedMesh, v: number, { origin, normal }: Frame): number =>
  dot(sub([p[v * 3], p[v * 3 + 1], p[v * 3 + 2]], origin), normal);

function outlineOf(mesh: IndexedMesh, patch: readonly number[], { origin, u, v }: Frame): FlatRegion {
  const own = new Set(patch);
  const loops = tagBorders(mesh).filter((b) => own.has(Math.floor(b.halves[0] / 3)));
  const flat = loops.map(
    ({ halves }): Loop2 =>
      Float64Array.from(
        halves.flatMap((h) => {
          const at = mesh.triangles[h] * 3;
          const d = sub([mesh.positions[at], mesh.positions[at + 1], mesh.positions[at + 2]], origin);
          return [dot(d, u), dot(d, v)];
        }),
      ),
  );
  const regions = regionsOfLoops(flat).filter((r) => r.area > 0);
  if (regions.length !== 1) {
    throw new GephyraError(
      'inlay.round',
      'The outline of this patch crosses itself as it is looked at. Part it with a seam along its colour.',
    );
  }
  return regions[0];
}

function shrunk({ outer2, holes2 }: FlatRegion, by: number): FlatRegion | null {
  const outer = besideLoop(outer2, by);
  const holes = holes2.map((h) => besideLoop(h, by));
  if (!outer || holes.some((h) => !h)) return null;
  return regionsOfLoops([outer, ...(holes as Loop2[])]).sort((a, b) => b.area - a.area)[0] ?? null;
}

/** Least material under the floor of an inlay, along its direction; without end when there is a hollow of the body's own. */
function wallUnder(mesh: IndexedMesh, patch: readonly number[], { normal, origin }: Frame, floor: number): number {
  const blocks = buildBlocks(mesh);
  const way: Vec3 = [-normal[0], -normal[1], -normal[2]];
  let least = Infinity;
  const step = Math.max(1, Math.floor(patch.length / 200));
  for (let k = 0; k < patch.length; k += step) {
    const [a, b, c] = [0, 1, 2].map((j) => mesh.triangles[patch[k] * 3 + j] * 3);
    const at = [0, 1, 2].map(
      (j) => (mesh.positions[a + j] + mesh.positions[b + j] + mesh.positions[c + j]) / 3,
    ) as unknown as Vec3;
    const deep = dot(sub(at, origin), normal) - floor;
    const ahead = rayHits(blocks, at, way).filter((t) => t > 1e-4);
    if (ahead.length > 0) least = Math.min(least, Math.min(...ahead) - deep);
  }
  return least;
}

/** The colour that a patch borders on most often. */
function beyondPaint(mesh: IndexedMesh, patch: readonly number[]): number {
  const { twin } = halfEdges(mesh);
  const own = mesh.tags[patch[0]];
  const votes = new Map<number, number>();
  for (const i of patch) {
    for (let h = i * 3; h < i * 3 + 3; h++) {
      const tag = mesh.tags[Math.floor(twin[h] / 3)];
      if (tag !== own) votes.set(tag, (votes.get(tag) ?? 0) + 1);
    }
  }
  return [...votes].sort((a, b) => b[1] - a[1])[0][0];
}

/** Tags of a cutter begin here while the kernel works. */
const CUTTER = 1 << 24;

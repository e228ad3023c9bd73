import {
  type Affine,
  buildTree,
  concatenate,
  distance,
  type IndexedMesh,
  type Mirror,
  mapPoint,
  mirrorIn,
  mirroring,
  nearest,
  noPlace,
  normalize,
  perAxis,
  principalAxes,
  type Tree,
  triangleCross,
  turning,
  type Vec3,
  vecOf,
} from '../mesh/index.ts';

/** A plane in which a model is nearly its own mirror image. */
export interface MirrorPlane {
  readonly at: Vec3;
  readonly normal: Vec3;
  /** how far mirrored points lie from the surface: root mean square and the greatest, mm */
  readonly mean: number;
  readonly worst: number;
  /** near enough for what is made on one side to be made on the other as well */
  readonly close: boolean;
}

const SAMPLES = 3000;
/** A plane counts when mirrored points lie within this share of the size on the average. */
const GOOD = 0.02;
/** And is close within this: between figures in different poses (over 0.015) and what was modelled or scanned alike. */
const CLOSE = 0.005;
/** First and last steps in tilt, radians. */
const WIDEST = 0.08;
const FINEST = 1e-5;

/**
 * Finds the mirror plane of a model: tries the principal axes of its surface and the coordinate axes through its middle, and
 * moves the best to where mirrored points lie nearest to the surface (coordinate descent over tilt and shift). Null when
 * even the best is no symmetry.
 */
export function mirrorPlane(meshes: readonly IndexedMesh[]): MirrorPlane | null {
  const search = mirrorSearch(meshes);
  for (;;) {
    const step = search.next();
    if (step.done) return step.value;
  }
}

/** The plane in which both sides can be worked alike; null when there is none, or they differ too much. */
export function mirrorOf(plane: MirrorPlane | null): Mirror | null {
  return plane?.close ? mirrorIn(plane) : null;
}

/** An axis about which something looks the same again when it is turned by some shares of a circle. */
export interface TurnAxis {
  readonly at: Vec3;
  /** unit */
  readonly direction: Vec3;
  /** the counts of equal sectors, 2 … 24 */
  readonly sectors: readonly number[];
}

/** Turned points lie within this share of the size on the average, and as many sectors are looked for. */
const TURNED = 0.001;
const MOST_SECTORS = 24;

/** The axis of something round: of its principal axes and those of coordinates the one with most counts of equal sectors. Null without any. */
export function turnAxis(mesh: IndexedMesh): TurnAxis | null {
  if (mesh.tags.length === 0) return null;
  const { points, centre, axes, size } = samples(mesh);
  const tree = buildTree(mesh);
  const few = points.filter((_, i) => i % 8 === 0);
  let best: TurnAxis | null = null;
  for (const direction of [[0, 0, 1], [1, 0, 0], [0, 1, 0], ...axes] as Vec3[]) {
    const hints = new Int32Array(few.length).fill(-1);
    const sectors: number[] = [];
    for (let n = 2; n <= MOST_SECTORS; n++) {
      const turn = turning(direction, (2 * Math.PI) / n, centre);
      if (misfit(tree, few, turn, size, hints).mean <= size * TURNED) sectors.push(n);
    }
    if (sectors.length > (best?.sectors.length ?? 0)) best = { at: centre, direction, sectors };
  }
  return best;
}

/** The same search, which stops between its steps, so that others get their turn, and tells how far it is, from 0 to 1. */
export function* mirrorSearch(meshes: readonly IndexedMesh[]): Generator<number, MirrorPlane | null> {
  const mesh = concatenate(meshes);
  if (mesh.tags.length === 0) return null;
  const { points, centre, axes, size } = samples(mesh);
  const tree = buildTree(mesh);
  const candidates: Vec3[] = [...axes, [1, 0, 0], [0, 1, 0], [0, 0, 1]];
  const few = points.filter((_, i) => i % 6 === 0);
  // what is nearest to a point hardly changes from one try to the next
  const hints = new Int32Array(few.length).fill(-1);
  let best = candidates
    .map((normal) => ({ normal, at: centre, cost: misfit(tree, few, mirroring(normal, centre), size, hints).mean }))
    .sort((a, b) => a.cost - b.cost)[0];
  let tilt = WIDEST;
  let shift = size * 0.01;
  for (let round = 0; round < 120 && tilt > FINEST; round++) {
    yield Math.log(tilt / WIDEST) / Math.log(FINEST / WIDEST);
    const tries = moves(best.normal, best.at, tilt, shift).map((m) => ({
      ...m,
      cost: misfit(tree, few, mirroring(m.normal, m.at), size, hints).mean,
    }));
    const next = tries.sort((a, b) => a.cost - b.cost)[0];
    if (next.cost < best.cost * 0.995) best = next;
    else {
      tilt /= 2;
      shift /= 2;
    }
  }
  const { mean, worst } = misfit(tree, points, mirroring(best.normal, best.at), size);
  return mean <= size * GOOD ? { at: best.at, normal: best.normal, mean, worst, close: mean <= size * CLOSE } : null;
}

function moves(normal: Vec3, at: Vec3, tilt: number, shift: number): { normal: Vec3; at: Vec3 }[] {
  const out: { normal: Vec3; at: Vec3 }[] = [];
  for (const s of [-1, 1]) {
    out.push({ normal, at: perAxis(at, (x, k) => x + s * shift * normal[k]) });
    for (let k = 0; k < 3; k++) {
      const n = perAxis(normal, (x, a) => x + (a === k ? s * tilt : 0));
      out.push({ normal: normalize(n), at });
    }
  }
  return out;
}

function misfit(
  tree: Tree,
  points: readonly Vec3[],
  map: Affine,
  size: number,
  /** the triangle last found nearest to where each point is taken; -1: none yet */
  hints: Int32Array = new Int32Array(points.length).fill(-1),
): { mean: number; worst: number } {
  const place = noPlace();
  let sum = 0;
  let worst = 0;
  for (let i = 0; i < points.length; i++) {
    const [x, y, z] = mapPoint(map, points[i]);
    nearest(tree, x, y, z, size * size, place, hints[i] < 0 ? place.triangle : hints[i]);
    hints[i] = place.triangle;
    sum += place.squared;
    worst = Math.max(worst, place.squared);
  }
  return { mean: Math.sqrt(sum / points.length), worst: Math.sqrt(worst) };
}

/** Points spread over the surface, their middle by area, and the principal axes. */
function samples(mesh: IndexedMesh): { points: Vec3[]; centre: Vec3; axes: readonly Vec3[]; size: number } {
  const { positions: p, triangles: t, tags } = mesh;
  const areas = new Float64Array(tags.length);
  let whole = 0;
  const middleOf = (i: number): Vec3 =>
    vecOf((a) => (p[t[i * 3] * 3 + a] + p[t[i * 3 + 1] * 3 + a] + p[t[i * 3 + 2] * 3 + a]) / 3);
  for (let i = 0; i < tags.length; i++) {
    areas[i] = Math.hypot(...triangleCross(p, t, i));
    whole += areas[i];
  }
  const points: Vec3[] = [];
  const centre: [number, number, number] = [0, 0, 0];
  let carried = 0;
  const step = whole / SAMPLES;
  for (let i = 0; i < tags.length; i++) {
    const m = middleOf(i);
    for (let k = 0; k < 3; k++) centre[k] += (m[k] * areas[i]) / whole;
    carried += areas[i];
    // large triangles give several points, spread by a fixed sequence
    for (let n = 0; carried >= step; n++, carried -= step) points.push(n === 0 ? m : inside(p, t, i, n));
  }
  const size = Math.max(1e-9, ...points.map((q) => distance(q, centre))) * 2;
  return { points, centre, axes: scatterAxes(points, centre), size };
}

/** A point inside triangle i: the n-th of a low-discrepancy sequence (Roberts, 2018). */
function inside(p: Float64Array, t: Uint32Array, i: number, n: number): Vec3 {
  let u = (0.5 + n * 0.7548776662466927) % 1;
  let v = (0.5 + n * 0.5698402909980532) % 1;
  if (u + v > 1) [u, v] = [1 - u, 1 - v];
  const [a, b, c] = [t[i * 3] * 3, t[i * 3 + 1] * 3, t[i * 3 + 2] * 3];
  return vecOf((k) => p[a + k] + u * (p[b + k] - p[a + k]) + v * (p[c + k] - p[a + k]));
}

/** Principal axes of points about a middle. */
function scatterAxes(points: readonly Vec3[], centre: Vec3): readonly Vec3[] {
  const m = new Float64Array(9);
  for (const q of points) {
    const d = q.map((x, k) => x - centre[k]);
    for (let r = 0; r < 3; r++) for (let c = 0; c < 3; c++) m[r * 3 + c] += d[r] * d[c];
  }
  return principalAxes(m).axes;
}

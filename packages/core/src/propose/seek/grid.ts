import { makeFrame, type Profile, profileAlong } from '../../cut/index.ts';
import type { Printer } from '../../document/index.ts';
import { axisVector, type Blocks, type Box, boxOf, perAxis, sizeOf, type Vec3, vecOf } from '../../mesh/index.ts';
import { withinBuild } from '../../print/index.ts';
import { type CellBox, cellBoxes, vertexBoxes } from './cell-boxes.ts';

export interface GridWish {
  readonly printer: Printer;
  /** axes that may be cut across: 0, 1, 2 */
  readonly axes: readonly number[];
  /** even spacing, or moved to where the section is small */
  readonly spacing: 'even' | 'necks';
  /** kept free for joints that stand out from every cut face, mm */
  readonly jointRoom: number;
  /** stretches along each axis in which no plane may lie */
  readonly clear: readonly (readonly (readonly [number, number])[])[];
}

export interface GridPlan {
  /** places of the planes along x, y and z, ascending, mm */
  readonly planes: readonly [readonly number[], readonly number[], readonly number[]];
  readonly count: number;
  /** how many the box round all bodies would need by itself */
  readonly byBox: number;
  /** boxes of what the planes leave that still do not fit; 0 unless some axis may not be cut */
  readonly over: number;
}

const MOST_EACH = 60;

/**
 * Few planes across the chosen axes after which everything fits the printer: the fewest of what is tried, which need not be
 * the fewest there are. Counts of planes are tried from few to many; for each, even spacing over the model and spacing by
 * the largest pieces that fit, held against the boxes of what really lies in each cell. The box round all bodies alone is
 * the upper bound.
 */
export function gridFor(
  bodies: readonly Blocks[],
  box: Box,
  wish: GridWish,
  tell?: (share: number, what: string) => void,
): GridPlan {
  const size = sizeOf(box);
  const byBox = boxCounts(size, wish);
  const total = byBox.reduce((a, b) => a + b, 0);
  const least = leastCounts(bodies, wish);
  const fewest = least.reduce((a, b) => a + b, 0);
  for (let count = fewest; count < total; count++) {
    tell?.((count - fewest) / (total - fewest), `Trying ${count} of at most ${total} seams`);
    for (const counts of sharesOf(count, least, wish.axes, byBox)) {
      for (const planes of spacings(box, counts, wish)) {
        if (overIn(bodies, planes, wish) > 0) continue;
        return finish(bodies, box, planes, wish, total);
      }
    }
  }
  const planes = even(box, byBox, wish);
  return finish(bodies, box, planes, wish, total);
}

type Planes = [number[], number[], number[]];

function finish(bodies: readonly Blocks[], box: Box, planes: Planes, wish: GridWish, byBox: number): GridPlan {
  const final = wish.spacing === 'necks' ? toNecks(bodies, box, planes, wish) : planes;
  return {
    planes: final,
    count: final.reduce((n, list) => n + list.length, 0),
    byBox,
    over: overIn(bodies, final, wish),
  };
}

/** Planes along each axis that the box alone needs, in the pose that needs fewest. */
function boxCounts(size: Vec3, wish: GridWish): [number, number, number] {
  let best: [number, number, number] | null = null;
  let least = Infinity;
  const counts = vecOf((axis) => (wish.axes.includes(axis) ? MOST_EACH : 0));
  for (let x = 0; x <= counts[0]; x++) {
    if (x >= least) break;
    for (let y = 0; y <= counts[1]; y++) {
      if (x + y >= least) break;
      for (let z = 0; z <= counts[2]; z++) {
        if (x + y + z >= least) break;
        const cell = perAxis([x, y, z], (n, a) => size[a] / (n + 1) + roomFor(n, wish));
        if (!withinBuild(wish.printer, cell).within) continue;
        best = [x, y, z];
        least = x + y + z;
      }
    }
  }
  return best ?? (counts as [number, number, number]);
}

/** What the joints of a cell's cut faces may take up along an axis: each face has one male half on one of its sides. */
const roomFor = (planes: number, { jointRoom }: GridWish): number =>
  planes === 0 ? 0 : planes === 1 ? jointRoom : 2 * jointRoom;

/** Planes without which some body would stay longer than the printer's longest side. */
function leastCounts(bodies: readonly Blocks[], { printer, axes }: GridWish): [number, number, number] {
  const room = Math.max(
    printer.size[0] - 2 * printer.margin,
    printer.size[1] - 2 * printer.margin,
    printer.size[2] - printer.margin,
  );
  const sizes = bodies.map((b) => sizeOf(boxOf(b.mesh.positions)));
  return vecOf((a) =>
    axes.includes(a) ? Math.max(0, Math.ceil(Math.max(...sizes.map((s) => s[a])) / room - 1e-9) - 1) : 0,
  ) as [number, number, number];
}

/** Ways to share a number of planes over the axes, those nearest to what the box needs first. */
function sharesOf(
  count: number,
  least: readonly number[],
  axes: readonly number[],
  most: readonly number[],
): [number, number, number][] {
  const out: [number, number, number][] = [];
  for (let x = 0; x <= Math.min(count, axes.includes(0) ? MOST_EACH : 0); x++) {
    for (let y = 0; y <= Math.min(count - x, axes.includes(1) ? MOST_EACH : 0); y++) {
      const z = count - x - y;
      if (z > (axes.includes(2) ? MOST_EACH : 0)) continue;
      if (x >= least[0] && y >= least[1] && z >= least[2]) out.push([x, y, z]);
    }
  }
  const far = (c: readonly number[]): number => c.reduce((sum, n, a) => sum + Math.abs(n - most[a]), 0);
  return out.sort((a, b) => far(a) - far(b)).slice(0, 12);
}

function spacings(box: Box, counts: readonly [number, number, number], wish: GridWish): Planes[] {
  const list = [even(box, counts, wish)];
  // pieces as long as the printer takes, from either end: what is left over may be slim enough for less
  for (const fromTop of [false, true]) list.push(packed(box, counts, wish, fromTop));
  return list;
}

const even = (box: Box, counts: readonly number[], wish: GridWish): Planes =>
  counts.map((n, a) =>
    Array.from({ length: n }, (_, i) =>
      outOf(wish.clear[a], box.min[a] + ((box.max[a] - box.min[a]) * (i + 1)) / (n + 1)),
    ),
  ) as Planes;

function packed(box: Box, counts: readonly number[], wish: GridWish, fromTop: boolean): Planes {
  const { size, margin } = wish.printer;
  const room = [size[0] - 2 * margin, size[1] - 2 * margin, size[2] - margin];
  return counts.map((n, a) => {
    const step = Math.min(room[a] - roomFor(n, wish), (box.max[a] - box.min[a]) / (n + 0.2));
    const list = Array.from({ length: n }, (_, i) =>
      fromTop ? box.max[a] - step * (i + 1) : box.min[a] + step * (i + 1),
    );
    return list.map((x) => outOf(wish.clear[a], x)).sort((p, q) => p - q);
  }) as Planes;
}

/** The place itself, or the nearer end of the zone that it lies in. */
function outOf(clear: readonly (readonly [number, number])[], x: number): number {
  const zone = clear.find(([low, high]) => x > low && x < high);
  if (!zone) return x;
  return x - zone[0] < zone[1] - x ? zone[0] : zone[1];
}

/** How many cells hold something that does not fit. Vertices alone are looked at first: they mostly tell. */
function overIn(bodies: readonly Blocks[], planes: Planes, wish: GridWish): number {
  const tooBig = (cells: readonly CellBox[]): number => cells.filter((c) => !cellFits(c, planes, wish)).length;
  let over = 0;
  for (const body of bodies) {
    const sure = tooBig(vertexBoxes(body, planes));
    over += sure > 0 ? sure : tooBig(cellBoxes(body, planes));
  }
  return over;
}

function cellFits({ cell, box }: CellBox, planes: Planes, { printer, jointRoom }: GridWish): boolean {
  const size = perAxis(sizeOf(box), (s, a) => {
    const faces = (cell[a] > 0 ? 1 : 0) + (cell[a] < planes[a].length ? 1 : 0);
    return s + faces * jointRoom;
  });
  return withinBuild(printer, size).within;
}

/** Moves each plane to the smallest section within reach, as long as everything still fits. */
function toNecks(bodies: readonly Blocks[], box: Box, planes: Planes, wish: GridWish): Planes {
  const out = planes.map((list) => [...list]) as Planes;
  for (let axis = 0; axis < 3; axis++) {
    if (out[axis].length === 0) continue;
    const normal = axisVector(axis);
    const profile = profileAlong(
      bodies.map((b) => b.mesh),
      makeFrame([0, 0, 0], normal),
      160,
    );
    out[axis].forEach((from, i) => {
      const reach = (box.max[axis] - box.min[axis]) / (out[axis].length + 1) / 2;
      for (const at of smallestFirst(profile, from, reach)) {
        if (wish.clear[axis].some(([low, high]) => at > low && at < high)) continue;
        const tried = out.map((list, a) => (a === axis ? list.map((x, k) => (k === i ? at : x)) : list)) as Planes;
        if (overIn(bodies, tried, wish) > 0) continue;
        out[axis][i] = at;
        break;
      }
    });
  }
  return out;
}

/** Places within reach whose section is smaller than at `from`, smallest first, at most a dozen. */
function smallestFirst({ at, area }: Profile, from: number, reach: number): number[] {
  let own = Infinity;
  let least = Infinity;
  at.forEach((x, i) => {
    if (Math.abs(x - from) < least) [least, own] = [Math.abs(x - from), area[i]];
  });
  return Array.from(at, (x, i) => ({ x: Number(x.toFixed(2)), area: area[i] }))
    .filter((s) => Math.abs(s.x - from) <= reach && s.area < own * 0.97 && s.area > 0)
    .sort((a, b) => a.area - b.area)
    .slice(0, 12)
    .map((s) => s.x);
}

import { Clipper, EndType, FillRule, JoinType, type PathsD } from 'clipper2-ts';
import { loopArea } from '../cut/index.ts';

/** The shadow of a piece that lies on the bed: loops x y x y …, counter-clockwise outside, clockwise round holes, mm. */
export type Shadow = readonly Float64Array[];

/** Digits after the point that the 2D library keeps, of mm. */
const DIGITS = 4;
/** Corners that lie nearer to the line between their neighbours are dropped, mm. */
const STRAIGHT = 0.05;

/**
 * The silhouette of a closed mesh seen from above: the borders between what faces up and what does not, united. Loops are
 * walked along directed edges of triangles that face up, less those whose other side faces up too; where a place is covered
 * once or more, their winding is positive.
 */
export function shadowOf({
  positions: p,
  triangles: t,
}: {
  readonly positions: Float64Array;
  readonly triangles: Uint32Array;
}): Shadow {
  const n = p.length / 3;
  const borders = new Map<number, number[]>();
  const open = new Set<number>();
  for (let i = 0; i < t.length; i += 3) {
    const [a, b, c] = [3 * t[i], 3 * t[i + 1], 3 * t[i + 2]];
    const up = (p[b] - p[a]) * (p[c + 1] - p[a + 1]) - (p[b + 1] - p[a + 1]) * (p[c] - p[a]);
    if (up <= 0) continue;
    for (let e = 0; e < 3; e++) {
      const from = t[i + e];
      const to = t[i + ((e + 1) % 3)];
      // an edge and its twin cancel
      if (!open.delete(to * n + from)) open.add(from * n + to);
    }
  }
  for (const edge of open) {
    const from = Math.floor(edge / n);
    const to = edge % n;
    const list = borders.get(from);
    if (list) list.push(to);
    else borders.set(from, [to]);
  }
  const loops: PathsD = [];
  for (const [start, list] of borders) {
    while (list.length > 0) {
      const loop = [{ x: p[3 * start], y: p[3 * start + 1] }];
      let at = list.pop()!;
      while (at !== start) {
        loop.push({ x: p[3 * at], y: p[3 * at + 1] });
        const next = borders.get(at)?.pop();
        if (next === undefined) break;
        at = next;
      }
      if (loop.length > 2) loops.push(loop);
    }
  }
  return toShadow(Clipper.unionD(loops, [], FillRule.Positive, DIGITS));
}

const toPaths = (shadow: Shadow): PathsD =>
  shadow.map((loop) => Array.from({ length: loop.length / 2 }, (_, i) => ({ x: loop[2 * i], y: loop[2 * i + 1] })));

const toShadow = (paths: PathsD): Shadow =>
  Clipper.simplifyPathsD(paths, STRAIGHT / 10)
    .filter((path) => path.length > 2)
    .map((path) => Float64Array.from(path.flatMap(({ x, y }) => [x, y])));

/** A shadow with so much kept free round it, mm, its corners round. */
export function grown(shadow: Shadow, by: number): Shadow {
  if (by <= 0) return shadow;
  const paths = Clipper.inflatePathsD(toPaths(shadow), by, JoinType.Round, EndType.Polygon, 2, DIGITS, 0.02);
  return toShadow(paths);
}

/** A shadow turned about the origin, radians, then moved, mm. */
export function placed(shadow: Shadow, x: number, y: number, spin: number): Shadow {
  const [c, s] = [Math.cos(spin), Math.sin(spin)];
  return shadow.map((loop) =>
    loop.map((_, i) => {
      const k = i & ~1;
      return i === k ? c * loop[k] - s * loop[k + 1] + x : s * loop[k] + c * loop[k + 1] + y;
    }),
  );
}

/** Mirrored at x = 0, as mirror twins are. */
export const mirroredShadow = (shadow: Shadow): Shadow =>
  shadow.map((loop) => {
    const out = new Float64Array(loop.length);
    for (let i = 0; i < loop.length; i += 2) {
      out[loop.length - 2 - i] = -loop[i];
      out[loop.length - 1 - i] = loop[i + 1];
    }
    return out;
  });

/** mm² */
export const shadowArea = (shadow: Shadow): number => shadow.reduce((sum, loop) => sum + loopArea(loop), 0);

/** How much two shadows cover of each other, mm². */
export function sharedArea(a: Shadow, b: Shadow): number {
  const [p, q] = [boxOfShadow(a), boxOfShadow(b)];
  if (p.max[0] <= q.min[0] || q.max[0] <= p.min[0] || p.max[1] <= q.min[1] || q.max[1] <= p.min[1]) return 0;
  return shadowArea(toShadow(Clipper.intersectD(toPaths(a), toPaths(b), FillRule.NonZero, DIGITS)));
}

export interface FlatBox {
  readonly min: readonly [number, number];
  readonly max: readonly [number, number];
}

export function boxOfShadow(shadow: Shadow): FlatBox {
  const min: [number, number] = [Infinity, Infinity];
  const max: [number, number] = [-Infinity, -Infinity];
  for (const loop of shadow) {
    for (let i = 0; i < loop.length; i++) {
      if (loop[i] < min[i % 2]) min[i % 2] = loop[i];
      if (loop[i] > max[i % 2]) max[i % 2] = loop[i];
    }
  }
  return { min, max };
}

import { type FlatRegion, type Frame, fromFrame, inRegion, insidePoint, makeFrame } from '../../cut/index.ts';
import { dot, type Loop2, type Mirror, mirroredDirection, mirroredPoint, sub } from '../../mesh/index.ts';
import type { Chunk } from './chunk.ts';
import type { Slice } from './slice.ts';

// What is alike on both sides of a mirror plane stays so by three kinds of cut:
//
//   across      in the mirror plane              ( | )     the sides are twins
//   same        square to it, both halves cut    (-+-)     parts lie in it, or are twins
//   twice       beside it, and its image too     (\|/)     what comes off on either side are twins

/** How a cut of something alike on both sides stands to its mirror plane. */
export type Standing = 'across' | 'same' | 'twice';

/** cos and sin of what counts as along and square. */
const ALONG = 0.99999;
const SQUARE = 1e-4;
/** How far stand-ins may be from their mirror image, mm. */
const LOOSE = 3;

/** The set of regions, and with each the region that is its mirror image, for planes square to the mirror plane. */
export function bothHalves({ frame, regions }: Slice, mask: number, mirror: Mirror): number {
  if (Math.abs(dot(frame.normal, mirror.normal)) > SQUARE) return mask;
  let out = mask;
  regions.forEach((r, i) => {
    if (!(mask & (1 << i))) return;
    const d = sub(mirroredPoint(mirror, fromFrame(frame, ...insidePoint(r.flat))), frame.origin);
    const image = regions.findIndex((other) => inRegion(other.flat, dot(d, frame.u), dot(d, frame.v)));
    if (image >= 0) out |= 1 << image;
  });
  return out;
}

/**
 * How a cut stands to the mirror plane; null when the two sides would not stay alike. Of a cut and its image only the one in
 * front of the plane is told. `rest`, when it is made twice: which of the parts is left in the middle.
 */
export function standingOf(
  slice: Slice,
  chunk: Chunk,
  cut: number,
  { parts, partOf }: { readonly parts: readonly unknown[]; readonly partOf: readonly number[] },
  mirror: Mirror,
): { standing: Standing; rest: number } | null {
  const { frame, regions } = slice;
  const along = dot(frame.normal, mirror.normal);
  if (Math.abs(along) < SQUARE) return { standing: 'same', rest: -1 };
  if (Math.abs(along) > ALONG && Math.abs(frame.offset * Math.sign(along) - mirror.offset) < 0.01) {
    return cut === regions.length ? { standing: 'across', rest: -1 } : null;
  }
  const beyond = beforePlane(slice, chunk, partOf, parts.length, mirror);
  const rest = beyond.indexOf(false);
  return rest >= 0 && beyond.lastIndexOf(false) === rest && parts.length > 1 ? { standing: 'twice', rest } : null;
}

/** Which parts lie before the mirror plane as a whole. */
function beforePlane(
  { sideOf }: Pick<Slice, 'sideOf'>,
  { mesh: { positions: p } }: Pick<Chunk, 'mesh'>,
  partOf: readonly number[],
  count: number,
  { normal: [x, y, z], offset }: Mirror,
): boolean[] {
  const out = new Array<boolean>(count).fill(true);
  for (let v = 0, k = 0; k < p.length; v++, k += 3) {
    if (x * p[k] + y * p[k + 1] + z * p[k + 2] < offset) out[partOf[sideOf[v]]] = false;
  }
  return out;
}

/** Which plane and which places a cut has on the other side. */
export function mirroredCut(
  { frame, cut }: { readonly frame: Frame; readonly cut: readonly FlatRegion[] },
  mirror: Mirror,
) {
  const origin = mirroredPoint(mirror, frame.origin);
  const seeds = cut.map((r) => mirroredPoint(mirror, fromFrame(frame, ...insidePoint(r))));
  return { frame: makeFrame(origin, mirroredDirection(mirror, frame.normal)), seeds };
}

/**
 * The box of points in the mirror plane's own frame: from and to across it (0 in it), and along it two ways, mm. The box of the
 * mirror image has the first two the other way round.
 */
export type Lying = readonly [from: number, to: number, ...number[]];

export function lyingOf(p: Float64Array, { normal, offset }: Mirror): Lying {
  const { u, v } = makeFrame([0, 0, 0], normal);
  const out: [number, number, ...number[]] = [Infinity, -Infinity, Infinity, -Infinity, Infinity, -Infinity];
  for (let k = 0; k < p.length; k += 3) {
    for (const [i, [x, y, z]] of [normal, u, v].entries()) {
      const d = x * p[k] + y * p[k + 1] + z * p[k + 2] - (i === 0 ? offset : 0);
      if (d < out[2 * i]) out[2 * i] = d;
      if (d > out[2 * i + 1]) out[2 * i + 1] = d;
    }
  }
  return out;
}

export const imageOf = ([from, to, ...rest]: Lying): Lying => [-to, -from, ...rest];

/** The most that two boxes differ by on a side, mm. */
export const farApart = (a: Lying, b: Lying): number => Math.max(...a.map((x, k) => Math.abs(x - b[k])));

/** Whether it reaches as far to both sides of the mirror plane. */
export function isCentred(chunk: Chunk, mirror: Mirror): boolean {
  const [from, to] = lyingOf(chunk.mesh.positions, mirror);
  return from < -LOOSE && to > LOOSE && Math.abs(from + to) < 2 * LOOSE;
}

/** A region of a plane as it lies on the plane's image: its outlines run the same way round there. */
export function mirroredRegion(region: FlatRegion, from: Frame, to: Frame, mirror: Mirror): FlatRegion {
  const image = (loop: Loop2): Loop2 => {
    const out = new Float64Array(loop.length);
    for (let i = 0; i < loop.length; i += 2) {
      const d = sub(mirroredPoint(mirror, fromFrame(from, loop[i], loop[i + 1])), to.origin);
      // the image runs the other way round
      out[loop.length - 2 - i] = dot(d, to.u);
      out[loop.length - 1 - i] = dot(d, to.v);
    }
    return out;
  };
  return { ...region, outer2: image(region.outer2), holes2: region.holes2.map(image) };
}

/** What a cut left, once for twins. */
export interface Kept {
  readonly chunk: Chunk;
  /** stands for its mirror image as well */
  readonly twin: boolean;
  readonly centred: boolean;
}

/** Of twins the one before the mirror plane; all others as they are. */
export function pairedUp(chunks: readonly Chunk[], mirror: Mirror): Kept[] {
  const all = chunks.map((chunk) => ({ chunk, at: lyingOf(chunk.mesh.positions, mirror) }));
  const behind = all.filter(({ at }) => at[1] < LOOSE);
  const out: Kept[] = [];
  for (const { chunk, at } of all) {
    if (at[1] < LOOSE) continue;
    const image = at[0] > -LOOSE ? behind.findIndex((o) => areTwins(o.chunk, chunk, farApart(imageOf(at), o.at))) : -1;
    if (image >= 0) behind.splice(image, 1);
    out.push({ chunk, twin: image >= 0, centred: isCentred(chunk, mirror) });
  }
  return [...out, ...behind.map(({ chunk }) => ({ chunk, twin: false, centred: false }))];
}

const areTwins = (a: Chunk, b: Chunk, apart: number): boolean =>
  apart < 2 * LOOSE && Math.abs(a.volume - b.volume) < 0.05 * a.volume;

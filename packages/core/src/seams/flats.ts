import { atOffset, fromFrame, makeFrame } from '../cut/index.ts';
import type { Flat, Seam } from '../document/index.ts';
import {
  type Affine,
  type Blocks,
  buildBlocks,
  dot,
  type IndexedMesh,
  pointAlong,
  rayHits,
  sub,
  type Vec3,
} from '../mesh/index.ts';
import { differenceOf, type Kernel } from '../solid/index.ts';
import { planeId, type SeamPlace, seamPlace } from './kinds/index.ts';

// A flat is a round place of a bent seam that is worked flat, so that a joint can stand on it. It is cut into the solid that
// the seam is cut by, so both sides get it, and what is known of faces holds of it:
//
//        bent face              with a flat
//        ___                     ___
//      /     \                 /\___/\      a pocket in the + side, widening at 45° to its mouth
//     /       \               /       \

/** The part of a seam that its flat number 0 would be; parts below are the seam's own. */
const FLATS = 500;

export const flatsOf = (seam: Seam): readonly Flat[] => ('flats' in seam ? (seam.flats ?? []) : []);

/** The part that a flat is. */
export const partOfFlat = ({ n }: Pick<Flat, 'n'>): number => FLATS + n;

/** Which flat of a seam a part is. */
export const flatOfPart = (seam: Seam, part: number): Flat | undefined =>
  part < FLATS ? undefined : flatsOf(seam).find((f) => f.n === part - FLATS);

/** A flat on the model; its normal points into the seam's + side. */
export function flatPlace(seam: Seam, { at, normal }: Pick<Flat, 'at' | 'normal'>, map: Affine): SeamPlace {
  const frame = makeFrame(seam.origin, seam.normal, seam.up);
  const origin = fromFrame(frame, ...at);
  const square = sub(fromFrame(frame, ...normal), frame.origin);
  const up = Math.abs(dot(square, frame.normal)) < 0.95 * Math.hypot(...square) ? frame.normal : frame.v;
  return seamPlace({ origin: tuple(origin), normal: tuple(square), up: tuple(up) }, map);
}

const tuple = ([x, y, z]: Vec3): [number, number, number] => [x, y, z];

/** A flat that is cut. */
interface Sunk {
  readonly place: SeamPlace;
  readonly radius: number;
  /** along the normal: where its pocket's mouth ends, and the flat itself, mm */
  readonly low: number;
  readonly high: number;
}

/** A flat lies this far below the lowest place of the bent face, so that it is whole, mm. */
const BELOW = 0.1;
/** It may be so deep, as a share of its diameter. */
const DEEPEST = 1 / 3;
const SIDES = 64;

/**
 * Works flats into a seam's solid. Tags from `base` on are those of the flats in their order, the one after them that of the
 * pockets' walls. Flats that lie off the surface, where it bends too much for their size, or on one another are left out:
 * `built` has the places of those that are there, each in its flat.
 */
export function sinkFlats(
  kernel: Kernel,
  mesh: IndexedMesh,
  flats: readonly { readonly place: SeamPlace; readonly diameter: number }[],
  base: number,
): { mesh: IndexedMesh; built: (SeamPlace | null)[] } {
  const surface = buildBlocks(mesh);
  const sunk: (Sunk | null)[] = [];
  for (const { place, diameter } of flats) {
    const found = depthOf(surface, place, diameter / 2);
    const clear = sunk.every((s) => s === null || apart(s, { place, radius: diameter / 2 }));
    sunk.push(found && clear ? { place, radius: diameter / 2, ...found } : null);
  }
  const built = sunk.map((s) => s && sunkPlace(s));
  if (built.every((b) => b === null)) return { mesh, built };
  const pockets = sunk.flatMap((s, i) => (s ? [pocket(s, base + i, base + flats.length)] : []));
  return { mesh: differenceOf(kernel, mesh, pockets), built };
}

const sunkPlace = ({ place, high }: Sunk): SeamPlace => ({
  ...place,
  frame: atOffset(place.frame, place.frame.offset + high),
});

const apart = (a: Sunk, b: Pick<Sunk, 'place' | 'radius'>): boolean =>
  Math.hypot(...sub(a.place.frame.origin, b.place.frame.origin)) > a.radius + b.radius + 2 * (a.high - a.low);

/** How deep a flat has to be cut, from where the surface lies under it; null where there is none or it bends too much. */
function depthOf(surface: Blocks, { frame }: SeamPlace, radius: number): Pick<Sunk, 'low' | 'high'> | null {
  const most = 2 * radius * DEEPEST;
  const heights = (r: number): (number | null)[] => {
    const points = r === 0 ? 1 : 16;
    return Array.from({ length: points }, (_, i) => {
      const a = (i / points) * 2 * Math.PI;
      return heightAt(surface, fromFrame(frame, r * Math.cos(a), r * Math.sin(a)), frame.normal, 1.5 * most);
    });
  };
  const inside = [0, radius / 3, (2 * radius) / 3, radius].flatMap(heights);
  if (inside.some((h) => h === null)) return null;
  const [low, high] = [Math.min(...(inside as number[])), Math.max(...(inside as number[])) + BELOW];
  if (high - low > most) return null;
  // the mouth is wider, and must lie before the surface there, too
  const round = heights(radius + high - low + 0.5).filter((h) => h !== null);
  return { low: Math.min(low, ...round) - 0.5, high };
}

/** How far a surface lies from a point along a direction, either way; null where it is farther than `reach`. */
function heightAt(surface: Blocks, at: Vec3, way: Vec3, reach: number): number | null {
  const heights = rayHits(surface, pointAlong(at, way, -reach), way).map((t) => t - reach);
  const nearest = heights.reduce((best, h) => (Math.abs(h) < Math.abs(best) ? h : best), Infinity);
  return Math.abs(nearest) <= reach ? nearest : null;
}

/** The frustum of a flat: its small end is the flat, its wide one lies before the surface. */
function pocket({ place: { frame }, radius, low, high }: Sunk, flat: number, wall: number): IndexedMesh {
  const deep = high - low;
  const ring = (r: number, h: number): Vec3[] =>
    Array.from({ length: SIDES }, (_, i) => {
      const a = (i / SIDES) * 2 * Math.PI;
      return fromFrame(frame, r * Math.cos(a), r * Math.sin(a), h);
    });
  const points = [...ring(radius, high), ...ring(radius + deep, low)];
  const triangles: number[] = [];
  const tags: number[] = [];
  for (let i = 0; i < SIDES; i++) {
    const j = (i + 1) % SIDES;
    triangles.push(i, SIDES + i, SIDES + j, i, SIDES + j, j);
    tags.push(wall, wall);
    if (i === 0 || j === 0) continue;
    triangles.push(0, i, j, SIDES, SIDES + j, SIDES + i);
    tags.push(flat, wall);
  }
  return {
    positions: Float64Array.from(points.flat()),
    triangles: Uint32Array.from(triangles),
    tags: Uint32Array.from(tags),
  };
}

/** The planes of a seam's flats. */
export const flatPlanes = (seam: Seam, map: Affine): { plane: string; place: SeamPlace; flat: Flat }[] =>
  flatsOf(seam).map((flat) => ({
    plane: planeId(seam.id, partOfFlat(flat)),
    place: flatPlace(seam, flat, map),
    flat,
  }));

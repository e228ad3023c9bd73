import {
  type Blocks,
  type IndexedMesh,
  type MirrorPlane,
  nearest,
  noPlace,
  normalize,
  perAxis,
  rayHits,
  treeOf,
  triangleCross,
} from '@gephyra/core';
import type { Triple } from './types.ts';

/** What was measured at a place of the surface. */
export interface ProbeView {
  /** mm through the material, square to the surface; null: the ray leaves through an open side */
  readonly wall: number | null;
  /** mm of free room on the outer side, to the next surface; null: there is none */
  readonly room: number | null;
}

export type MirrorView = MirrorPlane;

/** Rays both ways from a place: through the material, and away from it. */
export function probe(bodies: readonly { readonly blocks: Blocks }[], at: Triple, normal: Triple): ProbeView {
  const back: Triple = [-normal[0], -normal[1], -normal[2]];
  const least = (direction: Triple): number | null => {
    const hits = bodies.flatMap(({ blocks }) => rayHits(blocks, at, direction)).filter((s) => s > 1e-4);
    return hits.length > 0 ? Math.min(...hits) : null;
  };
  return { wall: least(back), room: least(normal) };
}

/** Where a straight line that enters here, square to the surface, has left all bodies; null when it meets none. */
export function through(bodies: readonly { readonly blocks: Blocks }[], at: Triple, normal: Triple): Triple | null {
  const back: Triple = [-normal[0], -normal[1], -normal[2]];
  const hits = bodies.flatMap(({ blocks }) => rayHits(blocks, at, back)).filter((s) => s > 1e-4);
  if (hits.length === 0) return null;
  const far = Math.max(...hits);
  return perAxis(at, (x, a) => x + back[a] * far);
}

/** A place met by a ray. */
export interface PickView {
  readonly body: string;
  readonly at: Triple;
  /** unit normal of the triangle, on the side of its front */
  readonly normal: Triple;
}

/** The first place at which a ray meets a body. */
export function pick(
  bodies: readonly { readonly id: string; readonly blocks: Blocks }[],
  origin: Triple,
  direction: Triple,
): PickView | null {
  let least = Infinity;
  let hit: (typeof bodies)[number] | null = null;
  for (const body of bodies) {
    for (const s of rayHits(body.blocks, origin, direction)) {
      if (s >= least) continue;
      least = s;
      hit = body;
    }
  }
  if (!hit) return null;
  const at = perAxis(origin, (x, a) => x + direction[a] * least);
  return { body: hit.id, at, normal: normalAt(hit.blocks.mesh, at) };
}

function normalAt(mesh: IndexedMesh, at: Triple): Triple {
  const place = noPlace();
  nearest(treeOf(mesh), at[0], at[1], at[2], Infinity, place);
  return normalize(triangleCross(mesh.positions, mesh.triangles, place.triangle));
}

import type { Fan, Triangulator } from '../../cut/index.ts';
import type { Seam } from '../../document/index.ts';
import type { Affine, Box, IndexedMesh } from '../../mesh/index.ts';
import type { SeamPlace } from './place.ts';

/** The seams of one kind. */
export type SeamOf<K extends Seam['kind']> = Extract<Seam, { kind: K }>;

/** A seam that is no plane, as a solid: what lies in it is on the seam's + side. */
export interface SeamSolid {
  /** closed, on the model; each triangle's tag is its facet */
  readonly mesh: IndexedMesh;
  /** by facet: the plane its faces lie in, or null where they are bent and carry no joints */
  readonly facets: readonly ({ readonly plane: string; readonly place: SeamPlace } | null)[];
}

/** What a kind of seam knows of its seams. */
export interface SeamKind<S extends Seam = Seam> {
  /** what one is called that has no name, before its axis: "Ring round" z */
  readonly title: string;
  /** how a seam cuts: by its plane, by half-planes round an axis, or by a solid */
  way(seam: S): 'plane' | 'fan' | 'solid';
  /** how many planes its faces may lie in, numbered from 0; a bent face lies in none */
  planes(seam: S): number;
  /** the place of one of its planes on the model; null where it has none of that number, but what cuts by its plane has only that */
  planeAt(seam: S, part: number, map: Affine): SeamPlace | null;
  /** some of its faces are bent: joints need flats worked into them */
  bent(seam: S): boolean;
  /** it goes round an axis: each plane counts for itself in the keys of pieces, its faces are furnished alike and close a ring */
  readonly round: boolean;
  /** of seams that cut by half-planes */
  fan?(seam: S, map: Affine): Fan;
  /** of seams that cut by a solid; `reach` is the box of the model that it must part */
  solid?(seam: S, map: Affine, reach: Box, fallback: Triangulator): SeamSolid;
}

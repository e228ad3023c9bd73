import type { Seam } from '../../document/index.ts';
import { fan } from './fan.ts';
import { flat } from './flat.ts';
import { profile } from './profile.ts';
import { ring } from './ring.ts';
import type { SeamKind, SeamOf } from './seam-kind.ts';

export { bladesOf } from './fan.ts';
export { boxMesh, cornersOf } from './flat.ts';
export { bendWay, type Point, sampled } from './line.ts';
export { planeId, planeInSource, type SeamPlace, seamOfPlane, seamPlace } from './place.ts';
export type { SeamSolid } from './seam-kind.ts';

/** Every kind of seam. */
const SEAM_KINDS: { readonly [K in Seam['kind']]: SeamKind<SeamOf<K>> } = { flat, fan, ring, profile };

/** What is known of a seam by its kind. */
export const seamKind = (seam: Pick<Seam, 'kind'>): SeamKind => SEAM_KINDS[seam.kind] as SeamKind;

export { withinBound } from './bound-section.ts';
export { ByteCache } from './byte-cache.ts';
export { carveCell, isWall, LAP_TAG, wallOfTag } from './carve-cell.ts';
export { findContacts } from './contacts.ts';
export { flatOfPart, flatPlace, flatsOf, partOfFlat } from './flats.ts';
export { pieceOrder, tagsOf } from './keys.ts';
export {
  bendWay,
  bladesOf,
  flatSchema,
  type Point,
  planeInSource,
  SEAM_KINDS,
  type SeamPlace,
  type SweptLine,
  sampled,
  seamCommon,
  seamKind,
  seamOfPlane,
  seamPlace,
} from './kinds/index.ts';
export type { Anchor, Contacts, MatingFace, PartedBody, PartedModel, SizedBody } from './model.ts';
export { nearestRegion, piecesOfBody, placeSeam } from './part-body.ts';
export { partModel } from './part-model.ts';
export { PartingCache, sizedBody } from './parting-cache.ts';
export { partPlace, planeOfJoint } from './planes.ts';
export { reshapedSolid } from './reshaped.ts';
export { depthInZone, inZone, type PlacedZone, placeZone, zoneSpan } from './zones.ts';

/** A point or direction: x, y, z. Lengths are millimetres. */
export type Vec3 = readonly [number, number, number];

/**
 * A triangle mesh.
 *
 * positions  xyz xyz …      three numbers a vertex, mm
 * triangles  abc abc …      three vertex indices a triangle, counter-clockwise seen from outside
 * tags       t t …          one number a triangle: an index into a table of tags that travels beside the mesh
 *
 * Immutable once built: nothing writes into the arrays of a mesh it was given.
 */
export interface IndexedMesh {
  readonly positions: Float64Array;
  readonly triangles: Uint32Array;
  readonly tags: Uint32Array;
}

/** What a triangle is part of. Entry 0 of a table is what an untagged triangle means. */
export type Tag =
  | { readonly kind: 'skin'; readonly body: string }
  | { readonly kind: 'cap'; readonly seam: string }
  | { readonly kind: 'male' | 'socket'; readonly joint: string };

export interface Box {
  readonly min: Vec3;
  readonly max: Vec3;
}

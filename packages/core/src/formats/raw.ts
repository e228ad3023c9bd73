/** Units that model files name, and what they are in millimetres. */
export const UNITS = { micron: 0.001, mm: 1, cm: 10, in: 25.4, ft: 304.8, m: 1000 } as const;
export type Unit = keyof typeof UNITS;

/** One named surface of a file. */
export interface RawPart {
  readonly name: string;
  /** xyz a vertex, in the file's unit: float32 where the format keeps no more */
  readonly positions: Float32Array | Float64Array;
  /** three vertex indices a triangle; null: every three vertices in turn are a triangle */
  readonly triangles: Uint32Array | null;
  /** the unit, where the format says it */
  readonly unit?: Unit;
  /** one number a triangle: an index into the model's palette */
  readonly paint?: Uint32Array;
  /** where it is built, once each, as rows of a 3 × 4 map; only 3MF keeps them. Without: once, as it is */
  readonly items?: readonly (readonly number[])[];
  /** red, green, blue a vertex, 0 … 255 */
  readonly vertexColours?: Uint8Array;
}

/** A colour or material of a file. Entry 0 of a palette means: none. */
export interface Paint {
  readonly name: string;
  /** #rrggbb, or empty where only a name is known */
  readonly colour: string;
}

export const FORMATS = ['stl-binary', 'stl-ascii', 'obj', 'ply-ascii', 'ply-binary', '3mf', 'kit'] as const;
export type Format = (typeof FORMATS)[number];

/** A model as a file holds it, before anything is welded. */
export interface RawModel {
  /** kit: several files in one archive */
  readonly format: Format;
  readonly parts: readonly RawPart[];
  readonly palette: readonly Paint[];
  /** what the maker should know about the file although it was read */
  readonly notes: readonly string[];
}

export const NO_PAINT: readonly Paint[] = [{ name: '', colour: '' }];

/** Triangles of a part. */
export const triangleCount = (part: RawPart): number =>
  part.triangles ? part.triangles.length / 3 : Math.floor(part.positions.length / 9);

/** How to read. */
export interface ReadOptions {
  /** Take the whole triangles of a truncated file instead of refusing it. */
  readonly allowTruncated?: boolean;
  /** The file's name, for messages. */
  readonly name?: string;
}

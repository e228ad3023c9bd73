/** One named triangle soup of a file. */
export interface RawPart {
  readonly name: string;
  /** nine float32 numbers a triangle, in the file's unit */
  readonly soup: Float32Array;
}

/** A model as a file holds it, before anything is welded. */
export interface RawModel {
  readonly format: 'stl-binary' | 'stl-ascii';
  readonly parts: readonly RawPart[];
  /** what the maker should know about the file although it was read */
  readonly notes: readonly string[];
}

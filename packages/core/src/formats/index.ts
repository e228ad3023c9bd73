export { type Printable, toPrintable } from './printable.ts';
export type { RawModel, RawPart } from './raw.ts';
export { readStl, type StlOptions, writeStlAscii, writeStlBinary } from './stl.ts';
export { type NamedMesh, writeThreeMf } from './threemf.ts';

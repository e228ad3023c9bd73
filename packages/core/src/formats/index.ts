export { EXPORT_FORMATS, type ExportFormat, MODEL_ENDINGS, WRITE_FORMATS, writerOf } from './file-formats.ts';
export { type Printable, toPrintable } from './printable.ts';
export { NO_PAINT, type Paint, type RawModel, type RawPart, triangleCount, UNITS, type Unit } from './raw.ts';
export { readModel } from './read.ts';
export { readStl, writeStlBinary } from './stl.ts';
export { formatOfName, inMillimetres, writeModel } from './write.ts';
export { isZip, unzipFiles, zipNames } from './zip.ts';
export { type Deflate, packZip } from './zip-write.ts';

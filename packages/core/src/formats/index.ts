export { cleanText, isPlainText, plainText } from './plain-text.ts';
export { type Printable, toPrintable } from './printable.ts';
export {
  FORMATS,
  type Format,
  NO_PAINT,
  type Paint,
  type RawModel,
  type RawPart,
  triangleCount,
  UNITS,
  type Unit,
} from './raw.ts';
export { readModel } from './read.ts';
export { readStl, writeStlAscii, writeStlBinary } from './stl.ts';
export { writeThreeMf } from './threemf.ts';
export { formatOfName, inMillimetres, WRITE_FORMATS, type WriteFormat, writeModel } from './write.ts';
export { isZip, unzipFiles, ZIP_LIMITS, type ZipLimits, zipNames } from './zip.ts';

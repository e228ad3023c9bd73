import CRC32 from 'crc-32';
import { deflateSync } from 'fflate';
import { GephyraError } from '../errors.ts';

/** A file of an archive. */
interface Packed {
  readonly name: string;
  readonly bytes: Uint8Array;
}

/** Packs bytes as raw deflate (RFC 1951). */
export type Deflate = (bytes: Uint8Array) => Uint8Array;

/** Works everywhere; where the system has its own, that is several times as fast. */
const plain: Deflate = (bytes) => deflateSync(bytes, { level: 4 });

const MOST = 0xffff_ffff;
const UTF8_NAMES = 0x800;
// 1 January 1980, the first day there is: equal files give equal archives
const DAY = (1 << 5) | 1;

/**
 * An archive of files (APPNOTE.TXT, the public specification of the ZIP file format, without ZIP64). What does not get
 * smaller is stored as it is. Throws GephyraError `zip.large` for more than 4 GiB or 65 534 files.
 */
export function packZip(files: readonly Packed[], deflate: Deflate = plain): Uint8Array {
  const entries = files.map(({ name, bytes }) => {
    const packed = bytes.length > 0 ? deflate(bytes) : bytes;
    const smaller = packed.length < bytes.length;
    return {
      name: new TextEncoder().encode(name),
      method: smaller ? 8 : 0,
      body: smaller ? packed : bytes,
      size: bytes.length,
      checksum: CRC32.buf(bytes) >>> 0,
      at: 0,
    };
  });
  let length = 22;
  for (const e of entries) length += 30 + 46 + 2 * e.name.length + e.body.length;
  if (length > MOST || entries.some((e) => e.size > MOST) || entries.length > 0xfffe) {
    throw new GephyraError('zip.large', 'The archive would be larger than 4 GB. Export fewer pieces at a time.');
  }
  const out = new Uint8Array(length);
  const view = new DataView(out.buffer);
  let at = 0;
  const numbers = (size: 2 | 4, ...list: number[]): void => {
    for (const x of list) {
      if (size === 2) view.setUint16(at, x, true);
      else view.setUint32(at, x, true);
      at += size;
    }
  };
  const bytes = (b: Uint8Array): void => {
    out.set(b, at);
    at += b.length;
  };
  /** what the header of an entry and its line in the directory have in common */
  const common = (e: (typeof entries)[number]): void => {
    numbers(2, 20, UTF8_NAMES, e.method, 0, DAY);
    numbers(4, e.checksum, e.body.length, e.size);
    numbers(2, e.name.length, 0);
  };
  for (const e of entries) {
    e.at = at;
    numbers(4, 0x04034b50);
    common(e);
    bytes(e.name);
    bytes(e.body);
  }
  const directory = at;
  for (const e of entries) {
    numbers(4, 0x02014b50);
    numbers(2, 20);
    common(e);
    numbers(2, 0, 0, 0);
    numbers(4, 0, e.at);
    bytes(e.name);
  }
  const behind = at;
  numbers(4, 0x06054b50);
  numbers(2, 0, 0, entries.length, entries.length);
  numbers(4, behind - directory, directory);
  numbers(2, 0);
  return out;
}

import CRC32 from 'crc-32';
import { Inflate } from 'fflate';
import { GephyraError } from '../errors.ts';

/** What an archive may hold before it is refused. */
export interface ZipLimits {
  readonly entries: number;
  /** bytes of all entries together, unpacked */
  readonly bytes: number;
  /** unpacked bytes a packed byte, once more than 16 MiB have come out */
  readonly ratio: number;
}

const ZIP_LIMITS: ZipLimits = { entries: 4000, bytes: 2 ** 31, ratio: 250 };

const CHUNK = 1 << 16;

export const isZip = (bytes: Uint8Array): boolean => bytes[0] === 0x50 && bytes[1] === 0x4b && bytes[2] <= 7;

const damaged = (name: string, what = 'the archive cannot be unpacked'): GephyraError =>
  new GephyraError('zip.damaged', `${name} is damaged: ${what}. Get or pack the file again.`);

/** A file of an archive, as its directory has it. */
interface Entry {
  /** no two are the same: a second “a.stl” is “a (2).stl” */
  readonly name: string;
  readonly method: number;
  readonly encrypted: boolean;
  readonly checksum: number;
  readonly packed: number;
  readonly size: number;
  /** where its local header begins */
  readonly at: number;
}

// Signatures and layouts: APPNOTE.TXT, the public specification of the ZIP file format, sections 4.3.7 to 4.3.16.
const LOCAL = 0x04034b50;
const CENTRAL = 0x02014b50;
const END = 0x06054b50;
const END64 = 0x06064b50;
const LOCATOR64 = 0x07064b50;
const FULL = 0xffffffff;

/** The directory of an archive. Throws what `zipNames` does. */
function directory(bytes: Uint8Array, name: string, limits: ZipLimits): Entry[] {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const u16 = (at: number): number => view.getUint16(at, true);
  const u32 = (at: number): number => view.getUint32(at, true);
  const u64 = (at: number): number => Number(view.getBigUint64(at, true));
  try {
    // the end of the directory may have a comment of up to 64 KiB behind it
    const least = Math.max(0, bytes.length - 22 - 0xffff);
    let end = bytes.length - 22;
    while (end >= least && u32(end) !== END) end--;
    if (end < least) throw damaged(name, 'its directory is missing or broken');
    let count = u16(end + 10);
    let size = u32(end + 12);
    let start = u32(end + 16);
    let behind = end;
    if ((count === 0xffff || size === FULL || start === FULL) && end >= 20 && u32(end - 20) === LOCATOR64) {
      let at = u64(end - 12);
      // bytes before the archive move everything
      if (u32(at) !== END64) at = end - 76;
      if (u32(at) !== END64) throw damaged(name);
      count = u64(at + 32);
      size = u64(at + 40);
      start = u64(at + 48);
      behind = at;
    }
    if (count > limits.entries) {
      throw new GephyraError('zip.tooMany', `${name} holds ${count} files; at most ${limits.entries} are taken.`);
    }
    const shift = behind - size - start;
    const entries: Entry[] = [];
    const names = new Set<string>();
    let at = start + shift;
    for (let i = 0; i < count; i++) {
      if (u32(at) !== CENTRAL) throw damaged(name);
      const flags = u16(at + 8);
      const nameEnd = at + 46 + u16(at + 28);
      const extraEnd = nameEnd + u16(at + 30);
      const found = { packed: u32(at + 20), size: u32(at + 24), at: u32(at + 42) };
      // the sizes that do not fit stand in a field of their own, in this order
      for (let x = nameEnd; x + 4 <= extraEnd; x += 4 + u16(x + 2)) {
        if (u16(x) !== 1) continue;
        let q = x + 4;
        for (const key of ['size', 'packed', 'at'] as const) {
          if (found[key] !== FULL) continue;
          found[key] = u64(q);
          q += 8;
        }
      }
      const path = textOf(bytes.subarray(at + 46, nameEnd));
      if (/^([/\\]|[a-z]:)/i.test(path) || path.split(/[/\\]/).includes('..')) {
        throw new GephyraError(
          'zip.path',
          `${name} holds a file that points out of the archive: “${path.slice(0, 60)}”.`,
        );
      }
      entries.push({
        ...found,
        name: unused(path, names),
        method: u16(at + 10),
        encrypted: (flags & 1) !== 0,
        checksum: u32(at + 16),
        at: found.at + shift,
      });
      at = extraEnd + u16(at + 32);
    }
    return entries.filter((e) => !/[/\\]$/.test(e.name));
  } catch (problem) {
    // reading past the end
    if (problem instanceof RangeError) throw damaged(name, 'its directory is missing or broken');
    throw problem;
  }
}

/** Names are UTF-8 whatever their flag says, unless they cannot be. */
function textOf(bytes: Uint8Array): string {
  try {
    return new TextDecoder('utf-8', { fatal: true }).decode(bytes);
  } catch {
    return new TextDecoder('latin1').decode(bytes);
  }
}

function unused(path: string, names: Set<string>): string {
  let own = path;
  for (let n = 2; names.has(own); n++) own = path.replace(/(\.[^./\\]*)?$/, ` (${n})$1`);
  names.add(own);
  return own;
}

/**
 * Names of the files in an archive; folders are left out, and a name that stands there twice gets a number. Throws
 * GephyraError `zip.damaged`, `zip.tooMany`, `zip.path` for names that point out of the archive.
 */
export const zipNames = (bytes: Uint8Array, name: string, limits: ZipLimits = ZIP_LIMITS): string[] =>
  directory(bytes, name, limits).map((e) => e.name);

/**
 * Unpacks the wanted files of an archive piece by piece: `chunk` gets each file's bytes in order, and an empty piece with
 * `last` at its end, when its size and checksum are right. Nothing is set aside for sizes that the archive merely claims.
 *
 * Throws GephyraError `zip.tooLarge` past a limit, `zip.encrypted`, `zip.method` for packing other than deflate,
 * `zip.damaged`.
 */
export function unzipStream(
  bytes: Uint8Array,
  name: string,
  wanted: (file: string) => boolean,
  chunk: (file: string, data: Uint8Array, last: boolean) => void,
  limits: ZipLimits = ZIP_LIMITS,
): void {
  let out = 0;
  for (const entry of directory(bytes, name, limits)) {
    if (!wanted(entry.name)) continue;
    let size = 0;
    let checksum = 0;
    const take = (data: Uint8Array): void => {
      out += data.length;
      size += data.length;
      if (out > limits.bytes || (out > 1 << 24 && out > bytes.length * limits.ratio)) {
        throw new GephyraError(
          'zip.tooLarge',
          `${name} unpacks to more than ${Math.round(out / 1024 / 1024)} MiB, which is more than a model needs. It is not read.`,
        );
      }
      checksum = CRC32.buf(data, checksum);
      if (data.length > 0) chunk(entry.name, data, false);
    };
    unpack(bytes, entry, name, take);
    const short = entry.name.split(/[/\\]/).at(-1) ?? entry.name;
    if (size !== entry.size) throw damaged(name, `“${short}” in it breaks off`);
    if (checksum >>> 0 !== entry.checksum) throw damaged(name, `“${short}” in it is not what was packed`);
    chunk(entry.name, new Uint8Array(0), true);
  }
}

function unpack(bytes: Uint8Array, entry: Entry, name: string, take: (data: Uint8Array) => void): void {
  if (entry.encrypted) {
    throw new GephyraError(
      'zip.encrypted',
      `${name} is encrypted. Unpack it with its password, and bring in what was in it.`,
    );
  }
  if (entry.method !== 0 && entry.method !== 8) {
    throw new GephyraError(
      'zip.method',
      `${name} is packed in a way that is not read (method ${entry.method}). Pack it as an ordinary zip.`,
    );
  }
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const { at } = entry;
  if (at < 0 || at + 30 > bytes.length || view.getUint32(at, true) !== LOCAL) throw damaged(name);
  const from = at + 30 + view.getUint16(at + 26, true) + view.getUint16(at + 28, true);
  const to = from + entry.packed;
  if (to > bytes.length) throw damaged(name, 'it breaks off');
  if (entry.method === 0) {
    for (let k = from; k < to; k += CHUNK) take(bytes.subarray(k, Math.min(to, k + CHUNK)));
    return;
  }
  let failure: unknown = null;
  const inflate = new Inflate((data) => {
    try {
      take(data);
    } catch (problem) {
      failure = problem;
      throw problem;
    }
  });
  try {
    for (let k = from; k < to; k += CHUNK) inflate.push(bytes.subarray(k, Math.min(to, k + CHUNK)), k + CHUNK >= to);
  } catch {
    throw failure ?? damaged(name);
  }
}

/** Unpacks the wanted files whole. Throws as `unzipStream` does. */
export function unzipFiles(
  bytes: Uint8Array,
  name: string,
  wanted: (file: string) => boolean,
  limits: ZipLimits = ZIP_LIMITS,
): Map<string, Uint8Array> {
  const pieces = new Map<string, Uint8Array[]>();
  const out = new Map<string, Uint8Array>();
  unzipStream(
    bytes,
    name,
    wanted,
    (file, data, last) => {
      const list = pieces.get(file) ?? [];
      pieces.set(file, list);
      list.push(data);
      if (!last) return;
      const whole = new Uint8Array(list.reduce((n, x) => n + x.length, 0));
      let at = 0;
      for (const x of list) {
        whole.set(x, at);
        at += x.length;
      }
      out.set(file, whole);
      pieces.delete(file);
    },
    limits,
  );
  return out;
}

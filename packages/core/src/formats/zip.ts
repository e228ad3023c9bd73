import { Unzip, UnzipInflate, unzipSync } from 'fflate';
import { GephyraError } from '../errors.ts';

/** What an archive may hold before it is refused. */
export interface ZipLimits {
  readonly entries: number;
  /** bytes of all entries together, unpacked */
  readonly bytes: number;
  /** unpacked bytes a packed byte, once more than 16 MiB have come out */
  readonly ratio: number;
}

export const ZIP_LIMITS: ZipLimits = { entries: 4000, bytes: 2 ** 31, ratio: 250 };

const CHUNK = 1 << 16;

export const isZip = (bytes: Uint8Array): boolean => bytes[0] === 0x50 && bytes[1] === 0x4b && bytes[2] <= 7;

const damaged = (name: string): GephyraError =>
  new GephyraError('zip.damaged', `${name} is damaged: the archive cannot be unpacked. Get or pack the file again.`);

/**
 * Names of the files in an archive; folders are left out. Throws GephyraError `zip.damaged`, `zip.tooMany`, `zip.path` for
 * names that point out of the archive.
 */
export function zipNames(bytes: Uint8Array, name: string, limits: ZipLimits = ZIP_LIMITS): string[] {
  const names: string[] = [];
  try {
    unzipSync(bytes, {
      filter: (file) => {
        names.push(file.name);
        return false;
      },
    });
  } catch {
    throw damaged(name);
  }
  if (names.length > limits.entries) {
    throw new GephyraError('zip.tooMany', `${name} holds ${names.length} files; at most ${limits.entries} are taken.`);
  }
  for (const n of names) {
    if (/^([/\\]|[a-z]:)/i.test(n) || n.split(/[/\\]/).includes('..')) {
      throw new GephyraError('zip.path', `${name} holds a file that points out of the archive: “${n.slice(0, 60)}”.`);
    }
  }
  return names.filter((n) => !n.endsWith('/'));
}

/**
 * Unpacks the wanted files of an archive piece by piece: `chunk` gets each file's bytes in order, and an empty piece with
 * `last` at its end. Nothing is set aside for sizes that the archive merely claims.
 *
 * Throws GephyraError `zip.tooLarge` past a limit, `zip.damaged`.
 */
export function unzipStream(
  bytes: Uint8Array,
  name: string,
  wanted: (file: string) => boolean,
  chunk: (file: string, data: Uint8Array, last: boolean) => void,
  limits: ZipLimits = ZIP_LIMITS,
): void {
  let out = 0;
  let failure: unknown = null;
  const unzip = new Unzip((file) => {
    if (!wanted(file.name) || failure) return;
    file.ondata = (error, data, last) => {
      if (failure) return;
      if (error) {
        failure = damaged(name);
        return;
      }
      out += data.length;
      if (out > limits.bytes || (out > 1 << 24 && out > bytes.length * limits.ratio)) {
        failure = new GephyraError(
          'zip.tooLarge',
          `${name} unpacks to more than ${Math.round(out / 1024 / 1024)} MiB, which is more than a model needs. It is not read.`,
        );
        file.terminate();
        return;
      }
      try {
        chunk(file.name, data, last);
      } catch (problem) {
        failure = problem;
        file.terminate();
      }
    };
    file.start();
  });
  unzip.register(UnzipInflate);
  try {
    for (let at = 0; at < bytes.length && !failure; at += CHUNK) {
      unzip.push(bytes.subarray(at, at + CHUNK), at + CHUNK >= bytes.length);
    }
  } catch (problem) {
    failure ??= problem instanceof GephyraError ? problem : damaged(name);
  }
  if (failure) throw failure;
}

/** Unpacks the wanted files whole. Throws as `unzipStream` does. */
export function unzipFiles(
  bytes: Uint8Array,
  name: string,
  wanted: (file: string) => boolean,
  limits: ZipLimits = ZIP_LIMITS,
): Map<string, Uint8Array> {
  const pieces = new Map<string, Uint8Array[]>();
  const ended = new Set<string>();
  unzipStream(
    bytes,
    name,
    wanted,
    (file, data, last) => {
      const list = pieces.get(file);
      if (list) list.push(data);
      else pieces.set(file, [data]);
      if (last) ended.add(file);
    },
    limits,
  );
  const out = new Map<string, Uint8Array>();
  for (const [file, list] of pieces) {
    if (!ended.has(file)) throw damaged(name);
    const whole = new Uint8Array(list.reduce((n, x) => n + x.length, 0));
    let at = 0;
    for (const x of list) {
      whole.set(x, at);
      at += x.length;
    }
    out.set(file, whole);
  }
  return out;
}

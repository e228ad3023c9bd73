import { createHash, randomUUID } from 'node:crypto';
import type { ReadStream } from 'node:fs';
import { mkdir, open, readdir, readFile, rename, rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { GephyraError } from '@gephyra/core';

/**
 * Files by the SHA-256 of their content.
 *
 *   blobs/ab/ab12…    a finished file; its name is its hash
 *   blobs/temp/…      a file being written; swept at start
 *
 * A file appears under its name only when it is whole and flushed: temp file, fsync, rename.
 */
export class BlobStore {
  /** blobs that are stored and about to be recorded, and by how many: they are not removed */
  private readonly held = new Map<string, number>();
  /** how many were stored since this was opened */
  stored = 0;

  private constructor(private readonly folder: string) {}

  static async open(folder: string): Promise<BlobStore> {
    await rm(join(folder, 'temp'), { recursive: true, force: true });
    await mkdir(join(folder, 'temp'), { recursive: true });
    return new BlobStore(folder);
  }

  /** Where a blob lies. Throws for anything that is no hash, so that no path is ever made of user text. */
  path(hash: string): string {
    if (!/^[0-9a-f]{64}$/.test(hash)) throw new GephyraError('blob.hash', 'This is not the name of a stored file.');
    return join(this.folder, hash.slice(0, 2), hash);
  }

  /** Stores a stream and records it: until `recorded` is done, the blob is not removed, whoever else had the same one. */
  async keep<T>(
    chunks: AsyncIterable<Uint8Array> | Iterable<Uint8Array>,
    limit: number,
    recorded: (hash: string) => Promise<T>,
  ): Promise<T> {
    let own = '';
    try {
      const { hash } = await this.put(chunks, limit, (name) => {
        own = name;
        this.held.set(name, (this.held.get(name) ?? 0) + 1);
      });
      return await recorded(hash);
    } finally {
      const left = (this.held.get(own) ?? 1) - 1;
      if (left > 0) this.held.set(own, left);
      else this.held.delete(own);
    }
  }

  /**
   * Stores a stream. Throws GephyraError `upload.tooLarge` past `limit` bytes; whatever goes wrong, nothing is left.
   */
  async put(
    chunks: AsyncIterable<Uint8Array> | Iterable<Uint8Array>,
    limit: number,
    named: (hash: string) => void = () => {},
  ): Promise<{ hash: string; bytes: number }> {
    const temp = join(this.folder, 'temp', randomUUID());
    const file = await open(temp, 'wx');
    try {
      const digest = createHash('sha256');
      let bytes = 0;
      for await (const chunk of chunks) {
        bytes += chunk.length;
        if (bytes > limit) throw tooLarge(limit);
        digest.update(chunk);
        await file.writeFile(chunk);
      }
      await file.sync();
      await file.close();
      const hash = digest.digest('hex');
      const path = this.path(hash);
      this.stored++;
      named(hash);
      const shelf = join(path, '..');
      const made = await mkdir(shelf, { recursive: true });
      await rename(temp, path);
      // names are only kept when their folder is flushed too
      await flushFolder(shelf);
      if (made) await flushFolder(this.folder);
      return { hash, bytes };
    } catch (error) {
      await file.close().catch(() => {});
      await rm(temp, { force: true });
      throw error;
    }
  }

  /** Reads a blob whole. Throws GephyraError `blob.damaged` when its content is not what its name says. */
  async read(hash: string): Promise<Uint8Array> {
    const bytes = await readFile(this.path(hash));
    if (createHash('sha256').update(bytes).digest('hex') !== hash) {
      throw new GephyraError('blob.damaged', 'A stored file was changed outside Gephyra. Import the model again.');
    }
    return bytes;
  }

  /** A blob as a stream, open already, so that a missing one is known before anything is sent. Throws `blob.gone`. */
  async stream(hash: string): Promise<{ stream: ReadStream; bytes: number }> {
    const file = await open(this.path(hash)).catch((error: unknown) => {
      console.error(error);
      throw new GephyraError('blob.gone', 'A stored file is missing or cannot be read. Import the model again.');
    });
    try {
      return { bytes: (await file.stat()).size, stream: file.createReadStream() };
    } catch (error) {
      await file.close();
      throw error;
    }
  }

  /** Bytes of a blob; 0 of one that is gone. */
  async size(hash: string): Promise<number> {
    return (await stat(this.path(hash)).catch(() => null))?.size ?? 0;
  }

  /** Removes a blob that nothing referred to when `stored` were stored; it stays when one was since, which may be the same. */
  async remove(hash: string, stored: number): Promise<void> {
    if (!this.held.has(hash) && this.stored === stored) await rm(this.path(hash), { force: true });
  }

  /** Removes every blob that is not in `used` and was stored `age` ms ago or earlier. Returns how many. */
  async sweep(used: ReadonlySet<string>, age: number): Promise<number> {
    const now = Date.now();
    let removed = 0;
    for (const shelf of await readdir(this.folder)) {
      if (!/^[0-9a-f]{2}$/.test(shelf)) continue;
      for (const name of await readdir(join(this.folder, shelf))) {
        if (used.has(name) || this.held.has(name)) continue;
        if (age > 0 && now - ((await stat(join(this.folder, shelf, name)).catch(() => null))?.mtimeMs ?? now) < age)
          continue;
        await rm(join(this.folder, shelf, name), { force: true });
        removed++;
      }
    }
    return removed;
  }
}

/** Flushes a folder's list of names. Some systems cannot open folders; there it is left to them. */
async function flushFolder(path: string): Promise<void> {
  const folder = await open(path).catch(() => null);
  try {
    await folder?.sync();
  } catch {
    // not to be had on this file system
  } finally {
    await folder?.close();
  }
}

/** The refusal of a file over the limit. */
export const tooLarge = (limit: number): GephyraError =>
  new GephyraError(
    'upload.tooLarge',
    `The file is larger than ${Math.round(limit / 1024 / 1024)} MiB. Simplify the model, or send it as binary STL.`,
  );

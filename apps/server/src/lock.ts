import { randomUUID } from 'node:crypto';
import { link, readFile, rm, stat, writeFile } from 'node:fs/promises';
import { hostname } from 'node:os';
import { join } from 'node:path';
import process from 'node:process';
import { setTimeout } from 'node:timers/promises';
import { GephyraError } from '@gephyra/core';

/** Who holds a data folder. */
interface Holder {
  readonly pid: number;
  readonly host: string;
  /** when that process began, as its system counts: a process that later has the same number has another */
  readonly began: string;
}

/**
 * Holds a data folder for this process by a file in it that names the process. A file that a crash left behind is told by
 * its process being gone, or being another one by now.
 *
 * Throws GephyraError `data.inUse` when another server, here or on another machine, holds it.
 */
export async function lockFolder(folder: string): Promise<() => Promise<void>> {
  const path = join(folder, 'lock');
  const own = JSON.stringify({
    pid: process.pid,
    host: hostname(),
    began: await beganOf(process.pid),
  } satisfies Holder);
  const part = join(folder, `lock.${randomUUID()}`);
  // linked into place when it is whole: whoever reads a lock reads all of it
  await writeFile(part, own, { flush: true });
  try {
    for (let attempt = 0; attempt < 500; attempt++) {
      try {
        await link(part, path);
        return async () => {
          if ((await textOf(path)) === own) await rm(path, { force: true });
        };
      } catch (error) {
        if ((error as NodeJS.ErrnoException).code !== 'EEXIST') throw error;
      }
      const text = await textOf(path);
      if (text === null) continue;
      const holder = holderOf(text);
      if (holder && (await lives(holder))) throw inUse(folder, holder);
      await takeAway(path, text);
    }
    throw inUse(folder, null);
  } finally {
    await rm(part, { force: true });
  }
}

const inUse = (folder: string, holder: Holder | null): GephyraError => {
  const elsewhere = holder && holder.host !== hostname();
  return new GephyraError(
    'data.inUse',
    elsewhere
      ? `The data folder ${folder} is in use on ${holder.host} (process ${holder.pid}). Stop it there; if it no longer runs, delete the file “lock” in the folder.`
      : `Another Gephyra server${holder ? ` (process ${holder.pid})` : ''} is using the data folder ${folder}. Stop it first.`,
  );
};

/** A removal takes a moment; one that is older than this was broken off, ms. */
const BROKEN_OFF = 5000;

/**
 * Removes a stale lock, but not one that somebody has put there in the meantime: whoever removes one is alone while he looks
 * and removes.
 */
async function takeAway(path: string, stale: string): Promise<void> {
  const removal = `${path}.removal`;
  try {
    await writeFile(removal, '', { flag: 'wx' });
  } catch {
    const { mtimeMs } = await stat(removal).catch(() => ({ mtimeMs: Date.now() }));
    if (Date.now() - mtimeMs > BROKEN_OFF) await rm(removal, { force: true });
    await setTimeout(20);
    return;
  }
  try {
    if ((await textOf(path)) === stale) await rm(path, { force: true });
  } finally {
    await rm(removal, { force: true });
  }
}

const textOf = (path: string): Promise<string | null> =>
  readFile(path, 'utf8').catch((error: NodeJS.ErrnoException) => {
    // a socket is what an earlier version held the folder by; nobody can hold it like that any more
    if (error.code === 'ENXIO') return '';
    if (error.code === 'ENOENT') return null;
    throw error;
  });

function holderOf(text: string): Holder | null {
  try {
    const { pid, host, began } = JSON.parse(text) as Partial<Holder>;
    return typeof pid === 'number' && typeof host === 'string' ? { pid, host, began: String(began ?? '') } : null;
  } catch {
    return null;
  }
}

async function lives({ pid, host, began }: Holder): Promise<boolean> {
  // of another machine's process nothing can be known
  if (host !== hostname()) return true;
  try {
    process.kill(pid, 0);
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === 'ESRCH') return false;
  }
  const now = await beganOf(pid);
  return now === '' || began === '' || now === began;
}

/** When a process began, in ticks since the system did, and which run of the system that was; '' where that is not told. */
async function beganOf(pid: number): Promise<string> {
  try {
    const stat = await readFile(`/proc/${pid}/stat`, 'utf8');
    const boot = await readFile('/proc/sys/kernel/random/boot_id', 'utf8');
    // the name of the program may hold anything; the fields behind it are counted from its closing bracket
    return `${boot.trim()} ${stat.slice(stat.lastIndexOf(')') + 2).split(' ')[19]}`;
  } catch {
    return '';
  }
}

import { constants, cpSync } from 'node:fs';
import { access, mkdir, readdir, rename, rm } from 'node:fs/promises';
import { join } from 'node:path';

/** Backups that are kept. */
const KEPT = 5;

/**
 * Copies the database, as the last server left it, into `backups/<time>` of the data folder, and forgets all but the newest
 * five. Call before the database is opened. A copy appears under its name only when it is whole.
 */
export async function backUp(folder: string, now = new Date()): Promise<void> {
  const database = join(folder, 'database');
  const backups = join(folder, 'backups');
  try {
    await access(join(database, 'PG_VERSION'));
  } catch {
    return;
  }
  await mkdir(backups, { recursive: true });
  const part = join(backups, 'unfinished');
  await rm(part, { recursive: true, force: true });
  // several times quicker than one file after another, and nobody is served yet
  cpSync(database, part, { recursive: true, mode: constants.COPYFILE_FICLONE });
  const name = now.toISOString().replace(/[:.]/g, '-');
  await rename(part, join(backups, name));
  const all = (await readdir(backups)).filter((n) => /^\d{4}-/.test(n)).sort();
  for (const old of all.slice(0, -KEPT)) await rm(join(backups, old), { recursive: true, force: true });
}

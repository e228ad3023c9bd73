import { fork } from 'node:child_process';
import { once } from 'node:events';
import { access } from 'node:fs/promises';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { PGlite } from '@electric-sql/pglite';
import { GephyraError } from '@gephyra/core';
import { drizzle, type PgliteDatabase } from 'drizzle-orm/pglite';
import { migrate } from 'drizzle-orm/pglite/migrator';
import { bundled } from '../bundled.ts';
import { DurableFiles } from './durable-files.ts';

export type Database = PgliteDatabase;

/**
 * How the database is started. By itself PGlite switches flushing off (-F) and sets 128 MB aside for pages; here every commit
 * is flushed before it is acknowledged, and the record of projects is small.
 */
const STARTED = [
  ...PGlite.defaultStartParams.filter((p) => p !== '-F'),
  ...['-c', 'fsync=on', '-c', 'wal_sync_method=fsync', '-c', 'shared_buffers=8MB'],
];

export const openFiles = (folder: string): Promise<PGlite> =>
  PGlite.create({ fs: new DurableFiles(folder), startParams: STARTED });

/**
 * Opens (or makes) the database in the data folder and brings it to the newest schema.
 * Throws GephyraError `data.database` when it cannot be opened, with the way back to a backup.
 */
export async function openDatabase(folder: string): Promise<{ db: Database; close: () => Promise<void> }> {
  const path = join(folder, 'database');
  if (!(await there(join(path, 'PG_VERSION')))) await make(path);
  let client: PGlite;
  try {
    client = await openFiles(path);
  } catch (error) {
    console.error(error);
    throw new GephyraError(
      'data.database',
      `The database in ${path} cannot be opened. Put one of ${join(folder, 'backups')} in its place; docs/reliability.md says how.`,
    );
  }
  const db = drizzle(client);
  await migrate(db, { migrationsFolder: fileURLToPath(new URL('./migrations', import.meta.url)) });
  return { db, close: () => client.close() };
}

const there = (path: string): Promise<boolean> =>
  access(path).then(
    () => true,
    () => false,
  );

/** Makes a new database in a process of its own: that takes some 400 MB, which this one would keep. */
async function make(path: string): Promise<void> {
  const child = fork(await bundled(new URL('./make.ts', import.meta.url)), [path], { execArgv: [] });
  const [code] = await once(child, 'exit');
  if (code !== 0) throw new GephyraError('data.database', `No database could be made in ${path}. Is the disk full?`);
}

import { existsSync } from 'node:fs';
import { cp, mkdir, mkdtemp, readdir, readFile, rename, rm } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { openDatabase } from '../src/db/open.ts';
import { tempFolder } from './client.ts';

const root = fileURLToPath(new URL('../../../', import.meta.url));
const PGLITE = join(root, 'node_modules/@electric-sql/pglite/package.json');
const MIGRATIONS = new URL('../src/db/migrations/', import.meta.url);

/**
 * A new data folder with an empty database in it, for the caller to remove. Making a database takes ten seconds, so the first to
 * ask makes one, and everybody gets a copy; another is made for another PGlite or another schema.
 */
export async function freshData(): Promise<string> {
  const { version } = JSON.parse(await readFile(PGLITE, 'utf8')) as { version: string };
  const newest = (await readdir(MIGRATIONS))
    .filter((name) => name.endsWith('.sql'))
    .sort()
    .at(-1);
  const whole = join(root, '.cache', 'fresh-data', `${version} ${newest}`);
  if (!existsSync(whole)) await make(whole);
  const folder = await tempFolder();
  await cp(whole, folder, { recursive: true });
  return folder;
}

/** Made beside its place and moved there when it is whole: two that make it at once do no harm. */
async function make(whole: string): Promise<void> {
  await mkdir(dirname(whole), { recursive: true });
  const part = await mkdtemp(`${whole} `);
  const { close } = await openDatabase(part);
  await close();
  try {
    await rename(part, whole);
  } catch (error) {
    await rm(part, { recursive: true, force: true });
    if (!existsSync(whole)) throw error;
  }
}

import { access, cp, mkdir, mkdtemp, readdir, readFile, rename, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { openDatabase } from '../src/db/open.ts';

const root = fileURLToPath(new URL('../../../', import.meta.url));
const MIGRATIONS = new URL('../src/db/migrations/', import.meta.url);

/**
 * A new data folder with an empty database in it, for the caller to remove. Making a database takes ten seconds, so the first to
 * ask makes one, and everybody gets a copy; another is made for another PGlite or another schema.
 */
export async function freshData(): Promise<string> {
  const { version } = JSON.parse(
    await readFile(join(root, 'node_modules/@electric-sql/pglite/package.json'), 'utf8'),
  ) as {
    version: string;
  };
  const steps = (await readdir(MIGRATIONS)).filter((name) => name.endsWith('.sql')).sort();
  const whole = join(root, '.cache', 'fresh-data', `${version} ${steps.at(-1)}`);
  if (!(await there(whole))) await make(whole);
  const folder = await mkdtemp(join(tmpdir(), 'gephyra-'));
  await cp(whole, folder, { recursive: true });
  return folder;
}

/** Made beside its place and moved there when it is whole: two that make it at once do no harm. */
async function make(whole: string): Promise<void> {
  await mkdir(join(whole, '..'), { recursive: true });
  const part = await mkdtemp(`${whole} `);
  const { close } = await openDatabase(part);
  await close();
  try {
    await rename(part, whole);
  } catch (error) {
    await rm(part, { recursive: true, force: true });
    if (!(await there(whole))) throw error;
  }
}

const there = (path: string): Promise<boolean> =>
  access(path).then(
    () => true,
    () => false,
  );

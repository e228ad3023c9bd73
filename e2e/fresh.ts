import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { App } from './app.ts';

/** Names the folder of an empty database to the tests' processes. */
export const FRESH = 'GEPHYRA_E2E_FRESH';

/** A new database takes seconds to make: it is made once, before all tests, and every application gets a copy. */
export default async function makeFresh(): Promise<() => Promise<void>> {
  const data = await mkdtemp(join(tmpdir(), 'gephyra-fresh-'));
  const app = new App(data);
  await app.start();
  await app.stop();
  process.env[FRESH] = data;
  return () => rm(data, { recursive: true, force: true });
}

import { rm } from 'node:fs/promises';
import { freshData } from '../apps/server/testing/fresh-data.ts';

/** Names the folder of an empty database to the tests' processes. */
export const FRESH = 'GEPHYRA_E2E_FRESH';

/** Every application gets a copy of one empty database. */
export default async function makeFresh(): Promise<() => Promise<void>> {
  const data = await freshData();
  process.env[FRESH] = data;
  return () => rm(data, { recursive: true, force: true });
}

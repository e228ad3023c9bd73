import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { PGlite } from '@electric-sql/pglite';
import { drizzle, type PgliteDatabase } from 'drizzle-orm/pglite';
import { migrate } from 'drizzle-orm/pglite/migrator';

export type Database = PgliteDatabase;

/** Opens (or makes) the database in the data folder and brings it to the newest schema. */
export async function openDatabase(folder: string): Promise<{ db: Database; close: () => Promise<void> }> {
  const client = await PGlite.create(join(folder, 'database'));
  const db = drizzle(client);
  await migrate(db, { migrationsFolder: fileURLToPath(new URL('./migrations', import.meta.url)) });
  return { db, close: () => client.close() };
}

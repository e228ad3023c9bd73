import { type Workshop, type WorkshopRecord, workshop } from '@gephyra/contract';
import { GephyraError } from '@gephyra/core';
import { and, eq } from 'drizzle-orm';
import type { Database } from './db/open.ts';
import { workshops } from './db/schema.ts';

const ROW = 1;
const EMPTY: Workshop = workshop.parse({});

/** Printers, fits and presets: one document, kept whole. */
export class WorkshopStore {
  constructor(private readonly db: Database) {}

  async get(): Promise<WorkshopRecord> {
    const [row] = await this.db.select().from(workshops).where(eq(workshops.id, ROW));
    return row ? { revision: row.revision, workshop: workshop.parse(row.document) } : { revision: 0, workshop: EMPTY };
  }

  /** Throws GephyraError `workshop.stale` when it has changed since `basedOn`. */
  async save(basedOn: number, document: Workshop): Promise<WorkshopRecord> {
    const next = { revision: basedOn + 1, document, updatedAt: new Date() };
    const rows =
      basedOn === 0
        ? await this.db
            .insert(workshops)
            .values({ id: ROW, ...next })
            .onConflictDoNothing()
            .returning()
        : await this.db
            .update(workshops)
            .set(next)
            .where(and(eq(workshops.id, ROW), eq(workshops.revision, basedOn)))
            .returning();
    if (rows.length === 0) {
      throw new GephyraError(
        'workshop.stale',
        'The printers and fits were changed in another window. They are shown as they are now; make the change again.',
      );
    }
    return { revision: rows[0].revision, workshop: rows[0].document };
  }
}

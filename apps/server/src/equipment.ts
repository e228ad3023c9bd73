import { type Equipment, type EquipmentRecord, equipment } from '@gephyra/contract';
import { GephyraError } from '@gephyra/core';
import { and, eq } from 'drizzle-orm';
import type { Database } from './db/open.ts';
import { equipmentTable } from './db/schema.ts';

const ROW = 1;
const EMPTY: Equipment = equipment.parse({});

/** Printers, fits and presets: one document, kept whole. */
export class EquipmentStore {
  constructor(private readonly db: Database) {}

  async get(): Promise<EquipmentRecord> {
    const [row] = await this.db.select().from(equipmentTable).where(eq(equipmentTable.id, ROW));
    return row
      ? { revision: row.revision, equipment: equipment.parse(row.document) }
      : { revision: 0, equipment: EMPTY };
  }

  /** Throws GephyraError `equipment.stale` when it has changed since `basedOn`. */
  async save(basedOn: number, document: Equipment): Promise<EquipmentRecord> {
    const next = { revision: basedOn + 1, document, updatedAt: new Date() };
    const rows =
      basedOn === 0
        ? await this.db
            .insert(equipmentTable)
            .values({ id: ROW, ...next })
            .onConflictDoNothing()
            .returning()
        : await this.db
            .update(equipmentTable)
            .set(next)
            .where(and(eq(equipmentTable.id, ROW), eq(equipmentTable.revision, basedOn)))
            .returning();
    if (rows.length === 0) {
      throw new GephyraError(
        'equipment.stale',
        'The printers and fits were changed in another window. They are shown as they are now; make the change again.',
      );
    }
    return { revision: rows[0].revision, equipment: rows[0].document };
  }
}

import { randomUUID } from 'node:crypto';
import type { EndedPrint, Print, PrintAction, startPrint } from '@gephyra/contract';
import { GephyraError } from '@gephyra/core';
import { and, asc, eq, isNull } from 'drizzle-orm';
import type { z } from 'zod';
import type { Database } from '../db/open.ts';
import { prints, projects } from '../db/schema.ts';
import type { PrinterDriver } from './driver.ts';
import { type SimulatedPrint, simulated } from './simulated.ts';

type Row = Omit<typeof prints.$inferSelect, 'kept'> & { readonly kept: SimulatedPrint };

/** What a driver keeps is known to it alone; the record only holds it. */
const rowOf = (row: typeof prints.$inferSelect): Row => row as Row;

/** The record of beds that were handed to printers. What a print comes to is asked of its driver, and never kept. */
export class Prints {
  /** changes are made one after the other: two tabs cannot both take a printer */
  private last: Promise<unknown> = Promise.resolve();

  constructor(
    private readonly db: Database,
    private readonly driver: PrinterDriver<SimulatedPrint> = simulated,
    private readonly clock: () => number = Date.now,
  ) {}

  /** Prints of a project, the oldest first. */
  async of(project: string): Promise<Print[]> {
    return (await this.rowsOf(project)).map((r) => this.told(r));
  }

  /**
   * Throws GephyraError `printer.busy` while the printer is at another bed, of whatever project. What it was at for a project
   * that was deleted since is stopped.
   */
  start(wanted: Omit<z.infer<typeof startPrint>, 'job' | 'who'>, file: string): Promise<Print> {
    const { project, printer, bed, title, pieces, ...order } = wanted;
    return this.inTurn(async () => {
      const now = this.clock();
      const rows = await this.db
        .select({ print: prints, deletedAt: projects.deletedAt })
        .from(prints)
        .innerJoin(projects, eq(projects.id, prints.projectId))
        .where(eq(prints.printer, printer));
      const under = rows
        .map((r) => ({ ...r, print: rowOf(r.print) }))
        .filter(({ print }) => this.driver.look(print.kept, now).endedAt === null);
      for (const { print } of under.filter((r) => r.deletedAt !== null)) {
        await this.db
          .update(prints)
          .set({ kept: this.driver.stop(print.kept, now) })
          .where(eq(prints.id, print.id));
      }
      const busy = under.find((r) => r.deletedAt === null)?.print;
      if (busy) {
        throw new GephyraError(
          'printer.busy',
          `${printer} is at ${busy.title}. Wait until it is done, or stop it, or send this bed to another printer.`,
        );
      }
      const { seconds, layers, pace, failAt } = order;
      const kept = this.driver.begin({ seconds, layers, pace, ...(failAt !== undefined && { failAt }) }, now);
      const [row] = await this.db
        .insert(prints)
        .values({
          id: randomUUID(),
          projectId: project,
          printer,
          bed,
          title,
          pieces,
          kept,
          file,
          createdAt: new Date(now),
        })
        .returning();
      return this.told(rowOf(row));
    });
  }

  /** Throws GephyraError `print.unknown`. */
  act(id: string, what: PrintAction): Promise<Print> {
    return this.inTurn(async () => {
      const row = await this.row(id);
      const kept = this.driver[what](row.kept, this.clock());
      const [after] = await this.db.update(prints).set({ kept }).where(eq(prints.id, id)).returning();
      return this.told(rowOf(after));
    });
  }

  /** Prints whose end the plan does not know of yet, the oldest first; those that go on among them, none of deleted projects. */
  async open(): Promise<Print[]> {
    const rows = await this.db
      .select({ print: prints })
      .from(prints)
      .innerJoin(projects, eq(projects.id, prints.projectId))
      .where(and(eq(prints.noted, false), isNull(projects.deletedAt)))
      .orderBy(asc(prints.createdAt));
    return rows.map(({ print }) => this.told(rowOf(print)));
  }

  /** The plan knows how it ended. */
  async noted(id: string): Promise<void> {
    await this.db.update(prints).set({ noted: true }).where(eq(prints.id, id));
  }

  /** Prints of a project that have ended, with the hash of what each was printed from: what another workshop is given. */
  async ended(project: string): Promise<{ print: EndedPrint; hash: string }[]> {
    return (await this.rowsOf(project)).flatMap((row) => {
      const { state, share, startedAt, endedAt } = this.told(row);
      if (endedAt === null || (state !== 'done' && state !== 'failed' && state !== 'stopped')) return [];
      const { printer, bed, title, pieces, noted, file } = row;
      const { seconds, layers, pace, failAt } = row.kept;
      const order = { seconds, layers, pace, ...(failAt !== undefined && { failAt }) };
      return [
        { print: { printer, bed, title, pieces, ...order, state, share, startedAt, endedAt, noted }, hash: file },
      ];
    });
  }

  /** Takes over what was printed of a project in another workshop, by a transaction of the record. */
  async takeOver(
    rows: Pick<Database, 'insert'>,
    project: string,
    given: readonly { print: EndedPrint; hash: string }[],
  ): Promise<void> {
    if (given.length === 0) return;
    await rows.insert(prints).values(
      given.map(({ print, hash }) => {
        const { printer, bed, title, pieces, noted, state, share, startedAt, endedAt, ...order } = print;
        return {
          id: randomUUID(),
          projectId: project,
          printer,
          bed,
          title,
          pieces,
          kept: this.driver.recall(order, { state, share, at: Date.parse(endedAt) }),
          file: hash,
          noted,
          createdAt: new Date(startedAt),
        };
      }),
    );
  }

  /** The hash of what a print was printed from, and a name for it. */
  async file(id: string): Promise<{ hash: string; fileName: string }> {
    const { file, title } = await this.row(id);
    return { hash: file, fileName: `${title} as printed.zip` };
  }

  /** What prints were printed from is kept as long as they are. */
  async blobsInUse(): Promise<string[]> {
    return (await this.db.select({ file: prints.file }).from(prints)).map((r) => r.file);
  }

  private async rowsOf(project: string): Promise<Row[]> {
    const rows = await this.db
      .select()
      .from(prints)
      .where(eq(prints.projectId, project))
      .orderBy(asc(prints.createdAt), asc(prints.id));
    return rows.map(rowOf);
  }

  private async row(id: string): Promise<Row> {
    const [row] = await this.db.select().from(prints).where(eq(prints.id, id));
    if (!row) throw new GephyraError('print.unknown', 'There is no such print.');
    return rowOf(row);
  }

  private inTurn<T>(work: () => Promise<T>): Promise<T> {
    const next = this.last.then(work, work);
    this.last = next.catch(() => {});
    return next;
  }

  private told({ id, projectId, printer, bed, title, pieces, kept, noted, createdAt }: Row): Print {
    const { state, share, secondsLeft, endedAt } = this.driver.look(kept, this.clock());
    const tall = Math.max(...pieces.map((p) => p.height));
    return {
      id,
      project: projectId,
      printer,
      bed,
      title,
      pieces,
      state,
      share,
      layer: Math.round(share * kept.layers),
      layers: kept.layers,
      height: share * tall,
      secondsLeft,
      startedAt: createdAt.toISOString(),
      endedAt: endedAt === null ? null : new Date(endedAt).toISOString(),
      noted,
    };
  }
}

import { randomUUID } from 'node:crypto';
import type { PlanSummary, Project, ProjectCard } from '@gephyra/contract';
import { GephyraError, type Plan, parsePlan, plainText } from '@gephyra/core';
import { and, asc, desc, eq, isNull, max } from 'drizzle-orm';
import type { Database } from './db/open.ts';
import { projects, revisions } from './db/schema.ts';

type Row = typeof projects.$inferSelect;

/** Plans that are kept as they were checked. */
const KEPT_PLANS = 32;

/** The record of projects and the revisions of their plans. */
export class Projects {
  private readonly plans = new Map<string, Plan>();

  constructor(private readonly db: Database) {}

  async list(): Promise<ProjectCard[]> {
    const rows = await this.db
      .select()
      .from(projects)
      .where(isNull(projects.deletedAt))
      .orderBy(desc(projects.updatedAt));
    return rows.map((r) => ({
      id: r.id,
      name: r.name,
      updatedAt: r.updatedAt.toISOString(),
      size: r.summary?.size ?? r.source.bodies[0].size,
      thumbnail: r.thumbnail,
      summary: r.summary,
    }));
  }

  /** Throws GephyraError `project.unknown`, also for a deleted one. */
  async row(id: string): Promise<Row> {
    const [row] = await this.db
      .select()
      .from(projects)
      .where(and(eq(projects.id, id), isNull(projects.deletedAt)));
    if (!row) throw new GephyraError('project.unknown', 'There is no such project. It may have been deleted.');
    return row;
  }

  async get(id: string): Promise<Project> {
    const row = await this.row(id);
    const revision = await this.revision(id, row.head);
    const redo = await this.newestChild(id, row.head);
    return {
      id,
      name: row.name,
      updatedAt: row.updatedAt.toISOString(),
      source: row.source,
      revision: row.head,
      undo: revision.parent === null ? null : revision.label,
      redo: redo?.label ?? null,
      plan: this.planOf(id, revision),
    };
  }

  /** The plan of a revision, which never changes. A large one takes a tenth of a second to check, so the last ones are kept. */
  private planOf(id: string, { n, plan }: { n: number; plan: unknown }): Plan {
    const key = `${id} ${n}`;
    const known = this.plans.get(key) ?? parsePlan(plan);
    this.plans.delete(key);
    this.plans.set(key, known);
    if (this.plans.size > KEPT_PLANS) this.plans.delete(this.plans.keys().next().value!);
    return known;
  }

  /** Names of all projects by id, deleted ones included. */
  async names(): Promise<Map<string, string>> {
    const rows = await this.db.select({ id: projects.id, name: projects.name }).from(projects);
    return new Map(rows.map((r) => [r.id, r.name]));
  }

  async create(name: string, source: Project['source'], plan: Plan): Promise<string> {
    const id = randomUUID();
    await this.db.transaction(async (tx) => {
      await tx.insert(projects).values({ id, name, source, head: 1 });
      await tx.insert(revisions).values({ projectId: id, n: 1, parent: null, label: 'Import', plan });
    });
    return id;
  }

  async rename(id: string, name: string): Promise<void> {
    await this.row(id);
    await this.db.update(projects).set({ name, updatedAt: new Date() }).where(eq(projects.id, id));
  }

  /** A copy with the plan as it stands; its history starts anew. */
  async duplicate(id: string): Promise<string> {
    const row = await this.row(id);
    const { plan } = await this.revision(id, row.head);
    const copy = await this.create(`${plainText(row.name, 115)} copy`, row.source, parsePlan(plan));
    await this.db
      .update(projects)
      .set({ thumbnail: row.thumbnail, summary: row.summary ? { ...row.summary, revision: 1 } : null })
      .where(eq(projects.id, copy));
    return copy;
  }

  async remove(id: string): Promise<void> {
    await this.row(id);
    await this.db.update(projects).set({ deletedAt: new Date() }).where(eq(projects.id, id));
  }

  async restore(id: string): Promise<void> {
    const [row] = await this.db.update(projects).set({ deletedAt: null }).where(eq(projects.id, id)).returning();
    if (!row) throw new GephyraError('project.unknown', 'There is no such project.');
  }

  /**
   * Adds a revision. Throws GephyraError `plan.stale` when the plan has moved on since `basedOn`, `plan.invalid` when the
   * document is not a plan.
   */
  async save(id: string, basedOn: number, label: string, document: unknown): Promise<void> {
    const plan = parsePlan(document);
    await this.row(id);
    await this.db.transaction(async (tx) => {
      const [row] = await tx.select().from(projects).where(eq(projects.id, id)).for('update');
      if (row.head !== basedOn) throw stale();
      const [{ top }] = await tx
        .select({ top: max(revisions.n) })
        .from(revisions)
        .where(eq(revisions.projectId, id));
      const n = (top ?? 0) + 1;
      await tx.insert(revisions).values({ projectId: id, n, parent: basedOn, label, plan });
      await tx.update(projects).set({ head: n, updatedAt: new Date() }).where(eq(projects.id, id));
    });
  }

  /** Moves back to the revision this one was made from. Throws `plan.stale`, `undo.nothing`. */
  async undo(id: string, basedOn: number): Promise<void> {
    await this.step(id, basedOn, async (head) => {
      const { parent } = await this.revision(id, head);
      if (parent === null) throw new GephyraError('undo.nothing', 'There is nothing to undo.');
      return parent;
    });
  }

  /** Moves on to the newest revision made from this one. Throws `plan.stale`, `redo.nothing`. */
  async redo(id: string, basedOn: number): Promise<void> {
    await this.step(id, basedOn, async (head) => {
      const child = await this.newestChild(id, head);
      if (!child) throw new GephyraError('redo.nothing', 'There is nothing to redo.');
      return child.n;
    });
  }

  async keepSummary(id: string, summary: PlanSummary, thumbnail: string): Promise<void> {
    await this.db.update(projects).set({ summary, thumbnail }).where(eq(projects.id, id));
  }

  /** Hashes of all blobs that projects refer to, deleted ones included, as they can come back. */
  async blobs(): Promise<Set<string>> {
    const rows = await this.db.select().from(projects);
    return new Set(rows.flatMap((r) => [r.source.hash, ...(r.thumbnail ? [r.thumbnail] : [])]));
  }

  private async step(id: string, basedOn: number, target: (head: number) => Promise<number>): Promise<void> {
    const row = await this.row(id);
    if (row.head !== basedOn) throw stale();
    const to = await target(row.head);
    const moved = await this.db
      .update(projects)
      .set({ head: to, updatedAt: new Date() })
      .where(and(eq(projects.id, id), eq(projects.head, basedOn)))
      .returning();
    if (moved.length === 0) throw stale();
  }

  private async revision(id: string, n: number) {
    const [row] = await this.db
      .select()
      .from(revisions)
      .where(and(eq(revisions.projectId, id), eq(revisions.n, n)));
    return row;
  }

  private async newestChild(id: string, n: number) {
    const rows = await this.db
      .select()
      .from(revisions)
      .where(and(eq(revisions.projectId, id), eq(revisions.parent, n)))
      .orderBy(asc(revisions.n));
    return rows.at(-1);
  }
}

const stale = (): GephyraError =>
  new GephyraError(
    'plan.stale',
    'The plan was changed elsewhere, perhaps in another tab. It has been loaded anew; make your change again.',
  );

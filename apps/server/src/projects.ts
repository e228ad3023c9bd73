import { randomUUID } from 'node:crypto';
import { EventEmitter } from 'node:events';
import type { Act, PlanSummary, Project, ProjectCard, ProjectNews } from '@gephyra/contract';
import { GephyraError, type Plan, parsePlan, plainText } from '@gephyra/core';
import { and, desc, eq, isNull, lt } from 'drizzle-orm';
import type { Database } from './db/open.ts';
import { gestures, projects } from './db/schema.ts';
import { addRevision, newestChild, planAt, type Rows, revisionOf } from './revisions.ts';

type Row = typeof projects.$inferSelect;

/** Plans that are kept as they were checked. */
const KEPT_PLANS = 8;

/** How long it is known which gestures were done: far longer than anything is sent again, days. */
const KNOWN_GESTURES = 7;

/** What became of an act. */
export interface Done {
  /** the revision that counts now */
  readonly head: number;
  /** it had been done before */
  readonly before: boolean;
}

/** The record of projects and the revisions of their plans. */
export class Projects {
  private readonly plans = new Map<string, Plan>();
  private readonly moves = new EventEmitter<{ moved: [ProjectNews] }>().setMaxListeners(0);

  constructor(private readonly db: Database) {}

  /** Calls back whenever a project has another revision or name; gives a function that ends it. */
  watch(moved: (news: ProjectNews) => void): () => void {
    this.moves.on('moved', moved);
    return () => this.moves.off('moved', moved);
  }

  /** Where every project stands. */
  async standing(): Promise<ProjectNews[]> {
    return this.db
      .select({ project: projects.id, revision: projects.head, name: projects.name })
      .from(projects)
      .where(isNull(projects.deletedAt));
  }

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
    if (!row) throw unknown();
    return row;
  }

  async get(id: string): Promise<Project> {
    const row = await this.row(id);
    const revision = await revisionOf(this.db, id, row.head);
    const redo = await newestChild(this.db, id, row.head);
    return {
      id,
      name: row.name,
      updatedAt: row.updatedAt.toISOString(),
      source: row.source,
      revision: row.head,
      undo: revision.parent === null ? null : revision.label,
      redo: redo?.label ?? null,
      plan: await this.planOf(this.db, id, row.head),
    };
  }

  /** The plan of a revision, which never changes. A large one takes a tenth of a second to check, so the last ones are kept. */
  private async planOf(rows: Rows, id: string, n: number): Promise<Plan> {
    const plan = this.plans.get(`${id} ${n}`) ?? (await planAt(rows, id, n));
    this.keep(id, n, plan);
    return plan;
  }

  private keep(id: string, n: number, plan: Plan): void {
    const key = `${id} ${n}`;
    this.plans.delete(key);
    this.plans.set(key, plan);
    if (this.plans.size > KEPT_PLANS) this.plans.delete(this.plans.keys().next().value!);
  }

  async names(): Promise<Map<string, string>> {
    const rows = await this.db.select({ id: projects.id, name: projects.name }).from(projects);
    return new Map(rows.map((r) => [r.id, r.name]));
  }

  /** A new project; what else `also` writes is committed with it. */
  async create(
    name: string,
    source: Project['source'],
    plan: Plan,
    also: (rows: Rows, id: string) => Promise<void> = async () => {},
  ): Promise<string> {
    const id = randomUUID();
    await this.db.transaction(async (tx) => {
      await tx.insert(projects).values({ id, name, source, head: 1 });
      await addRevision(tx, id, null, 'Import', plan, null);
      await also(tx, id);
    });
    return id;
  }

  async rename(id: string, name: string): Promise<void> {
    await this.row(id);
    await this.db.update(projects).set({ name, updatedAt: new Date() }).where(eq(projects.id, id));
    await this.tell(id);
  }

  /** A copy with the plan as it stands; its history starts anew. */
  async duplicate(id: string): Promise<string> {
    const row = await this.row(id);
    const summary = row.summary ? { ...row.summary, revision: 1 } : null;
    const plan = await this.planOf(this.db, id, row.head);
    return this.create(`${plainText(row.name, 115)} copy`, row.source, plan, async (rows, copy) => {
      await rows.update(projects).set({ thumbnail: row.thumbnail, summary }).where(eq(projects.id, copy));
    });
  }

  async remove(id: string): Promise<void> {
    await this.row(id);
    await this.db.update(projects).set({ deletedAt: new Date() }).where(eq(projects.id, id));
  }

  async restore(id: string): Promise<void> {
    const [row] = await this.db.update(projects).set({ deletedAt: null }).where(eq(projects.id, id)).returning();
    if (!row) throw unknown();
    await this.tell(id);
  }

  /**
   * Adds a revision; an act that was done before is not done again. Throws GephyraError `plan.stale` when the plan has moved on
   * since it was seen, `plan.invalid` when the document is not a plan.
   */
  async save(id: string, act: Act, label: string, document: unknown): Promise<Done> {
    const plan = parsePlan(document);
    const done = await this.act(id, act, async (rows) => {
      const before = await this.planOf(rows, id, act.basedOn);
      return addRevision(rows, id, act.basedOn, label, plan, before);
    });
    if (!done.before) this.keep(id, done.head, plan);
    return done;
  }

  /** Moves back to the revision this one was made from. Throws `plan.stale`, `undo.nothing`. */
  undo(id: string, act: Act): Promise<Done> {
    return this.act(id, act, async (rows) => {
      const { parent } = await revisionOf(rows, id, act.basedOn);
      if (parent === null) throw new GephyraError('undo.nothing', 'There is nothing to undo.');
      return parent;
    });
  }

  /** Moves on to the newest revision made from this one. Throws `plan.stale`, `redo.nothing`. */
  redo(id: string, act: Act): Promise<Done> {
    return this.act(id, act, async (rows) => {
      const child = await newestChild(rows, id, act.basedOn);
      if (!child) throw new GephyraError('redo.nothing', 'There is nothing to redo.');
      return child.n;
    });
  }

  /** Does an act once, whoever else is at the project, and tells those who watch. */
  private async act(id: string, { gesture, basedOn }: Act, work: (rows: Rows) => Promise<number>): Promise<Done> {
    const done = await this.db.transaction(async (tx) => {
      const [row] = await tx
        .select()
        .from(projects)
        .where(and(eq(projects.id, id), isNull(projects.deletedAt)))
        .for('update');
      if (!row) throw unknown();
      const fresh = await tx.insert(gestures).values({ projectId: id, id: gesture }).onConflictDoNothing().returning();
      if (fresh.length === 0) return { head: row.head, before: true };
      if (row.head !== basedOn) throw stale();
      const to = await work(tx);
      await tx.update(projects).set({ head: to, updatedAt: new Date() }).where(eq(projects.id, id));
      return { head: to, before: false };
    });
    if (!done.before) await this.tell(id);
    return done;
  }

  private async tell(id: string): Promise<void> {
    const [row] = await this.db
      .select({ project: projects.id, revision: projects.head, name: projects.name })
      .from(projects)
      .where(eq(projects.id, id));
    if (row) this.moves.emit('moved', row);
  }

  /** Forgets which gestures were done long ago. */
  async forgetGestures(now: Date): Promise<void> {
    const days = new Date(now.getTime() - KNOWN_GESTURES * 86_400_000);
    await this.db.delete(gestures).where(lt(gestures.at, days));
  }

  async keepSummary(id: string, summary: PlanSummary, thumbnail: string): Promise<void> {
    await this.db.update(projects).set({ summary, thumbnail }).where(eq(projects.id, id));
  }

  /** Hashes of all blobs that projects refer to, deleted ones included, as they can come back. */
  async blobs(): Promise<Set<string>> {
    const rows = await this.db.select().from(projects);
    return new Set(rows.flatMap((r) => [r.source.hash, ...(r.thumbnail ? [r.thumbnail] : [])]));
  }
}

const unknown = (): GephyraError =>
  new GephyraError('project.unknown', 'There is no such project. It may have been deleted.');

const stale = (): GephyraError =>
  new GephyraError('plan.stale', 'The plan was changed elsewhere meanwhile. Load it, and make your change again.');

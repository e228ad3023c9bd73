// Revisions of plans as rows: what happened at the bench apart from the rest, so that an entry does not store a whole plan.
import { type LogEntry, type Plan, parsePlan } from '@gephyra/core';
import { and, asc, desc, eq, max } from 'drizzle-orm';
import type { Database } from './db/open.ts';
import { logEntries, revisions } from './db/schema.ts';

/** The database, or a transaction in it. */
export type Rows = Pick<Database, 'select' | 'insert' | 'update'>;

/** A revision without its plan. */
export interface Revision {
  readonly n: number;
  readonly parent: number | null;
  readonly label: string;
}

const OF_REVISION = { n: revisions.n, parent: revisions.parent, label: revisions.label };
const of = (id: string, n: number) => and(eq(revisions.projectId, id), eq(revisions.n, n));

export async function revisionOf(rows: Rows, id: string, n: number): Promise<Revision> {
  const [row] = await rows.select(OF_REVISION).from(revisions).where(of(id, n));
  return row;
}

/** The newest of the revisions made from one. */
export async function newestChild(rows: Rows, id: string, n: number): Promise<Revision | undefined> {
  const [row] = await rows
    .select(OF_REVISION)
    .from(revisions)
    .where(and(eq(revisions.projectId, id), eq(revisions.parent, n)))
    .orderBy(desc(revisions.n))
    .limit(1);
  return row;
}

/** The plan of a revision, its log with it. */
export async function planAt(rows: Rows, id: string, n: number): Promise<Plan> {
  const [own] = await rows.select({ planAt: revisions.planAt }).from(revisions).where(of(id, n));
  const [{ plan }] = await rows
    .select({ plan: revisions.plan })
    .from(revisions)
    .where(of(id, own.planAt ?? n));
  const log = await logAt(rows, id, n);
  return parsePlan({ ...plan, log: log.length > 0 ? log : undefined });
}

/** The log of a revision: along the line of its parents, each keeps so many entries of the one before and adds its own. */
async function logAt(rows: Rows, id: string, head: number): Promise<readonly LogEntry[]> {
  const all = await rows
    .select({ n: revisions.n, parent: revisions.parent, logKept: revisions.logKept })
    .from(revisions)
    .where(eq(revisions.projectId, id));
  const known = new Map(all.map((r) => [r.n, r]));
  const line: { readonly n: number; readonly logKept: number | null }[] = [];
  for (let at = known.get(head); at; at = at.parent === null ? undefined : known.get(at.parent)) {
    line.push(at);
    // its plan has the log as it was, or there is nothing before it to keep
    if (at.logKept === null || at.logKept === 0) break;
  }
  const entries = await rows
    .select({ n: logEntries.n, entry: logEntries.entry })
    .from(logEntries)
    .where(eq(logEntries.projectId, id))
    .orderBy(asc(logEntries.n), asc(logEntries.k));
  const added = new Map<number, LogEntry[]>();
  for (const { n, entry } of entries) {
    const own = added.get(n) ?? [];
    own.push(entry);
    added.set(n, own);
  }
  let log: LogEntry[] = [];
  for (const { n, logKept } of line.reverse()) {
    if (logKept === null) {
      const [row] = await rows.select({ plan: revisions.plan }).from(revisions).where(of(id, n));
      log = [...((row.plan?.log ?? []) as LogEntry[])];
      continue;
    }
    if (logKept < log.length) log.length = logKept;
    log = log.concat(added.get(n) ?? []);
  }
  return log;
}

/** Most rows a statement writes. */
const AT_ONCE = 1000;

/**
 * Adds a revision on top of `parent` (null: the first), whose plan is `before`. A plan that differs from that in its log alone
 * is not stored again.
 */
export async function addRevision(
  rows: Rows,
  id: string,
  parent: number | null,
  label: string,
  plan: Plan,
  before: Plan | null,
): Promise<number> {
  const [{ top }] = await rows
    .select({ top: max(revisions.n) })
    .from(revisions)
    .where(eq(revisions.projectId, id));
  const n = (top ?? 0) + 1;
  const { log = [], ...rest } = plan;
  const { log: was = [], ...restBefore } = before ?? { log: [] };
  const logKept = commonStart(was, log);
  let at: number | null = null;
  if (parent !== null && JSON.stringify(rest) === JSON.stringify(restBefore)) {
    const [row] = await rows.select({ planAt: revisions.planAt }).from(revisions).where(of(id, parent));
    at = row.planAt ?? parent;
  }
  await rows
    .insert(revisions)
    .values({ projectId: id, n, parent, label, plan: at === null ? rest : null, planAt: at, logKept });
  const added = log.slice(logKept).map((entry, k) => ({ projectId: id, n, k, entry }));
  for (let k = 0; k < added.length; k += AT_ONCE) await rows.insert(logEntries).values(added.slice(k, k + AT_ONCE));
  return n;
}

/** How many entries two logs have in common from their start. */
function commonStart(a: readonly LogEntry[], b: readonly LogEntry[]): number {
  const most = Math.min(a.length, b.length);
  let k = 0;
  while (k < most && JSON.stringify(a[k]) === JSON.stringify(b[k])) k++;
  return k;
}

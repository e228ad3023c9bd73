import {
  type Finding,
  type LogEntry,
  type LogEntryInput,
  type PieceState,
  type Plan,
  type PlanChange,
  STATES,
} from '../document/index.ts';

/** A copy of a piece, and what became of it. */
export interface CopyProgress {
  readonly piece: string;
  /** from 1 */
  readonly copy: number;
  readonly state: PieceState;
  /** of its last entry; null: nothing has happened to it yet */
  readonly since: string | null;
  /** prints of it that failed */
  readonly failures: number;
  /** the last failure, as long as it has not been printed after */
  readonly failed: { readonly height: number | null; readonly why: string } | null;
  /** tells the file that it was printed from again; null: not printed, or not known */
  readonly file: string | null;
}

export const stateIndex = (state: PieceState): number => STATES.indexOf(state);
export const isPrinted = (state: PieceState): boolean => stateIndex(state) >= stateIndex('printed');
export const isJoined = (state: PieceState): boolean => stateIndex(state) >= stateIndex('joined');

/** The key of a copy of a piece. */
export const copyKey = (piece: string, copy: number): string => `${piece} ${copy}`;

/** All copies that are made, of how each piece is printed. */
export const copiesOf = (
  prints: readonly { readonly key: string; readonly copies: number }[],
): { readonly piece: string; readonly copy: number }[] =>
  prints.flatMap(({ key, copies }) => Array.from({ length: copies }, (_, i) => ({ piece: key, copy: i + 1 })));

/** How far each copy is: its log, entry by entry. Copies that the log does not name are yet to print; those not asked for are left out. */
export function progressOf(
  log: readonly LogEntry[],
  copies: readonly { readonly piece: string; readonly copy: number }[],
): CopyProgress[] {
  const found = new Map<string, CopyProgress>(
    copies.map(({ piece, copy }) => [
      copyKey(piece, copy),
      { piece, copy, state: 'toPrint', since: null, failures: 0, failed: null, file: null },
    ]),
  );
  for (const { at, pieces, to, failed } of log) {
    for (const { piece, copy, file } of pieces) {
      const key = copyKey(piece, copy);
      const known = found.get(key);
      if (!known) continue;
      found.set(key, {
        ...known,
        state: to,
        since: at,
        failures: known.failures + (failed ? 1 : 0),
        failed: failed ? { height: failed.height ?? null, why: failed.why } : isPrinted(to) ? null : known.failed,
        file: isPrinted(to) ? (file ?? known.file) : null,
      });
    }
  }
  return [...found.values()];
}

/** What the bench comes to. */
export interface Tally {
  readonly copies: number;
  readonly printed: number;
  readonly joined: number;
  /** of prints: made, and yet to be made */
  readonly hours: { readonly made: number; readonly left: number };
  readonly grams: { readonly made: number; readonly left: number };
  readonly cost: { readonly made: number; readonly left: number };
  readonly failures: number;
}

/** Sums over copies; `costOf` one print of a piece: hours, grams and cost. */
export function tallyOf(
  progress: readonly CopyProgress[],
  costOf: (piece: string) => { readonly hours: number; readonly grams: number; readonly cost: number },
): Tally {
  const sums = { hours: { made: 0, left: 0 }, grams: { made: 0, left: 0 }, cost: { made: 0, left: 0 } };
  for (const p of progress) {
    const cost = costOf(p.piece);
    const side = isPrinted(p.state) ? 'made' : 'left';
    for (const what of ['hours', 'grams', 'cost'] as const) sums[what][side] += cost[what];
  }
  return {
    copies: progress.length,
    printed: progress.filter((p) => isPrinted(p.state)).length,
    joined: progress.filter((p) => isJoined(p.state)).length,
    failures: progress.reduce((s, p) => s + p.failures, 0),
    ...sums,
  };
}

/** The day on which all is printed, when so many hours are printed a day; null when nothing is left. Throws RangeError without hours. */
export function forecast(hoursLeft: number, hoursADay: number, from: Date): Date | null {
  if (!(hoursADay > 0)) throw new RangeError('hours a day must be above 0');
  if (hoursLeft <= 0) return null;
  return new Date(from.getTime() + Math.ceil(hoursLeft / hoursADay) * 86_400_000);
}

/** Numbers of copies that had been printed and joined by the end of each day of the log, days without entries between them included. */
export function days(log: readonly LogEntry[], copies: readonly { readonly piece: string; readonly copy: number }[]) {
  const out: { day: string; printed: number; joined: number }[] = [];
  const wanted = new Set(copies.map((c) => copyKey(c.piece, c.copy)));
  const state = new Map<string, PieceState>();
  const sorted = [...log].sort((a, b) => (a.at < b.at ? -1 : a.at > b.at ? 1 : 0));
  const count = (day: string): void => {
    const now = [...state.values()];
    out.push({ day, printed: now.filter(isPrinted).length, joined: now.filter(isJoined).length });
  };
  let day = sorted[0]?.at.slice(0, 10) ?? '';
  for (const entry of sorted) {
    const own = entry.at.slice(0, 10);
    // a clock that jumped does not fill years of days
    for (let n = 0; day < own && n < 400; n++) {
      count(day);
      day = new Date(Date.parse(`${day}T00:00:00Z`) + 86_400_000).toISOString().slice(0, 10);
    }
    day = own;
    for (const { piece, copy } of entry.pieces) {
      if (wanted.has(copyKey(piece, copy))) state.set(copyKey(piece, copy), entry.to);
    }
  }
  if (day !== '') count(day);
  return out;
}

/** Adds to the log that something happened, now or at a time that is said. */
export const happened = (plan: Plan, entry: LogEntryInput): PlanChange => ({
  do: 'set',
  set: { log: [...(plan.log ?? []), entry as LogEntry] },
});

/**
 * Pieces that were printed from another file than they would be now: what was made no longer is what the plan says. `fileOf`
 * tells the file of a piece as it is; null where it is not known.
 */
export function outdated(
  progress: readonly CopyProgress[],
  fileOf: (piece: string) => string | null,
  codeOf: (piece: string) => string,
): Finding[] {
  const byPiece = new Map<string, CopyProgress[]>();
  for (const p of progress) {
    const now = fileOf(p.piece);
    if (p.file === null || now === null || p.file === now) continue;
    byPiece.set(p.piece, [...(byPiece.get(p.piece) ?? []), p]);
  }
  return [...byPiece].map(
    ([piece, copies]): Finding => ({
      code: 'bench.changed',
      severity: 'warn',
      where: { piece },
      message: `${codeOf(piece)} was printed on ${copies[0].since?.slice(0, 10)} and has been changed since: what was made no longer fits the plan. Undo the change, or make it again.`,
    }),
  );
}

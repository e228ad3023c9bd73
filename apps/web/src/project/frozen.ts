import { frozenPieces, happened, type Plan, type PlanChange, sameShape } from '@gephyra/core/plan';
import { useCallback, useRef, useState } from 'react';
import type { Searcher } from '../engine/searcher.ts';
import { type Changed, type Changing, changed } from './changes.ts';
import type { ProjectRecord, Saying } from './record.ts';

/** A change that would alter pieces which are printed already, and waits for the maker's word. */
export interface FrozenQuestion {
  readonly label: string;
  /** keys of the pieces, and when each was printed */
  readonly pieces: readonly { readonly key: string; readonly since: string }[];
  /** makes what of it leaves them as they are; tells whether anything did */
  spare(): Promise<boolean>;
  /** makes it, and has them printed again */
  again(): void;
  drop(): void;
}

/**
 * Looks at changes before they are made: one that would alter a printed piece's file is asked about first, and those made
 * meanwhile wait behind it. All others are made at once; ids of what was added are told of those only.
 */
export function useFrozen(
  record: ProjectRecord,
  searcher: Searcher | null,
  say: (saying: Saying) => void,
): {
  readonly change: ProjectRecord['change'];
  readonly question: FrozenQuestion | null;
  /** a change waits until it is known whether it alters printed pieces */
  readonly looking: boolean;
  /** Takes a step back or forward; where that changes printed pieces it is told, with the way back. */
  step(way: 'undo' | 'redo'): Promise<void>;
} {
  const [question, setQuestion] = useState<FrozenQuestion | null>(null);
  const [looking, setLooking] = useState(false);
  /** changes that are yet to be looked at; the first is being asked about */
  const waiting = useRef<{ readonly label: string; readonly changes: readonly Changing[] }[]>([]);
  const lookAt = useCallback(async (): Promise<void> => {
    for (;;) {
      const first = waiting.current.at(0);
      if (!first) return setLooking(false);
      setLooking(true);
      const { label, changes } = first;
      const next = (): void => {
        setQuestion(null);
        waiting.current.shift();
        void lookAt();
      };
      try {
        // each is looked at as it is on the plan that those before it left
        const { plan } = record.state;
        const frozen = frozenPieces(plan.log ?? []);
        const made = attempted(plan, changes);
        const keys =
          made && searcher && !sameShape(plan, made.plan)
            ? await searcher.ask((engine) => engine.changedFiles(plan, made.plan, [...frozen.keys()]), { first: true })
            : [];
        if (keys.length === 0) {
          record.change(label, ...changes);
          waiting.current.shift();
          continue;
        }
        setLooking(false);
        const whole: PlanChange = { do: 'all', changes: made!.parts };
        setQuestion({
          label,
          pieces: keys.map((key) => ({ key, since: frozen.get(key)! })),
          drop: next,
          again: () => {
            record.change(label, ...changes, (now) => printedAgain(now, keys));
            next();
          },
          spare: async () => {
            try {
              const rest = await searcher!.ask<PlanChange | null>(
                (engine) => engine.sparing(plan, whole, keys) as Promise<PlanChange | null>,
                { first: true },
              );
              if (rest) record.change(label, rest);
              return rest !== null;
            } finally {
              next();
            }
          },
        });
        return;
      } catch (error) {
        say({ text: `“${label}” was not done. ${(error as Error).message}`, tone: 'stop' });
        waiting.current.shift();
      }
    }
  }, [record, searcher, say]);
  const change = useCallback(
    (label: string, ...changes: Changing[]): ReadonlyMap<string, string> => {
      const { plan } = record.state;
      const alone = waiting.current.length === 0;
      if (alone) {
        const made = frozenPieces(plan.log ?? []).size > 0 && searcher ? attempted(plan, changes) : null;
        // what is refused is refused in words
        if (!made || sameShape(plan, made.plan)) return record.change(label, ...changes);
      }
      waiting.current.push({ label, changes });
      if (alone) void lookAt();
      return new Map();
    },
    [record, searcher, lookAt],
  );
  const step = useCallback(
    async (way: 'undo' | 'redo'): Promise<void> => {
      const before = record.state.plan;
      await record.step(way);
      const after = record.state.plan;
      const then = frozenPieces(before.log ?? []);
      const printed = [...frozenPieces(after.log ?? []).keys()].filter((key) => then.has(key));
      if (printed.length === 0 || !searcher || sameShape(before, after)) return;
      try {
        const keys = await searcher.ask((engine) => engine.changedFiles(before, after, printed), { first: true });
        if (keys.length === 0) return;
        const back = way === 'undo' ? 'redo' : 'undo';
        say({
          text: `This changed ${keys.length === 1 ? 'a piece that is' : `${keys.length} pieces that are`} printed already.`,
          tone: 'warn',
          action: { label: back === 'redo' ? 'Redo' : 'Undo', run: () => void record.step(back) },
        });
      } catch (error) {
        say({ text: (error as Error).message, tone: 'stop' });
      }
    },
    [record, searcher, say],
  );
  return { change, question, looking, step };
}

/** What changes would make of a plan; null when they are refused. */
function attempted(plan: Plan, changes: readonly Changing[]): Changed | null {
  try {
    return changed(plan, changes);
  } catch {
    return null;
  }
}

/** Has all copies of some pieces made again. */
function printedAgain(now: Plan, keys: readonly string[]): PlanChange {
  const copies = (now.log ?? [])
    .flatMap((e) => e.pieces)
    .filter((p) => keys.includes(p.piece))
    .map(({ piece, copy }) => ({ piece, copy }));
  const once = [...new Map(copies.map((c) => [`${c.piece} ${c.copy}`, c])).values()];
  return happened(now, { at: new Date().toISOString(), pieces: once, to: 'toPrint', note: 'changed, made again' });
}

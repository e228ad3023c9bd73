import { frozenPieces, happened, type PlanChange, sameShape } from '@gephyra/core';
import { useCallback, useState } from 'react';
import type { Searcher } from '../engine/searcher.ts';
import { type Changing, changed } from './changes.ts';
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
 * Looks at changes before they are made: one that would alter a printed piece's file is asked about first. All others are made
 * at once; ids of what was added are told of those only.
 */
export function useFrozen(
  record: ProjectRecord,
  searcher: Searcher | null,
  say: (saying: Saying) => void,
): {
  readonly change: ProjectRecord['change'];
  readonly question: FrozenQuestion | null;
  /** Takes a step back or forward; where that changes printed pieces it is told, with the way back. */
  step(way: 'undo' | 'redo'): Promise<void>;
} {
  const [question, setQuestion] = useState<FrozenQuestion | null>(null);
  const change = useCallback(
    (label: string, ...changes: Changing[]): ReadonlyMap<string, string> => {
      const { plan } = record.state;
      const frozen = frozenPieces(plan.log ?? []);
      if (frozen.size === 0 || !searcher) return record.change(label, ...changes);
      let made: ReturnType<typeof changed>;
      try {
        made = changed(plan, changes);
      } catch {
        // it is refused, in words
        return record.change(label, ...changes);
      }
      const { plan: next, parts } = made;
      if (sameShape(plan, next)) return record.change(label, ...changes);
      const whole: PlanChange = { do: 'all', changes: parts };
      const ask = async (): Promise<void> => {
        const keys = await searcher.ask((engine) => engine.changedFiles(plan, next, [...frozen.keys()]), {
          first: true,
        });
        if (keys.length === 0) {
          record.change(label, ...changes);
          return;
        }
        const drop = (): void => setQuestion(null);
        setQuestion({
          label,
          pieces: keys.map((key) => ({ key, since: frozen.get(key)! })),
          drop,
          again: () => {
            drop();
            const copies = (plan.log ?? [])
              .flatMap((e) => e.pieces)
              .filter((p) => keys.includes(p.piece))
              .map(({ piece, copy }) => ({ piece, copy }));
            const once = [...new Map(copies.map((c) => [`${c.piece} ${c.copy}`, c])).values()];
            record.change(label, ...changes, (now) =>
              happened(now, { at: new Date().toISOString(), pieces: once, to: 'toPrint', note: 'changed, made again' }),
            );
          },
          spare: async () => {
            drop();
            const rest = await searcher.ask<PlanChange | null>(
              (engine) => engine.sparing(plan, whole, keys) as Promise<PlanChange | null>,
              { first: true },
            );
            if (rest) record.change(label, rest);
            return rest !== null;
          },
        });
      };
      ask().catch((error: unknown) => say({ text: (error as Error).message, tone: 'stop' }));
      return new Map();
    },
    [record, searcher, say],
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
  return { change, question, step };
}

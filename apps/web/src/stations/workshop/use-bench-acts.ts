import type { PrintAction } from '@gephyra/contract';
import { type Bed, type CopyProgress, happened, type PieceState, type SalvageJoin, salvaged } from '@gephyra/core/plan';
import { useState } from 'react';
import { useProject } from '../../project/project.tsx';
import { useBedPrints } from '../../project/use-bed-prints.ts';
import { useSearch } from '../../project/use-search.ts';
import { useToasts } from '../../ui/toasts.tsx';
import { entryOf, STATE_WORDS } from './bench.ts';
import type { Simulation } from './printers.tsx';
import { sendBed, waitingOn } from './send-bed.ts';
import type { Standing } from './use-standing.ts';

const NAME = 'gephyra-name';
const PACE = 'gephyra-pace';

export type BenchActs = ReturnType<typeof useBenchActs>;

/** What is done at the bench: noting, saving the rest of a failed print, and sending beds to their printers. */
export function useBenchActs({ progress, full, codeOf }: Pick<Standing, 'progress' | 'full' | 'codeOf'>) {
  const { project, plan, alike, prints, change } = useProject();
  const { searching, search } = useSearch();
  const toasts = useToasts();
  const sent = useBedPrints(project.id);
  const [wrong, setWrong] = useState<string | null>(null);
  const [sending, setSending] = useState<string | null>(null);
  const [who, setWho] = useState(() => localStorage.getItem(NAME) ?? '');
  const [simulation, setSimulation] = useState<Simulation>(() => ({
    pace: Number(localStorage.getItem(PACE) ?? '') || 60,
    failAt: null,
  }));
  const say = (error: unknown): void => setWrong((error as Error).message);

  const note = (
    rows: readonly CopyProgress[],
    state: PieceState,
    more: { bed?: string; failed?: { height?: number; why: string } } = {},
  ): void => {
    if (rows.length === 0 || full) return;
    const entry = entryOf(rows, state, (key) => prints.byKey.get(key)?.file, {
      at: new Date(),
      ...(who !== '' && { who }),
      ...more,
    });
    const names = rows.length === 1 ? codeOf(rows[0].piece) : `${rows.length} pieces`;
    change(more.failed ? `${names} failed` : `${names}: ${STATE_WORDS[state]}`, (now) => happened(now, entry));
  };

  const save = async (key: string, height: number, join: SalvageJoin): Promise<void> => {
    setWrong(null);
    try {
      const found = await search('Parting it', (engine) => engine.salvage(plan, key, height, join, alike.files));
      if (!found) return;
      change(`Save the rest of ${codeOf(key)}`, (now) => salvaged(now, found));
      if (found.height < height - 1e-6) {
        toasts.say({
          text: `${codeOf(key)} is parted at ${found.height.toFixed(1)} mm: joints are in the way above that. Saw or file off what stands higher.`,
          tone: 'warn',
        });
      }
    } catch (error) {
      say(error);
    }
  };

  const send = async (bed: Bed, title: string): Promise<void> => {
    const rows = waitingOn(bed, progress);
    setWrong(null);
    setSending(bed.id);
    try {
      await sendBed({ project, plan, bed, title, rows, byKey: prints.byKey, simulation, who });
      setSimulation({ ...simulation, failAt: null });
      sent.refresh();
    } catch (error) {
      say(error);
    }
    setSending(null);
  };

  return {
    note,
    save,
    send,
    /** pauses, resumes or stops a print */
    act: (print: string, what: PrintAction): void => void sent.act(print, what).catch(say),
    /** what was handed to printers */
    prints: sent.prints,
    /** why the last act was not done */
    wrong,
    /** the bed that is on its way to its printer */
    sending,
    saving: searching !== null,
    who,
    setWho: (name: string): void => {
      setWho(name);
      localStorage.setItem(NAME, name);
    },
    simulation,
    setSimulation: (next: Simulation): void => {
      setSimulation(next);
      localStorage.setItem(PACE, String(next.pace));
    },
  };
}

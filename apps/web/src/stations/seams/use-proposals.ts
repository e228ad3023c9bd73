import type { Weighed } from '@gephyra/core/plan';
import { useEffect, useRef, useState } from 'react';
import type { ProposalRequest, ProposalView } from '../../engine/proposals.ts';
import { useProject } from '../../project/project.tsx';
import { useSearch } from '../../project/use-search.ts';
import { type Leaning, takingOf, variants, wishesOf } from './proposing.ts';

/** The size of a proposal's picture, pixels. */
export const SIZE = [132, 110] as const;

/** A proposal that was found. */
export interface Shown {
  readonly title: string;
  readonly view: ProposalView;
  /** once it was jointed and laid */
  readonly weighed?: Weighed;
}

/** What is asked of a search. */
export interface Asked {
  readonly request: Omit<ProposalRequest, 'wishes' | 'effort' | 'alike'>;
  readonly leaning: Leaning;
  /** both sides of the mirror plane are parted alike */
  readonly alike: boolean;
  /** ids of the seams that go for it */
  readonly gone: readonly string[];
}

/** Proposals for the plan as it stands: looked for one after another, then jointed and laid to be weighed; gone with the plan. */
export function useProposals() {
  const { plan, view } = useProject();
  const { searching, search } = useSearch();
  const [found, setFound] = useState<readonly Shown[]>([]);
  const [wrong, setWrong] = useState<string | null>(null);
  const [ran, setRan] = useState<'not yet' | 'going on' | 'done'>('not yet');
  // what was found holds for the plan it was asked of
  const asked = JSON.stringify([
    plan.seams,
    plan.printer,
    plan.printers,
    plan.zones,
    plan.show,
    plan.recipe,
    view?.map,
  ]);
  const of = useRef(asked);
  useEffect(() => {
    if (of.current === asked) return;
    of.current = asked;
    setFound([]);
    setRan('not yet');
  }, [asked]);

  const look = async ({ request, leaning, alike, gone }: Asked): Promise<void> => {
    setFound([]);
    setWrong(null);
    setRan('going on');
    const all: Shown[] = [];
    try {
      for (const { title, ...asking } of variants(wishesOf(leaning), alike)) {
        const next = await search('Looking for seams', (engine, tell) =>
          engine.propose(plan, { ...request, ...asking }, SIZE, tell),
        );
        if (of.current !== asked) return;
        if (!next) break;
        const print = (v: ProposalView): string => JSON.stringify(v.seams.map((s) => [s.origin, s.normal]));
        if (all.some((s) => print(s.view) === print(next))) continue;
        all.push({ title, view: next });
        setFound([...all]);
        if (next.seams.length === 0) break;
      }
      for (const { title, view: seen } of all.length > 0 && all[0].view.seams.length > 0 ? all : []) {
        const weighed = await search('Joints and poses', (engine, tell) =>
          engine.weigh(plan, takingOf(seen, gone), tell),
        );
        if (of.current !== asked) return;
        if (!weighed) break;
        setFound((list) => list.map((f) => (f.title === title ? { ...f, weighed } : f)));
      }
    } catch (error) {
      setWrong((error as Error).message);
    }
    setRan('done');
  };
  return { found, wrong, ran, searching, look };
}

import type { PlanChange, Wishes } from '@gephyra/core/plan';
import type { ProposalView } from '../../engine/proposals.ts';

/** How much more (or less) than usual each wish counts, −2 … 2. */
export type Leaning = Readonly<Record<keyof Wishes, number>>;

const WORDS = ['much less', 'less', 'as usual', 'more', 'much more'] as const;

export const levelWord = (level: number): string => WORDS[Math.max(0, Math.min(4, Math.round(level) + 2))];

/** A step of a slider makes a wish weigh so many times as much. */
const STEP = 1.8;

export const wishesOf = ({ few, hidden, print }: Leaning): Wishes => ({
  few: STEP ** few,
  hidden: STEP ** hidden,
  print: STEP ** print,
});

/** Planes looked at to better a first answer. */
const BETTER = 6000;

/** One search: what it is called, what it goes by, and whether both sides are kept alike. */
export interface Variant {
  readonly title: string;
  readonly wishes: Wishes;
  readonly effort: number;
  readonly alike: boolean;
}

/**
 * What is looked for, in this order: a first answer as soon as may be, a better one, and two that lean further to either
 * side, to be held against it. `alike`: both sides of the mirror plane are parted alike; where there is one, the last of them
 * shows what is gained when they need not be.
 */
export function variants(wishes: Wishes, alike: boolean): readonly Variant[] {
  const fewer = { ...wishes, few: wishes.few * 3 };
  return [
    { title: 'As wished', wishes, effort: 0, alike },
    { title: 'Looked at longer', wishes, effort: BETTER, alike },
    { title: 'Better hidden', wishes: { ...wishes, hidden: wishes.hidden * 3 }, effort: 0, alike },
    {
      title: alike ? 'Fewer pieces, each side by itself' : 'Fewer pieces',
      wishes: fewer,
      effort: BETTER,
      alike: false,
    },
  ];
}

/** The changes that take a proposal; `instead`: ids of seams that go for it. */
export const takingOf = (
  { seams, anchors, poses }: Pick<ProposalView, 'seams' | 'anchors' | 'poses'>,
  instead: readonly string[],
): PlanChange[] => [
  ...instead.map((id) => ({ do: 'removeSeam' as const, id })),
  { do: 'addSeams', seams },
  { do: 'set', set: { anchors } },
  ...poses.map(({ key, pose }) => ({ do: 'setPiece' as const, key, set: { pose } })),
];

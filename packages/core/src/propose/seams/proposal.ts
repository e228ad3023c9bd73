import type { Plan, Printer, Seam } from '../../document/index.ts';
import type { Evaluation } from '../../evaluate/index.ts';
import type { Mirror } from '../../mesh/index.ts';
import type { Wishes } from './cost.ts';
import type { PartingFigures } from './figures.ts';

/** What is asked of a proposal. */
export interface ProposeWish {
  /** it is enough that a piece fits one of them */
  readonly printers: readonly Printer[];
  readonly wishes: Wishes;
  /** kept free before every cut face, mm */
  readonly jointRoom: number;
  /** the only pieces that are parted, by their keys, whether they fit or not; without it all that fit no printer */
  readonly only?: readonly string[];
  /** seams there already: all stay, or the locked ones only */
  readonly keep: 'all' | 'locked';
  /** planes that are looked at to better the first answer; more takes longer */
  readonly effort: number;
  /** both sides of the model are parted alike, as far as they are alike */
  readonly mirror?: Mirror | null;
  /** pieces may lie turned in any way; such a pose is written. Without it they fit along the axes */
  readonly turned?: boolean;
  /** no piece is longer than this along an axis, mm: what is long on the bed warps */
  readonly longest?: number;
  /** bodies that are not parted, by their ids */
  readonly whole?: readonly string[];
  /** keys of pieces that stay as they are, with the seams round them: they are printed */
  readonly still?: readonly string[];
  /** changes the order in which equally good ways are met, 0 … */
  readonly seed: number;
}

/** As usual: every wish at 1. */
export const EVEN_WISHES: Wishes = { few: 1, hidden: 1, print: 1 };

export interface Proposal {
  /** with its seams, anchors that keep the keys of its pieces, and poses of those that fit only turned */
  readonly plan: Plan;
  /** the seams that are new */
  readonly seams: readonly Seam[];
  readonly figures: PartingFigures;
  /** pieces that are not alike on both sides, and have no mirror image; null without a mirror plane */
  readonly unlike: number | null;
  readonly evaluation: Evaluation;
}

/** How far it has come: pieces of the best answer, or of what is being tried, and the share of what it means to do. */
export interface ProposeState {
  readonly pieces: number;
  readonly answered: boolean;
  readonly share: number;
}

/** Told while it runs; says false to stop with the best so far. */
export type ProposeTell = (state: ProposeState) => boolean;

import type { Wish } from '../document/index.ts';
import type { Estimate, Figures, Pose, PoseOption } from '../print/index.ts';

/** How a piece is printed. Lengths mm, on the model. */
export interface PiecePrint {
  readonly key: string;
  /** the piece whose file it is printed from, itself for most, and whether mirrored */
  readonly of: string;
  readonly mirrored: boolean;
  /** of the file's piece */
  readonly pose: Pose;
  /** who chose the pose; nobody: upright as modelled */
  readonly by: 'nobody' | 'hand' | 'search';
  readonly why: string;
  /** name of the printer it is for */
  readonly printer: string;
  readonly figures: Figures;
  /** of one copy */
  readonly estimate: Estimate;
  /** how many of it are made */
  readonly copies: number;
}

/** A pose of a piece to choose from. */
export interface PoseChoice extends Omit<PoseOption, 'why'> {
  /** what speaks for it, in words */
  readonly why: string;
  readonly estimate: Estimate;
}

/** New poses for pieces, as a proposal. */
export interface PoseProposal {
  readonly wish: Wish;
  readonly pieces: readonly {
    readonly key: string;
    readonly before: PiecePrint;
    readonly after: PiecePrint;
  }[];
}

export type { Wishes } from './cost.ts';
export { figuresOf, type PartingFigures } from './figures.ts';
export { gridSeams } from './grid-seams.ts';
export {
  EVEN_WISHES,
  type Proposal,
  type ProposeState,
  type ProposeTell,
  type ProposeWish,
} from './proposal.ts';
export { proposeSeams } from './propose.ts';
export { reasonWords } from './reasons.ts';

import type { Triangulator } from '../../cut/index.ts';
import type { Mirror } from '../../mesh/index.ts';
import { parted } from './build.ts';
import { type Chunk, wholeOf } from './chunk.ts';
import { type Move, type MoveContext, type Outlook, outlookOf, priceOf } from './cuts.ts';
import { movesOf } from './moves.ts';
import { pairedUp } from './twins.ts';

/** A cut that was chosen, and what it leaves. */
export interface Step {
  readonly move: Move;
  readonly parts: readonly Parting[];
}

/** A chunk as it is to be parted: by a step, or left as it is. */
export interface Parting {
  readonly chunk: Chunk;
  readonly step: Step | null;
  /** whether it fits a printer, when it is left as it is */
  readonly fits: boolean;
  /** it stands for its mirror image as well, which is parted as its image */
  readonly twin: boolean;
}

/** How far a search has come. */
export interface SearchState {
  /** pieces of the best answer so far, or of what is being tried */
  readonly pieces: number;
  /** it has an answer */
  readonly answered: boolean;
  /** how much of what it means to do is done, 0 … 1 */
  readonly share: number;
}

export interface SearchWish extends MoveContext {
  readonly fallback: Triangulator;
  /** what is parted is alike on both sides of the mirror plane */
  readonly centred?: boolean;
  /** it is parted even when it fits */
  readonly anyway?: boolean;
  /** whether a chunk fits a printer though its box does not */
  readonly turned?: (chunk: Chunk, need: number) => boolean;
  /** planes that may be looked at after the first answer, to better it */
  readonly planes: number;
  /** told now and then; says false to stop with the best so far */
  readonly tell?: (state: SearchState) => boolean;
}

interface Option {
  readonly move: Move;
  children: Node[] | null;
  /** the stand-in did not come apart as it was told */
  dead: boolean;
}

class Node {
  options: Option[] | null = null;
  readonly fits: boolean;

  constructor(
    readonly chunk: Chunk,
    readonly outlook: Outlook,
    /** how often it counts: twins are searched once */
    readonly times: 1 | 2 = 1,
    public centred = false,
  ) {
    this.fits = outlook.need === 1;
  }

  /** Cost in pieces as far as it is known, and priced beyond. */
  estimate(weight: number): number {
    if (this.fits) return 1;
    if (!this.options) return priceOf(this.outlook, weight);
    const best = this.best(weight);
    return best ? worth(best, weight) : STUCK * this.outlook.need;
  }

  best(weight: number): Option | null {
    let best: Option | null = null;
    let least = Infinity;
    for (const option of this.options ?? []) {
      if (option.dead) continue;
      const cost = worth(option, weight);
      if (cost >= least) continue;
      least = cost;
      best = option;
    }
    return best;
  }

  /** Cost of the best answer that is whole; nothing when there is none yet. */
  answered(): { cost: number; option: Option | null } | null {
    if (this.fits) return { cost: 1, option: null };
    if (!this.options) return null;
    let best: { cost: number; option: Option | null } | null = null;
    let any = false;
    for (const option of this.options) {
      if (option.dead) continue;
      any = true;
      if (!option.children) continue;
      let cost = option.move.cost;
      for (const child of option.children) cost += child.times * (child.answered()?.cost ?? Infinity);
      if (cost < (best?.cost ?? Infinity)) best = { cost, option };
    }
    // nothing parts it: it is left too large
    return best ?? (any ? null : { cost: STUCK * this.outlook.need, option: null });
  }
}

/** The outlook of what fits. */
const FITS: Outlook = { need: 1, seams: 0 };

/** The outlook of what fits and is parted all the same. */
const ANYWAY: Outlook = { need: 1.5, seams: 0.1 };

/** So many cuts may be tried on the way to one answer, by the pieces that it is thought to come to; most ways need one a piece. */
const CUTS_A_PIECE = 12;
const CUTS_MORE = 60;

/** What is left too large costs so many times its need. */
const STUCK = 4;

const worth = ({ move, children }: Option, weight: number): number =>
  children
    ? children.reduce((sum, c) => sum + c.times * c.estimate(weight), move.cost)
    : move.leaves.reduce((sum, l) => sum + priceOf(l, weight), move.cost);

/**
 * Finds how a chunk is best parted into pieces that fit: a search over a tree in which a piece may be cut in several ways
 * (one is chosen) and a cut leaves several pieces (all must be parted). Costs add up, so pieces are searched by
 * themselves, and what is learned of one corrects the choice between its parents' cuts (Nilsson's AO*, Principles of
 * Artificial Intelligence, 1980; Martelli and Montanari 1973), with two changes: the first answer is taken straight down, so that there is one early, and
 * needs are no bounds, so the result is the best that was found and not proven: cuts beside the answer's way are tried by what they promise, each to its end.
 */
export function searchParting(root: Chunk, wish: SearchWish): { parting: Parting; cost: number } {
  let made = 0;
  const nodeOf = (c: Chunk, times: 1 | 2, centred: boolean): Node => {
    const outlook = outlookOf(wholeOf(c), c, wish, true);
    const fits = outlook.need > 1 && wish.turned?.(c, outlook.need);
    return new Node(c, fits ? FITS : outlook, times, centred);
  };
  const whole = nodeOf(root, 1, wish.centred ?? false);
  const top = wish.anyway && whole.fits ? new Node(root, ANYWAY, 1, whole.centred) : whole;
  const mirrorOf = (node: Node): Mirror | undefined => (node.centred ? wish.mirror : undefined);
  let weight = wish.seamWeight;
  let stopped = false;
  const pieces = (node: Node): number => {
    const option = node.answered()?.option;
    return option?.children ? option.children.reduce((n, c) => n + c.times * pieces(c), 0) : 1;
  };
  let open = 1;
  let done = 0;
  let answered = false;
  let begun = wish.counted.planes;
  const tell = (): void => {
    const bettered = (wish.counted.planes - begun) / Math.max(1, wish.planes);
    const share = answered ? Math.min(1, bettered) : Math.min(0.95, done / Math.max(open, top.outlook.need));
    const state = { pieces: answered ? pieces(top) : open, answered, share };
    if (wish.tell && !wish.tell(state)) stopped = true;
  };
  const expand = (node: Node): void => {
    const { mirror: _, ...rest } = wish;
    const mirror = mirrorOf(node);
    const context = { ...rest, seamWeight: weight, ...(mirror && { mirror }) };
    let moves = movesOf(node.chunk, node.outlook.need, context);
    if (mirror && moves.length === 0) {
      // nothing keeps the sides alike
      node.centred = false;
      moves = movesOf(node.chunk, node.outlook.need, { ...rest, seamWeight: weight });
    }
    node.options = moves.map((move) => ({
      move,
      children: null,
      dead: false,
    }));
  };
  const build = (node: Node, option: Option): void => {
    const mirror = mirrorOf(node);
    const parts = parted(node.chunk, option.move, `p${++made}`, wish.jointRoom, wish.fallback, mirror);
    if (!parts) {
      option.dead = true;
    } else if (mirror) {
      option.children = pairedUp(parts, mirror).map((k) => nodeOf(k.chunk, k.twin ? 2 : 1, k.centred));
    } else option.children = parts.map((c) => nodeOf(c, 1, false));
  };
  /** cuts that one way down may still make: what is not parted by then is left too large */
  let left = 0;
  /** Takes the best cut of a piece, then of each of its parts, until all fit. */
  const dive = (node: Node): void => {
    if (node.fits) done += node.times;
    if (node.fits || stopped) return;
    if (left <= 0) node.options ??= [];
    if (!node.options) expand(node);
    tell();
    for (let option = node.best(weight); option; option = node.best(weight)) {
      if (!option.children) {
        if (left-- <= 0) option.dead = true;
        else build(node, option);
      }
      if (option.dead) continue;
      open += option.children!.reduce((n, c) => n + c.times, -1);
      for (const child of [...option.children!].sort((a, b) => b.outlook.need - a.outlook.need)) dive(child);
      return;
    }
  };
  const most = CUTS_A_PIECE * Math.ceil(top.outlook.need) + CUTS_MORE;
  left = most;
  dive(top);
  // prices learn from the first answer what seams of this model come to
  const first = top.answered();
  answered = first !== null;
  if (first && top.outlook.seams > 0) {
    weight = Math.min(1.5, Math.max(0.2, (first.cost - top.outlook.need) / top.outlook.seams));
  }
  begun = wish.counted.planes;
  const limit = begun + wish.planes;
  while (!stopped && wish.counted.planes < limit) {
    const other = mostPromising(top, weight);
    if (!other) break;
    left = most;
    build(other.node, other.option);
    for (const child of other.option.children ?? []) dive(child);
    tell();
  }
  return { parting: partingOf(top), cost: top.answered()?.cost ?? Infinity };
}

/** Of all cuts on the best answer's way that were not tried: the one that promises to better it most. */
function mostPromising(top: Node, weight: number): { node: Node; option: Option } | null {
  let best: { node: Node; option: Option } | null = null;
  let most = LEAST_GAIN;
  const walk = (node: Node): void => {
    const answer = node.answered();
    if (!answer?.option) return;
    for (const option of node.options!) {
      if (option.dead || option.children) continue;
      const gain = answer.cost - worth(option, weight);
      if (gain <= most) continue;
      most = gain;
      best = { node, option };
    }
    for (const child of answer.option.children!) walk(child);
  };
  walk(top);
  return best;
}

/** What promises less is not tried, in pieces. */
const LEAST_GAIN = 0.05;

function partingOf(node: Node): Parting {
  const option = node.answered()?.option ?? null;
  const { chunk, fits } = node;
  const twin = node.times === 2;
  if (!option?.children) return { chunk, step: null, fits, twin };
  return { chunk, fits: false, twin, step: { move: option.move, parts: option.children.map(partingOf) } };
}

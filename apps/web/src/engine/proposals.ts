// Proposals of seams as the page shows them.
import {
  applyChange,
  colourPieces,
  fromFrame,
  type Mirror,
  type PartingFigures,
  type Plan,
  type PlanChange,
  type PoseNote,
  type Printer,
  picture,
  pieceColour,
  proposeSeams,
  proxy,
  type Seam,
  type Weighed,
  type Wishes,
  weighParting,
} from '@gephyra/core';
import type { HeldModel } from './held-model.ts';
import type { Tell } from './tell.ts';

export interface ProposalRequest {
  readonly wishes: Wishes;
  /** keys of the only pieces that may be parted; without it all that are too large */
  readonly only?: readonly string[];
  readonly keep: 'all' | 'locked';
  /** both sides of the model's mirror plane are parted alike */
  readonly alike: boolean;
  readonly jointRoom: number;
  /** pieces may lie turned in any way */
  readonly turned: boolean;
  /** no piece is longer along an axis, mm */
  readonly longest?: number;
  /** bodies that are not parted */
  readonly whole: readonly string[];
  /** printed pieces, which stay as they are */
  readonly still: readonly string[];
  /** planes looked at to better the first answer */
  readonly effort: number;
}

export interface ProposalView {
  readonly seams: readonly Seam[];
  readonly anchors: Plan['anchors'];
  /** poses of pieces that fit only so */
  readonly poses: readonly { readonly key: string; readonly pose: PoseNote }[];
  readonly figures: PartingFigures;
  /** pieces that have no mirror image; null where the model has no mirror plane, or none was asked for */
  readonly unlike: number | null;
  /** the new seams' faces, four corners each */
  readonly quads: Float32Array;
  readonly pixels: Uint8ClampedArray;
}

const LIGHT = 3000;

/** A proposal with its picture in a size in pixels. */
export function proposalOf(
  held: HeldModel,
  document: unknown,
  request: ProposalRequest,
  mirror: Mirror | null,
  size: readonly [number, number],
  tell: Tell,
): ProposalView {
  const plan = held.posed(document);
  const printers: Printer[] = [plan.printer, ...plan.printers];
  const {
    seams,
    figures,
    unlike,
    evaluation,
    plan: proposed,
  } = proposeSeams(
    plan,
    held.model,
    { printers, seed: 0, ...request, mirror },
    { fallback: held.fallback, kernel: held.tools(), cache: held.cache },
    ({ pieces, answered, share }) => {
      tell(share, `${pieces} pieces so far${answered ? ', looking for fewer' : ''}`);
      return true;
    },
  );
  const colours = colourPieces(
    evaluation.pieces.map((p) => p.key),
    evaluation.faces.map((f) => f.pieces),
  );
  const drawn = evaluation.pieces.flatMap(({ key, solid }) => {
    const colour = pieceColour(colours.get(key) ?? 0);
    const light = proxy(solid, LIGHT);
    return [
      { positions: light.positions, triangles: light.triangles, colour },
      ...solid.caps.map((c) => ({ positions: solid.positions, triangles: c.triangles, colour })),
    ];
  });
  const own = new Set(seams.map((s) => s.id));
  const quads = evaluation.faces
    .filter((f) => own.has(f.seam))
    .flatMap(({ frame, region }) => {
      const us = region.outer2.filter((_, i) => i % 2 === 0);
      const vs = region.outer2.filter((_, i) => i % 2 === 1);
      const [lu, lv] = [Math.min(...us) - EDGE, Math.min(...vs) - EDGE];
      const [hu, hv] = [Math.max(...us) + EDGE, Math.max(...vs) + EDGE];
      return [
        fromFrame(frame, lu, lv),
        fromFrame(frame, hu, lv),
        fromFrame(frame, hu, hv),
        fromFrame(frame, lu, hv),
      ].flat();
    });
  return {
    seams,
    anchors: proposed.anchors,
    poses: proposed.pieces.flatMap(({ key, pose }) =>
      pose && !plan.pieces.some((p) => p.key === key && p.pose) ? [{ key, pose }] : [],
    ),
    figures,
    unlike,
    quads: Float32Array.from(quads),
    pixels: picture(drawn, ...size),
  };
}

/** How far a sheet stands out beyond the face it shows, mm. */
const EDGE = 14;

/** What a plan comes to with a proposal taken, once it is jointed and laid. */
export function weighed(held: HeldModel, document: unknown, changes: readonly PlanChange[], tell: Tell): Weighed {
  const plan = changes.reduce(applyChange, held.posed(document));
  const tools = { fallback: held.fallback, kernel: held.tools(), cache: held.cache };
  const steps = weighParting(plan, held.evaluate(plan), held.model, tools);
  for (;;) {
    const step = steps.next();
    if (step.done) return step.value;
    tell(step.value, 'how it prints');
  }
}

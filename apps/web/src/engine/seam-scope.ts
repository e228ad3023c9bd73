// What a seam cuts of the model, and the sections of that.
import {
  type Blocks,
  buildBlocks,
  closedMesh,
  type FlatRegion,
  type Frame,
  type IndexedMesh,
  insidePoint,
  type Loop2,
  type Piece,
  type Plan,
  regionsOfLoops,
  seamsBefore,
  sectionAt,
  sectionLoops,
  withinBound,
} from '@gephyra/core';
import type { HeldModel } from './held-model.ts';

/** A region of a section as it is shown and chosen. */
export interface RegionView extends FlatRegion {
  /** a place inside, (u, v) in the frame */
  readonly seed: readonly [number, number];
  readonly body: string;
}

/** A body, or a piece of one as it stands before a seam. */
export interface Target {
  readonly body: string;
  readonly mesh: IndexedMesh;
  blocks(): Blocks;
}

/** All bodies. */
export const wholeModel = (held: Pick<HeldModel, 'bodies'>): Target[] =>
  held.bodies().map((b) => ({ body: b.body.id, mesh: b.mesh, blocks: () => b.blocks() }));

let kept: { key: string; targets: readonly Target[] } | null = null;

/**
 * What a seam of a plan may cut: all bodies, or the pieces that it is meant for as they stand before it, where its regions are
 * told apart on those. The last answer is kept, so that a seam which is dragged has them at once.
 */
export function targetsOf(held: HeldModel, plan: Plan, id: string): readonly Target[] {
  const seam = plan.seams.find((s) => s.id === id);
  if (!seam?.scope || (seam.kind === 'flat' && seam.regions?.of === 'body')) return wholeModel(held);
  const { scope } = seam;
  const key = `${held.key()} ${JSON.stringify([scope, seamsBefore(plan, id), plan.anchors])}`;
  if (kept?.key !== key) {
    const meant = piecesBefore(held, plan, id).filter((p) => scope.includes(p.key));
    kept = { key, targets: meant.map(targetOf) };
  }
  return kept.targets;
}

function targetOf(piece: Piece): Target {
  const mesh = closedMesh(piece.solid, () => 0);
  let blocks: Blocks | undefined;
  return { body: piece.body, mesh, blocks: () => (blocks ??= buildBlocks(mesh)) };
}

/** The pieces as they stand before a seam. */
export const piecesBefore = (held: HeldModel, plan: Plan, seam: string): readonly Piece[] =>
  held.evaluate({ ...plan, seams: seamsBefore(plan, seam), joints: [] }).pieces;

/** The regions of a plane's section, largest first. */
export const regionsAt = (targets: readonly Target[], frame: Frame): RegionView[] =>
  regionViews(targets.map((b) => ({ body: b.body, loops: sectionLoops(b.mesh, frame, b.blocks()) })));

/** The same of what a seam of a plan may cut: of its pieces, and in the box that bounds it. */
export function regionsOfSeam(held: HeldModel, plan: Plan, id: string, frame: Frame): RegionView[] {
  const seam = plan.seams.find((s) => s.id === id);
  const bound = seam?.kind === 'flat' ? seam.bound : undefined;
  const loopsOf = (b: Target): readonly Loop2[] => {
    const { loops } = sectionAt(b.mesh, frame, b.blocks());
    return bound ? withinBound(loops, bound, held.model.map, frame) : loops;
  };
  return regionViews(targetsOf(held, plan, id).map((b) => ({ body: b.body, loops: loopsOf(b) })));
}

const regionViews = (sections: readonly { body: string; loops: readonly Loop2[] }[]): RegionView[] =>
  sections
    .flatMap(({ body, loops }) => regionsOfLoops(loops).map((r) => ({ ...r, seed: insidePoint(r), body })))
    .filter((r) => r.area > 0)
    .sort((a, b) => b.area - a.area);

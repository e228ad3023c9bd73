import { isClosed } from '../../body/index.ts';
import type { Plan, Printer } from '../../document/index.ts';
import { GephyraError } from '../../errors.ts';
import { EvalCache, type EvalContext } from '../../evaluate/index.ts';
import { perAxis, type Vec3 } from '../../mesh/index.ts';
import { usableSize } from '../../print/index.ts';
import type { Model } from '../../recipe/index.ts';
import { aligned } from './align.ts';
import type { MoveContext } from './cuts.ts';

import { Driver, SPARE } from './driver.ts';
import { fanRival } from './fan.ts';
import { Needs } from './need.ts';
import type { Proposal, ProposeState, ProposeTell, ProposeWish } from './proposal.ts';
import { gridRival } from './rival.ts';
import { searchParting } from './tree.ts';
import { fittingPose } from './turned.ts';
import { isCentred } from './twins.ts';

const ROUNDS = 4;
/** What seams are thought to cost beside those of an even grid, until an answer tells. */
const SEAM_WEIGHT = 0.8;
/** Multiples of it, without their whole part, lie evenly over 0 … 1. */
const GOLDEN = 0.618034;

/**
 * Proposes flat seams after which every piece fits: each piece that is too large is searched on a stand-in, and what was
 * found is cut on the model itself, seam by seam; what comes out otherwise is searched anew from what the model gave. Seams
 * that nearly lie in one plane become one. Where a grid of planes does with fewer pieces, that is proposed.
 *
 * The same plan, model and wish give the same proposal unless `tell` stops it. Throws GephyraError `propose.open` for bodies
 * that cannot be cut, `propose.printer` when joints leave no room in any printer.
 */
export function proposeSeams(
  plan: Plan,
  model: Model,
  asked: ProposeWish,
  context: EvalContext,
  tell?: ProposeTell,
): Proposal {
  const { longest } = asked;
  const wish = longest ? { ...asked, printers: asked.printers.map((p) => shortened(p, longest)) } : asked;
  const rooms = wish.printers.map((p): Vec3 => perAxis(usableSize(p), (x) => x - SPARE));
  if (!rooms.some((r) => Math.min(...r) > 3 * wish.jointRoom)) {
    throw new GephyraError(
      'propose.printer',
      `No printer has room for pieces with ${wish.jointRoom} mm for joints at their faces. Choose a larger printer, or less room for joints.`,
    );
  }
  const open = model.bodies.filter((b) => !isClosed(b));
  if (open.length > 0) {
    throw new GephyraError(
      'propose.open',
      `${open.map((b) => b.name).join(', ')}: not closed, so it cannot be cut. Mend it at Model first.`,
    );
  }
  const cached = { ...context, cache: context.cache ?? new EvalCache() };
  const driver = new Driver(plan, model, wish, cached);
  const needs = new Needs(rooms, wish.jointRoom);
  let stopped = false;
  const say = (state: ProposeState): boolean => {
    if (tell && !tell(state)) stopped = true;
    return !stopped;
  };
  for (let round = 0; round < ROUNDS && !stopped; round++) {
    const targets = driver.tooLarge(round === 0);
    if (targets.length === 0) break;
    const move: MoveContext = {
      needs,
      jointRoom: wish.jointRoom,
      scale: {
        bed: [needs.room[0], needs.room[1]],
        roomVolume: needs.roomVolume,
        meanVolume: driver.meanVolume(needs),
        wishes: wish.wishes,
      },
      seamWeight: SEAM_WEIGHT,
      counted: { planes: 0 },
      phase: wish.seed === 0 ? 0 : ((wish.seed * GOLDEN) % 1) - 0.5,
      ...driver.forbidden(),
    };
    const { mirror } = wish;
    const parted = new Set<string>();
    for (const target of targets) {
      if (stopped || driver.isFull()) break;
      if (parted.has(target.key)) continue;
      const root = driver.chunkOf(target);
      const others = driver.count() - 1;
      const { parting } = searchParting(root, {
        ...move,
        ...(mirror && { mirror, centred: isCentred(root, mirror) }),
        fallback: context.fallback,
        planes: wish.effort,
        ...(wish.turned && { turned: (chunk, need) => fittingPose(chunk, need, driver.spared) !== null }),
        anyway: round === 0 && wish.only !== undefined,
        tell: ({ pieces, answered, share }) => say({ pieces: others + pieces, answered, share }),
      });
      // its image is parted as well, also where that would fit: boxes of images differ unless the plane is square to an axis
      const twin = driver.twinOf(target);
      driver.take(target.key, parting, move);
      if (!twin) continue;
      parted.add(twin);
      driver.take(twin, parting, move, true);
    }
  }
  const found = driver.proposal();
  if (stopped || found.seams.length === 0) return found;
  const pieces = driver.count();
  const tidy = aligned(
    found,
    driver,
    () => new Driver(plan, model, wish, cached),
    wish,
    () => say({ pieces, answered: true, share: 1 }),
  );
  const best = gridRival(plan, model, wish, cached, tidy.figures) ?? tidy;
  return fanRival(plan, model, wish, cached, best.figures) ?? best;
}

/** A printer of which pieces may take up no more than some mm along an axis. */
const shortened = (printer: Printer, longest: number): Printer => {
  const usable = usableSize(printer);
  const size = printer.size.map((x, a) => x - Math.max(0, usable[a] - longest));
  return { ...printer, size: size as [number, number, number] };
};

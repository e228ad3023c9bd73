import { GephyraError } from '../errors.ts';
import { type Loop2, loopArea } from '../mesh/index.ts';
import { easedLoop } from './ease.ts';

/** What is left out before outlines are worked on: corners that stray less from their outline, mm; loops smaller, mm². */
export interface Care {
  readonly ease: number;
  readonly crumb: number;
}

/** Fit for outlines that carry joints and grooves. */
export const FINE: Care = { ease: 1e-5, crumb: 1e-6 };
/** Fit for outlines on a bed. */
export const ROUGH: Care = { ease: 0.02, crumb: 0.05 };

/** More corners and loops than this are eased more and more: the kernel cannot be interrupted, and its time grows with both. */
const MOST_CORNERS = 30_000;
const MOST_LOOPS = 1_500;
/** No outline is eased by more, mm. */
const EASIEST = 0.1;

/**
 * Loops that the kernel works on within a second or two: finite, without crumbs, within the limits on corners and loops.
 * Where they are beyond these they are eased by up to 0.1 mm.
 *
 * @throws GephyraError `outline.number` for a coordinate that is none, `outline.corners` for loops beyond all easing.
 */
export function cleaned(loops: readonly Loop2[], { ease, crumb }: Care): readonly Loop2[] {
  let kept = loops;
  for (const loop of loops) {
    for (const x of loop) {
      if (!Number.isFinite(x)) {
        throw new GephyraError('outline.number', 'An outline has a place that is no number. Mend the model at Model.');
      }
    }
  }
  for (let within = ease, least = crumb; ; within = Math.max(1e-3, 4 * within), least = Math.max(1e-4, 8 * least)) {
    kept = kept
      .filter((l) => l.length > 4 && Math.abs(loopArea(l)) > least)
      .map((l) => easedLoop(l, within))
      .filter((l) => l.length > 4);
    const corners = kept.reduce((n, l) => n + l.length / 2, 0);
    if (corners <= MOST_CORNERS && kept.length <= MOST_LOOPS) return kept;
    if (within >= EASIEST) {
      throw new GephyraError(
        'outline.corners',
        `An outline has ${corners.toLocaleString('en')} corners, more than ${MOST_CORNERS.toLocaleString('en')}. Simplify the model at Model.`,
        { corners, limit: MOST_CORNERS },
      );
    }
  }
}

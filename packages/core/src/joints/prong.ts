import type { Loop2 } from '../mesh/index.ts';

/** Plastic on plastic. */
export const FRICTION = 0.35;

/** What it takes to push prongs in that press outwards with a force, over a lead-in of that slope: N. */
export const pushed = (force: number, slope: number): number =>
  (force * (FRICTION + slope)) / Math.max(0.2, 1 - FRICTION * slope);

/**
 * A prong of constant section bent at its end along u: force there (N) and strain at its root. Euler and Bernoulli's
 * cantilever: force 3·E·I·bend / length³, strain 3·bend·c / length², c the farthest fibre from the section's centroid.
 * `section`, `length`, `bend`: mm; `modulus`: MPa.
 */
export function bentProng(
  section: Loop2,
  length: number,
  bend: number,
  modulus: number,
): { readonly strain: number; readonly force: number } {
  const { inertia, fibre } = sectionAcross(section);
  return { strain: (3 * bend * fibre) / length ** 2, force: (3 * modulus * inertia * bend) / length ** 3 };
}

/** Second moment of area of a loop about the v-parallel through its centroid (mm⁴), and the farthest point from it (mm). */
function sectionAcross(loop: Loop2): { inertia: number; fibre: number } {
  let twice = 0;
  let first = 0;
  let second = 0;
  for (let i = 0, j = loop.length - 2; i < loop.length; j = i, i += 2) {
    const [x0, y0, x1, y1] = [loop[j], loop[j + 1], loop[i], loop[i + 1]];
    const c = x0 * y1 - x1 * y0;
    twice += c;
    first += (x0 + x1) * c;
    second += (x0 * x0 + x0 * x1 + x1 * x1) * c;
  }
  const area = twice / 2;
  const middle = first / 6 / area;
  let fibre = 0;
  for (let i = 0; i < loop.length; i += 2) fibre = Math.max(fibre, Math.abs(loop[i] - middle));
  return { inertia: second / 12 - area * middle * middle, fibre };
}

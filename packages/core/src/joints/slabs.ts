import { atOffset, type Frame } from '../cut/index.ts';
import { hull2, type Loop2 } from '../mesh/index.ts';
import type { Stack } from './form.ts';
import type { Prism } from './wall.ts';

/** Slabs that a tapering stretch is measured by: more of them follow it more closely. */
const STEPS = 3;

/**
 * Prisms that hold all of a stack: between two rings as wide as anything from there on, so that distances measured to
 * them are never more than the true ones. `direction`: +1 where the stack goes along the normal of `frame`.
 *
 *    ____              __|__|__
 *   /    \     ->     |        |
 *  /      \           |________|
 */
export function slabsOf(stack: Stack, frame: Frame, direction: 1 | -1): Prism[] {
  const all = stack.around ?? stack.rings;
  const rings = all.slice(0, 1);
  for (const ring of all.slice(1)) {
    const last = rings[rings.length - 1];
    if (sameLoop(last.loop, ring.loop)) {
      rings.push(ring);
      continue;
    }
    const steps = ring.height - last.height > 1 ? STEPS : 1;
    for (let s = 1; s <= steps; s++) {
      const t = s / steps;
      const height = last.height + (ring.height - last.height) * t;
      rings.push(s === steps ? ring : { height, loop: last.loop.map((x, i) => x + (ring.loop[i] - x) * t) });
    }
  }
  const slabs: Prism[] = [];
  let wide = rings[rings.length - 1].loop;
  for (let i = rings.length - 2; i >= 0; i--) {
    const { loop, height } = rings[i];
    wide = widest(loop, wide);
    const depth = rings[i + 1].height - height;
    const last = slabs[slabs.length - 1];
    const at = height === 0 ? frame : atOffset(frame, frame.offset + height * direction);
    if (last && last.outline === wide) slabs[slabs.length - 1] = { ...last, frame: at, depth: last.depth + depth };
    else slabs.push({ frame: at, outline: wide, depth, direction });
  }
  return slabs.reverse();
}

/** The loop that holds both: mostly one of the two, else their convex hull. */
function widest(a: Loop2, b: Loop2): Loop2 {
  if (a === b || sameLoop(a, b)) return b;
  if (holds(a, b)) return a;
  if (holds(b, a)) return b;
  return hullOf([a, b]);
}

function sameLoop(a: Loop2, b: Loop2): boolean {
  if (a.length !== b.length) return false;
  for (let i = 0; i < a.length; i++) if (Math.abs(a[i] - b[i]) > 1e-12) return false;
  return true;
}

function holds(outer: Loop2, inner: Loop2): boolean {
  const n = outer.length;
  for (let i = 0, j = n - 2; i < n; j = i, i += 2) {
    const ex = outer[i] - outer[j];
    const ey = outer[i + 1] - outer[j + 1];
    for (let k = 0; k < inner.length; k += 2) {
      if (ex * (inner[k + 1] - outer[j + 1]) - ey * (inner[k] - outer[j]) < -1e-12) return false;
    }
  }
  return true;
}

/** Convex hull of the points of some loops, counter-clockwise. */
const hullOf = (loops: readonly Loop2[]): Loop2 => hull2(loops.flatMap((l) => [...l]));

import type { FlatRegion } from '../../cut/index.ts';
import { stripOf } from '../../joints/index.ts';
import type { Loop2 } from '../../mesh/index.ts';

/** A place half way between the two sides of a thin wall. */
export interface WallPlace {
  readonly at: readonly [number, number];
  /** mm */
  readonly thickness: number;
  /** way along the outline, mm */
  readonly along: number;
}

/**
 * Places in the middle of a wall, in their order along it: from points every `step` mm of its outer outline straight across
 * to the other side. A strip is walked along both of its sides; what lies where a place is already is left out.
 */
export function midWall(region: FlatRegion, step: number): WallPlace[] {
  const { outer2: l } = region;
  const loops = [l, ...region.holes2];
  const usual = stripOf(region).thickness;
  const found: WallPlace[] = [];
  let along = 0;
  let next = step / 2;
  for (let i = 0; i < l.length; i += 2) {
    const k = (i + 2) % l.length;
    const [dx, dy] = [l[k] - l[i], l[k + 1] - l[i + 1]];
    const length = Math.hypot(dx, dy);
    if (length === 0) continue;
    for (; next < along + length; next += step) {
      const s = (next - along) / length;
      const [u, v] = [l[i] + dx * s, l[i + 1] + dy * s];
      // the inside is on the left
      const thickness = across(loops, u, v, -dy / length, dx / length);
      // at the end of a strip the way across is the way along
      if (thickness > 2.5 * usual) continue;
      const at: [number, number] = [u - (dy / length) * (thickness / 2), v + (dx / length) * (thickness / 2)];
      if (found.some((p) => Math.hypot(p.at[0] - at[0], p.at[1] - at[1]) < 0.7 * step)) continue;
      found.push({ at, thickness, along: next });
    }
    along += length;
  }
  return inLine(found, 4 * step);
}

/** A walk that began in the middle of a strip comes back to its start and goes on to the other end: put before it, turned. */
function inLine(places: readonly WallPlace[], far: number): WallPlace[] {
  const gap = (a: WallPlace, b: WallPlace): number => Math.hypot(a.at[0] - b.at[0], a.at[1] - b.at[1]);
  const jump = places.findIndex((p, i) => i > 0 && gap(p, places[i - 1]) > far);
  if (jump < 0) return [...places];
  return [...places.slice(jump).reverse(), ...places.slice(0, jump)];
}

/** Distance along a direction to the first edge of some loops, not counting one that it starts on; infinite without one. */
export function across(loops: readonly Loop2[], u: number, v: number, du: number, dv: number): number {
  let best = Infinity;
  for (const l of loops) {
    for (let i = 0, j = l.length - 2; i < l.length; j = i, i += 2) {
      const ex = l[i] - l[j];
      const ey = l[i + 1] - l[j + 1];
      const det = du * ey - dv * ex;
      if (det === 0) continue;
      const t = ((l[j] - u) * ey - (l[j + 1] - v) * ex) / det;
      const s = ((l[j] - u) * dv - (l[j + 1] - v) * du) / det;
      if (t > 1e-6 && s >= 0 && s <= 1 && t < best) best = t;
    }
  }
  return best;
}

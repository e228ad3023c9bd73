import type { Vec3 } from '../mesh/index.ts';
import type { Frame } from './frame.ts';
import { FILM_WINDOWS } from './part.ts';

/** One half-plane of a fan. */
export interface Blade {
  /** what its caps are known by */
  readonly seam: string;
  /** its frame: u points away from the axis (or towards it), v along it */
  readonly frame: Frame;
  /** its direction away from the axis in the fan's (x, y), of unit length */
  readonly ray: readonly [number, number];
}

/** Half-planes round an axis, in the order in which they are met going from x to y. No two sectors are over 180°. */
export interface Fan {
  readonly origin: Vec3;
  /** unit vectors square to each other; x × y = axis */
  readonly axis: Vec3;
  readonly x: Vec3;
  readonly y: Vec3;
  readonly blades: readonly Blade[];
}

/** The vertices of a cell by the sectors of a fan. */
export interface Sectors {
  /** place of each vertex in the fan's (x, y) */
  readonly flat: Float64Array;
  /** the same, but for swept vertices where they would be on the other side of the blade */
  readonly swept: Float64Array;
  readonly of: Uint16Array;
}

/** Sorts vertices to sectors; one on a blade belongs to the sector after it. */
export function sectorsOf(p: Float64Array, { origin, x, y, blades }: Fan): Sectors {
  const n = blades.length;
  const rays = blades.map((b) => b.ray);
  const angles = rays.map(([c, s]) => Math.atan2(s, c));
  const start = angles.indexOf(Math.min(...angles));
  const flat = new Float64Array((p.length / 3) * 2);
  const of = new Uint16Array(p.length / 3);
  for (let v = 0, k = 0; v < of.length; v++, k += 3) {
    const dx = p[k] - origin[0];
    const dy = p[k + 1] - origin[1];
    const dz = p[k + 2] - origin[2];
    const a = x[0] * dx + x[1] * dy + x[2] * dz;
    const b = y[0] * dx + y[1] * dy + y[2] * dz;
    flat[v * 2] = a;
    flat[v * 2 + 1] = b;
    const angle = Math.atan2(b, a);
    let s = start + n - 1;
    for (let i = 0; i < n && angles[(start + i) % n] <= angle; i++) s = start + i;
    s %= n;
    // the angle is rounded; which side of its two blades the vertex is on decides
    const [c0, s0] = rays[s];
    const [c1, s1] = rays[(s + 1) % n];
    if (c0 * b - s0 * a < 0) s = (s + n - 1) % n;
    else if (c1 * b - s1 * a >= 0 && n > 2) s = (s + 1) % n;
    of[v] = s;
  }
  return { flat, swept: flat.slice(), of };
}

/** Gives the vertices of a sector that only holds the film of a flush face to its neighbour, and moves them there in `swept`. */
export function sweepFilm({ flat, swept, of }: Sectors, { blades }: Fan, sector: number, window: number): void {
  const film = FILM_WINDOWS * window;
  const n = blades.length;
  for (const [blade, home] of [
    [sector, (sector + n - 1) % n],
    [(sector + 1) % n, (sector + 1) % n],
  ]) {
    const [c, s] = blades[blade].ray;
    if (of.some((o, v) => o === sector && Math.abs(c * flat[v * 2 + 1] - s * flat[v * 2]) > film)) continue;
    of.forEach((o, v) => {
      if (o !== sector) return;
      of[v] = home;
      const d = c * flat[v * 2 + 1] - s * flat[v * 2];
      swept[v * 2] = flat[v * 2] + 2 * d * s;
      swept[v * 2 + 1] = flat[v * 2 + 1] - 2 * d * c;
    });
    return;
  }
}

import { wayOut } from '../joints/index.ts';
import { dot, scale, type Vec3 } from '../mesh/index.ts';
import { radians } from '../units.ts';
import type { Between, Blocking, Hold } from './blocking.ts';

/** What stands in the way of a step: a piece that comes, and one that stays. */
export interface Blocker {
  readonly comes: string;
  readonly stays: string;
  readonly hold: Hold;
}

/** Most directions that are looked along; two of them differ by more than this, cosine. */
const MOST_WAYS = 32;
export const SAME = Math.cos(radians(1));

/** Directions worth looking along: both ways of the faces' normals and the joints' axes, those of most area first. */
export function waysOf(faces: readonly Between[]): Vec3[] {
  const found: { way: Vec3; area: number }[] = [];
  const add = (way: Vec3, area: number): void => {
    const known = found.find((f) => dot(f.way, way) > SAME);
    if (known) known.area += area;
    else found.push({ way, area });
  };
  for (const { normal, face, guides } of faces) {
    for (const w of [normal, ...guides.map((g) => g.axis)]) {
      add(w, face.area);
      add(scale(w, -1), face.area);
    }
  }
  return found
    .sort((a, b) => b.area - a.area)
    .slice(0, MOST_WAYS)
    .map((f) => f.way);
}

/** The way that was said, or else one that is free, or else that on which least is met. */
export function freeWay(
  come: readonly number[],
  stay: readonly number[],
  faces: readonly Between[],
  said: Vec3 | null,
  blocking: Blocking,
): { out: Vec3; blockers: Blocker[] } {
  const moved = new Set(come);
  const turned = (v: Vec3, on: boolean): Vec3 => (on ? v : scale(v, -1));
  const normals = faces.map((f) => turned(f.normal, moved.has(f.b)));
  const guides = faces.flatMap((f) => f.guides.map((g) => ({ ...g, axis: turned(g.axis, moved.has(f.b)) })));
  const local = wayOut(normals, guides);
  const ways = said ? [said] : [...(local ? [local] : []), ...waysOf(faces)];
  const free = ways.find((way) => come.every((a) => stay.every((b) => !blocking.held(a, b, way))));
  if (free) return { out: free, blockers: [] };
  const held = ways.map((way) => {
    const blockers: Blocker[] = [];
    for (const a of come) {
      for (const b of stay) {
        const hold = blocking.hold(a, b, way);
        if (hold) blockers.push({ comes: blocking.pieces[a].key, stays: blocking.pieces[b].key, hold });
      }
    }
    return { out: way, blockers };
  });
  held.sort((x, y) => x.blockers.length - y.blockers.length);
  return held[0] ?? { out: [0, 0, 1], blockers: [] };
}

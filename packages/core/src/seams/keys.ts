import { closedMesh, type Frame, type Solid } from '../cut/index.ts';
import type { Plan } from '../document/index.ts';
import {
  type Affine,
  boxOf,
  buildBlocks,
  distance,
  insideSolid,
  inverse,
  mapPoint,
  rayHits,
  three,
  type Vec3,
} from '../mesh/index.ts';
import { wallOfTag } from './carve-cell.ts';
import { seamKind, seamOfPlane } from './kinds/index.ts';
import type { Anchor, KeyedSolid } from './model.ts';

/**
 * Body and the sorted seams and sides of the caps: b1/s1+.s2-. Each half-plane of a fan counts for itself; of other seams
 * with several faces only the seam. `order` has the ids of the seams that cut, as tags of bent walls count them.
 */
function baseKey(body: string, solid: Solid, plan: Plan, order: readonly string[]): string {
  const sides = new Map<string, Set<number>>();
  const add = (seam: string, side: number): void => {
    sides.set(seam, (sides.get(seam) ?? new Set()).add(side));
  };
  for (const c of solid.caps) {
    const { seam } = seamOfPlane(c.seam);
    const round = plan.seams.some((s) => s.id === seam && seamKind(s).round);
    add(round ? c.seam : seam, c.side);
  }
  for (const tag of tagsOf(solid)) {
    const wall = wallOfTag(tag);
    if (wall) add(order[wall.depth], wall.side);
  }
  const parts = [...sides].map(([seam, set]) => seam + (set.size > 1 ? '±' : set.has(1) ? '+' : '-')).sort();
  return parts.length > 0 ? `${body}/${parts.join('.')}` : body;
}

const known = new WeakMap<Uint32Array, ReadonlySet<number>>();

/** The tags that occur on a solid's skin. */
export function tagsOf({ tags }: Solid): ReadonlySet<number> {
  let set = known.get(tags);
  if (!set) {
    const found = new Set<number>();
    let last = -1;
    for (const t of tags) {
      if (t !== last) found.add(t);
      last = t;
    }
    set = found;
    known.set(tags, set);
  }
  return set;
}

/**
 * Gives every solid of a body its key. Where several lie between the same seams, anchors of the plan decide which is
 * which: a solid that holds an anchor keeps its key, others get the first free number. The anchors to keep come back.
 */
export function keySolids(
  body: string,
  solids: readonly Solid[],
  plan: Plan,
  order: readonly string[],
  map: Affine,
): { keyed: KeyedSolid[]; anchors: Anchor[] } {
  const back = inverse(map);
  const groups = new Map<string, Solid[]>();
  for (const s of solids) {
    const base = baseKey(body, s, plan, order);
    groups.set(base, [...(groups.get(base) ?? []), s]);
  }
  const keyed: KeyedSolid[] = [];
  const anchors: Anchor[] = [];
  for (const [base, group] of groups) {
    const known = plan.anchors.filter((a) => a.key === base || a.key.startsWith(`${base}#`));
    if (group.length === 1 && known.length === 0) {
      keyed.push({ key: base, solid: group[0], box: boxOf(group[0].positions) });
      continue;
    }
    const keys = new Map<Solid, Anchor>();
    for (const anchor of known) {
      const at = mapPoint(map, anchor.at);
      const home = group.find((s) => !keys.has(s) && holdsPoint(s, at));
      if (home) keys.set(home, anchor);
    }
    const taken = new Set(known.map((a) => a.key));
    const rest = group
      .filter((s) => !keys.has(s))
      .sort((a, b) => pieceOrder(boxOf(a.positions).min, boxOf(b.positions).min));
    for (const solid of rest) {
      let n = 1;
      while (taken.has(n === 1 ? base : `${base}#${n}`)) n++;
      const key = n === 1 ? base : `${base}#${n}`;
      taken.add(key);
      keys.set(solid, { key, at: [...mapPoint(back, interiorPoint(solid))] as [number, number, number] });
    }
    for (const solid of group) keyed.push({ key: keys.get(solid)!.key, solid, box: boxOf(solid.positions) });
    anchors.push(...known.filter((a) => ![...keys.values()].includes(a)), ...keys.values());
  }
  return { keyed, anchors };
}

function holdsPoint(solid: Solid, at: Vec3): boolean {
  const box = boxOf(solid.positions);
  for (let a = 0; a < 3; a++) if (at[a] < box.min[a] || at[a] > box.max[a]) return false;
  return insideSolid(buildBlocks(closedMesh(solid, () => 0)), at);
}

/** A point well inside: half way from the middle of the largest cap triangle to the wall across. */
function interiorPoint(solid: Solid): Vec3 {
  const p = solid.positions;
  let best = 0;
  let middle: Vec3 = [p[0], p[1], p[2]];
  let inward: Vec3 = [0, 0, 1];
  for (const cap of solid.caps) {
    for (let i = 0; i < cap.triangles.length; i += 3) {
      const [a, b, c] = three((k): Vec3 => {
        const v = cap.triangles[i + k] * 3;
        return [p[v], p[v + 1], p[v + 2]];
      });
      const n: Vec3 = [
        (b[1] - a[1]) * (c[2] - a[2]) - (b[2] - a[2]) * (c[1] - a[1]),
        (b[2] - a[2]) * (c[0] - a[0]) - (b[0] - a[0]) * (c[2] - a[2]),
        (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0]),
      ];
      const twice = Math.hypot(...n);
      if (twice <= best) continue;
      best = twice;
      middle = [(a[0] + b[0] + c[0]) / 3, (a[1] + b[1] + c[1]) / 3, (a[2] + b[2] + c[2]) / 3];
      inward = [-n[0] / twice, -n[1] / twice, -n[2] / twice];
    }
  }
  const hits = rayHits(buildBlocks(closedMesh(solid, () => 0)), middle, inward).filter((s) => s > 1e-6);
  const s = hits.length > 0 ? Math.min(...hits) / 2 : 0;
  return [middle[0] + inward[0] * s, middle[1] + inward[1] * s, middle[2] + inward[2] * s];
}

/** The order of a body’s pieces by the low corner of their boxes: from the bottom up, then front to back, then left to right. */
export function pieceOrder(a: Vec3, b: Vec3): number {
  return a[2] - b[2] || a[1] - b[1] || a[0] - b[0];
}

/** A solid thinner than this along one of its seams, or smaller all round, is a film or crumb and no piece, mm. */
const FILM = 1e-3;

/** Whether a solid is only a film or crumb left at a seam. */
export function isFilm(solid: Solid, frames: ReadonlyMap<string, Frame>): boolean {
  const box = boxOf(solid.positions);
  const diagonal = distance(box.max, box.min);
  if (diagonal <= FILM) return true;
  for (const seam of new Set(solid.caps.map((c) => c.seam))) {
    const [nx, ny, nz] = frames.get(seam)!.normal;
    let low = Infinity;
    let high = -Infinity;
    const p = solid.positions;
    for (let k = 0; k < p.length; k += 3) {
      const d = nx * p[k] + ny * p[k + 1] + nz * p[k + 2];
      if (d < low) low = d;
      if (d > high) high = d;
      if (high - low > FILM) break;
    }
    if (high - low <= Math.min(FILM, diagonal * 1e-3)) return true;
  }
  return false;
}

import type { Solid } from '../cut/index.ts';
import { type Box, dot, halfEdges, triangleCross, type Vec3, vecOf } from '../mesh/index.ts';
import { radians } from '../units.ts';

/** A flat part of a solid's skin. */
export interface Facet {
  /** outward, unit */
  readonly normal: Vec3;
  readonly offset: number;
  /** a point in its plane: the middle of its box */
  readonly middle: Vec3;
  readonly box: Box;
  /** indices into the skin's triangles */
  readonly triangles: readonly number[];
  /** mm² */
  readonly area: number;
}

/** How far a vertex may be off a facet's plane, mm. */
const FLAT = 1e-3;
const SAME = Math.cos(radians(0.2));

/** The flat parts of a solid's skin inside a box that are at least `least` mm² large, the largest first. */
export function facetsIn(solid: Solid, within: Box, least: number): Facet[] {
  const { positions: p, triangles: t } = solid;
  const count = t.length / 3;
  const area = new Float64Array(count);
  const near: number[] = [];
  for (let i = 0; i < count; i++) {
    if (!meets(p, t, i, within)) continue;
    area[i] = Math.hypot(...triangleCross(p, t, i)) / 2;
    near.push(i);
  }
  if (near.length === 0) return [];
  const { twin } = halfEdges({ triangles: t });
  const done = new Uint8Array(count);
  const facets: Facet[] = [];
  for (const seed of near.sort((a, b) => area[b] - area[a])) {
    if (done[seed] || area[seed] < least / 1000) continue;
    const c = triangleCross(p, t, seed);
    const normal: Vec3 = [c[0] / (2 * area[seed]), c[1] / (2 * area[seed]), c[2] / (2 * area[seed])];
    const v = t[seed * 3] * 3;
    const offset = dot(normal, [p[v], p[v + 1], p[v + 2]]);
    const list = [seed];
    done[seed] = 1;
    let sum = 0;
    for (let k = 0; k < list.length; k++) {
      const i = list[k];
      sum += area[i] || Math.hypot(...triangleCross(p, t, i)) / 2;
      for (let h = i * 3; h < i * 3 + 3; h++) {
        if (twin[h] < 0) continue;
        const j = Math.floor(twin[h] / 3);
        if (done[j] || !liesIn(p, t, j, normal, offset)) continue;
        done[j] = 1;
        list.push(j);
      }
    }
    if (sum < least) continue;
    const box = boxOfTriangles(p, t, list);
    const middle: Vec3 = vecOf((a) => (box.min[a] + box.max[a]) / 2);
    const off = dot(middle, normal) - offset;
    facets.push({
      normal,
      offset,
      middle: [middle[0] - normal[0] * off, middle[1] - normal[1] * off, middle[2] - normal[2] * off],
      box,
      triangles: list.sort((a, b) => a - b),
      area: sum,
    });
  }
  return facets.sort((a, b) => b.area - a.area);
}

function liesIn(p: Float64Array, t: Uint32Array, i: number, normal: Vec3, offset: number): boolean {
  for (let c = 0; c < 3; c++) {
    const v = t[i * 3 + c] * 3;
    if (Math.abs(normal[0] * p[v] + normal[1] * p[v + 1] + normal[2] * p[v + 2] - offset) > FLAT) return false;
  }
  const c = triangleCross(p, t, i);
  const length = Math.hypot(...c);
  return length === 0 || dot(c, normal) > SAME * length;
}

function meets(p: Float64Array, t: Uint32Array, i: number, { min, max }: Box): boolean {
  for (let a = 0; a < 3; a++) {
    const x = p[t[i * 3] * 3 + a];
    const y = p[t[i * 3 + 1] * 3 + a];
    const z = p[t[i * 3 + 2] * 3 + a];
    if (Math.min(x, y, z) > max[a] || Math.max(x, y, z) < min[a]) return false;
  }
  return true;
}

function boxOfTriangles(p: Float64Array, t: Uint32Array, list: readonly number[]): Box {
  const min: [number, number, number] = [Infinity, Infinity, Infinity];
  const max: [number, number, number] = [-Infinity, -Infinity, -Infinity];
  for (const i of list) {
    for (let c = 0; c < 3; c++) {
      for (let a = 0; a < 3; a++) {
        const x = p[t[i * 3 + c] * 3 + a];
        if (x < min[a]) min[a] = x;
        if (x > max[a]) max[a] = x;
      }
    }
  }
  return { min, max };
}

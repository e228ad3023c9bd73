import type { FlatRegion } from '../cut/index.ts';
import { type Loop2, loopLength } from '../mesh/index.ts';
import { radians } from '../units.ts';

/** The mean thickness of a region and how long it would be as a strip of that thickness, mm. */
export function stripOf(region: FlatRegion): { thickness: number; length: number } {
  const rim = [region.outer2, ...region.holes2].reduce((sum, l) => sum + loopLength(l), 0);
  // area = t · l, rim = 2 t + 2 l for a strip with ends; a ring has none
  const half = rim / 2;
  const ends = region.holes2.length > 0 ? 0 : 1;
  const root = Math.sqrt(Math.max(0, half * half - 4 * ends * region.area));
  const length = ends === 0 ? half : (half + root) / 2;
  return { thickness: region.area / length, length };
}

/** A corner that turns by more than this is no part of a bend, radians. */
const SHARP = 0.35;

/** The two ends of a strip without holes, as ways along its outline, mm: where it turns back. Null when it has not two. */
export function endsOf(region: FlatRegion): [number, number] | null {
  const { outer2: l } = region;
  const { thickness } = stripOf(region);
  const n = l.length / 2;
  const along = waysAlong(l);
  const total = along[n];
  const turns = Array.from({ length: n }, (_, i) => turnAt(l, i));
  // an end cut at a slant is longer than the strip is thick
  const reach = 2 * thickness;
  // how far the outline turns within reach of each corner
  const sums = turns.map((_, i) => {
    let sum = turns[i];
    for (const step of [1, -1]) {
      for (let k = (i + step + n) % n; k !== i; k = (k + step + n) % n) {
        if (ringGap(along[i], along[k], total) > reach) break;
        sum += turns[k];
      }
    }
    return sum;
  });
  const peaks: number[] = [];
  for (const i of sums.map((_, k) => k).sort((a, b) => sums[b] - sums[a] || a - b)) {
    if (sums[i] < radians(130)) break;
    if (peaks.every((p) => ringGap(along[p], along[i], total) > 5 * thickness)) peaks.push(i);
  }
  if (peaks.length !== 2) return null;
  // the end is in the middle of the corners that turn, each as much as it does
  const [a, b] = peaks.map((p) => {
    const near = turns.flatMap((turn, k) => {
      const off = signedGap(along[p], along[k], total);
      return turn > 0 && Math.abs(off) <= reach ? [{ turn, off }] : [];
    });
    const sharp = near.filter((n) => n.turn > SHARP);
    const corners = sharp.length > 0 ? sharp : near;
    const sum = corners.reduce((s, n) => s + n.turn, 0);
    return (along[p] + corners.reduce((s, n) => s + n.turn * n.off, 0) / sum + total) % total;
  });
  return a < b ? [a, b] : [b, a];
}

/** Way along a loop to each corner, mm; the last is its length. */
export function waysAlong(l: Loop2): Float64Array {
  const n = l.length / 2;
  const out = new Float64Array(n + 1);
  for (let i = 0; i < n; i++) {
    const k = ((i + 1) % n) * 2;
    out[i + 1] = out[i] + Math.hypot(l[k] - l[i * 2], l[k + 1] - l[i * 2 + 1]);
  }
  return out;
}

/** Way from a to b round a ring, the shorter one, negative backwards. */
const signedGap = (a: number, b: number, total: number): number => {
  const d = (((b - a) % total) + total) % total;
  return d > total / 2 ? d - total : d;
};

const ringGap = (a: number, b: number, total: number): number => {
  const d = Math.abs(a - b);
  return Math.min(d, total - d);
};

function turnAt(l: Loop2, i: number): number {
  const n = l.length / 2;
  const [a, b, c] = [(i + n - 1) % n, i, (i + 1) % n].map((k) => [l[k * 2], l[k * 2 + 1]]);
  const [px, py, qx, qy] = [b[0] - a[0], b[1] - a[1], c[0] - b[0], c[1] - b[1]];
  return Math.atan2(px * qy - py * qx, px * qx + py * qy);
}

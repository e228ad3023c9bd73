import { cross, dot, type Mirror, normalize, pointAlong, type Vec3 } from '../../mesh/index.ts';
import type { Chunk } from './chunk.ts';
import type { Scale } from './cost.ts';
import { cutOf, cutsOf, type Found, type Move, type MoveContext } from './cuts.ts';
import { Slicer } from './slice.ts';
import { mainAxes } from './turned.ts';

const STEP = [20, 36] as const;
const DIAGONALS: readonly Vec3[] = [
  [0, 1, 1],
  [0, 1, -1],
  [1, 0, 1],
  [1, 0, -1],
  [1, 1, 0],
  [1, -1, 0],
  [1, 1, 1],
  [1, 1, -1],
  [1, -1, 1],
  [-1, 1, 1],
];

/** How many moves climb, and how many are handed on. */
const CLIMBERS = 12;
const KEPT = 5;
const MOST_SHARES = 12;
const MOST_TILT = 0.45;

/** The best different cuts of a chunk, the best first. */
export function movesOf(chunk: Chunk, need: number, context: MoveContext): Move[] {
  const slicer = new Slicer(chunk, context.jointRoom);
  const scale: Scale = { ...context.scale, need };
  const tryAt = (normal: Vec3, offset: number, home: Vec3): Found[] => {
    context.counted.planes++;
    const slice = slicer.at(normal, offset);
    return slice ? cutsOf(slice, chunk, scale, context, home) : [];
  };
  const pool: Found[] = [];
  const { mirror } = context;
  if (mirror) pool.push(...tryAt(mirror.normal, mirror.offset, mirror.normal));
  for (const home of directions(chunk, mirror)) {
    const [low, high] = span(chunk, home);
    const step = Math.min(STEP[1], Math.max(STEP[0], (high - low) / 24));
    const count = Math.max(2, Math.ceil((high - low) / step));
    for (let i = 1; i < count; i++)
      pool.push(...tryAt(home, low + ((high - low) * (i + (context.phase ?? 0))) / count, home));
    for (const at of justFitting(chunk, home, low, high, context)) pool.push(...tryAt(home, at, home));
  }
  const climbed = distinct(pool, CLIMBERS, chunk).map((found) => climb(found, tryAt, mirror));
  return distinct(climbed, KEPT, chunk).map((found) => thorough(found, chunk, slicer, scale, context));
}

/** Three axes, the main axes and the diagonals; with a mirror plane, those that are square to it as well. */
function directions(chunk: Chunk, mirror?: Mirror): Vec3[] {
  const out: Vec3[] = [
    [1, 0, 0],
    [0, 1, 0],
    [0, 0, 1],
  ];
  for (const d of [...mainAxes(chunk), ...DIAGONALS.map(normalize)]) {
    if (!out.some((o) => Math.abs(o[0] * d[0] + o[1] * d[1] + o[2] * d[2]) > 0.985)) out.push(d);
  }
  if (!mirror) return out;
  const square = out.flatMap((d) => {
    const k = dot(d, mirror.normal);
    return Math.abs(k) > 0.9 || Math.abs(k) < 1e-6 ? [] : [normalize(pointAlong(d, mirror.normal, -k))];
  });
  for (const d of square) if (!out.some((o) => Math.abs(dot(o, d)) > 0.9999)) out.push(d);
  return out;
}

function span({ mesh: { positions: p } }: Chunk, [x, y, z]: Vec3): [number, number] {
  let low = Infinity;
  let high = -Infinity;
  for (let k = 0; k < p.length; k += 3) {
    const d = x * p[k] + y * p[k + 1] + z * p[k + 2];
    if (d < low) low = d;
    if (d > high) high = d;
  }
  return [low, high];
}

/**
 * Places along an axis at which the far side just fits with its joints, from either end; and those that share its length
 * evenly into as many pieces as it takes, and one more.
 */
function justFitting(chunk: Chunk, [x, y, z]: Vec3, low: number, high: number, context: MoveContext): number[] {
  if (Math.max(Math.abs(x), Math.abs(y), Math.abs(z)) < 0.9999) return [(low + high) / 2];
  const out = [(low + high) / 2];
  const [a, b] = boxSpan(chunk, [x, y, z]);
  for (const room of context.needs.lengths) {
    for (const at of [a + room - context.jointRoom - 0.1, b - room + context.jointRoom + 0.1]) {
      if (at > low + 5 && at < high - 5) out.push(at);
    }
    const least = Math.max(
      1,
      Math.ceil((b - a - 2 * context.jointRoom) / Math.max(room / 4, room - 2 * context.jointRoom) - 1e-9),
    );
    for (const n of [least, least + 1]) {
      for (let k = 1; k < n && n <= MOST_SHARES; k++) out.push(low + ((high - low) * k) / n);
    }
  }
  return out.filter((at, i) => out.findIndex((other) => Math.abs(other - at) < 0.5) === i);
}

function boxSpan({ box }: Chunk, d: Vec3): [number, number] {
  const axis = d.findIndex((x) => Math.abs(x) > 0.9999);
  return d[axis] > 0 ? [box[axis], box[axis + 3]] : [-box[axis + 3], -box[axis]];
}

/** Tilts and shifts a cut as long as that makes it better. */
function climb(
  start: Found,
  tryAt: (normal: Vec3, offset: number, home: Vec3) => Found[],
  mirror: Mirror | undefined,
): Found {
  let best = start;
  let shift = 12;
  let tilt = 0.14;
  for (let round = 0; round < 5; round++) {
    let better: Found | null = null;
    const { normal, offset, u, v } = best.frame;
    // tilted about the middle of what it cuts
    const [x, y, z] = middleOf(best);
    const tries: [Vec3, number][] = [
      [normal, offset + shift],
      [normal, offset - shift],
    ];
    // what is square to the mirror plane stays so
    const ways = mirror && best.standing === 'same' ? [cross(normal, mirror.normal)] : [u, v];
    for (const [d, s] of ways.flatMap(
      (w) =>
        [
          [w, tilt],
          [w, -tilt],
        ] as const,
    )) {
      const n = normalize([normal[0] + d[0] * s, normal[1] + d[1] * s, normal[2] + d[2] * s]);
      const along = n[0] * best.home[0] + n[1] * best.home[1] + n[2] * best.home[2];
      if (Math.abs(along) < Math.cos(MOST_TILT)) continue;
      tries.push([n, n[0] * x + n[1] * y + n[2] * z]);
    }
    for (const [n, at] of tries) {
      for (const found of tryAt(n, at, best.home)) {
        if (found.score < (better ?? best).score - 1e-6) better = found;
      }
    }
    if (better) best = better;
    else {
      shift /= 2;
      tilt /= 2;
    }
  }
  return best;
}

function middleOf({ cut, frame }: Found): Vec3 {
  let [su, sv, n] = [0, 0, 0];
  for (const { outer2: l } of cut) {
    for (let i = 0; i < l.length; i += 2) {
      su += l[i];
      sv += l[i + 1];
      n++;
    }
  }
  const { origin: o, u, v } = frame;
  return [0, 1, 2].map((k) => o[k] + (u[k] * su + v[k] * sv) / n) as unknown as Vec3;
}

/** The best of cuts that are not nearly the same place. */
function distinct(pool: readonly Found[], most: number, chunk: Chunk): Found[] {
  const size = Math.hypot(chunk.box[3] - chunk.box[0], chunk.box[4] - chunk.box[1], chunk.box[5] - chunk.box[2]);
  const near = Math.min(40, Math.max(12, size * 0.04));
  const out: { found: Found; at: Vec3 }[] = [];
  for (const found of [...pool].sort((a, b) => a.score - b.score)) {
    const at = middleOf(found);
    const same = out.some(
      (o) =>
        Math.abs(
          o.found.frame.normal[0] * found.frame.normal[0] +
            o.found.frame.normal[1] * found.frame.normal[1] +
            o.found.frame.normal[2] * found.frame.normal[2],
        ) > 0.9 && Math.hypot(o.at[0] - at[0], o.at[1] - at[1], o.at[2] - at[2]) < near,
    );
    if (same) continue;
    out.push({ found, at });
    if (out.length === most) break;
  }
  return out.map((o) => o.found);
}

/** A move with the needs of what it leaves told thoroughly. */
function thorough(found: Found, chunk: Chunk, slicer: Slicer, scale: Scale, context: MoveContext): Move {
  const slice = slicer.at(found.frame.normal, found.frame.offset)!;
  return cutOf(slice, found.mask, chunk, scale, context, found.home, true) ?? found;
}

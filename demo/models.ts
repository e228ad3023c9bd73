// The sample world: props of the harbour pageant of Brackhythe, made by code.
import type { IndexedMesh, Kernel, RawModel, toKernel } from '@gephyra/core';

export type Solid = ReturnType<typeof toKernel>;
type Point = [number, number];

/** A closed mesh as the kernel gives it: float32 positions, mm. */
export interface Model {
  readonly positions: Float64Array;
  readonly triangles: Uint32Array;
}

export const meshOf = (solid: Solid): Model => {
  const mesh = solid.getMesh();
  return { positions: Float64Array.from(mesh.vertProperties), triangles: mesh.triVerts };
};

/** A body of revolution about z from (radius, height) points. */
export function turned(kernel: Kernel, profile: readonly Point[], segments: number): Solid {
  return kernel.Manifold.revolve([[...profile] as Point[]], segments);
}

/** Points of a smooth curve through the given ones (Catmull and Rom, 1974). */
export function curve(points: readonly Point[], steps: number): Point[] {
  const at = (i: number): Point => points[Math.max(0, Math.min(points.length - 1, i))];
  const out: Point[] = [];
  for (let i = 0; i + 1 < points.length; i++) {
    for (let k = 0; k < steps; k++) {
      const t = k / steps;
      const [p0, p1, p2, p3] = [at(i - 1), at(i), at(i + 1), at(i + 2)];
      const blend = (a: 0 | 1): number =>
        0.5 *
        (2 * p1[a] +
          (p2[a] - p0[a]) * t +
          (2 * p0[a] - 5 * p1[a] + 4 * p2[a] - p3[a]) * t * t +
          (3 * p1[a] - p0[a] - 3 * p2[a] + p3[a]) * t * t * t);
      out.push([Math.max(0, blend(0)), blend(1)]);
    }
  }
  out.push(at(points.length - 1));
  return out;
}

export function ring(kernel: Kernel, radius: number, thickness: number, segments: number): Solid {
  const outline: Point[] = Array.from({ length: 28 }, (_, i) => {
    const a = (i / 28) * 2 * Math.PI;
    return [radius + thickness * Math.cos(a), thickness * Math.sin(a)];
  });
  return kernel.Manifold.revolve([outline], segments);
}

/**
 * The ebb-bell lantern of the Reeve's staff: a bell with running waves, a neck, a lamp house with eight arched lights
 * round a hollow chamber, a roof and a ring. Solid below, 620 mm tall.
 */
export function lantern(kernel: Kernel): Model {
  const outline: Point[] = [
    [0, 0],
    ...curve(
      [
        [98, 0],
        [106, 10],
        [101, 30],
        [97, 62],
        [95, 120],
        [88, 190],
        [72, 248],
        [50, 288],
        [40, 306],
      ],
      9,
    ),
    [44, 312],
    [44, 320],
    ...curve(
      [
        [52, 330],
        [70, 346],
        [74, 356],
        [74, 364],
      ],
      5,
    ),
    [68, 368],
    [68, 470],
    [76, 474],
    [78, 482],
    ...curve(
      [
        [74, 488],
        [56, 520],
        [34, 540],
        [18, 552],
        [15, 562],
      ],
      8,
    ),
    [0, 566],
  ];
  let solid = turned(kernel, outline, 224);
  const chamber = kernel.Manifold.cylinder(92, 54, 54, 96).translate([0, 0, 374]);
  solid = solid.subtract(chamber);
  const arch: Point[] = [
    [-13, 0],
    [13, 0],
    [13, 52],
    ...Array.from({ length: 15 }, (_, i): Point => {
      const a = ((i + 1) / 16) * Math.PI;
      return [13 * Math.cos(a), 52 + 13 * Math.sin(a)];
    }),
    [-13, 52],
  ];
  const light = kernel.Manifold.extrude([arch], 90).rotate([90, 0, 0]).translate([0, -20, 386]);
  for (let i = 0; i < 8; i++) solid = solid.subtract(light.rotate([0, 0, i * 45 + 22.5]));
  const handle = ring(kernel, 25, 7, 96).rotate([90, 0, 0]).translate([0, 0, 588]);
  solid = solid.add(handle);
  const rivet = kernel.Manifold.sphere(3.4, 20);
  const rivets: Solid[] = [];
  for (const [radius, height, count] of [
    [101, 42, 40],
    [72.5, 352, 24],
    [76, 478, 32],
  ]) {
    for (let i = 0; i < count; i++) {
      const a = (i / count) * 2 * Math.PI;
      rivets.push(rivet.translate([radius * Math.cos(a), radius * Math.sin(a), height]));
    }
  }
  solid = kernel.Manifold.union([solid, ...rivets]);
  // running waves on the bell, fading out above and below
  const waved = solid.refineToLength(4.6).warp((v) => {
    const r = Math.hypot(v[0], v[1]);
    if (r < 60 || v[2] < 60 || v[2] > 236) return;
    const fade = Math.sin(((v[2] - 60) / 176) * Math.PI) ** 2;
    const a = Math.atan2(v[1], v[0]);
    const lift = 2.6 * fade * Math.sin(12 * a + 2.2 * Math.sin(v[2] / 13)) * Math.cos(v[2] / 17);
    v[0] += (v[0] / r) * lift;
    v[1] += (v[1] / r) * lift;
  });
  return meshOf(waved);
}

/** Brings the anchor as it is drawn here to 900 mm. */
const ANCHOR_SCALE = 900 / 836;

/**
 * The ceremonial anchor, about 900 mm tall, as a workshop would hand it over: every part a solid of its own that reaches
 * into its neighbours, and the stock with two tears in its skin.
 */
export function anchor(kernel: Kernel): RawModel {
  return {
    format: 'obj',
    notes: [],
    palette: [
      { name: '', colour: '' },
      { name: 'Sea iron', colour: '#7d8a8f' },
      { name: 'Ash wood', colour: '#b99a6b' },
      { name: 'Old brass', colour: '#b08d3e' },
    ],
    parts: anchorParts(kernel).map(([name, solid, paint]) => {
      const { positions, triangles } = meshOf(solid.scale(ANCHOR_SCALE).refineToLength(9));
      const whole = name === 'Stock' ? torn(positions, triangles) : triangles;
      return { name, positions, triangles: whole, paint: new Uint32Array(whole.length / 3).fill(paint) };
    }),
  };
}

/** The same anchor as one solid without tears. */
export function anchorInOne(kernel: Kernel): Model {
  const whole = kernel.Manifold.union(anchorParts(kernel).map(([, solid]) => solid));
  return meshOf(whole.scale(ANCHOR_SCALE).refineToLength(9));
}

/** The anchor's parts, each with its name and the entry of its paint. */
function anchorParts(kernel: Kernel): [string, Solid, number][] {
  const { Manifold } = kernel;
  const arc: Point[] = Array.from({ length: 32 }, (_, i) => {
    const a = (i / 32) * 2 * Math.PI;
    return [240 + 30 * Math.cos(a), 34 * Math.sin(a)];
  });
  const tip = (side: 1 | -1): Solid =>
    Manifold.hull([
      [side * 214, -64, 212],
      [side * 214, 64, 212],
      [side * 296, 0, 352],
      [side * 186, 0, 222],
      [side * 264, 0, 196],
    ]);
  const knob = Manifold.sphere(27, 48);
  const shank = Manifold.union([
    Manifold.cylinder(700, 34, 22, 64).translate([0, 0, 60]),
    Manifold.sphere(46, 64).translate([0, 0, 60]),
  ]);
  const stock = Manifold.union([
    Manifold.cylinder(420, 17, 17, 48, true).rotate([90, 0, 0]).translate([0, 0, 690]),
    knob.translate([0, 210, 690]),
    knob.translate([0, -210, 690]),
  ]);
  return [
    ['Shank', shank, 1],
    ['Stock', stock, 2],
    ['Arms', Manifold.revolve([arc], 160, 140).rotate([90, 0, 0]).rotate([0, 160, 0]).translate([0, 0, 300]), 1],
    ['Left fluke', tip(-1), 1],
    ['Right fluke', tip(1), 1],
    ['Ring', ring(kernel, 44, 10, 80).rotate([90, 0, 0]).translate([0, 0, 796]), 3],
  ];
}

/** A surface with two tears: a narrow one, and one as wide as a thumb. */
function torn(p: Float64Array, t: Uint32Array): Uint32Array {
  const kept: number[] = [];
  for (let i = 0; i < t.length; i += 3) {
    const [x, y] = [0, 1].map((a) => (p[t[i] * 3 + a] + p[t[i + 1] * 3 + a] + p[t[i + 2] * 3 + a]) / 3);
    const wide = x > 8 && Math.abs(y - 130) < 12;
    const narrow = x < -14 && Math.abs(y + 90) < 5;
    if (!wide && !narrow) kept.push(t[i], t[i + 1], t[i + 2]);
  }
  return Uint32Array.from(kept);
}

/** Strands of the hoop, and how often each winds round it. */
const STRANDS = 3;
const WINDS = 8;

/**
 * The rope-work hoop: three strands laid round each other, bent into a ring of 560 mm. It looks the same after every
 * turn by 15°, so six segments of it are one shape.
 */
export function hoop(): IndexedMesh {
  const around = 480;
  const over = 48;
  const strand = 15;
  const out = 12;
  const positions = new Float64Array(around * over * 3);
  const triangles: number[] = [];
  for (let i = 0; i < around; i++) {
    const a = (i / around) * 2 * Math.PI;
    for (let j = 0; j < over; j++) {
      const b = (j / over) * 2 * Math.PI;
      // how far out the nearest strand's rim is in this direction
      const step = (2 * Math.PI) / STRANDS;
      const turn = b - WINDS * a;
      const off = turn - Math.round(turn / step) * step;
      const r = out * Math.cos(off) + Math.sqrt(strand ** 2 - (out * Math.sin(off)) ** 2);
      const radius = 253 + r * Math.cos(b);
      positions.set([radius * Math.cos(a), radius * Math.sin(a), r * Math.sin(b)], (i * over + j) * 3);
      const [c, d] = [(i + 1) % around, (j + 1) % over];
      triangles.push(i * over + j, c * over + j, c * over + d, i * over + j, c * over + d, i * over + d);
    }
  }
  return { positions, triangles: Uint32Array.from(triangles), tags: new Uint32Array(triangles.length / 3) };
}

/**
 * The skin of the heron visor, without thickness: half a helm round the face, drawn forward into a beak, with two openings
 * for the eyes. `fine` times 14 quads across. Round each eye the grid gives way to rings between its rim and a rectangle:
 *
 *     +--+--+--+        every point of the rectangle
 *     | \ | / |        has one on the rim, and some
 *     +--(   )--+       on the way there
 *     | / | \ |
 *     +--+--+--+
 */
export function visorSkin(fine: number): IndexedMesh {
  const { points, triangles } = visorGrid(fine);
  return {
    positions: Float64Array.from(points.flatMap(([u, v]) => visorPoint(u, v))),
    triangles,
    tags: new Uint32Array(triangles.length / 3),
  };
}

/** Points (u, v) of the visor and the triangles between them, seen from outside. The left half is the right one's image. */
function visorGrid(fine: number): { points: Point[]; triangles: Uint32Array } {
  const across = 14 * fine;
  const up = 9 * fine;
  const at = (u: number): number => Math.round(((u + 1) / 2) * across);
  // the rectangle round the right eye, in lines of the grid
  const [i0, i1] = [at(EYE.u - EYE.wide - 0.06), at(EYE.u + EYE.wide + 0.06)];
  const [j0, j1] = [EYE.v - EYE.high - 0.05, EYE.v + EYE.high + 0.05].map((v) => Math.round(v * up));
  const points: Point[] = [];
  const known = new Map<string, number>();
  /** points of one place are one */
  const point = (u: number, v: number): number => {
    const key = `${u.toFixed(9)} ${v.toFixed(9)}`;
    const old = known.get(key);
    if (old !== undefined) return old;
    points.push([u + 0, v]);
    known.set(key, points.length - 1);
    return points.length - 1;
  };
  const triangles: number[] = [];
  /** a quad of the right half and its image, each parted along the same diagonal */
  const quad = (a: Point, b: Point, c: Point, d: Point): void => {
    const [p, q, r, s] = [a, b, c, d].map(([u, v]) => point(u, v));
    triangles.push(p, q, r, p, r, s);
    const [k, l, m, n] = [a, b, c, d].map(([u, v]) => point(-u, v));
    triangles.push(k, m, l, k, n, m);
  };
  const on = (i: number, j: number): Point => [(i / across) * 2 - 1, j / up];
  for (let j = 0; j < up; j++) {
    for (let i = across / 2; i < across; i++) {
      if (i >= i0 && i < i1 && j >= j0 && j < j1) continue;
      quad(on(i, j), on(i + 1, j), on(i + 1, j + 1), on(i, j + 1));
    }
  }
  // round the rectangle, against the clock
  const round: Point[] = [];
  for (let i = i0; i < i1; i++) round.push(on(i, j0));
  for (let j = j0; j < j1; j++) round.push(on(i1, j));
  for (let i = i1; i > i0; i--) round.push(on(i, j1));
  for (let j = j1; j > j0; j--) round.push(on(i0, j));
  const rings = Math.max(2, Math.round(fine * 0.6));
  const toRim = ([u, v]: Point, share: number): Point => {
    const [x, y] = [(u - EYE.u) / EYE.wide, (v - EYE.v) / EYE.high];
    const k = 1 + (1 / Math.hypot(x, y) - 1) * share;
    return [EYE.u + (u - EYE.u) * k, EYE.v + (v - EYE.v) * k];
  };
  for (let r = 0; r < rings; r++) {
    round.forEach((from, k) => {
      const to = round[(k + 1) % round.length];
      const [outer, inner] = [r / rings, (r + 1) / rings];
      quad(toRim(from, outer), toRim(to, outer), toRim(to, inner), toRim(from, inner));
    });
  }
  return { points, triangles: Uint32Array.from(triangles) };
}

/** Middle and half axes of the openings for the eyes. */
const EYE = { u: 0.3, v: 0.6, wide: 0.13, high: 0.1 };

/** The visor at u = −1 … 1 from ear to ear, v = 0 … 1 from chin to brow, mm. Front is −y. */
function visorPoint(u: number, v: number): [number, number, number] {
  const angle = u * 1.75;
  const round = 1 - 0.22 * (2 * v - 1) ** 2;
  const beak = 96 * Math.exp(-((u / 0.17) ** 2)) * Math.exp(-(((v - 0.3) / 0.2) ** 2));
  const brow = 7 * Math.exp(-(((v - 0.8) / 0.09) ** 2)) * Math.cos(angle);
  const x = 84 * round * Math.sin(angle);
  const y = -104 * round * Math.cos(angle) - beak - brow;
  return [x, y, v * 168 - 0.16 * beak];
}

/** Half the thickness of the visor's wall, mm. */
const HALF = 1.65;

/** The heron visor: its wall half on either side of its skin, with the rims closed. */
export function visor(): IndexedMesh {
  const { points, triangles } = visorGrid(8);
  const n = points.length;
  const positions = new Float64Array(n * 6);
  points.forEach(([u, v], i) => {
    const middle = visorPoint(u, v);
    const normal = visorNormal(u, v);
    for (let a = 0; a < 3; a++) {
      positions[i * 3 + a] = middle[a] + HALF * normal[a];
      positions[(n + i) * 3 + a] = middle[a] - HALF * normal[a];
    }
  });
  const out = [...triangles];
  const edges = new Set<string>();
  for (let t = 0; t < triangles.length; t += 3) {
    const [a, b, c] = triangles.subarray(t, t + 3);
    out.push(n + a, n + c, n + b);
    for (const [p, q] of [
      [a, b],
      [b, c],
      [c, a],
    ]) {
      edges.add(`${p} ${q}`);
    }
  }
  for (const edge of edges) {
    const [a, b] = edge.split(' ').map(Number);
    // an edge without another side is a rim
    if (!edges.has(`${b} ${a}`)) out.push(b, a, n + a, b, n + a, n + b);
  }
  return { positions, triangles: Uint32Array.from(out), tags: new Uint32Array(out.length / 3) };
}

/** Square to the visor, outward, unit: from central differences. */
function visorNormal(u: number, v: number): [number, number, number] {
  const h = 1e-4;
  const [u0, u1] = [visorPoint(u - h, v), visorPoint(u + h, v)];
  const [v0, v1] = [visorPoint(u, v - h), visorPoint(u, v + h)];
  const [ax, ay, az] = [0, 1, 2].map((k) => u1[k] - u0[k]);
  const [bx, by, bz] = [0, 1, 2].map((k) => v1[k] - v0[k]);
  const normal = [ay * bz - az * by, az * bx - ax * bz, ax * by - ay * bx];
  const length = Math.hypot(...normal);
  return [normal[0] / length, normal[1] / length, normal[2] / length];
}

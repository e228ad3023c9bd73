import type { IndexedMesh } from '../src/mesh/index.ts';
import { seeded } from '../src/seeded.ts';
import { kernel, meshOfSolid } from './judges.ts';

type Manifold = InstanceType<typeof kernel.Manifold>;
type Point = readonly [number, number, number];

/** A closed model of the corpus; made anew each time it is asked for. */
export interface Sample {
  readonly name: string;
  readonly kind: 'limbed' | 'branching' | 'spiral' | 'shelled' | 'perforated' | 'mechanical' | 'plain';
  /** it is its own image in x = 0 */
  readonly mirrored: boolean;
  make(): IndexedMesh;
}

/** A limb from a to b, with the radius at either end, mm. */
type Limb = readonly [a: Point, b: Point, ra: number, rb: number];

/** How far a point lies inside a limb, mm. */
function inside([x, y, z]: Point, [a, b, ra, rb]: Limb): number {
  const [dx, dy, dz] = [b[0] - a[0], b[1] - a[1], b[2] - a[2]];
  const s = Math.max(
    0,
    Math.min(1, ((x - a[0]) * dx + (y - a[1]) * dy + (z - a[2]) * dz) / (dx * dx + dy * dy + dz * dz || 1)),
  );
  return ra + (rb - ra) * s - Math.hypot(x - a[0] - dx * s, y - a[1] - dy * s, z - a[2] - dz * s);
}

/** Limbs grown together, rounded by `soft` mm where they meet. `hollow`: a wall instead of a full body, mm. */
function grown(limbs: readonly Limb[], edge: number, soft = 10, hollow = 0): Manifold {
  const min = [Infinity, Infinity, Infinity];
  const max = [-Infinity, -Infinity, -Infinity];
  for (const [a, b, ra, rb] of limbs) {
    for (const [p, r] of [
      [a, ra],
      [b, rb],
    ] as const) {
      for (let k = 0; k < 3; k++) {
        min[k] = Math.min(min[k], p[k] - r - soft);
        max[k] = Math.max(max[k], p[k] + r + soft);
      }
    }
  }
  const field = (p: Point): number => {
    let sum = 0;
    let best = -Infinity;
    for (const limb of limbs) best = Math.max(best, inside(p, limb));
    for (const limb of limbs) {
      const d = inside(p, limb) - best;
      if (d > -5 * soft) sum += Math.exp(d / soft);
    }
    const depth = best + soft * Math.log(sum);
    return hollow > 0 ? Math.min(depth, hollow - depth) : depth;
  };
  const bounds = { min: min as [number, number, number], max: max as [number, number, number] };
  return kernel.Manifold.levelSet((p) => field(p as unknown as Point), bounds, edge);
}

const mirror = (limbs: readonly Limb[]): Limb[] =>
  limbs.flatMap((l) => [l, [[-l[0][0], l[0][1], l[0][2]], [-l[1][0], l[1][1], l[1][2]], l[2], l[3]] as const]);

/** Makes a solid so long along its longest side, and gives it as a mesh. */
function sized(solid: Manifold, longest = 900): IndexedMesh {
  const box = solid.boundingBox();
  const by = longest / Math.max(...[0, 1, 2].map((a) => box.max[a] - box.min[a]));
  return meshOfSolid(solid.scale([by, by, by]));
}

/** A standing figure; the numbers set its stance. */
function figure(seed: number, edge = 14): Manifold {
  const next = seeded(seed);
  const lean = (k: number): number => (next() - 0.5) * k;
  const hip = 420 + lean(60);
  const arms = [1, -1].flatMap((s): Limb[] => {
    const elbow: Point = [s * (190 + next() * 60), lean(120), 560 + lean(200)];
    const hand: Point = [s * (230 + next() * 170), lean(260), 480 + lean(380)];
    return [
      [[s * 90, 0, 690], elbow, 38, 30],
      [elbow, hand, 30, 22],
      [hand, [hand[0] + s * 30, hand[1], hand[2] - 20], 26, 16],
    ];
  });
  const legs = [1, -1].flatMap((s): Limb[] => {
    const knee: Point = [s * (80 + next() * 50), lean(140), 220];
    const foot: Point = [s * (80 + next() * 90), lean(120), 25];
    return [
      [[s * 55, 0, hip], knee, 58, 40],
      [knee, foot, 40, 26],
      [foot, [foot[0] + s * 10, foot[1] - 90, 15], 24, 18],
    ];
  });
  return grown(
    [
      [[0, 0, hip], [0, 0, 680], 85, 100],
      [[0, 0, 700], [0, lean(20), 790], 40, 36],
      [[0, lean(20), 830], [0, lean(30), 860], 68, 60],
      ...arms,
      ...legs,
    ],
    edge,
  );
}

/** A four-legged animal with a tail, its own mirror image. */
const beast = (neck: number, tail: number): Manifold =>
  grown(
    [
      [[0, -180, 330], [0, 180, 340], 95, 85],
      [[0, -200, 360], [0, -300, 400 + neck], 55, 40],
      [[0, -300, 400 + neck], [0, -400, 390 + neck], 55, 32],
      [[0, 200, 340], [0, 260 + tail, 420], 40, 12],
      ...mirror([
        [[70, -150, 300], [95, -160, 150], 45, 32],
        [[95, -160, 150], [95, -150, 20], 30, 24],
        [[70, 160, 300], [95, 190, 160], 52, 34],
        [[95, 190, 160], [95, 160, 20], 30, 24],
        [[20, -310, 430 + neck], [45, -300, 520 + neck], 16, 6],
      ]),
    ],
    13,
  );

/** Arms round a middle, all alike. */
const star = (arms: number, reach: number, thick: number): Manifold =>
  grown(
    [
      [[0, 0, 0], [0, 0, 60], 110, 90],
      ...Array.from({ length: arms }, (_, i): Limb[] => {
        const a = ((i + 0.25) / arms) * 2 * Math.PI;
        const at = (r: number, z: number): Point => [Math.cos(a) * r, Math.sin(a) * r, z];
        return [
          [at(80, 20), at(reach * 0.6, 90), thick, thick * 0.8],
          [at(reach * 0.6, 90), at(reach, -40), thick * 0.8, thick * 0.4],
        ];
      }).flat(),
    ],
    12,
  );

/** A trunk that forks again and again. */
function tree(seed: number, forks: number): Manifold {
  const next = seeded(seed);
  const limbs: Limb[] = [];
  const grow = (at: Point, up: Point, length: number, radius: number, left: number): void => {
    const end: Point = [at[0] + up[0] * length, at[1] + up[1] * length, at[2] + up[2] * length];
    limbs.push([at, end, radius, radius * 0.75]);
    if (left === 0) return;
    const turn = next() * 2 * Math.PI;
    for (const s of [0, Math.PI]) {
      const wide = 0.45 + next() * 0.4;
      const d: Point = [up[0] + Math.cos(turn + s) * wide, up[1] + Math.sin(turn + s) * wide, up[2] + 0.1];
      const l = Math.hypot(...d);
      grow(end, [d[0] / l, d[1] / l, d[2] / l], length * (0.7 + next() * 0.2), radius * 0.68, left - 1);
    }
  };
  grow([0, 0, 0], [0, 0, 1], 260, 70, forks);
  return grown(limbs, 12, 8);
}

/** A horn wound round an axis. */
function horn(turns: number, radius: number, pitch: number, thick: number): Manifold {
  const n = Math.ceil(turns * 14);
  const at = (i: number): Point => {
    const a = (i / 14) * 2 * Math.PI;
    const r = radius * (1 - (0.5 * i) / n);
    return [Math.cos(a) * r, Math.sin(a) * r, (pitch * i) / 14];
  };
  const limbs = Array.from(
    { length: n },
    (_, i): Limb => [at(i), at(i + 1), thick * (1 - (0.75 * i) / n), thick * (1 - (0.75 * (i + 1)) / n)],
  );
  return grown(limbs, 11, 4);
}

const M = kernel.Manifold;
const block = (size: [number, number, number], at: [number, number, number]): Manifold =>
  M.cube(size, true).translate(at);
const drum = (r: number, h: number, at: [number, number, number] = [0, 0, 0], sides = 64): Manifold =>
  M.cylinder(h, r, r, sides, true).translate(at);

/** A hollow head piece with an opening for the face. */
const helm = (wall: number, brow: number): Manifold =>
  M.sphere(150, 96)
    .scale([1, 1.2, 1.3])
    .subtract(M.sphere(150 - wall, 96).scale([1, 1.2, 1.3]))
    .trimByPlane([0, 0, 1], -90)
    .subtract(block([150, 200, brow], [0, -150, 0]));

const gear = (teeth: number, r: number, h: number): Manifold =>
  Array.from({ length: teeth }, (_, i) =>
    block([r * 0.22, r * 0.2, h], [r * 1.05, 0, 0]).rotate([0, 0, (i * 360) / teeth]),
  )
    .reduce((all, t) => all.add(t), drum(r, h, [0, 0, 0], 96))
    .subtract(drum(r * 0.3, h * 2));

const frame = (x: number, y: number, z: number, beam: number): Manifold => {
  let all = block([x, y, beam], [0, 0, 0]).subtract(block([x - 2 * beam, y - 2 * beam, beam * 2], [0, 0, 0]));
  all = all.add(all.translate([0, 0, z - beam]));
  for (const sx of [-1, 1])
    for (const sy of [-1, 1]) {
      all = all.add(block([beam, beam, z], [(sx * (x - beam)) / 2, (sy * (y - beam)) / 2, (z - beam) / 2]));
    }
  return all;
};

const sieve = (holes: number): Manifold => {
  const step = 800 / holes;
  let plate = block([900, 600, 40], [0, 0, 0]);
  for (let i = 0; i < holes; i++) {
    for (let j = 0; j < Math.floor(holes * 0.6); j++) {
      plate = plate.subtract(drum(step * 0.3, 100, [-400 + step * (i + 0.5), -250 + step * (j + 0.5), 0], 20));
    }
  }
  return plate;
};

const sample = (kind: Sample['kind'], name: string, make: () => Manifold, mirrored = false, longest = 900): Sample => ({
  kind,
  name,
  mirrored,
  make: () => sized(make(), longest),
});

/** A torus knot as a tube. */
const knot = (p: number, q: number, thick: number): Manifold => {
  const at = (i: number): Point => {
    const t = (i / 90) * 2 * Math.PI;
    const r = 200 + 80 * Math.cos(q * t);
    return [Math.cos(p * t) * r, Math.sin(p * t) * r, 80 * Math.sin(q * t)];
  };
  return grown(
    Array.from({ length: 90 }, (_, i): Limb => [at(i), at(i + 1), thick, thick]),
    12,
    3,
  );
};

/** Closed models of many kinds, made by code; most are 900 mm long. */
export const CORPUS: readonly Sample[] = [
  ...[3, 11, 12, 27, 31, 44].map((seed) => sample('limbed', `figure ${seed}`, () => figure(seed))),
  sample('limbed', 'hound', () => beast(60, 80), true),
  sample('limbed', 'long-necked beast', () => beast(260, 40), true),
  sample('limbed', 'lizard', () => beast(-40, 340), true),
  sample('limbed', 'five arms', () => star(5, 420, 45)),
  sample('limbed', 'eight arms', () => star(8, 450, 30)),
  sample('limbed', 'three arms', () => star(3, 450, 60)),
  ...[5, 9].map((seed) => sample('branching', `tree ${seed}`, () => tree(seed, 3))),
  sample('branching', 'antler', () => tree(21, 2)),
  sample('branching', 'thicket', () => tree(33, 4)),
  sample(
    'branching',
    'pair of antlers',
    () => {
      const one = tree(8, 2).rotate([0, 40, 0]).translate([60, 0, 0]);
      return one.add(one.mirror([1, 0, 0])).add(block([260, 120, 120], [0, 0, 0]));
    },
    true,
  ),
  sample('spiral', 'horn', () => horn(1.5, 200, 180, 60)),
  sample('spiral', 'spring', () => horn(3, 180, 130, 30)),
  sample('spiral', 'knot', () => knot(2, 3, 38)),
  sample('spiral', 'tight knot', () => knot(3, 4, 28)),
  sample('shelled', 'helm', () => helm(8, 70), true, 420),
  sample('shelled', 'large helm', () => helm(5, 90), true, 700),
  sample('shelled', 'bowl', () => M.sphere(300, 96).subtract(M.sphere(290, 96)).trimByPlane([0, 0, -1], -40)),
  sample('shelled', 'urn', () =>
    grown(
      [
        [[0, 0, 0], [0, 0, 300], 200, 120],
        [[0, 0, 300], [0, 0, 500], 90, 140],
      ],
      9,
      20,
      10,
    ).trimByPlane([0, 0, -1], -560),
  ),
  sample(
    'shelled',
    'breastplate',
    () =>
      M.cylinder(500, 200, 240, 96)
        .subtract(M.cylinder(520, 194, 234, 96).translate([0, 0, -10]))
        .trimByPlane([0, -1, 0], -20)
        .subtract(drum(110, 400, [0, 0, 520]).rotate([0, 0, 0])),
    true,
  ),
  sample('shelled', 'hollow figure', () =>
    grown(
      [
        [[0, 0, 0], [0, 0, 500], 120, 90],
        [[0, 0, 560], [0, 0, 620], 80, 70],
        [[80, 0, 460], [330, 0, 200], 50, 40],
      ],
      8,
      14,
      9,
    ),
  ),
  sample('perforated', 'sieve', () => sieve(9), true),
  sample('perforated', 'frame', () => frame(900, 600, 500, 40), true),
  sample('perforated', 'lantern cage', () => frame(400, 400, 900, 26).add(drum(120, 30, [0, 0, 880])), true),
  sample('perforated', 'ring of holes', () =>
    Array.from({ length: 12 }, (_, i) => drum(50, 200, [330, 0, 0], 32).rotate([0, 0, i * 30])).reduce(
      (a, h) => a.subtract(h),
      drum(450, 60, [0, 0, 0], 128).subtract(drum(200, 100)),
    ),
  ),
  sample('mechanical', 'gear', () => gear(14, 380, 120)),
  sample('mechanical', 'crank', () =>
    drum(120, 160)
      .add(block([700, 100, 80], [350, 0, 0]))
      .add(drum(60, 300, [700, 0, 110])),
  ),
  sample(
    'mechanical',
    'bracket',
    () =>
      block([500, 300, 50], [0, 0, 0])
        .add(block([50, 300, 600], [-225, 0, 275]))
        .subtract(drum(60, 200, [100, 0, 0])),
    true,
  ),
  sample('mechanical', 'pipes', () =>
    grown(
      [
        [[0, 0, 0], [0, 0, 700], 60, 60],
        [[0, 0, 300], [400, 0, 300], 50, 50],
        [[0, 0, 500], [0, 350, 500], 40, 40],
      ],
      10,
      2,
    ),
  ),
  sample(
    'mechanical',
    'blade',
    () =>
      block([120, 24, 1300], [0, 0, 650])
        .add(block([420, 60, 50], [0, 0, 0]))
        .add(drum(30, 320, [0, 0, -160])),
    true,
    1700,
  ),
  sample(
    'mechanical',
    'shield',
    () =>
      M.sphere(900, 160)
        .trimByPlane([0, 0, 1], 780)
        .subtract(M.sphere(885, 160))
        .add(drum(80, 90, [0, 0, 880])),
    true,
    800,
  ),
  sample('plain', 'cube', () => M.cube([600, 600, 600], true), true, 600),
  sample('plain', 'sphere', () => M.sphere(300, 128), true, 600),
  sample('plain', 'slab', () => block([900, 500, 30], [0, 0, 0]), true),
  sample('plain', 'cone', () => M.cylinder(900, 260, 2, 96)),
  sample('plain', 'hoop', () => drum(450, 60, [0, 0, 0], 160).subtract(drum(390, 80, [0, 0, 0], 160))),
  sample('plain', 'four faces', () => M.tetrahedron().scale([400, 400, 400])),
  sample('limbed', 'fine figure', () => figure(3, 5)),
];

/**
 * A solid as nobody would make it on purpose: up to nine balls, blocks, drums, rings and tapers, put together and taken from each
 * other at random, turned, bumped, of 300 to 1500 mm and so of 2 to some 200 pieces.
 */
export function randomSolid(seed: number): IndexedMesh {
  const next = seeded(seed * 7919);
  const between = (low: number, high: number): number => low + next() * (high - low);
  const part = (): Manifold => {
    const size = between(30, 200);
    const round = Math.round(between(5, 48));
    const made = [
      () => M.sphere(size, Math.max(12, round)),
      () => M.cube([size, between(20, 260), between(20, 260)], true),
      () => M.cylinder(between(40, 400), size / 2, between(0.3, 1) * size, round, true),
      () =>
        M.cylinder(size, size, size, round, true).subtract(M.cylinder(2 * size, 0.6 * size, 0.6 * size, round, true)),
      () => M.tetrahedron().scale([size, size, size]),
    ];
    return made[Math.floor(next() * made.length)]()
      .rotate([next() < 0.5 ? 0 : between(0, 360), next() < 0.5 ? 0 : between(0, 360), between(0, 360)])
      .translate([between(-150, 150), between(-150, 150), between(-150, 150)]);
  };
  let solid = part();
  for (let i = Math.floor(between(1, 9)); i > 0; i--) {
    const changed = next() < 0.7 ? solid.add(part()) : solid.subtract(part());
    if (!changed.isEmpty()) solid = changed;
  }
  const [wave, high] = [between(0.01, 0.05), next() < 0.4 ? between(1, 8) : 0];
  if (high > 0) {
    solid = solid.refineToLength(12).warp((v) => {
      const f = high * Math.sin(wave * v[0] + 1) * Math.cos(wave * v[1]) * Math.sin(wave * v[2] + 2);
      for (let k = 0; k < 3; k++) v[k] += f;
    });
  }
  const { min, max } = solid.boundingBox();
  const long = Math.max(...max.map((x, k) => x - min[k]));
  const f = between(300, 1500) / long;
  return meshOfSolid(solid.scale([f, f, f]));
}

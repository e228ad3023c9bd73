import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { fallback, judge, kernel, meshOfSolid } from '../../testing/judges.ts';
import { modelOfMeshes } from '../../testing/models.ts';
import { anySeam, cutBy, fan, flat, numbered, printer, sound } from '../../testing/plans.ts';
import { runs } from '../../testing/runs.ts';
import { blob, box, moved, together, torus } from '../../testing/shapes.ts';
import { bodiesOf } from '../body/bodies.ts';
import type { StepInput } from '../document/recipe-schema.ts';
import { parsePlan } from '../document/schema.ts';
import { evaluate } from '../evaluate/evaluate.ts';
import type { Evaluation } from '../evaluate/model.ts';
import { pieceMesh } from '../evaluate/piece-mesh.ts';
import { toPrintable } from '../formats/printable.ts';
import { volume } from '../mesh/measure.ts';
import type { IndexedMesh } from '../mesh/types.ts';
import type { SeamInput } from './kinds/index.ts';

const codes = (e: Evaluation): string[] =>
  e.findings
    .map((f) => f.code)
    .filter((c) => c.startsWith('seam'))
    .sort();

/** Two upright limbs on one foot. */
const fork = (): IndexedMesh => {
  const solid = kernel.Manifold.cube([60, 20, 10])
    .add(kernel.Manifold.cube([12, 20, 60]))
    .add(kernel.Manifold.cube([12, 20, 60]).translate([48, 0, 0]));
  const m = solid;
  return meshOfSolid(m);
};

describe('a seam limited to regions', () => {
  it('takes one limb off and leaves the other, which keeps its very triangles', () => {
    const mesh = fork();
    const e = cutBy(mesh, [
      flat('s1', [30, 10, 35], [0, 0, 1], { up: [0, 1, 0], regions: { mode: 'only', seeds: [[-24, 0]] } }),
    ]);
    expect(codes(e)).toEqual([]);
    expect(e.pieces.map((p) => p.key).sort()).toEqual(['b1/s1+', 'b1/s1-']);
    const limb = e.pieces.find((p) => p.key === 'b1/s1+')!;
    expect(limb.volume).toBeCloseTo(12 * 20 * 25, 6);
    expect(limb.box.max[0]).toBeLessThan(13);
    expect(e.faces).toHaveLength(1);
    sound(mesh, e);
    const rest = e.pieces.find((p) => p.key === 'b1/s1-')!;
    const atCut = [...rest.solid.positions].filter((x, i) => i % 3 === 2 && Math.abs(x - 35) < 1e-6);
    expect(atCut.length).toBe(e.faces[0].caps[0].outer.length);
  });

  it('all but one region is the complement', () => {
    const mesh = fork();
    const e = cutBy(mesh, [
      flat('s1', [30, 10, 35], [0, 0, 1], { up: [0, 1, 0], regions: { mode: 'allBut', seeds: [[-24, 0]] } }),
    ]);
    expect(e.pieces.find((p) => p.key === 'b1/s1+')!.box.min[0]).toBeGreaterThan(47);
    sound(mesh, e);
  });

  it('takes the nearest region within 2 mm of a seed, and says when there is none', () => {
    const near = cutBy(fork(), [
      flat('s1', [0, 10, 35], [0, 0, 1], { up: [0, 1, 0], regions: { mode: 'only', seeds: [[13.5, 0]] } }),
    ]);
    expect(near.pieces).toHaveLength(2);
    const far = cutBy(fork(), [
      flat('s1', [0, 10, 35], [0, 0, 1], { up: [0, 1, 0], regions: { mode: 'only', seeds: [[30, 0]] } }),
    ]);
    expect(far.pieces).toHaveLength(1);
    expect(codes(far)).toEqual(['seam.misses', 'seam.region']);
  });

  it('a region of a ring parts nothing by itself and is left whole; two seams part the ring together', () => {
    const ring = torus(60, 48, 20, () => 10);
    const one = flat('s1', [0, 0, 0], [0, 1, 0], { up: [0, 0, 1], regions: { mode: 'only', seeds: [[-60, 0]] } });
    const slit = cutBy(ring, [one]);
    expect(slit.pieces.map((p) => p.key)).toEqual(['b1']);
    expect(slit.faces).toEqual([]);
    expect(codes(slit)).toEqual(['seam.partsNothing']);
    const two = cutBy(ring, [
      one,
      flat('s2', [0, 0, 0], [1, 0, 0], { up: [0, 0, 1], regions: { mode: 'only', seeds: [[60, 0]] } }),
    ]);
    expect(two.pieces).toHaveLength(2);
    expect(codes(two)).toEqual([]);
    sound(ring, two);
  });

  it('leaves earlier caps whole where it is off, and cuts them where it is on', () => {
    const mesh = fork();
    const e = cutBy(mesh, [
      flat('s1', [0, 10, 0], [0, 1, 0]),
      flat('s2', [0, 10, 35], [0, 0, 1], { up: [0, 1, 0], regions: { mode: 'only', seeds: [[6, 0]] } }),
      flat('s3', [6, 0, 0], [1, 0, 0], { up: [0, 0, 1], regions: { mode: 'only', seeds: [[10, 50]] } }),
    ]);
    sound(mesh, e);
    // s3 lies in the limb and the foot below it, which are one region of the uncut model
    expect(e.pieces.length).toBe(8);
  });
});

describe('a seam with a scope', () => {
  const tower = box([0, 0, 0], [20, 20, 90]);
  const first = flat('s1', [0, 0, 30], [0, 0, 1]);

  it('cuts the chosen pieces only', () => {
    const e = cutBy(tower, [first, flat('s2', [10, 0, 0], [1, 0, 0], { scope: ['b1/s1+'] })]);
    expect(e.pieces.map((p) => p.key).sort()).toEqual(['b1/s1+.s2+', 'b1/s1+.s2-', 'b1/s1-']);
    sound(tower, e);
    // the lower piece has one cap, which both of the upper ones stand on
    expect(e.faces.map((f) => f.seam).sort()).toEqual(['s1', 's1', 's2']);
    for (const f of e.faces) if (f.seam === 's1') expect(f.area).toBeCloseTo(200, 4);
  });

  it('tells regions apart on the section of its pieces, or as older plans do on that of the body', () => {
    // what is left below the notch has two towers, where the whole block has one section
    const block = box([0, 0, 0], [60, 20, 60]);
    const notch: SeamInput = {
      id: 's1',
      kind: 'profile' as const,
      origin: [0, 10, 0],
      normal: [0, 1, 0],
      up: [0, 0, 1],
      points: [
        [-90, 50],
        [-40, 50],
        [-40, 10],
        [-20, 10],
        [-20, 50],
        [90, 50],
      ],
    };
    const cut = (of?: 'body') => {
      const lower = cutBy(block, [notch]).pieces.find((p) => p.box.min[2] < 1)!;
      const regions = { mode: 'only' as const, seeds: [[10, 0]] as [number, number][], ...(of && { of }) };
      return cutBy(block, [notch, flat('s2', [0, 10, 30], [0, 0, 1], { up: [0, 1, 0], scope: [lower.key], regions })]);
    };
    const own = cut();
    expect(own.pieces).toHaveLength(3);
    expect(own.faces.filter((f) => f.seam === 's2').map((f) => f.area)).toEqual([expect.closeTo(400, 3)]);
    sound(block, own);
    expect(cut('body').pieces).toHaveLength(4);
    const astray = cutBy(block, [
      flat('s2', [0, 10, 30], [0, 0, 1], { scope: ['b1'], regions: { mode: 'only', seeds: [[900, 0]] } }),
    ]);
    expect(codes(astray)).toContain('seam.region');
  });

  it('cuts a piece that has nothing of the model’s own surface where it is cut', () => {
    const cube = box([0, 0, 0], [90, 90, 90]);
    const walls = [30, 60].flatMap((at) => [
      flat(`x${at}`, [at, 0, 0], [1, 0, 0]),
      flat(`y${at}`, [0, at, 0], [0, 1, 0]),
    ]);
    const middle = cutBy(cube, walls).pieces.find(
      (p) => p.box.min[0] > 29 && p.box.max[0] < 61 && p.box.min[1] > 29 && p.box.max[1] < 61,
    )!;
    const regions = { mode: 'only' as const, seeds: [[0, 0]] as [number, number][] };
    const e = cutBy(cube, [...walls, flat('z', [45, 45, 40], [0, 0, 1], { scope: [middle.key], regions })]);
    expect(e.pieces).toHaveLength(10);
    expect(e.faces.filter((f) => f.seam === 'z').map((f) => f.area)).toEqual([expect.closeTo(900, 2)]);
    sound(cube, e);
  });

  it('says when its piece is gone, and offers to cut all', () => {
    const e = cutBy(tower, [flat('s2', [10, 0, 0], [1, 0, 0], { scope: ['b1/s9+'] })]);
    expect(e.pieces).toHaveLength(1);
    const [finding] = e.findings.filter((f) => f.code === 'seam.scope');
    expect(finding.mend?.change).toMatchObject({ do: 'setSeam', id: 's2' });
  });
});

describe('a fan', () => {
  const hoop = torus(100, 96, 24, () => 12);

  it('parts a hoop into equal segments', () => {
    const e = cutBy(hoop, [fan('f', [0, 0, 0], [0, 0, 1], 6)]);
    expect(e.pieces).toHaveLength(6);
    expect(e.faces).toHaveLength(6);
    for (const p of e.pieces) expect(p.volume / (volume(hoop) / 6)).toBeCloseTo(1, 6);
    expect(new Set(e.faces.map((f) => f.part)).size).toBe(6);
    sound(hoop, e);
  });

  it.each([2, 3, 4, 5, 7])('parts a disc round an axis in the material, through its middle vertex, in %i', (count) => {
    const disc = kernel.Manifold.cylinder(10, 50, 50, 60);
    const mesh = meshOfSolid(disc);
    const e = cutBy(mesh, [fan('f', [0, 0, 0], [0, 0, 1], count)]);
    expect(e.pieces).toHaveLength(count);
    for (const f of e.faces) expect(Math.abs(f.area / 500 - 1)).toBeLessThan(0.002);
    expect(e.faces).toHaveLength(count);
    sound(mesh, e);
  });

  it('with flat seams before and after it, and an axis that leans', () => {
    const bell = blob(24, 40, 120, (a, z) => 50 + 6 * Math.sin(4 * a) - 10 * z);
    const e = cutBy(bell, [
      flat('s1', [0, 0, 10], [0.1, 0.2, 1]),
      fan('f', [3, -2, 0], [0.1, 0.05, 1], 5, { phase: 0.3 }),
      flat('s2', [0, 0, -25], [0, 0.3, 1]),
    ]);
    expect(e.pieces).toHaveLength(15);
    sound(bell, e);
  });

  it('carries joints on its half-planes, which stay with them when the model grows and is mirrored', () => {
    const joint = {
      id: 'j1',
      kind: 'pin' as const,
      seam: 'f',
      part: 2,
      at: [100, 0] as [number, number],
      diameter: 6,
      depth: 6,
    };
    const recipes: StepInput[][] = [
      [],
      [{ kind: 'scale', factor: 2 }],
      [{ kind: 'mirror', at: [0, 0, 0], normal: [1, 0, 0] }],
    ];
    for (const recipe of recipes) {
      const e = cutBy(hoop, [fan('f', [0, 0, 0], [0, 0, 1], 6)], { joints: [joint], recipe });
      expect(e.joints[0].built).toBe(true);
      expect(e.faces.find((f) => f.id === e.joints[0].face)!.part).toBe(2);
      sound2(e);
    }
  });
});

/** Pieces with joints in them: closed and accepted. */
function sound2(e: Evaluation): void {
  for (const piece of e.pieces) expect(judge(toPrintable(pieceMesh(piece).mesh).mesh).status).toBe('NoError');
}

describe('seams that are no planes', () => {
  const plate = (): IndexedMesh => {
    const m = kernel.Manifold.cylinder(12, 80, 80, 96);
    return meshOfSolid(m);
  };

  it('a ring parts a plate into a hub and a rim, which a fan then parts again', () => {
    const mesh = plate();
    const ring = {
      id: 'r',
      kind: 'ring' as const,
      origin: [0, 0, 0] as [number, number, number],
      normal: [0, 0, 1] as [number, number, number],
      radius: 30,
    };
    const e = cutBy(mesh, [ring]);
    expect(e.pieces.map((p) => p.key).sort()).toEqual(['b1/r+', 'b1/r-']);
    expect(e.pieces.find((p) => p.key === 'b1/r+')!.volume / (Math.PI * 900 * 12)).toBeCloseTo(1, 2);
    sound(mesh, e, 1e-5);
    const parts = cutBy(mesh, [ring, fan('f', [0, 0, 0], [0, 0, 1], 4, { scope: ['b1/r-'] })]);
    expect(parts.pieces).toHaveLength(5);
    sound(mesh, parts, 1e-5);
  });

  it('a profile of straight stretches gives flat faces that carry joints', () => {
    const mesh = box([-60, -20, 0], [60, 20, 60]);
    const e = cutBy(
      mesh,
      [
        {
          id: 'p',
          kind: 'profile',
          origin: [0, 0, 30],
          normal: [0, 1, 0],
          up: [0, 0, 1],
          points: [
            [-60, -10],
            [0, -10],
            [0, 10],
            [60, 10],
          ],
        },
      ],
      { joints: [{ id: 'j1', kind: 'pin', seam: 'p', part: 0, at: [0, 3], diameter: 8, depth: 8 }] },
    );
    expect(e.pieces.map((p) => p.key).sort()).toEqual(['b1/p+', 'b1/p-']);
    expect(e.faces.map((f) => [f.part, Math.round(f.area)])).toEqual(
      expect.arrayContaining([
        [0, 2400],
        [1, 800],
        [2, 2400],
      ]),
    );
    expect(e.joints.map((j) => [j.face !== null, j.built])).toEqual([[true, true]]);
    for (const piece of e.pieces) expect(judge(toPrintable(pieceMesh(piece).mesh).mesh).status).toBe('NoError');
  });

  it.each(['arc', 'free'] as const)('a drawn %s, bent along the sweep, parts in two that fill the whole', (curve) => {
    const mesh = blob(30, 44, 120, (a) => 45 + 5 * Math.sin(3 * a));
    const points: [number, number][] = [
      [-50, -5],
      [-20, 12],
      [0, 15],
      [30, 6],
      [50, -8],
    ];
    const seam: SeamInput = {
      id: 'p',
      kind: 'profile',
      origin: [0, 0, 0],
      normal: [0, 1, 0],
      up: [0, 0, 1],
      points,
      curve,
      bend: 6,
    };
    const e = cutBy(mesh, [seam, flat('s2', [0, 0, 0], [1, 0.1, 0])]);
    expect(e.pieces.map((p) => p.key).sort()).toEqual(['b1/p+.s2+', 'b1/p+.s2-', 'b1/p-.s2+', 'b1/p-.s2-']);
    sound(mesh, e, 1e-5);
    expect(e.faces.every((f) => f.seam === 's2')).toBe(true);
  });

  it('a box bounds a flat seam: only what is inside it comes off, with flat sides', () => {
    const mesh = fork();
    const e = cutBy(mesh, [flat('s1', [6, 10, 35], [0, 0, 1], { bound: { min: [-5, -5, 20], max: [6, 25, 50] } })]);
    expect(e.pieces.map((p) => p.key).sort()).toEqual(['b1/s1+', 'b1/s1-']);
    expect(e.pieces.find((p) => p.key === 'b1/s1+')!.volume).toBeCloseTo(6 * 20 * 15, 2);
    expect(e.faces.map((f) => Math.round(f.area)).sort((a, b) => a - b)).toEqual([120, 120, 300]);
    const misses = cutBy(mesh, [
      flat('s1', [30, 10, 90], [0, 0, 1], { bound: { min: [20, 0, 70], max: [40, 20, 80] } }),
    ]);
    expect(codes(misses)).toEqual(['seam.misses']);
  });

  it('a line with points in one line crosses nothing', () => {
    const mesh = box([-60, -20, 0], [60, 20, 60]);
    for (const curve of ['line', 'arc', 'free'] as const) {
      const points: [number, number][] = [
        [-63, 0],
        [-31.5, -10],
        [0, -20],
        [31.5, -10],
        [63, 0],
      ];
      for (const own of [points, points.map(([u]): [number, number] => [u, 0])]) {
        const seam: SeamInput = {
          id: 'p',
          kind: 'profile',
          origin: [0, 0, 30],
          normal: [0, 1, 0],
          up: [0, 0, 1],
          points: own,
          curve,
        };
        const e = cutBy(mesh, [seam]);
        expect(codes(e)).toEqual(curve === 'line' ? [] : ['seam.bent']);
        expect(e.pieces).toHaveLength(2);
      }
    }
  });

  it('a line that crosses itself is refused in words, and the other seams still cut', () => {
    const mesh = box([-60, -20, 0], [60, 20, 60]);
    const knot: SeamInput = {
      id: 'p',
      kind: 'profile',
      origin: [0, 0, 30],
      normal: [0, 1, 0],
      up: [0, 0, 1],
      points: [
        [-60, 0],
        [30, 0],
        [30, 20],
        [-20, 20],
        [-20, -15],
        [60, -15],
      ],
    };
    const e = cutBy(mesh, [knot, flat('s2', [0, 0, 0], [1, 0, 0])]);
    expect(codes(e)).toEqual(['seam.refused']);
    expect(e.findings.find((f) => f.code === 'seam.refused')!.severity).toBe('stop');
    expect(e.pieces).toHaveLength(2);
    const point: SeamInput = {
      ...knot,
      points: [
        [5, 5],
        [5, 5],
      ],
    };
    expect(codes(cutBy(mesh, [point]))).toEqual(['seam.misses']);
  });

  it('need the kernel, and say so', () => {
    const plan = parsePlan({
      version: 5,
      printer,
      seams: [{ id: 'r', kind: 'ring', origin: [0, 0, 0], normal: [0, 0, 1], radius: 5 }],
    });
    expect(() => evaluate(plan, bodiesOf(modelOfMeshes([plate()]), 'Test').bodies, { fallback })).toThrow('kernel');
  });
});

const whole = (low: number, high: number) => fc.integer({ min: low, max: high });

const anySolid = fc.record({
  shape: fc.constantFrom('torus', 'blob', 'fork', 'two shells'),
  lobes: whole(0, 6),
  rings: whole(5, 16),
});

function solidOf({ shape, lobes, rings }: { shape: string; lobes: number; rings: number }): IndexedMesh {
  if (shape === 'torus') return torus(45, rings * 2, rings, (a) => 14 + 4 * Math.cos(lobes * a));
  if (shape === 'blob') return blob(rings, rings + 3, 100, (a, z) => 40 + 6 * Math.sin(lobes * a) + 4 * z);
  // off the whole numbers that seams are on: flush planes have tests of their own
  if (shape === 'fork') return moved(fork(), (x, y, z) => [x - 30.37, y - 10.21, z - 29.83]);
  return together(
    torus(40, 20, 12, () => 8),
    blob(9, 12, 50, () => 12),
  );
}

describe('any plan of flat, fan and region-limited seams', () => {
  it('gives solids that the kernel accepts, volumes that add up, and faces with two like sides', () => {
    fc.assert(
      fc.property(anySolid, fc.array(anySeam(30), { minLength: 1, maxLength: 4 }), (shape, seams) => {
        const mesh = solidOf(shape);
        sound(mesh, cutBy(mesh, numbered(seams)));
      }),
      { numRuns: runs(120) },
    );
  });

  it('keeps the keys of its pieces when a seam moves a little, also among pieces between the same seams', () => {
    const comb = kernel.Manifold.cube([100, 20, 10]).add(
      kernel.Manifold.union([0, 1, 2, 3].map((i) => kernel.Manifold.cube([8, 20, 40]).translate([4 + i * 28, 0, 0]))),
    );
    const m = comb;
    const mesh = meshOfSolid(m);
    const at = (z: number, lean: number) => [flat('s1', [50, 10, z], [lean, 0.01, 1])];
    const first = cutBy(mesh, at(20, 0));
    const where = (e: Evaluation) => new Map(e.pieces.map((p) => [p.key, Math.round(p.box.min[0])]));
    fc.assert(
      fc.property(whole(-8, 8), whole(-5, 5), (dz, lean) => {
        const next = cutBy(mesh, at(20 + dz / 4, lean / 100), { anchors: [...first.anchors] });
        expect(where(next)).toEqual(where(first));
      }),
      { numRuns: runs(30) },
    );
  });
});

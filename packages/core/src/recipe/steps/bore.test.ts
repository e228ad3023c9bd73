import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { judge, kernel } from '../../../testing/judges.ts';
import { modelOfMeshes } from '../../../testing/models.ts';
import { runs } from '../../../testing/runs.ts';
import { blob, box } from '../../../testing/shapes.ts';
import { bodiesOf } from '../../body/index.ts';
import { parsePlan, type StepInput } from '../../document/index.ts';
import { stockOfBores } from '../../mating/index.ts';
import {
  boxOf,
  buildBlocks,
  distanceTo,
  IDENTITY,
  type IndexedMesh,
  insideSolid,
  scaling,
  sizeOf,
  topology,
  treeOf,
  type Vec3,
  volume,
} from '../../mesh/index.ts';
import { routeThrough } from '../../solid/index.ts';
import { applyRecipe, modelOf } from '../index.ts';

type Bore = Omit<Extract<StepInput, { kind: 'bore' }>, 'kind'>;

const bored = (mesh: IndexedMesh, step: Bore) => {
  const { recipe } = parsePlan({ version: 5, printer: { size: [220, 220, 250] }, recipe: [{ kind: 'bore', ...step }] });
  const { bodies, reports } = applyRecipe(recipe, modelOf(bodiesOf(modelOfMeshes([mesh]), 'Test')), {
    tools: { kernel },
  });
  return { bodies, notes: reports[0].notes };
};
const wallOf = (notes: readonly string[]): number => Number(/at least ([\d.]+) mm of wall/.exec(notes.join())![1]);

/** How far the block's nearest side is from a point, square to a way, and how much that changes along the way. */
function toSides(at: Vec3, [x, y, z]: readonly number[]): { far: number; slope: number } {
  const long = Math.hypot(x, y, z);
  const way = [x / long, y / long, z / long];
  // square to the way a side lies so much farther off as it leans
  return [60, 50, 40]
    .map((half, a) => {
      const across = Math.sqrt(1 - way[a] ** 2);
      return { far: (half - Math.abs(at[a])) / across, slope: Math.abs(way[a]) / across };
    })
    .reduce((least, side) => (side.far < least.far ? side : least));
}

const block = box([-60, -50, -40], [60, 50, 40]);

describe('a bore', () => {
  it('lets a ball of its stock pass along any route, and leaves the wall that is told', () => {
    const inner = fc.tuple(
      fc.integer({ min: -40, max: 40 }),
      fc.integer({ min: -30, max: 30 }),
      fc.integer({ min: -20, max: 20 }),
    );
    const routes = fc.record({
      enters: fc.tuple(fc.integer({ min: -40, max: 40 }), fc.integer({ min: -20, max: 20 })),
      through: fc.array(inner, { maxLength: 2 }),
      leaves: fc.tuple(fc.integer({ min: -30, max: 30 }), fc.integer({ min: -20, max: 20 })),
      diameter: fc.integer({ min: 2, max: 12 }),
    });
    fc.assert(
      fc.property(routes, ({ enters, through, leaves, diameter }) => {
        const points: Vec3[] = [[enters[0], -50, enters[1]], ...through, [60, leaves[0], leaves[1]]];
        let route: ReturnType<typeof routeThrough>;
        try {
          route = routeThrough(points, 1.5 * diameter);
        } catch {
          fc.pre(false);
          throw new Error('unreached');
        }
        const { bodies, notes } = bored(block, {
          points: points.map((p) => [...p] as [number, number, number]),
          diameter,
        });
        const result = bodies.map((b) => b.mesh);
        for (const mesh of result) {
          expect(topology(mesh).watertight).toBe(true);
          expect(judge(mesh).status).toBe('NoError');
        }
        const trees = result.map(treeOf);
        const blocks = result.map(buildBlocks);
        const radius = diameter / 2;
        // to the block's own sides, away from both mouths, for the whole length between two places
        let least = { far: Infinity, slope: 0 };
        let along = 0;
        route.line.slice(1).forEach(({ at: to }, i) => {
          const from = route.line[i].at;
          const long = Math.hypot(...to.map((x, k) => x - from[k]));
          const n = Math.ceil(2 * long);
          for (let k = 0; k < n; k++) {
            const at = from.map((x, a) => x + ((k + 0.5) / n) * (to[a] - x)) as unknown as Vec3;
            const s = along + ((k + 0.5) / n) * long;
            for (const t of trees) expect(distanceTo(t, at)).toBeGreaterThan(radius + 0.15);
            for (const b of blocks) expect(insideSolid(b, at)).toBe(false);
            const mouth = 2 * (radius + 0.2) + 0.5 + 1.2;
            if (s < mouth || s > route.length - mouth) continue;
            const side = toSides(
              at,
              to.map((x, a) => x - from[a]),
            );
            if (side.far < least.far) least = side;
          }
          along += long;
        });
        const wall = least.far - radius - 0.2;
        // it is measured every mm, in 32 directions
        if (wall > 1.3) expect(Math.abs(wallOf(notes) - wall)).toBeLessThan(0.1 + 0.01 * wall + least.slope);
        else if (wall < 1.1 - least.slope) expect(notes.join()).toMatch(/breaks through|thin/);
      }),
      { numRuns: runs(7) },
    );
  });

  it('has its ends sunk for a head, and is a slot for a strap, as wide as asked, by volume and by its wall', () => {
    const points: [number, number, number][] = [
      [0, 0, -40],
      [0, 0, 40],
    ];
    const taken = (step: object) => {
      const { bodies, notes } = bored(block, { points, diameter: 5, gap: 0, mouth: 0, ...step });
      expect(judge(bodies[0].mesh)).toMatchObject({ status: 'NoError', closed: true });
      return { volume: volume(block) - volume(bodies[0].mesh), wall: wallOf(notes) };
    };
    const plain = taken({});
    const sunk = taken({ sink: { diameter: 9, depth: 4 } });
    // a polygon of 48 sides about its circle
    const disc = (r: number): number => 48 * r * r * Math.tan(Math.PI / 48);
    expect(sunk.volume - plain.volume).toBeCloseTo(2 * 4 * (disc(4.5) - disc(2.5)), 1);
    const size = sizeOf(boxOf(block.positions));
    for (const turn of [0, Math.PI / 2]) {
      const slot = taken({ slot: { width: 25, turn } });
      expect(Math.abs((slot.volume - plain.volume) / (size[2] * 20 * 5) - 1)).toBeLessThan(0.005);
    }
    const walls = [0, Math.PI / 2].map((turn) => taken({ slot: { width: 25, turn } }).wall);
    const wanted = [0, 1].map((a) => Math.min(size[a] / 2 - 12.5, size[1 - a] / 2 - 2.5)).sort((a, b) => a - b);
    for (const [i, wall] of walls.toSorted((a, b) => a - b).entries()) expect(wall).toBeCloseTo(wanted[i], 0);
  });

  it('takes away a rod of its diameter and both gaps, with widened mouths, or none', () => {
    const plain = bored(block, {
      points: [
        [0, 0, -40],
        [0, 0, 40],
      ],
      diameter: 9.6,
      mouth: 0,
    });
    const taken = (bodies: typeof plain.bodies) => volume(block) - volume(bodies[0].mesh);
    expect(taken(plain.bodies) / (Math.PI * 25 * 80)).toBeCloseTo(1, 2);
    expect(plain.notes.join()).toBe(
      'The route is 80 mm long.,Through Test: 80 mm, with at least 45 mm of wall (11.5 mm along).',
    );
    const wide = bored(block, {
      points: [
        [0, 0, -40],
        [0, 0, 40],
      ],
      diameter: 9.6,
      mouth: 2,
    });
    // a cone's rim, at both ends
    const rim = Math.PI * (((5 ** 2 + 5 * 7 + 7 ** 2) / 3) * 2 - 25 * 2);
    expect(taken(wide.bodies) - taken(plain.bodies)).toBeCloseTo(2 * rim, -1);
    const blind = bored(block, {
      points: [
        [0, 0, 40],
        [0, 0, 10],
      ],
      diameter: 9.6,
      mouth: 0,
      blind: true,
    });
    expect(taken(blind.bodies) / (Math.PI * 25 * 30)).toBeCloseTo(1, 2);
  });

  it('says where it breaks through, and is refused where it meets nothing, bends too tightly or has no length', () => {
    const bowl = blob(30, 40, 100, () => 50);
    const out = bored(bowl, {
      points: [
        [-50, 0, 0],
        [0, 0, 70],
        [50, 0, 0],
      ],
      diameter: 6,
    });
    expect(out.notes.join()).toMatch(/it breaks through the skin \d/);
    const wrong: [Bore, RegExp][] = [
      [
        {
          points: [
            [200, 0, 0],
            [200, 0, 50],
          ],
          diameter: 6,
        },
        /meets none of the bodies/,
      ],
      [
        {
          points: [
            [-60, 0, 0],
            [-50, 0, 0],
            [-50, 40, 0],
          ],
          diameter: 6,
          bend: 30,
        },
        /Between place 1 and place 2 the bends take 30 mm, and there are 10 mm/,
      ],
      [
        {
          points: [
            [-60, 0, 0],
            [0, 0, 0],
            [-60, 0, 0],
          ],
          diameter: 6,
        },
        /more than there can be/,
      ],
      [
        {
          points: [
            [5, 5, 5],
            [5, 5, 5],
          ],
          diameter: 6,
        },
        /two places that are not the same/,
      ],
    ];
    for (const [step, message] of wrong) expect(() => bored(block, step)).toThrow(message);
  });

  it('lists what runs through it, as long as its route with its bends rounded', () => {
    const recipe = (more: object) =>
      parsePlan({
        version: 5,
        printer: { size: [220, 220, 250] },
        recipe: [
          {
            kind: 'bore',
            points: [
              [0, 0, 0],
              [100, 0, 0],
              [100, 80, 0],
            ],
            diameter: 8,
            bend: 20,
            ...more,
          },
        ],
      });
    const [tube] = stockOfBores(recipe({ stock: 'brass tube' }), IDENTITY);
    expect(tube.length).toBeCloseTo(180 - 40 + Math.PI * 10, 1);
    expect([tube.what, tube.count]).toEqual(['brass tube 8', 1]);
    expect(stockOfBores(recipe({ stock: 'brass tube', enabled: false }), IDENTITY)).toEqual([]);
    expect(stockOfBores(recipe({}), IDENTITY)).toEqual([]);
    // a later size may leave its bends no room: then from corner to corner
    const [small] = stockOfBores(recipe({ stock: 'brass tube' }), scaling([0.1, 0.1, 0.1]));
    expect(small.length).toBeCloseTo(18, 6);
  });
});

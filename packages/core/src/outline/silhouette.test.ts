import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { random } from '../../testing/defects.ts';
import { fallback, kernel, meshOfSolid } from '../../testing/judges.ts';
import { modelOfMeshes } from '../../testing/models.ts';
import { randomCase } from '../../testing/random-plans.ts';
import { runs } from '../../testing/runs.ts';
import { blob } from '../../testing/shapes.ts';
import { bodiesOf } from '../body/index.ts';
import { parsePlan } from '../document/index.ts';
import { evaluateModel, pieceMesh } from '../evaluate/index.ts';
import { type IndexedMesh, loopArea, mapped, turning, winding } from '../mesh/index.ts';
import { applyRecipe, modelOf } from '../recipe/index.ts';
import { maskOf, tracedLoops } from './mask.ts';
import { silhouette } from './silhouette.ts';

const area = (loops: readonly Float64Array[]): number => loops.reduce((sum, l) => sum + loopArea(l), 0);

/** Whether a place lies to the left of an edge. */
const left = (p: Float64Array, q: number, r: number, x: number, y: number): boolean =>
  (p[r] - p[q]) * (y - p[q + 1]) - (p[r + 1] - p[q + 1]) * (x - p[q]) >= 0;

/** What a mesh covers, mm², by places so far apart that 250 000 are looked at: each is asked of all triangles. */
function covered({ positions: p, triangles: t }: IndexedMesh): { area: number; exact: number } {
  const [xs, ys] = [0, 1].map((k) => p.filter((_, i) => i % 3 === k));
  const [x0, x1] = [xs.reduce((a, b) => Math.min(a, b)), xs.reduce((a, b) => Math.max(a, b))];
  const [y0, y1] = [ys.reduce((a, b) => Math.min(a, b)), ys.reduce((a, b) => Math.max(a, b))];
  const n = 500;
  const [dx, dy] = [(x1 - x0) / n, (y1 - y0) / n];
  const hit = new Uint8Array(n * n);
  for (let i = 0; i < t.length; i += 3) {
    const [a, b, c] = [0, 1, 2].map((k) => 3 * t[i + k]);
    const low = Math.max(0, Math.floor((Math.min(p[a + 1], p[b + 1], p[c + 1]) - y0) / dy));
    const high = Math.min(n - 1, Math.ceil((Math.max(p[a + 1], p[b + 1], p[c + 1]) - y0) / dy));
    const first = Math.max(0, Math.floor((Math.min(p[a], p[b], p[c]) - x0) / dx));
    const last = Math.min(n - 1, Math.ceil((Math.max(p[a], p[b], p[c]) - x0) / dx));
    for (let row = low; row <= high; row++) {
      for (let col = first; col <= last; col++) {
        const [x, y] = [x0 + (col + 0.5) * dx, y0 + (row + 0.5) * dy];
        if (left(p, a, b, x, y) && left(p, b, c, x, y) && left(p, c, a, x, y)) hit[row * n + col] = 1;
      }
    }
  }
  // a place at an edge is right or wrong by chance
  return { area: hit.reduce((s, h) => s + h, 0) * dx * dy, exact: Math.max(dx, dy) / 2 };
}

/** A silhouette against places: within half a percent, and what an edge is long in places. */
function judged(mesh: IndexedMesh): { off: number; allowed: number; ms: number } {
  const start = performance.now();
  const found = silhouette(mesh);
  const ms = performance.now() - start;
  const seen = covered(mesh);
  const rim = found.reduce((sum, l) => {
    let long = 0;
    for (let i = 0, j = l.length - 2; i < l.length; j = i, i += 2) long += Math.hypot(l[i] - l[j], l[i + 1] - l[j + 1]);
    return sum + long;
  }, 0);
  return { off: Math.abs(area(found) - seen.area), allowed: 0.005 * seen.area + rim * seen.exact, ms };
}

const turns = [0, 0.31, 1.1, Math.PI / 2, 2.4].map((a, i) => turning([i % 2, 1, i % 3], a, [0, 0, 0]));

describe('silhouettes', () => {
  it('of pieces of random solids with joints in random poses cover what their triangles do', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 1e9 }), (seed) => {
        const next = random(seed);
        const { meshes, plan: input } = randomCase(next);
        const plan = parsePlan({ ...input, labels: undefined });
        const model = applyRecipe(
          plan.recipe.filter((s) => s.kind !== 'wall' && s.kind !== 'hollow'),
          modelOf(bodiesOf(modelOfMeshes(meshes), 'Test')),
          { tools: { kernel } },
        );
        const e = evaluateModel(plan, model, { kernel, fallback });
        for (const piece of e.pieces.filter((p) => p.volume > 10)) {
          const { off, allowed } = judged(mapped(pieceMesh(piece).mesh, turns[Math.floor(next() * turns.length)]));
          expect(off).toBeLessThanOrEqual(allowed);
        }
      }),
      { numRuns: runs(8) },
    );
  });

  it('of a surface so rough that its borders are endless are seen by cells', () => {
    const next = random(5);
    const rough = meshOfSolid(kernel.Manifold.sphere(50, 400));
    for (let i = 0; i < rough.positions.length; i += 3) {
      const f = 1 + 0.3 * (next() - 0.5);
      for (let k = 0; k < 3; k++) rough.positions[i + k] *= f;
    }
    const { off, allowed } = judged(rough);
    expect(off).toBeLessThan(allowed);
  });

  it('traced from cells keep holes, and what only touches in a corner apart', () => {
    const rows = ['####.', '#..#.', '####.', '....#'];
    // each sign nine cells
    const cells = rows.flatMap((row) => [row, row, row].flatMap((r) => [...r].flatMap((c) => [c, c, c])));
    const ring = tracedLoops({
      width: 15,
      height: 12,
      cells: Uint8Array.from(cells, (c) => (c === '#' ? 1 : 0)),
      cell: 10 / 3,
      corner: [0, 0],
    });
    expect(area(ring)).toBeCloseTo(1100, 6);
    expect(ring.map((l) => Math.sign(loopArea(l))).sort()).toEqual([-1, 1, 1]);
    expect(ring.reduce((n, l) => n + winding(l, 15, 15), 0)).toBe(0);
    const smooth = blob(40, 60, 60, () => 40);
    expect(Math.abs(area(tracedLoops(maskOf(smooth))) / area(silhouette(smooth)) - 1)).toBeLessThan(0.005);
  });
});

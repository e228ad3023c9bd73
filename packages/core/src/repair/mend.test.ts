import { describe, expect, it } from 'vitest';
import { DAMAGES, damaged, random } from '../../testing/defects.ts';
import { kernel } from '../../testing/judges.ts';
import { modelOfMeshes } from '../../testing/models.ts';
import { blob, torus } from '../../testing/shapes.ts';
import { bodiesOf, isClosed } from '../body/index.ts';
import { stepSchema } from '../document/recipe-schema.ts';
import { boxOf, concatenate, type IndexedMesh, sizeOf, topology, volume } from '../mesh/index.ts';
import { applyRecipe, modelOf } from '../recipe/index.ts';
import { kernelStatus } from '../solid/index.ts';
import { twoSidedDistance } from './index.ts';

/** A block with a bore, from the kernel: sharp edges, flat faces. */
function block(): IndexedMesh {
  const solid = kernel.Manifold.cube([60, 40, 30], true)
    .subtract(kernel.Manifold.cylinder(50, 10, 10, 24).translate([0, 0, -25]))
    .refine(6);
  const { vertProperties, triVerts } = solid.getMesh();
  return {
    positions: Float64Array.from(vertProperties),
    triangles: triVerts,
    tags: new Uint32Array(triVerts.length / 3),
  };
}

const SHAPES = [
  blob(30, 36, 100, (a, z) => 40 + 6 * Math.sin(3 * a) + 5 * Math.cos(4 * z)),
  torus(40, 64, 30, (a) => 12 + 2 * Math.sin(4 * a)),
  block(),
];
const KINDS = Object.keys(DAMAGES);

/** Mends a mesh as the maker would, and says what became of it. */
function mend(mesh: IndexedMesh) {
  const found = bodiesOf(modelOfMeshes([mesh]), 'prop');
  return applyRecipe([stepSchema.parse({ kind: 'mend' })], modelOf(found), { tools: { kernel } });
}

/** What is wrong with the outcome; empty when it is as good as the undamaged model. */
function shortfall(original: IndexedMesh, outcome: ReturnType<typeof mend>): string {
  const { bodies, reports } = outcome;
  const open = bodies.filter((b) => !isClosed(b));
  if (open.length > 0) {
    // what stays open must be said
    expect(reports[0].notes.join(' ')).toMatch(/still open|left, as/);
    return 'open';
  }
  for (const b of bodies) expect(kernelStatus(kernel, b.mesh)).toBe('NoError');
  const whole = concatenate(bodies.map((b) => b.mesh));
  if (Math.abs(volume(whole) / volume(original) - 1) > 0.01) return 'volume';
  const size = Math.hypot(...sizeOf(boxOf(original.positions)));
  return twoSidedDistance(original, whole, 8000) > size * 0.005 ? 'distance' : '';
}

describe('mend all', () => {
  it.each(KINDS)('mends %s', (kind) => {
    SHAPES.forEach((shape, s) => {
      const bad = damaged(shape, [kind], 40 + s);
      expect(shortfall(shape, mend(bad)), `shape ${s}`).toBe('');
    });
  });

  it('mends mixtures of damage: all but one of 25, and says of the rest that they are open', () => {
    // all 500 cases are run by: npm run bench mend
    const next = random(11);
    let good = 0;
    for (let i = 0; i < 25; i++) {
      const chosen = Array.from({ length: 2 + Math.floor(next() * 3) }, () => KINDS[Math.floor(next() * KINDS.length)]);
      const shape = SHAPES[i % 3];
      if (shortfall(shape, mend(damaged(shape, chosen, 3000 + i))) === '') good++;
    }
    expect(good).toBeGreaterThanOrEqual(24);
  }, 120_000);

  it('leaves a healthy model exactly as it is', () => {
    const { bodies, reports } = mend(SHAPES[0]);
    expect(bodies).toHaveLength(1);
    expect(twoSidedDistance(SHAPES[0], bodies[0].mesh)).toBeLessThan(1e-9);
    expect(bodies[0].mesh.tags.length).toBe(SHAPES[0].tags.length);
    expect(reports[0].before).toEqual(reports[0].after);
  });

  it.each([
    ['a Möbius strip', moebius(24)],
    ['a plane', sheet(4)],
    ['a single triangle', sheet(1, true)],
  ])('does not pass %s off as a solid', (_, mesh) => {
    let closed = true;
    try {
      closed = mend(mesh).bodies.every((b) => isClosed(b) && Math.abs(b.volume) > 1e-6);
    } catch (error) {
      expect((error as Error).message).toMatch(/Nothing would be left|no surface/);
      closed = false;
    }
    expect(closed).toBe(false);
  });

  it('leaves a Klein bottle open and says that it is one-sided', () => {
    const { bodies, reports } = mend(klein(24, 12));
    expect(bodies.every((b) => isClosed(b))).toBe(false);
    expect(reports[0].notes.join(' ')).toMatch(/one-sided/);
  });

  it('closes the rim of a dome with a patch that goes on as the dome does', () => {
    const dome = blob(24, 30, 100, () => 50);
    const high = (i: number): boolean => [0, 1, 2].every((c) => dome.positions[dome.triangles[i * 3 + c] * 3 + 2] > 44);
    const kept = [...dome.tags.keys()].filter((i) => !high(i));
    const open = {
      ...dome,
      triangles: Uint32Array.from(kept.flatMap((i) => [...dome.triangles.subarray(i * 3, i * 3 + 3)])),
      tags: new Uint32Array(kept.length),
    };
    expect(topology(open).openEdges).toBeGreaterThan(10);
    const found = bodiesOf(modelOfMeshes([open]), 'dome');
    const flatStep = stepSchema.parse({ kind: 'close', patch: 'flat', openings: true });
    const curved = applyRecipe([stepSchema.parse({ kind: 'close', openings: true })], modelOf(found), {
      tools: { kernel },
    });
    const flat = applyRecipe([flatStep], modelOf(found), { tools: { kernel } });
    const top = (m: IndexedMesh) => Math.max(...m.positions.filter((_, k) => k % 3 === 2));
    expect(top(curved.bodies[0].mesh)).toBeGreaterThan(48.5);
    expect(top(curved.bodies[0].mesh)).toBeLessThan(51.5);
    expect(flat.bodies[0].topology.watertight).toBe(true);
    expect(top(flat.bodies[0].mesh)).toBeLessThan(47);
  });
});

/** A flat sheet of n × n squares, or one triangle. */
function sheet(n: number, single = false): IndexedMesh {
  const positions: number[] = [];
  for (let j = 0; j <= n; j++) for (let i = 0; i <= n; i++) positions.push(i * 10, j * 10, 0);
  const triangles: number[] = [];
  for (let j = 0; j < n; j++) {
    for (let i = 0; i < n; i++) {
      const a = j * (n + 1) + i;
      triangles.push(a, a + 1, a + n + 2);
      if (!single) triangles.push(a, a + n + 2, a + n + 1);
    }
  }
  return {
    positions: Float64Array.from(positions),
    triangles: Uint32Array.from(triangles),
    tags: new Uint32Array(triangles.length / 3),
  };
}

function moebius(n: number): IndexedMesh {
  const positions: number[] = [];
  for (let i = 0; i < n; i++) {
    const a = (i / n) * 2 * Math.PI;
    for (const w of [-6, 6]) {
      const r = 30 + w * Math.cos(a / 2);
      positions.push(r * Math.cos(a), r * Math.sin(a), w * Math.sin(a / 2));
    }
  }
  const triangles: number[] = [];
  for (let i = 0; i < n; i++) {
    const [a, b] = [i * 2, i * 2 + 1];
    const [c, d] = i + 1 < n ? [a + 2, b + 2] : [1, 0];
    triangles.push(a, b, c, b, d, c);
  }
  return {
    positions: Float64Array.from(positions),
    triangles: Uint32Array.from(triangles),
    tags: new Uint32Array(n * 2),
  };
}

/** The figure-eight immersion of the Klein bottle. */
function klein(n: number, m: number): IndexedMesh {
  const positions: number[] = [];
  for (let i = 0; i < n; i++) {
    const u = (i / n) * 2 * Math.PI;
    for (let j = 0; j < m; j++) {
      const v = (j / m) * 2 * Math.PI;
      const r = 30 + 8 * (Math.cos(u / 2) * Math.sin(v) - Math.sin(u / 2) * Math.sin(2 * v));
      positions.push(
        r * Math.cos(u),
        r * Math.sin(u),
        8 * (Math.sin(u / 2) * Math.sin(v) + Math.cos(u / 2) * Math.sin(2 * v)),
      );
    }
  }
  const at = (i: number, j: number): number => (i < n ? i * m + (j % m) : (m - (j % m)) % m);
  const triangles: number[] = [];
  for (let i = 0; i < n; i++) {
    for (let j = 0; j < m; j++)
      triangles.push(at(i, j), at(i + 1, j), at(i + 1, j + 1), at(i, j), at(i + 1, j + 1), at(i, j + 1));
  }
  return {
    positions: Float64Array.from(positions),
    triangles: Uint32Array.from(triangles),
    tags: new Uint32Array(triangles.length / 3),
  };
}

import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { fallback, judge, kernel, thickness, total } from '../../testing/judges.ts';
import { runs } from '../../testing/runs.ts';
import { blob, box, moved, together, torus } from '../../testing/shapes.ts';
import { bodiesOf, isClosed } from '../body/index.ts';
import { NO_PAINT, readStl, toPrintable, writeStlBinary } from '../formats/index.ts';
import { type IndexedMesh, topology, type Vec3, volume } from '../mesh/index.ts';
import { toKernel } from '../solid/index.ts';
import { makeFrame } from './frame.ts';
import { splitByPlane } from './split.ts';

/** A random solid on whole coordinates: boxes united by the kernel, full of flush faces and shared heights. */
const blocky = fc
  .array(
    fc.record({
      at: fc.tuple(fc.nat(8), fc.nat(8), fc.nat(8)),
      size: fc.tuple(fc.integer({ min: 1, max: 6 }), fc.integer({ min: 1, max: 6 }), fc.integer({ min: 1, max: 6 })),
    }),
    { minLength: 1, maxLength: 5 },
  )
  .map((list) => {
    const solids = list.map(({ at, size }) =>
      toKernel(
        kernel,
        box(
          at.map((x) => x * 10),
          at.map((x, i) => (x + size[i]) * 10),
        ),
      ),
    );
    const union = kernel.Manifold.union(solids);
    const mesh = union.getMesh();
    const positions = Float64Array.from(mesh.vertProperties);
    const out = bodiesOf(
      {
        format: 'stl-binary',
        notes: [],
        palette: NO_PAINT,
        parts: [{ name: '', positions: soupOf(positions, mesh.triVerts), triangles: null }],
      },
      'blocks',
    );
    for (const s of solids) s.delete();
    union.delete();
    // a union of flush boxes now and then keeps a fold of two triangles back to back, alone or in a body: not to be cut yet
    return out.bodies.filter((b) => isClosed(b) && b.volume > 0).map((b) => b.mesh);
  });

function soupOf(p: Float64Array, t: Uint32Array): Float32Array {
  const soup = new Float32Array(t.length * 3);
  t.forEach((v, i) => {
    soup.set([p[v * 3], p[v * 3 + 1], p[v * 3 + 2]], i * 3);
  });
  return soup;
}

const smooth = fc
  .record({
    lobes: fc.integer({ min: 0, max: 9 }),
    depth: fc.double({ min: 0, max: 12, noNaN: true }),
    rings: fc.integer({ min: 3, max: 24 }),
  })
  .map(({ lobes, depth, rings }) => [
    torus(60, rings * 2, rings, (a, b) => 25 + depth * Math.cos(lobes * a) * Math.cos(3 * b)),
    blob(rings, rings + 3, 150, (a, z) => 50 + depth * Math.sin(lobes * a) + 5 * z),
  ]);

// hundredths, so that a plane is either flush with a face or clearly not
const component = fc.integer({ min: -100, max: 100 }).map((x) => x / 100);
const direction = fc.tuple(component, component, component).filter((d) => Math.hypot(...d) > 0.1);

const axis = fc.constantFrom<Vec3>([0, 0, 1], [1, 0, 0], [0, -1, 0]);

/** Both sides closed, accepted by the kernel, volumes adding up; files of them too; no film of a flush face. */
function check(mesh: IndexedMesh, origin: Vec3, normal: Vec3, flush = true): void {
  const { above, below, plane, film } = splitByPlane(mesh, makeFrame(origin, normal), 7, fallback);
  const whole = volume(mesh);
  const parts = [...above, ...below];
  expect(Math.abs(total(parts) / whole - 1)).toBeLessThan(1e-9);
  for (const part of parts) {
    expect(topology(part).watertight).toBe(true);
    expect(volume(part)).toBeGreaterThan(0);
    if (!film && flush) expect(thickness(part, plane.normal)).toBeGreaterThan(1e-3);
    const printable = toPrintable(part);
    expect(printable.topology.watertight).toBe(true);
    const back = readStl(writeStlBinary(printable.mesh, 'x'));
    const again = bodiesOf(back, 'x').bodies;
    const backVolume = again.reduce((sum, b) => sum + b.volume, 0);
    expect(Math.abs(backVolume - volume(part))).toBeLessThan(1e-6 * whole + 1e-3);
    const said = judge(printable.mesh);
    expect(said.status).toBe('NoError');
    // the kernel merges what is nearer than its own tolerance, and loses volume where two walls touch there
    if (Math.abs(said.volume - volume(part)) >= 1e-5 * whole) expect(nearestTwo(printable.mesh)).toBeLessThan(4e-5);
  }
  for (const part of parts) {
    // everything lies on its own side, up to rounding
    const side = above.includes(part) ? 1 : -1;
    let beyond = 0;
    for (let k = 0; k < part.positions.length; k += 3) {
      const d =
        plane.normal[0] * part.positions[k] +
        plane.normal[1] * part.positions[k + 1] +
        plane.normal[2] * part.positions[k + 2];
      beyond = Math.max(beyond, -side * (d - plane.offset));
    }
    expect(beyond).toBeLessThan(1e-9 * 200);
  }
}

/** Least distance of two vertices of a small mesh, mm. */
function nearestTwo({ positions: p }: IndexedMesh): number {
  let least = Infinity;
  for (let i = 0; i < p.length; i += 3) {
    for (let k = 0; k < i; k += 3)
      least = Math.min(least, Math.hypot(p[i] - p[k], p[i + 1] - p[k + 1], p[i + 2] - p[k + 2]));
  }
  return least;
}

describe('splitByPlane', () => {
  it('cuts smooth closed meshes by any plane into closed solids whose volumes add up', () => {
    fc.assert(
      fc.property(smooth, direction, fc.double({ min: -60, max: 60, noNaN: true }), (meshes, n, off) => {
        for (const m of meshes) check(m, [n[0] * off, n[1] * off, n[2] * off], n);
      }),
      { numRuns: runs(18) },
    );
  });

  it('cuts through vertices and along edges', () => {
    fc.assert(
      fc.property(smooth, fc.nat(), direction, (meshes, pick, n) => {
        for (const m of meshes) {
          const v = (pick % (m.positions.length / 3)) * 3;
          const w = m.triangles[m.triangles.indexOf(v / 3) ^ 1] * 3;
          const at: Vec3 = [m.positions[v], m.positions[v + 1], m.positions[v + 2]];
          check(m, at, n);
          const edge: Vec3 = [m.positions[w] - at[0], m.positions[w + 1] - at[1], m.positions[w + 2] - at[2]];
          const square: Vec3 = [
            edge[1] * n[2] - edge[2] * n[1],
            edge[2] * n[0] - edge[0] * n[2],
            edge[0] * n[1] - edge[1] * n[0],
          ];
          if (Math.hypot(...square) > 1e-3) check(m, at, square, false);
        }
      }),
      { numRuns: runs(12) },
    );
  });

  it('cuts blocks flush with their faces', () => {
    fc.assert(
      fc.property(blocky, axis, fc.integer({ min: 0, max: 14 }), (meshes, n, level) => {
        for (const m of meshes) check(m, [level * 10, level * 10, level * 10], n);
      }),
      { numRuns: runs(30) },
    );
  });

  it('leaves no film on either side of a flush face, whichever way it looks', () => {
    const step = together(box([0, 0, 0], [40, 40, 10]), box([50, 0, 10], [90, 40, 30]));
    const up = splitByPlane(box([0, 0, 0], [40, 40, 10]), makeFrame([0, 0, 10], [0, 0, 1]), 1, fallback);
    expect([up.above.length, up.below.length]).toEqual([0, 1]);
    const under = splitByPlane(box([0, 0, 10], [40, 40, 30]), makeFrame([0, 0, 10], [0, 0, 1]), 1, fallback);
    expect([under.above.length, under.below.length]).toEqual([1, 0]);
    const both = splitByPlane(step, makeFrame([0, 0, 10], [0, 0, 1]), 1, fallback);
    expect(both.film).toBe(true);
  });

  it('keeps a hollow space with the solid around it', () => {
    const shell = box([0, 0, 0], [100, 100, 100]);
    const hollow = moved(box([20, 20, 20], [80, 80, 40]), (x, y, z) => [x, y, z]);
    const t = hollow.triangles.slice();
    for (let i = 0; i < t.length; i += 3) [t[i + 1], t[i + 2]] = [t[i + 2], t[i + 1]];
    const mesh = together(shell, { ...hollow, triangles: t });
    const { above, below } = splitByPlane(mesh, makeFrame([0, 0, 60], [0, 0, 1]), 1, fallback);
    expect([above.length, below.length]).toEqual([1, 1]);
    expect(volume(below[0])).toBeCloseTo(600_000 - 60 * 60 * 20, 6);
  });

  it('tags the cap and keeps the tags of the skin', () => {
    const mesh = { ...box([0, 0, 0], [10, 10, 10]), tags: new Uint32Array(12).fill(3) };
    const { above } = splitByPlane(mesh, makeFrame([0, 0, 4], [0, 0, 1]), 7, fallback);
    const [{ positions, triangles, tags }] = above;
    for (let i = 0; i < tags.length; i++) {
      const flat = [0, 1, 2].every((c) => positions[triangles[i * 3 + c] * 3 + 2] === 4);
      expect(tags[i]).toBe(flat ? 7 : 3);
    }
  });

  it('refuses an open surface where the plane meets the gap', () => {
    const lid = box([0, 0, 0], [10, 10, 10]);
    const open = { ...lid, triangles: lid.triangles.slice(0, -6), tags: lid.tags.slice(0, -2) };
    expect(() => splitByPlane(open, makeFrame([0, 0, 5], [0, 0, 1]), 1, fallback)).toThrow(/not closed/);
  });
});

import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { fallback, judge, kernel, meshOfSolid } from '../../testing/judges.ts';
import { modelOfMesh, planOf } from '../../testing/proposing.ts';
import { runs } from '../../testing/runs.ts';
import { box } from '../../testing/shapes.ts';
import type { PlanInput } from '../document/index.ts';
import { type Evaluation, evaluateModel, pieceMesh } from '../evaluate/index.ts';
import type { IndexedMesh } from '../mesh/index.ts';
import { toKernel } from '../solid/index.ts';

type Backing = NonNullable<NonNullable<PlanInput['seams']>[number]['backing']>;

const backed = (mesh: IndexedMesh, backing: Backing, z = 0): Evaluation =>
  evaluateModel(
    planOf({
      seams: [{ id: 's1', kind: 'flat', origin: [0, 0, z], normal: [0, 0, 1], backing }],
      printer: { size: [400, 400, 400], margin: 2 },
    }),
    modelOfMesh(mesh),
    { fallback, kernel },
  );

const strips = (e: Evaluation) => e.loose.filter((l) => l.kind === 'strip');
const warned = (e: Evaluation): string[] => e.findings.filter((f) => f.code === 'seam.backing').map((f) => f.message);

/** The walls of both pieces, moved so that the seam lies at z = 0. */
const walls = (e: Evaluation) => e.pieces.map((p) => toKernel(kernel, pieceMesh(p).mesh)).reduce((a, b) => a.add(b));

describe('a backing strip', () => {
  it('lies in the hollow of a tube that tapers and is not round, clear of its walls by its gap, and slides in', () => {
    const shape = fc.record({
      low: fc.integer({ min: 30, max: 60 }),
      high: fc.integer({ min: 30, max: 60 }),
      squashed: fc.double({ min: 0.5, max: 1, noNaN: true }),
      sides: fc.integer({ min: 5, max: 60 }),
      width: fc.integer({ min: 4, max: 30 }),
      thickness: fc.double({ min: 0.8, max: 4, noNaN: true }),
      gap: fc.constantFrom(0.1, 0.2, 0.5),
    });
    fc.assert(
      fc.property(shape, ({ low, high, squashed, sides, width, thickness, gap }) => {
        const drum = (thicker: number) =>
          kernel.Manifold.cylinder(100 + 2 * (5 - thicker), low + thicker, high + thicker, sides, true).scale([
            1,
            squashed,
            1,
          ]);
        const tube = drum(5).subtract(kernel.Manifold.cylinder(100.02, low, high, sides, true).scale([1, squashed, 1]));
        const e = backed(meshOfSolid(tube), { width, thickness, gap });
        expect(warned(e)).toEqual([]);
        const [strip, ...others] = strips(e);
        expect(others).toEqual([]);
        expect(judge(strip.mesh!)).toMatchObject({ status: 'NoError', closed: true });
        const band = toKernel(kernel, strip.mesh!).translate([0, 0, -width / 2]);
        const both = walls(e);
        expect(both.intersect(band).volume()).toBeLessThan(1e-3);
        // as near as its gap, and no nearer; a wall that slants is nearer square to itself than along the seam
        const slant = Math.cos(Math.atan(Math.abs(high - low) / 100));
        const near = both.minGap(band, 3 + gap);
        expect(near).toBeGreaterThan(gap * slant - 0.005);
        expect(near).toBeLessThan(gap + 0.02);
        // on its way in, from above as well, when the hollow does not narrow there
        const upper = band.translate([0, 0, high >= low ? width : -width]);
        expect(both.intersect(upper).volume()).toBeLessThan(1e-3);
        const box = band.boundingBox();
        expect(box.max[2] - box.min[2]).toBeCloseTo(width, 5);
      }),
      { numRuns: runs(14) },
    );
  });

  it('lies along the wall of an open shell, on the side that it bends round, clear of it and of its ends, and slides in', () => {
    const shape = fc.record({
      low: fc.integer({ min: 40, max: 60 }),
      high: fc.integer({ min: 40, max: 60 }),
      wall: fc.integer({ min: 2, max: 5 }),
      opening: fc.integer({ min: 50, max: 200 }),
      at: fc.integer({ min: 0, max: 359 }),
      width: fc.integer({ min: 6, max: 20 }),
      thickness: fc.double({ min: 0.8, max: 3, noNaN: true }),
      gap: fc.constantFrom(0.1, 0.3),
    });
    fc.assert(
      fc.property(shape, ({ low, high, wall, opening, at, width, thickness, gap }) => {
        const drum = (thicker: number) => kernel.Manifold.cylinder(100, low + thicker, high + thicker, 90, true);
        const inner = kernel.Manifold.cylinder(100.02, low, high, 90, true);
        // a wedge taken out, from its middle outwards
        const wedge = [0, 1, 2].map((k) => {
          const points = [0, k / 3, (k + 1) / 3].map((share, i): [number, number] => {
            const a = ((at + (i === 0 ? 0 : opening * share)) * Math.PI) / 180;
            return i === 0 ? [0, 0] : [300 * Math.cos(a), 300 * Math.sin(a)];
          });
          return kernel.Manifold.extrude([points], 120, 0, 0, [1, 1], true);
        });
        const shell = wedge.reduce((rest, w) => rest.subtract(w), drum(wall).subtract(inner));
        const e = backed(meshOfSolid(shell), { width, thickness, gap });
        expect(warned(e)).toEqual([]);
        const [strip, ...others] = strips(e);
        expect(others).toEqual([]);
        expect(judge(strip.mesh!)).toMatchObject({ status: 'NoError', closed: true });
        const band = toKernel(kernel, strip.mesh!).translate([0, 0, -width / 2]);
        const both = walls(e);
        expect(both.intersect(band).volume()).toBeLessThan(1e-3);
        const slant = Math.cos(Math.atan(Math.abs(high - low) / 100));
        const near = both.minGap(band, 3 + gap);
        expect(near).toBeGreaterThan(gap * slant - 0.02);
        expect(near).toBeLessThan(gap + 0.03);
        const middle = (low + high) / 2;
        // inside, as long as the wall but for its ends, and not in the opening
        const wanted = ((360 - opening) * Math.PI * (middle - gap - thickness / 2)) / 180;
        const long = band.volume() / width / thickness;
        expect(long).toBeGreaterThan(0.75 * wanted - 20);
        expect(long).toBeLessThan(1.05 * wanted);
        for (const w of wedge) expect(w.intersect(band).volume()).toBeLessThan(1e-3);
        expect(band.intersect(inner).volume()).toBeGreaterThan(0.99 * band.volume());
        const upper = band.translate([0, 0, high >= low ? width : -width]);
        expect(both.intersect(upper).volume()).toBeLessThan(1e-3);
      }),
      { numRuns: runs(8) },
    );
  });

  it('says how far it lies off a wall that changes beside the seam', () => {
    const cone = (r: number, R: number) => kernel.Manifold.cylinder(100, r, R, 90, true);
    const e = backed(meshOfSolid(cone(45, 65).subtract(kernel.Manifold.cylinder(100.02, 40, 60, 90, true))), {
      width: 20,
      thickness: 2,
      gap: 0.2,
    });
    // the hollow grows by 4 mm over 20 mm of height
    const [, off] = /up to ([\d.]+) mm off/.exec(strips(e)[0].what)!;
    expect(Number(off)).toBeGreaterThan(4);
    expect(Number(off)).toBeLessThan(4.4);
  });

  it('is refused where there is no hollow, one that ends too soon, or something stands in it', () => {
    const solid = backed(box([-30, -30, -40], [30, 30, 40]), { width: 10, thickness: 2 });
    expect(strips(solid)).toEqual([]);
    expect(warned(solid)[0]).toMatch(/goes round a hollow, nor along a wall/);
    const outer = kernel.Manifold.cube([60, 60, 80], true);
    const cup = outer.subtract(kernel.Manifold.cube([50, 50, 80], true).translate([0, 0, 37]));
    expect(warned(backed(meshOfSolid(cup), { width: 10, thickness: 2 }))[0]).toMatch(
      /not as deep as half the strip, 5 mm/,
    );
    expect(warned(backed(meshOfSolid(cup), { width: 4, thickness: 2 }))).toEqual([]);
    const ribbed = outer
      .subtract(kernel.Manifold.cube([50, 50, 90], true))
      .add(kernel.Manifold.cube([2, 52, 3], true).translate([0, 0, 3]));
    expect(warned(backed(meshOfSolid(ribbed), { width: 12, thickness: 2 })).length).toBe(1);
  });
});

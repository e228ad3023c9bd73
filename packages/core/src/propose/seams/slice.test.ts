import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { fallback } from '../../../testing/judges.ts';
import { runs } from '../../../testing/runs.ts';
import { blob, box, torus } from '../../../testing/shapes.ts';
import { cellOf, closeCell, halve, makeFrame, type Solid, sectionAt, volumeFrom } from '../../cut/index.ts';
import { cross, dot, type IndexedMesh, normalize, sub, type Vec3, volume } from '../../mesh/index.ts';
import { chunkOf } from './chunk.ts';
import { Slicer } from './slice.ts';

const meshes: readonly IndexedMesh[] = [
  torus(90, 40, 24, () => 25),
  blob(24, 30, 260, (a, z) => 70 + 20 * Math.sin(3 * a) + 15 * z),
  box([-40, -60, -80], [70, 50, 90]),
];

const chunkOfMesh = (mesh: IndexedMesh) => chunkOf(closeCell(cellOf(mesh), new Map(), fallback), new Map(), 8);
const solidVolume = (s: Solid | null): number =>
  s
    ? s.caps.reduce(
        (sum, c) => sum + volumeFrom(s.positions, c.triangles, [0, 0, 0]),
        volumeFrom(s.positions, s.triangles, [0, 0, 0]),
      )
    : 0;

/** Of triangles above a plane, with those it crosses (1) or without (−1), what looks down by more than 45°, mm². */
function hangingOf({ positions: p, triangles: t }: IndexedMesh, normal: Vec3, offset: number, crossed: number): number {
  let sum = 0;
  for (let i = 0; i < t.length; i += 3) {
    const [a, b, c] = [0, 1, 2].map((k) => [...p.subarray(t[i + k] * 3, t[i + k] * 3 + 3)] as unknown as Vec3);
    const n = cross(sub(b, a), sub(c, a));
    const over = [a, b, c].map((x) => crossed * (dot(x, normal) - offset));
    const counts = crossed > 0 ? over.some((x) => x > 0) : over.every((x) => x < 0);
    if (counts && dot(n, normal) < -Math.SQRT1_2 * Math.hypot(...n)) sum += Math.hypot(...n) / 2;
  }
  return sum;
}

describe('a slice', () => {
  it('tells section, volumes and boxes of both sides as the cut itself leaves them', () => {
    const angle = fc.double({ min: -1, max: 1, noNaN: true });
    fc.assert(
      fc.property(
        fc.constantFrom(...meshes),
        fc.tuple(angle, angle, angle).filter((d) => Math.hypot(...d) > 0.1),
        fc.double({ min: -45, max: 45, noNaN: true }),
        (mesh, direction, offset) => {
          const normal = normalize(direction as unknown as Vec3);
          const slice = new Slicer(chunkOfMesh(mesh), 0).at(normal, offset)!;
          const frame = makeFrame([normal[0] * offset, normal[1] * offset, normal[2] * offset], normal);
          const size = volume(mesh);
          const real = halve(mesh, frame, fallback);
          const told = (above: boolean): number =>
            slice.sides.filter((s) => s.above === above).reduce((sum, s) => sum + s.volume, 0);
          expect(told(true) / size).toBeCloseTo(solidVolume(real.above) / size, 5);
          expect(told(false) / size).toBeCloseTo(solidVolume(real.below) / size, 5);
          const area = slice.regions.reduce((sum, r) => sum + r.flat.area, 0);
          expect(area).toBeCloseTo(sectionAt(mesh, frame).area, 0);
          for (const r of slice.regions) {
            expect(slice.sides[r.above].above).toBe(true);
            expect(slice.sides[r.below].above).toBe(false);
          }
          const skin = slice.sides.reduce((sum, s) => sum + s.skin, 0);
          expect(skin).toBeCloseTo(chunkOfMesh(mesh).skin, 3);
          const hanging = slice.sides.filter((s) => s.above).reduce((sum, s) => sum + s.hanging, 0);
          const [most, least] = [1, -1].map((k) => hangingOf(mesh, normal, offset, k));
          expect(hanging).toBeLessThanOrEqual(most + 1e-6);
          expect(hanging).toBeGreaterThanOrEqual(least - 1e-6);
        },
      ),
      { numRuns: runs(60) },
    );
  });

  it('a ring lies on both sides of its middle in one each, joined by two regions; across it a third way it is not met', () => {
    const slicer = new Slicer(chunkOfMesh(meshes[0]), 8);
    const across = slicer.at([1, 0, 0], 0.01)!;
    expect(across.sides).toHaveLength(2);
    expect(across.regions).toHaveLength(2);
    for (const r of across.regions) {
      expect(r.flat.area).toBeCloseTo(Math.PI * 25 ** 2, -2);
      expect(r.seen).toBeCloseTo(r.perimeter, 6);
      // room for joints is kept before the face, on the other side of the plane
      expect(r.boxAbove[0]).toBeCloseTo(-8, 1);
      expect(r.boxBelow[3]).toBeCloseTo(8, 1);
    }
    expect(slicer.at([1, 0, 0], 500)).toBeNull();
  });
});

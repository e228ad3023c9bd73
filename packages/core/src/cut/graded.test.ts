import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { fallback, judge } from '../../testing/judges.ts';
import { runs } from '../../testing/runs.ts';
import { blob, box } from '../../testing/shapes.ts';
import { distance, type IndexedMesh, type Vec3, volume } from '../mesh/index.ts';
import { type Frame, makeFrame } from './frame.ts';
import { gradedMesh } from './graded.ts';
import { closedMesh, type Solid } from './solids.ts';
import { halve } from './split.ts';

/** The two halves of a mesh, cut through its middle, and the frame of their caps. */
function halves(mesh: IndexedMesh, normal: Vec3): { solids: Solid[]; frames: Map<string, Frame> } {
  const { above, below, plane } = halve(mesh, makeFrame([0, 0, 0], normal), fallback);
  return { solids: [above, below].flatMap((s) => s ?? []), frames: new Map([['s', plane]]) };
}

const CAP = 9;
const longestWithin = ({ positions: p, triangles: t, tags }: IndexedMesh): number => {
  const at = (v: number): Vec3 => [p[v * 3], p[v * 3 + 1], p[v * 3 + 2]];
  let most = 0;
  for (let i = 0; i < t.length; i++) {
    if (tags[Math.floor(i / 3)] === CAP) most = Math.max(most, distance(at(t[i]), at(t[i % 3 === 2 ? i - 2 : i + 1])));
  }
  return most;
};

describe('a mesh with graded caps', () => {
  it('is the same solid, its caps in triangles that are short beside them', () => {
    const shape = fc.record({
      lobes: fc.integer({ min: 2, max: 9 }),
      depth: fc.double({ min: 0, max: 14, noNaN: true }),
      tilt: fc.double({ min: -0.4, max: 0.4, noNaN: true }),
      hollow: fc.boolean(),
    });
    fc.assert(
      fc.property(shape, ({ lobes, depth, tilt, hollow }) => {
        const out = blob(40, 60, 100, (a) => 40 + depth * Math.sin(lobes * a));
        const within = blob(20, 30, 60, () => 14);
        const mesh = hollow
          ? {
              positions: Float64Array.from([...out.positions, ...within.positions]),
              triangles: Uint32Array.from([
                ...out.triangles,
                ...within.triangles.map((v) => v + out.positions.length / 3).reverse(),
              ]),
              tags: new Uint32Array(out.tags.length + within.tags.length),
            }
          : out;
        const { solids, frames } = halves(mesh, [tilt, 0.1, 1]);
        expect(solids).toHaveLength(2);
        for (const solid of solids) {
          const made = gradedMesh(solid, frames, () => CAP);
          const plain = closedMesh(solid, () => CAP);
          expect(judge(made)).toMatchObject({ status: 'NoError', closed: true });
          expect(Math.abs(volume(made) - volume(plain))).toBeLessThan(1e-9 * volume(plain));
          // corners within it, and none as long as the cap
          expect(made.positions.length).toBeGreaterThan(plain.positions.length);
          expect(longestWithin(made)).toBeLessThan(0.45 * longestWithin(plain));
        }
      }),
      { numRuns: runs(20) },
    );
  });

  it('leaves a cap alone that has no room for corners', () => {
    const { solids, frames } = halves(box([-40, -1, -9], [40, 1, 9]), [0, 0, 1]);
    expect(solids).toHaveLength(2);
    for (const solid of solids) {
      const made = gradedMesh(solid, frames, () => CAP);
      expect([...made.triangles]).toEqual([...closedMesh(solid, () => CAP).triangles]);
    }
  });
});

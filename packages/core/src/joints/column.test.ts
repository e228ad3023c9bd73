import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { runs } from '../../testing/runs.ts';
import { blob, box } from '../../testing/shapes.ts';
import { fromFrame, makeFrame } from '../cut/index.ts';
import { buildBlocks, perAxis, rayHits } from '../mesh/index.ts';
import { columnDepth, columnToTriangles } from './column.ts';
import { circle, movedLoop, regular } from './outline.ts';

describe('material under an outline', () => {
  const mesh = blob(16, 20, 120, (a, z) => 40 + 6 * Math.cos(3 * a) + 4 * z);
  const blocks = buildBlocks(mesh);
  const place = fc.integer({ min: -22, max: 22 });

  it('is what the shallowest of many rays down from it meets, and a little less at most', () => {
    fc.assert(
      fc.property(
        place,
        place,
        fc.integer({ min: 2, max: 14 }),
        fc.boolean(),
        fc.boolean(),
        fc.integer({ min: -20, max: 20 }),
        (u, v, across, round, up, z) => {
          const frame = makeFrame([0, 0, z], [0.2, -0.1, 1]);
          const direction = up ? 1 : -1;
          const shape = round ? circle(across) : regular(6, across, 0.3);
          const outline = movedLoop(shape.at(0), u, v);
          const found = columnDepth(frame, outline, direction, blocks, 200);
          const along = perAxis(frame.normal, (x) => x * direction);
          let least = 200;
          const look = (x: number, y: number): void => {
            const hits = rayHits(blocks, fromFrame(frame, x, y), along).filter((h) => h > 1e-6);
            least = Math.min(least, ...hits);
          };
          for (const inset of [0, 0.25, 0.5, 0.75, 0.95]) {
            const ring = movedLoop(shape.at((inset * across) / 2.2), u, v);
            const n = ring.length / 2;
            // a wall that is cut by the outline's sides is lowest between their corners
            const parts = inset === 0 ? Math.ceil(1200 / n) : 1;
            for (let i = 0; i < n; i++) {
              const [x0, y0, x1, y1] = [i, (i + 1) % n].flatMap((k) => [ring[k * 2], ring[k * 2 + 1]]);
              for (let k = 0; k < parts; k++) look(x0 + ((x1 - x0) * k) / parts, y0 + ((y1 - y0) * k) / parts);
            }
          }
          expect(found).toBeLessThanOrEqual(least + 1e-6);
          expect(found).toBeGreaterThan(least - 1.2);
          expect(columnToTriangles(frame, outline, direction, mesh.positions, mesh.triangles, 200)).toBeCloseTo(
            found,
            9,
          );
          // it is not looked for farther than asked
          expect(columnDepth(frame, outline, direction, blocks, 6)).toBeCloseTo(Math.min(6, found), 9);
        },
      ),
      { numRuns: runs(60) },
    );
  });

  it('in a block is what a ruler says, and nothing behind the plane counts', () => {
    const block = buildBlocks(box([-20, -20, -9], [20, 20, 31]));
    const frame = makeFrame([0, 0, 0], [0, 0, 1]);
    const outline = circle(8).at(0);
    expect(columnDepth(frame, outline, 1, block, 100)).toBeCloseTo(31, 9);
    expect(columnDepth(frame, outline, -1, block, 100)).toBeCloseTo(9, 9);
    expect(columnDepth(frame, movedLoop(outline, 60, 0), 1, block, 100)).toBe(100);
  });
});

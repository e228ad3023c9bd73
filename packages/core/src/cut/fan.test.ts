import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { fallback } from '../../testing/judges.ts';
import { runs } from '../../testing/runs.ts';
import { blob, box, torus } from '../../testing/shapes.ts';
import { cross, distance, dot, type IndexedMesh, perAxis, type Vec3, vecOf, volume } from '../mesh/index.ts';
import { type Cell, cellOf } from './cell.ts';
import { fanCut } from './fan.ts';
import { clearFan, makeFan } from './fan-place.ts';
import { makeFrame } from './frame.ts';
import type { Fan } from './sectors.ts';
import { closeCell, closedMesh } from './solids.ts';

/** An even fan round an axis. */
function even(origin: Vec3, axis: Vec3, count: number, phase = 0): Fan {
  const { u, v, normal } = makeFrame(origin, axis);
  return makeFan(
    origin,
    normal,
    Array.from({ length: count }, (_, h) => {
      const a = phase + (h / count) * 2 * Math.PI;
      const outward = perAxis(u, (x, k) => x * Math.cos(a) + v[k] * Math.sin(a));
      return { seam: `f:${h}`, frame: makeFrame(origin, cross(outward, normal), normal), outward };
    }),
  );
}

const framesOf = (fan: Fan) => new Map(fan.blades.map((b) => [b.seam, b.frame]));

/** Every directed edge of a cell's triangles and cap loops once, and its opposite once. */
function isClosed({ triangles: t, caps }: Cell): boolean {
  const edges = new Map<string, number>();
  const add = (a: number, b: number): void => {
    edges.set(`${a} ${b}`, (edges.get(`${a} ${b}`) ?? 0) + 1);
  };
  for (let i = 0; i < t.length; i += 3) for (let c = 0; c < 3; c++) add(t[i + c], t[i + ((c + 1) % 3)]);
  for (const l of caps.flatMap((c) => c.loops)) for (let i = 0; i < l.length; i++) add(l[i], l[(i + 1) % l.length]);
  return [...edges].every(([key, n]) => {
    const [a, b] = key.split(' ');
    return n === 1 && edges.get(`${b} ${a}`) === 1;
  });
}

const volumeOf = (cell: Cell, fan: Fan): number =>
  volume(closedMesh(closeCell(cell, framesOf(fan), fallback), () => 0));

describe('fanCut', () => {
  const whole = (low: number, high: number) => fc.integer({ min: low, max: high });

  it('gives closed sectors that lie between their blades and fill the whole, wherever the axis is', () => {
    const direction = fc.tuple(whole(-9, 9), whole(-9, 9), whole(-9, 9)).filter((d) => Math.hypot(...d) > 2);
    fc.assert(
      fc.property(
        whole(2, 9),
        direction,
        fc.tuple(whole(-70, 70), whole(-70, 70)),
        whole(0, 60),
        (count, d, [x, y], phase) => {
          for (const mesh of [torus(45, 30, 14, () => 15), blob(12, 17, 110, (a) => 40 + 6 * Math.sin(3 * a))]) {
            const fan = clearFan(even([x, y, 3], d, count, phase / 10), [cellOf(mesh)], 1e-5);
            const cells = fanCut(cellOf(mesh), fan, framesOf(fan), 1e-5);
            expect(cells).toHaveLength(count);
            let sum = 0;
            cells.forEach((cell, s) => {
              if (!cell) return;
              expect(isClosed(cell)).toBe(true);
              sum += volumeOf(cell, fan);
              // how far beyond either of the sector's blades a vertex lies
              let beyond = 0;
              for (let k = 0; k < cell.positions.length; k += 3) {
                const p = vecOf((a) => cell.positions[k + a] - fan.origin[a]);
                const [a, b] = [dot(p, fan.x), dot(p, fan.y)];
                const [c0, s0] = fan.blades[s].ray;
                const [c1, s1] = fan.blades[(s + 1) % count].ray;
                beyond = Math.max(beyond, s0 * a - c0 * b, c1 * b - s1 * a);
              }
              expect(beyond).toBeLessThan(1e-6);
            });
            expect(sum / volume(mesh)).toBeCloseTo(1, 9);
          }
        },
      ),
      { numRuns: runs(40) },
    );
  });

  it('passes a cell on as it is when it lies in one sector', () => {
    const cell = cellOf(box([50, 5, 0], [60, 15, 10]));
    const fan = even([0, 0, 0], [0, 0, 1], 4);
    const cells = fanCut(cell, fan, framesOf(fan), 1e-5);
    expect(cells.filter((c) => c === cell)).toHaveLength(1);
    expect(cells.filter((c) => c === null)).toHaveLength(3);
  });

  it('shares the points on the axis: both ends of it are on every blade that meets there', () => {
    const mesh: IndexedMesh = blob(10, 14, 60, () => 30);
    const fan = clearFan(even([0.3, 0.2, 0], [0, 0, 1], 5), [cellOf(mesh)], 1e-5);
    const cells = fanCut(cellOf(mesh), fan, framesOf(fan), 1e-5) as Cell[];
    const onAxis = cells.map((cell) => {
      const places = new Set<string>();
      for (let k = 0; k < cell.positions.length; k += 3) {
        const d = [0, 1].map((a) => cell.positions[k + a] - fan.origin[a]);
        if (Math.hypot(...d) < 1e-6) places.add([...cell.positions.subarray(k, k + 3)].join());
      }
      return [...places].sort().join('|');
    });
    expect(onAxis[0].split('|')).toHaveLength(2);
    expect(new Set(onAxis).size).toBe(1);
  });
});

describe('clearFan', () => {
  it('leaves a fan alone that is clear, and moves one off vertices and edges by less than the window', () => {
    const mesh = box([-20, -20, 0], [20, 20, 10]);
    const clear = even([3, 4, 0], [0, 0, 1], 3, 0.3);
    expect(clearFan(clear, [cellOf(mesh)], 1e-5)).toBe(clear);
    const hard = even([20, 20, 0], [0, 0, 1], 4);
    const moved = clearFan(hard, [cellOf(mesh)], 1e-5);
    const by = distance(moved.origin, hard.origin);
    expect(by).toBeGreaterThan(1e-7);
    expect(by).toBeLessThan(1e-5);
    for (const { frame } of moved.blades) {
      for (let k = 0; k < mesh.positions.length; k += 3) {
        const p: Vec3 = [mesh.positions[k], mesh.positions[k + 1], mesh.positions[k + 2]];
        expect(Math.abs(dot(frame.normal, p) - frame.offset)).toBeGreaterThan(1e-8);
      }
    }
  });
});

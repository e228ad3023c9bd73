import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { runs } from '../../testing/runs.ts';
import { blob, box } from '../../testing/shapes.ts';
import { fromFrame, makeFrame, type Region } from '../cut/index.ts';
import { buildBlocks, type IndexedMesh, loopArea, nearestOnLoop, three, type Vec3, vecOf } from '../mesh/index.ts';
import { type PinSizes, pinForm, pinOutline } from './kinds/pin/form.ts';
import { CHORD_ERROR, movedLoop, offsetConvex } from './outline.ts';
import { convexGap, edgeDistance, outlineRoom, poleOf } from './room.ts';
import { type Prism, prismDistance, prismToTriangles } from './wall.ts';

const shape = fc.constantFrom('round' as const, 'square' as const, 'hexagon' as const);
const size = fc.double({ min: 0.5, max: 60, noNaN: true });
const outlineOf = (kind: PinSizes['shape'], across: number, turn: number) => pinOutline(kind, across, turn).at(0);
const angle = fc.double({ min: -4, max: 4, noNaN: true });

describe('outlines', () => {
  it('round ones keep to the chord error, inside the circle', () => {
    fc.assert(
      fc.property(size, angle, (diameter, turn) => {
        const loop = outlineOf('round', diameter, turn);
        const to = nearestOnLoop(loop, 0, 0).distance;
        expect(diameter / 2 - to).toBeLessThanOrEqual(CHORD_ERROR + 1e-9);
        for (let i = 0; i < loop.length; i += 2) expect(Math.hypot(loop[i], loop[i + 1])).toBeCloseTo(diameter / 2, 9);
      }),
    );
  });

  it('angular ones are measured across their flats', () => {
    fc.assert(
      fc.property(fc.constantFrom('square' as const, 'hexagon' as const), size, angle, (kind, flats, turn) => {
        expect(nearestOnLoop(outlineOf(kind, flats, turn), 0, 0).distance).toBeCloseTo(flats / 2, 9);
      }),
    );
  });

  it('an offset keeps every edge exactly its distance away, and back again gives the same', () => {
    fc.assert(
      fc.property(shape, size, angle, fc.double({ min: 0.01, max: 2, noNaN: true }), (kind, d, turn, gap) => {
        const loop = outlineOf(kind, d, turn);
        const wide = offsetConvex(loop, gap);
        expect(convexGap(movedLoop(loop, 0, 0), loop)).toBe(0);
        let least = Infinity;
        for (let i = 0; i < loop.length; i += 2)
          least = Math.min(least, nearestOnLoop(wide, loop[i], loop[i + 1]).distance);
        for (let i = 0; i < wide.length; i += 2)
          least = Math.min(least, nearestOnLoop(loop, wide[i], wide[i + 1]).distance);
        expect(least).toBeGreaterThan(gap - 1e-9);
        const middle = nearestOnLoop(wide, (loop[0] + loop[2]) / 2, (loop[1] + loop[3]) / 2).distance;
        expect(middle).toBeCloseTo(gap, 9);
        offsetConvex(wide, -gap).forEach((x, i) => {
          expect(x).toBeCloseTo(loop[i], 7);
        });
      }),
    );
  });

  it('a pin’s rings go out to its depth, its socket is wider by the gap and deeper', () => {
    const pin = { shape: 'square' as const, diameter: 8, depth: 10, socketDepth: 10.5, chamfer: 1 };
    const wish = { u: 3, v: -4, turn: 0, lean: [0, 0] as const, gap: 0.25, depthGap: 0, mouth: 0 };
    const { own, other } = pinForm(pin, wish);
    const rings = (stacks: typeof own) => stacks[0].rings.map((r) => [r.height, loopArea(r.loop)]);
    expect(rings(own)).toEqual([
      [0, expect.closeTo(64, 9)],
      [9, expect.closeTo(64, 9)],
      [10, expect.closeTo(36, 9)],
    ]);
    expect(rings(other)).toEqual([
      [0, expect.closeTo(72.25, 9)],
      [10.5, expect.closeTo(72.25, 9)],
    ]);
    expect(pinForm({ ...pin, chamfer: 0 }, wish).own[0].rings).toHaveLength(2);
  });
});

describe('room on a face', () => {
  const square = Float64Array.of(0, 0, 100, 0, 100, 60, 0, 60);
  const hole = Float64Array.of(20, 20, 20, 40, 40, 40, 40, 20);
  const face: Pick<Region, 'outer2' | 'holes2'> = { outer2: square, holes2: [hole] };

  it('is the distance to the nearest edge, negative off the face', () => {
    expect(edgeDistance(face, 70, 30)).toBeCloseTo(30, 9);
    expect(edgeDistance(face, 50, 30)).toBeCloseTo(10, 9);
    expect(edgeDistance(face, 30, 30)).toBeCloseTo(-10, 9);
    expect(edgeDistance(face, -5, 30)).toBeCloseTo(-5, 9);
  });

  it('is roomiest at its pole', () => {
    const pole = poleOf(face);
    expect(pole.distance).toBeGreaterThan(29);
    expect(edgeDistance(face, pole.u, pole.v)).toBeCloseTo(pole.distance, 6);
  });

  it('finds the middle of any strip, wherever it lies and however thin and long it is', () => {
    const far = fc.double({ min: -900, max: 900, noNaN: true });
    const thickness = fc.double({ min: 0.3, max: 12, noNaN: true });
    const length = fc.double({ min: 20, max: 300, noNaN: true });
    fc.assert(
      fc.property(far, far, angle, thickness, length, (u, v, turn, t, l) => {
        const [c, s] = [Math.cos(turn), Math.sin(turn)];
        const corners = [0, 0, l, 0, l, t, 0, t];
        const outer2 = Float64Array.from(corners, (_, i) =>
          i % 2 === 0 ? u + c * corners[i] - s * corners[i + 1] : v + s * corners[i - 1] + c * corners[i],
        );
        const pole = poleOf({ outer2, holes2: [] });
        expect(pole.distance).toBeGreaterThan(t / 2 - t / 25 - 0.021);
        expect(pole.distance).toBeLessThanOrEqual(t / 2 + 1e-9);
      }),
    );
  });

  it('an outline’s room is the least over its whole edge, also where a corner of the face comes near its side', () => {
    const at = (u: number, v: number) => outlineRoom(face, movedLoop(outlineOf('square', 10, 0), u, v));
    expect(at(70, 30)).toBeCloseTo(25, 9);
    expect(at(97, 30)).toBeLessThan(0);
    const wide = movedLoop(outlineOf('square', 30, Math.PI / 4), 30 + 10 + 3 + 15 * Math.SQRT2, 30);
    expect(outlineRoom(face, wide)).toBeCloseTo(3, 6);
  });

  it('two outlines are as far apart as their nearest edges', () => {
    fc.assert(
      fc.property(shape, shape, angle, fc.double({ min: 15, max: 80, noNaN: true }), (a, b, turn, far) => {
        const one = outlineOf(a, 10, turn);
        const two = movedLoop(outlineOf(b, 10, -turn), far, 0);
        let sampled = Infinity;
        for (let i = 0, j = one.length - 2; i < one.length; j = i, i += 2) {
          for (let s = 0; s <= 20; s++) {
            const u = one[j] + ((one[i] - one[j]) * s) / 20;
            const v = one[j + 1] + ((one[i + 1] - one[j + 1]) * s) / 20;
            sampled = Math.min(sampled, nearestOnLoop(two, u, v).distance);
          }
        }
        const exact = convexGap(one, two);
        expect(exact).toBeLessThanOrEqual(sampled + 1e-9);
        expect(exact).toBeGreaterThan(sampled - 0.2);
      }),
    );
    expect(convexGap(outlineOf('round', 10, 0), movedLoop(outlineOf('round', 4, 0), 1, 1))).toBe(0);
  });
});

/** Least distance from points all over a prism's wall and floor to points all over the triangles beyond the plane. */
function sampledDistance({ frame, outline, depth, direction }: Prism, mesh: IndexedMesh): number {
  const ours: Vec3[] = [];
  const middle = outline.reduce((sum, x, i) => (i % 2 === 0 ? [sum[0] + x, sum[1]] : [sum[0], sum[1] + x]), [0, 0]);
  const [cu, cv] = middle.map((x) => x / (outline.length / 2));
  for (let i = 0, j = outline.length - 2; i < outline.length; j = i, i += 2) {
    for (let s = 0; s < 4; s++) {
      const u = outline[j] + ((outline[i] - outline[j]) * s) / 4;
      const v = outline[j + 1] + ((outline[i + 1] - outline[j + 1]) * s) / 4;
      for (let h = 0; h <= 6; h++) ours.push(fromFrame(frame, u, v, (depth * direction * h) / 6));
      for (let r = 0; r < 4; r++)
        ours.push(fromFrame(frame, cu + ((u - cu) * r) / 4, cv + ((v - cv) * r) / 4, depth * direction));
    }
  }
  let best = Infinity;
  const { positions: p, triangles: t, tags } = mesh;
  for (let i = 0; i < tags.length; i++) {
    const [a, b, c] = three((k) => t[i * 3 + k] * 3);
    for (let s = 0; s <= 6; s++) {
      for (let r = 0; r + s <= 6; r++) {
        const q = vecOf((x) => p[a + x] + ((p[b + x] - p[a + x]) * s) / 6 + ((p[c + x] - p[a + x]) * r) / 6);
        const h = q.reduce((sum, x, k) => sum + x * frame.normal[k], -frame.offset) * direction;
        if (h < 0) continue;
        for (const o of ours) best = Math.min(best, (o[0] - q[0]) ** 2 + (o[1] - q[1]) ** 2 + (o[2] - q[2]) ** 2);
      }
    }
  }
  return Math.sqrt(best);
}

describe('walls', () => {
  const mesh = blob(9, 10, 120, (a, z) => 40 + 6 * Math.cos(3 * a) + 4 * z);
  const blocks = buildBlocks(mesh);

  it('are never more than the distance of any two points, and nearly that of the nearest', () => {
    const place = fc.double({ min: -12, max: 12, noNaN: true });
    fc.assert(
      fc.property(
        shape,
        fc.double({ min: 2, max: 9, noNaN: true }),
        place,
        place,
        fc.double({ min: 1, max: 25, noNaN: true }),
        fc.boolean(),
        (kind, d, u, v, depth, up) => {
          const frame = makeFrame([0, 0, 3], [0.2, 0.1, 1]);
          const prism: Prism = {
            frame,
            outline: movedLoop(outlineOf(kind, d, 0.4), u, v),
            depth,
            direction: up ? 1 : -1,
          };
          const exact = prismDistance(prism, blocks);
          const sampled = sampledDistance(prism, mesh);
          expect(exact).toBeLessThanOrEqual(sampled + 1e-9);
          expect(exact).toBeGreaterThan(sampled - 2.5);
          expect(prismToTriangles(prism, mesh.positions, mesh.triangles)).toBeCloseTo(exact, 9);
        },
      ),
      { numRuns: runs(12) },
    );
  });

  it('beside and under a socket in a block are what a ruler says', () => {
    const block = buildBlocks(box([-50, -50, -30], [50, 50, 40]));
    const frame = makeFrame([0, 0, 0], [0, 0, 1]);
    const at = (u: number, depth: number, direction: 1 | -1) =>
      prismDistance({ frame, outline: movedLoop(outlineOf('square', 10, 0), u, 0), depth, direction }, block);
    expect(at(0, 12, -1)).toBeCloseTo(18, 9);
    expect(at(0, 12, 1)).toBeCloseTo(28, 9);
    expect(at(40, 12, 1)).toBeCloseTo(5, 9);
    expect(at(40, 30, -1)).toBe(0);
    expect(at(0, 41, 1)).toBe(0);
  });

  it('on the other side of the plane do not count', () => {
    const shoulder = buildBlocks(box([-10, -10, -30], [10, 10, -0.5]));
    const frame = makeFrame([0, 0, 0], [0, 0, 1]);
    const prism: Prism = { frame, outline: outlineOf('round', 6, 0), depth: 10, direction: 1 };
    expect(prismDistance(prism, shoulder)).toBe(Infinity);
  });
});

import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { blob, box, moved, together, torus } from '../../testing/shapes.ts';
import { buildBlocks } from './blocks.ts';
import { area, bounds, volume } from './measure.ts';
import { cellsFor, clustered, proxy } from './proxy.ts';
import { insideSolid, rayHits } from './ray.ts';
import { shaded } from './shading.ts';
import { shells, topology } from './topology.ts';
import { weldExact, weldWithin } from './weld.ts';

describe('weldExact', () => {
  it('gives every corner back, and no two vertices alike', () => {
    const coordinate = fc.constantFrom(0, -0, 1, 1.5, -2, 1e-40, 3e38);
    fc.assert(
      fc.property(fc.array(coordinate, { minLength: 9, maxLength: 90 }), (list) => {
        const soup = Float32Array.from(list.slice(0, Math.floor(list.length / 9) * 9));
        const { positions, corners } = weldExact(soup);
        const seen = new Set<string>();
        for (let v = 0; v < positions.length; v += 3) seen.add(positions.subarray(v, v + 3).join());
        expect(seen.size).toBe(positions.length / 3);
        corners.forEach((v, i) => {
          for (let a = 0; a < 3; a++) expect(positions[v * 3 + a] === soup[i * 3 + a]).toBe(true);
        });
      }),
    );
  });
});

describe('weldWithin', () => {
  it('closes a crack narrower than the tolerance and no wider one', () => {
    const a = box([0, 0, 0], [10, 10, 10]);
    const open = { ...a, triangles: a.triangles.slice(0, -6), tags: a.tags.slice(0, -2) };
    const lid = {
      positions: a.positions.map((x) => x + 0.004),
      triangles: a.triangles.slice(-6),
      tags: new Uint32Array(2),
    };
    const cracked = together(open, lid);
    expect(topology(cracked).openEdges).toBe(8);
    expect(topology(weldWithin(cracked, 0.01)).watertight).toBe(true);
    expect(topology(weldWithin(cracked, 0.001)).openEdges).toBe(8);
    expect(() => weldWithin(a, 0)).toThrow(/more than 0/);
  });
});

describe('topology and measures', () => {
  it('counts open, crowded and contrary edges, and shells', () => {
    const a = box([0, 0, 0], [1, 1, 1]);
    expect(topology(a)).toMatchObject({ watertight: true, openEdges: 0 });
    const t = a.triangles.slice();
    [t[1], t[2]] = [t[2], t[1]];
    expect(topology({ triangles: t }).inconsistentEdges).toBe(3);
    expect(topology({ triangles: Uint32Array.of(...a.triangles, ...a.triangles.slice(0, 3)) }).nonManifoldEdges).toBe(
      3,
    );
    expect(
      shells(
        together(
          a,
          torus(5, 8, 6, () => 1),
          a,
        ),
      ).count,
    ).toBe(3);
  });

  it('measures a box far from the origin to its digits', () => {
    const b = box([1e6, 1e6, 1e6], [1e6 + 3, 1e6 + 4, 1e6 + 5]);
    expect(volume(b)).toBe(60);
    expect(area(b)).toBe(94);
    expect(bounds(b.positions).max).toEqual([1e6 + 3, 1e6 + 4, 1e6 + 5]);
  });
});

describe('blocks and rays', () => {
  it('hold every triangle once, inside its block’s box', () => {
    const mesh = blob(9, 11, 50, () => 20);
    const { order, boxes } = buildBlocks(mesh);
    expect([...order].sort((x, y) => x - y)).toEqual([...mesh.tags.keys()]);
    order.forEach((tri, i) => {
      const k = Math.floor(i / 32) * 6;
      for (const v of mesh.triangles.subarray(tri * 3, tri * 3 + 3)) {
        for (let a = 0; a < 3; a++) {
          expect(mesh.positions[v * 3 + a]).toBeGreaterThanOrEqual(boxes[k + a]);
          expect(mesh.positions[v * 3 + a]).toBeLessThanOrEqual(boxes[k + 3 + a]);
        }
      }
    });
  });

  it('tell inside from outside, and how far the wall is', () => {
    const blocks = buildBlocks(torus(50, 60, 30, () => 20));
    const at = fc.double({ min: -75, max: 75, noNaN: true });
    fc.assert(
      fc.property(at, at, fc.double({ min: -25, max: 25, noNaN: true }), (x, y, z) => {
        const d = Math.hypot(Math.hypot(x, y) - 50, z);
        if (Math.abs(d - 20) > 0.5) expect(insideSolid(blocks, [x, y, z])).toBe(d < 20);
      }),
    );
    expect(Math.min(...rayHits(blocks, [50, 0, 0.01], [0, 0, 1]))).toBeCloseTo(19.9, 0);
  });
});

describe('drawing', () => {
  it('keeps a box’s corners sharp and a torus smooth', () => {
    const cube = box([0, 0, 0], [1, 1, 1]);
    expect(shaded(cube.positions, cube.triangles).positions.length / 3).toBe(24);
    const ring = torus(50, 60, 30, () => 20);
    expect(shaded(ring.positions, ring.triangles).positions.length).toBe(ring.positions.length);
  });

  it('a proxy of 500 bodies together has no more than that either', () => {
    const bolts = Array.from({ length: 500 }, (_, i) => {
      const [x, y] = [(i % 25) * 14, Math.floor(i / 25) * 14];
      return moved(
        blob(12, 16, 8, () => 5),
        (a, b, c) => [a + x, b + y, c],
      );
    });
    const many = together(...bolts);
    expect(many.tags.length).toBeGreaterThan(150_000);
    expect(proxy(many, 40_000).tags.length).toBeLessThanOrEqual(40_000);
  });

  it('cells leave about as many triangles as may be drawn, and no rim that is kept moves', () => {
    const mesh = blob(200, 200, 300, (a) => 90 + 10 * Math.sin(5 * a));
    const cells = cellsFor(mesh, 30_000)!;
    const light = clustered(mesh, cells);
    expect(light.tags.length).toBeLessThanOrEqual(30_000);
    expect(light.tags.length).toBeGreaterThan(15_000);
    const kept = new Uint8Array(mesh.positions.length / 3);
    const places = new Set<string>();
    for (let v = 7000; v < 7400; v++) {
      kept[v] = 1;
      places.add(mesh.positions.subarray(v * 3, v * 3 + 3).join());
    }
    const { positions } = clustered(mesh, cells, kept);
    for (let v = 0; v < positions.length; v += 3) places.delete(positions.subarray(v, v + 3).join());
    expect(places.size).toBe(0);
    expect(cellsFor(mesh, 100_000)).toBeNull();
  });

  it('a proxy has at most the triangles asked for and keeps the shape’s box, nearly', () => {
    const mesh = torus(50, 200, 120, () => 20);
    const light = proxy(mesh, 5000);
    expect(light.tags.length).toBeLessThanOrEqual(5000);
    expect(bounds(light.positions).max[0]).toBeGreaterThan(67);
  });
});

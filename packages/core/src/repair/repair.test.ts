import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { judge } from '../../testing/judges.ts';
import { box, moved, together, torus } from '../../testing/shapes.ts';
import { bodiesOf, isClosed } from '../body/bodies.ts';
import { pairEdges } from '../body/pair.ts';
import { NO_PAINT, type RawModel } from '../formats/index.ts';
import { type IndexedMesh, topology, volume, weldExact } from '../mesh/index.ts';

/** A mesh as a file would hold it. */
function raw(mesh: IndexedMesh): RawModel {
  const soup = new Float32Array(mesh.triangles.length * 3);
  mesh.triangles.forEach((v, i) => {
    soup.set(mesh.positions.subarray(v * 3, v * 3 + 3), i * 3);
  });
  return {
    format: 'stl-binary',
    notes: [],
    palette: NO_PAINT,
    parts: [{ name: '', positions: soup, triangles: null }],
  };
}

const flipped = (mesh: IndexedMesh): IndexedMesh => {
  const triangles = mesh.triangles.slice();
  for (let i = 0; i < triangles.length; i += 3) [triangles[i], triangles[i + 1]] = [triangles[i + 1], triangles[i]];
  return { ...mesh, triangles };
};

const welded = (mesh: IndexedMesh): IndexedMesh => {
  const { positions, corners } = weldExact(raw(mesh).parts[0].positions);
  return { positions, triangles: corners, tags: mesh.tags };
};

describe('pairEdges', () => {
  it('takes a chequered stack of boxes apart that touch along edges, whatever way it is turned', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 7 }), fc.integer({ min: -3, max: 3 }), (corner, shear) => {
        const cell = (x: number, y: number, z: number) => box([x, y, z], [x + 1, y + 1, z + 1]);
        const touching = [cell(0, 0, 0), cell(1, 1, 0), cell(1, 0, 1), cell(0, 1, 1)];
        const turned = moved(together(...touching), (x, y, z) => [
          corner & 1 ? 2 - x : x,
          (corner & 2 ? 2 - y : y) + shear * z,
          corner & 4 ? 2 - z : z,
        ]);
        const mirrored = [1, 2, 4].filter((b) => corner & b).length % 2 === 1;
        const mesh = welded(mirrored ? flipped(turned) : turned);
        expect(topology(mesh).nonManifoldEdges).toBeGreaterThan(0);
        const { mesh: out, edgesSplit } = pairEdges(mesh);
        expect(edgesSplit).toBe(6);
        expect(topology(out).watertight).toBe(true);
        expect(volume(out)).toBeCloseTo(4, 9);
        expect(judge(out).status).toBe('NoError');
      }),
    );
  });

  it('leaves a clean mesh alone, and edges it cannot pair joined', () => {
    const clean = torus(10, 9, 7, () => 3);
    expect(pairEdges(clean)).toEqual({ mesh: clean, edgesSplit: 0 });
    const fin = together(box([0, 0, 0], [1, 1, 1]));
    const odd = {
      ...fin,
      triangles: Uint32Array.of(...fin.triangles, fin.triangles[0], fin.triangles[1], 7),
      tags: new Uint32Array(13),
    };
    expect(topology(pairEdges(odd).mesh).watertight).toBe(false);
  });
});

describe('bodiesOf', () => {
  it('keeps a hollow space with the body around it, the innermost one, and counts an island in it by itself', () => {
    const model = together(
      box([0, 0, 0], [100, 100, 100]),
      flipped(box([10, 10, 10], [90, 90, 90])),
      box([30, 30, 30], [70, 70, 70]),
      flipped(box([40, 40, 40], [60, 60, 60])),
    );
    const { bodies } = bodiesOf(raw(model), 'nest');
    expect(bodies.map((b) => [b.id, b.name, b.volume])).toEqual([
      ['b1', 'nest 1', 1_000_000 - 512_000],
      ['b2', 'nest 2', 64_000 - 8_000],
    ]);
    expect(bodies.every((b) => b.topology.watertight)).toBe(true);
  });

  it('takes many shells, and keeps a scatter together as one body that is not solid', () => {
    const grid = (n: number) =>
      together(
        ...Array.from({ length: n }, (_, i) =>
          box([(i % 50) * 3, Math.floor(i / 50) * 3, 0], [(i % 50) * 3 + 1, Math.floor(i / 50) * 3 + 1, 1]),
        ),
      );
    expect(bodiesOf(raw(grid(30)), 'rivets').bodies).toHaveLength(30);
    const scatter = bodiesOf(raw(grid(2001)), 'dust');
    expect(scatter.bodies.map((b) => [b.loose, isClosed(b)])).toEqual([[2001, false]]);
    expect(scatter.notes.join()).toMatch(/2001 loose shells/);
  });

  it('refuses a model without any area', () => {
    const line: RawModel = {
      format: 'stl-binary',
      notes: [],
      palette: NO_PAINT,
      parts: [{ name: '', positions: new Float32Array(9).fill(2), triangles: null }],
    };
    expect(() => bodiesOf(line, 'x')).toThrow(/no surface/);
    const speck = box([0, 0, 0], [6e-29, 6e-29, 6e-29]);
    expect(() => bodiesOf(raw(speck), 'speck')).toThrow(expect.objectContaining({ code: 'model.small' }));
  });
});

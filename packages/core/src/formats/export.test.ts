import fc from 'fast-check';
import { unzipSync } from 'fflate';
import { describe, expect, it } from 'vitest';
import { judge } from '../../testing/judges.ts';
import { blob, box, moved, together } from '../../testing/shapes.ts';
import { type IndexedMesh, topology, volume } from '../mesh/index.ts';
import { toPrintable } from './printable.ts';
import { NO_PAINT } from './raw.ts';
import { shortest } from './text.ts';
import { writeThreeMf } from './threemf.ts';

describe('toPrintable', () => {
  it('gives coordinates that float32 holds exactly', () => {
    const mesh = moved(
      blob(9, 10, 100, () => 30),
      (x, y, z) => [x / 3, y / 7, z / 11],
    );
    const { mesh: out, topology: t } = toPrintable(mesh);
    expect(t.watertight).toBe(true);
    for (const x of out.positions) expect(Math.fround(x)).toBe(x);
    expect(volume(out)).toBeCloseTo(volume(mesh), 2);
  });

  it('drops triangles that collapse and stays closed', () => {
    // a row of vertices a billionth of a millimetre apart along one edge of a box
    const sliver = moved(box([0, 0, 0], [100, 100, 100]), (x, y, z) => [x === 0 && z > 50 ? 1e-9 : x, y, z]);
    const collapsed = together(sliver);
    const { mesh, topology: t } = toPrintable(collapsed);
    expect(t.watertight).toBe(true);
    expect(judge(mesh).status).toBe('NoError');
  });

  it('a solid thinner than float32 can tell is dropped or kept closed, never torn', () => {
    fc.assert(
      fc.property(fc.double({ min: 1e-9, max: 1e-4, noNaN: true }), fc.integer({ min: 0, max: 500 }), (thin, far) => {
        const wafer = box([far, far, far], [far + 50, far + 50, far + thin]);
        const { mesh, topology: t } = toPrintable(wafer);
        expect(t.openEdges).toBe(0);
        if (mesh.tags.length > 0) expect(t.watertight).toBe(true);
      }),
    );
  });

  it('keeps solids apart that meet in one edge, however many and however short it is', () => {
    // a fan of tetrahedra, each with corners of its own, round an edge whose ends may be one step of float32 apart
    const x = Math.fround(26.01334);
    const step = Math.fround(x + 2e-6) - x;
    for (const long of [3, 2 * step, step]) {
      for (const count of [2, 3, 5, 12]) {
        const fan = Array.from({ length: count }, (_, k): IndexedMesh => {
          const [a, b] = [(2 * Math.PI * k) / count, (2 * Math.PI * (k + 0.5)) / count];
          const at = [x, 4, 10, x + long, 4, 10];
          const ring = [a, b].flatMap((t) => [x, 4 + 5 * Math.cos(t), 10 + 5 * Math.sin(t)]);
          return {
            positions: Float64Array.from([...at, ...ring].map(Math.fround)),
            triangles: Uint32Array.of(0, 1, 2, 1, 0, 3, 2, 3, 0, 3, 2, 1),
            tags: new Uint32Array(4),
          };
        });
        const { mesh, topology: t } = toPrintable(together(...fan));
        expect([long, count, t.watertight]).toEqual([long, count, true]);
        expect(mesh.tags.length).toBe(4 * count);
        // none has gone farther than a step of its own size
        const near = [...mesh.positions]
          .filter((_, i) => i % 3 === 0)
          .map((v) => Math.min(Math.abs(v - x), Math.abs(v - x - long)));
        expect(Math.max(...near)).toBeLessThanOrEqual(1.01 * step);
      }
    }
  });

  it.each([-1, 1])('moves a corner to the side on which it was before it was rounded (%i)', (side) => {
    // two tetrahedra on one edge; the second lies a fifth of a step of float32 beside it
    const step = 2 ** -21;
    const tetrahedron = (y: number, out: number): IndexedMesh => ({
      positions: Float64Array.of(3, y, 10, 6, y, 10, 3, 4 + out, 10, 3, 4 + out, 10 + Math.abs(out)),
      triangles:
        out > 0
          ? Uint32Array.of(0, 2, 1, 0, 1, 3, 1, 2, 3, 2, 0, 3)
          : Uint32Array.of(0, 1, 2, 0, 3, 1, 1, 3, 2, 2, 3, 0),
      tags: new Uint32Array(4),
    });
    const { mesh, topology: t } = toPrintable(together(tetrahedron(4, 5), tetrahedron(4 + (side * step) / 5, -5)));
    expect(t.watertight).toBe(true);
    const off = [...mesh.positions].filter((y, i) => i % 3 === 1 && y !== 4 && Math.abs(y - 4) < 1);
    expect(off.length).toBeGreaterThan(0);
    for (const y of off) expect(Math.sign(y - 4)).toBe(side);
  });

  it('keeps the tag of every triangle that stays', () => {
    const mesh = { ...box([0, 0, 0], [1, 1, 1]), tags: Uint32Array.from({ length: 12 }, (_, i) => i) };
    expect([...toPrintable(mesh).mesh.tags]).toEqual([...mesh.tags]);
  });
});

describe('writeThreeMf', () => {
  const solids = [
    { name: 'A1 lower <left> & "back"', ...box([0, 0, 0], [10, 20, 30]) },
    { name: 'A2 upper\u0007', ...box([0, 0, 30], [10, 20, 60.5]) },
  ];
  const files = unzipSync(writeThreeMf({ parts: solids, palette: NO_PAINT }, 'Reeve’s <bell>'));
  const model = new TextDecoder().decode(files['3D/3dmodel.model']);

  it('has the parts the package format asks for', () => {
    expect(Object.keys(files).sort()).toEqual(['3D/3dmodel.model', '[Content_Types].xml', '_rels/.rels']);
    const text = (name: string) => new TextDecoder().decode(files[name]);
    expect(text('[Content_Types].xml')).toContain('Extension="model"');
    expect(text('_rels/.rels')).toContain('Target="/3D/3dmodel.model"');
  });

  it('names every solid, in millimetres and in its place, with marked-up characters escaped', () => {
    expect(model).toContain('unit="millimeter"');
    expect(model).toContain('name="A1 lower &#60;left&#62; &#38; &#34;back&#34;"');
    expect(model).toContain('name="A2 upper"');
    expect(model.match(/<object /g)).toHaveLength(2);
    expect(model.match(/<item objectid="[12]"\/>/g)).toHaveLength(2);
    expect(model).toContain('<vertex x="10" y="20" z="60.5"/>');
  });

  it('gives back the very meshes when it is read', () => {
    const objects = model.split('<object ').slice(1);
    objects.forEach((text, i) => {
      const numbers = (pattern: RegExp) => [...text.matchAll(pattern)].flatMap((m) => m.slice(1).map(Number));
      const positions = Float64Array.from(numbers(/<vertex x="([^"]+)" y="([^"]+)" z="([^"]+)"/g));
      const triangles = Uint32Array.from(numbers(/<triangle v1="(\d+)" v2="(\d+)" v3="(\d+)"/g));
      expect(positions).toEqual(solids[i].positions);
      expect(topology({ triangles }).watertight).toBe(true);
      expect(volume({ positions, triangles })).toBeCloseTo([6000, 6100][i], 9);
    });
  });

  it('writes the shortest decimals that read back as the same float32', () => {
    fc.assert(
      fc.property(fc.float({ noNaN: true, noDefaultInfinity: true }), (x) => {
        expect(Math.fround(Number(shortest(x)))).toBe(x + 0 === 0 ? 0 : x);
      }),
    );
  });
});

import { describe, expect, it } from 'vitest';
import { fallback } from '../../testing/judges.ts';
import { modelOfMeshes } from '../../testing/models.ts';
import { box } from '../../testing/shapes.ts';
import { bodiesOf } from '../body/bodies.ts';
import { parsePlan } from '../document/schema.ts';
import { evaluate } from '../evaluate/evaluate.ts';
import type { ExportFormat } from '../formats/file-formats.ts';
import { triangleCount } from '../formats/raw.ts';
import { readModel } from '../formats/read.ts';
import { topology } from '../mesh/topology.ts';
import { csvCell, exportPieces, safeName } from './export.ts';

const found = bodiesOf(
  modelOfMeshes(
    [
      { ...box([0, 0, 0], [20, 20, 60]), tags: new Uint32Array(12).fill(1), name: 'Mast' },
      { ...box([40, 0, 0], [60, 20, 60]), tags: new Uint32Array(12).map((_, i) => (i < 4 ? 0 : 2)), name: 'Hull' },
    ],
    [
      { name: '', colour: '' },
      { name: 'Ash wood', colour: '#b99a6b' },
      { name: 'Tide blue', colour: '#1f5673' },
    ],
  ),
  'boat',
);
const e = evaluate(
  parsePlan({
    version: 5,
    printer: { size: [220, 220, 250] },
    seams: [{ id: 's1', kind: 'flat', origin: [0, 0, 30], normal: [0, 0, 1] }],
  }),
  found.bodies,
  { fallback },
);

describe('exported pieces', () => {
  it.each<ExportFormat>(['3mf', 'obj', 'ply'])(
    'keep names, places and colours as %s; cuts take the colour round them',
    (format) => {
      const { files, written } = exportPieces(e.pieces, 'Toy boat', format, { palette: found.palette });
      expect(written.every((w) => w.watertight && files.some((f) => f.name === w.file))).toBe(true);
      const mtl = files.find((f) => f.name.endsWith('.mtl'));
      expect(mtl !== undefined).toBe(format === 'obj');
      const models = files
        .filter((f) => /\.(3mf|obj|ply)$/.test(f.name))
        .map((f) => readModel(f.bytes, { name: f.name }));
      const parts = models.flatMap((m) => m.parts.map((p) => ({ part: p, palette: m.palette })));
      expect(parts).toHaveLength(4);
      if (format !== 'ply')
        expect(parts.map((p) => p.part.name)).toEqual(['A1 lower', 'A2 upper', 'B1 lower', 'B2 upper']);
      parts.forEach(({ part, palette }, k) => {
        expect(topology({ triangles: part.triangles! }).watertight).toBe(true);
        expect(Math.min(...part.positions.filter((_, i) => i % 3 === 0))).toBe(k < 2 ? 0 : 40);
        const names = new Set(Array.from({ length: triangleCount(part) }, (_, i) => palette[part.paint?.[i] ?? 0]));
        const wanted = k < 2 ? 'Ash wood' : 'Tide blue';
        // PLY knows colours, but no names; OBJ finds its colours in the file beside it
        if (format === 'ply') expect([...names].map((p) => p.colour)).toContain(k < 2 ? '#b99a6b' : '#1f5673');
        else expect([...names].map((p) => p.name)).toContain(wanted);
        if (k < 2) expect(names.size).toBe(1);
      });
    },
  );
});

describe('a cell of a list', () => {
  it('runs as no formula, wherever a spreadsheet parts cells, and comes back whole', () => {
    expect(csvCell('plain')).toBe('plain');
    expect(csvCell('-12.5')).toBe('-12.5');
    expect(csvCell('=1+1')).toBe("'=1+1");
    expect(csvCell('left; right')).toBe('"left; right"');
    expect(csvCell('wing;=SUM(1)')).toBe(`"wing;'=SUM(1)"`);
    expect(csvCell('a\t@cmd')).toBe(`"a\t'@cmd"`);
    expect(csvCell('say "ebb"')).toBe('"say ""ebb"""');
  });
});

describe('names of files', () => {
  it('are safe, listed, and leave a broken name no way out of its folder', () => {
    const { folder, files, written } = exportPieces(e.pieces.slice(0, 2), '../../Reeve’s "bell" 🔔/', 'stl');
    expect(folder).toBe('reeves-bell');
    expect(files.map((f) => f.name)).toEqual(['reeves-bell-a1-lower.stl', 'reeves-bell-a2-upper.stl', 'pieces.csv']);
    expect(written.every((w) => w.watertight)).toBe(true);
    const csv = new TextDecoder().decode(files[2].bytes);
    expect(csv.split('\r\n')[1]).toMatch(/^A1,lower,b1\/s1-,reeves-bell-a1-lower\.stl,/);
    expect(safeName('🐚')).toBe('');
    expect(() => exportPieces([], 'x', 'stl')).toThrow(/No piece/);
  });
});

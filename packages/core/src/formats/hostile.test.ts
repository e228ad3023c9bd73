// Small files that ask for more than there is. Each of these once kept a reader busy for minutes or took gigabytes.
import { strToU8, zipSync } from 'fflate';
import { describe, expect, it } from 'vitest';
import { flippedBit } from '../../testing/models.ts';
import { GephyraError } from '../errors.ts';
import { isPlainText } from '../plain-text.ts';
import { readModel } from './index.ts';
import type { RawModel } from './raw.ts';

const read = (text: string | Uint8Array, name: string): RawModel =>
  readModel(typeof text === 'string' ? strToU8(text) : text, { name });

function refusal(text: string | Uint8Array, name: string): GephyraError {
  try {
    read(text, name);
  } catch (error) {
    if (error instanceof GephyraError) return error;
    throw error;
  }
  throw new Error(`${name} was read`);
}

const TRIANGLE = 'v 0 0 0\nv 1 0 0\nv 0 1 0\n';

describe('PLY', () => {
  it('passes over rows that hold nothing, however many there are said to be', () => {
    const body = 'element vertex 3\nproperty float x\nproperty float y\nproperty float z\n';
    const head = `ply\nformat ascii 1.0\nelement junk 9007199254740991\n${body}element face 1\nproperty list uchar int vertex_indices\nend_header\n`;
    const model = read(`${head}0 0 0\n1 0 0\n0 1 0\n3 0 1 2\n`, 'junk.ply');
    expect([...model.parts[0].triangles!]).toEqual([0, 1, 2]);
  });

  it('passes over a comment of a million letters in any format, and keeps nothing of it', () => {
    const long = 'x'.repeat(1 << 20);
    const rows = '0 0 0\n1 0 0\n0 1 0\n3 0 1 2\n';
    const head = 'element vertex 3\nproperty float x\nproperty float y\nproperty float z\nelement face 1\n';
    const ply = `ply\nformat ascii 1.0\ncomment ${long}\nobj_info ${long}\n${head}property list uchar int vertex_indices\nend_header\n`;
    const obj = `# ${long}\nv 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n`;
    for (const model of [read(ply + rows, 'long.ply'), read(obj, 'long.obj')]) {
      expect([...model.parts[0].triangles!]).toEqual([0, 1, 2]);
      expect([model.parts[0].name, model.notes]).toEqual(['', []]);
    }
  });

  it('refuses a header line without end, naming it', () => {
    const error = refusal(`ply\nformat ascii 1.0\ncomment ${'x'.repeat(1 << 22)}`, 'line.ply');
    expect(error.code).toBe('ply.header');
    expect(error.details.line).toBe(3);
  });

  it('refuses polygons whose triangles would take hours', () => {
    const n = 10_000;
    // a comb: cutting its ears is slow
    const points = Array.from({ length: n }, (_, i) => `${i >> 1} ${i % 2 === 0 ? 0 : 50 + (i % 7)} 0\n`).join('');
    const row = `${n} ${Array.from({ length: n }, (_, i) => i).join(' ')}\n`;
    const head = `ply\nformat ascii 1.0\nelement vertex ${n}\nproperty float x\nproperty float y\nproperty float z\nelement face 60\nproperty list int int vertex_indices\nend_header\n`;
    const error = refusal(head + points + row.repeat(60), 'combs.ply');
    expect(error.code).toBe('ply.index');
    expect(error.details.face).toBeGreaterThan(1);
  });
});

describe('OBJ', () => {
  it('refuses a polygon of 100 000 corners and a line of millions of words, by their line', () => {
    const ring = Array.from({ length: 100_000 }, (_, i) => `v ${i} ${(i * i) % 977} 0\n`).join('');
    const face = `f ${Array.from({ length: 100_000 }, (_, i) => i + 1).join(' ')}\n`;
    expect(refusal(ring + face, 'wide.obj')).toMatchObject({ code: 'obj.corners', details: { line: 100_001 } });
    const long = `${TRIANGLE}f ${'1 '.repeat(4_000_000)}\n`;
    expect(refusal(long, 'long.obj')).toMatchObject({ code: 'obj.corners', details: { line: 4 } });
  });

  it('reads many groups in memory by their size, and refuses more than a model has', () => {
    const groups = (n: number): string => TRIANGLE + Array.from({ length: n }, (_, i) => `g g${i}\nf 1 2 3\n`).join('');
    const before = process.memoryUsage().arrayBuffers;
    const model = read(groups(15_000), 'many.obj');
    expect(model.parts).toHaveLength(15_000);
    // 8 KB for each would be 120 MB
    expect(process.memoryUsage().arrayBuffers - before).toBeLessThan(40e6);
    expect(refusal(groups(200_000), 'groups.obj').code).toBe('obj.parts');
  });

  it('asks for a material library once, however often it is named', () => {
    const text = `${'mtllib a.mtl\n'.repeat(500)}${TRIANGLE}usemtl brass\nf 1 2 3\n`;
    const archive = zipSync({ 'a.obj': strToU8(text), 'a.mtl': strToU8('newmtl brass\nKd 1 0 0\n') });
    const model = read(archive, 'kit.zip');
    expect(model.palette.map((p) => p.colour)).toContain('#ff0000');
  });
});

describe('STL', () => {
  it('refuses a number without end, by its line, and keeps only the beginning of a long title', () => {
    const facet = (x: string): string =>
      `facet normal 0 0 0\nouter loop\nvertex 0 0 0\nvertex ${x} 0 0\nvertex 0 1 0\nendloop\nendfacet\n`;
    const error = refusal(`solid bell\n${facet('1'.repeat(8 << 20))}endsolid\n`, 'digits.stl');
    expect(error).toMatchObject({ code: 'stl.line', details: { line: 5 } });
    expect(error.message.length).toBeLessThan(300);
    const titled = read(`solid ${'é'.repeat(1 << 20)}\n${facet('1')}endsolid\n`, 'title.stl');
    expect(titled.parts[0].name).toBe('é'.repeat(120));
  });
});

describe('3MF', () => {
  const RELS =
    '<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Target="/3D/m.model" Id="r" Type="http://schemas.microsoft.com/3dmanufacturing/2013/01/3dmodel"/></Relationships>';
  const packed = (resources: string, build: string): Uint8Array =>
    zipSync({
      '[Content_Types].xml': strToU8('<Types/>'),
      '_rels/.rels': strToU8(RELS),
      '3D/m.model': strToU8(
        `<model unit="millimeter"><resources>${resources}</resources><build>${build}</build></model>`,
      ),
    });
  const vertices = (n: number): string =>
    Array.from({ length: n }, (_, i) => `<vertex x="${i}" y="${i % 3}" z="0"/>`).join('');
  const mesh = (n: number): string =>
    `<mesh><vertices>${vertices(n)}</vertices><triangles><triangle v1="0" v2="1" v3="2"/></triangles></mesh>`;
  const tower = (bottom: string, levels: number): string => {
    let out = `<object id="0">${bottom}</object>`;
    for (let level = 1; level <= levels; level++) {
      out += `<object id="${level}"><components>${`<component objectid="${level - 1}"/>`.repeat(10)}</components></object>`;
    }
    return out;
  };

  it('does not walk towers of components that hold nothing', () => {
    const empty = '<mesh><vertices/><triangles/></mesh>';
    const model = read(
      packed(`${tower(empty, 12)}<object id="20">${mesh(3)}</object>`, '<item objectid="12"/><item objectid="20"/>'),
      'tower.3mf',
    );
    expect(model.parts).toHaveLength(1);
    expect(refusal(packed(tower(empty, 12), '<item objectid="12"/>'), 'tower.3mf').code).toBe('threemf.empty');
  });

  it('counts supports of a tower without placing each', () => {
    const support = tower(mesh(3), 12).replace('<object id="0">', '<object id="0" type="support">');
    const model = read(
      packed(`${support}<object id="20">${mesh(3)}</object>`, '<item objectid="12"/><item objectid="20"/>'),
      'supports.3mf',
    );
    expect(model.notes).toEqual(['1000000000000 support objects of the file were left out.']);
  });

  it('refuses a tower over a mesh, and chains deeper than any model', () => {
    expect(refusal(packed(tower(mesh(3), 12), '<item objectid="12"/>'), 'tower.3mf').code).toBe('threemf.tooMuch');
    let chain = `<object id="0">${mesh(3)}</object>`;
    for (let i = 1; i < 5000; i++) {
      chain += `<object id="${i}"><components><component objectid="${i - 1}"/></components></object>`;
    }
    expect(refusal(packed(chain, '<item objectid="4999"/>'), 'chain.3mf').code).toBe('threemf.tooMuch');
  });

  it('keeps only the vertices that triangles use, in every place', () => {
    const model = read(
      packed(`<object id="1">${mesh(20_000)}</object>`, '<item objectid="1"/>'.repeat(100)),
      'heavy.3mf',
    );
    expect(model.parts).toHaveLength(100);
    expect(model.parts.reduce((n, p) => n + p.positions.length / 3, 0)).toBe(300);
  });
});

describe('zip', () => {
  const bell = strToU8(`o bell\n${TRIANGLE}f 1 2 3\n`);

  it('notices a changed bit by the checksum, stored or packed', () => {
    for (const level of [0, 6] as const) {
      const archive = zipSync({ 'bell.obj': bell }, { level });
      const text = level === 0 ? archive.indexOf(bell[10], 40) : 45;
      const error = refusal(flippedBit(archive, text), 'kit.zip');
      expect(error.code).toBe('zip.damaged');
    }
  });

  it('gives both of two files with one name', () => {
    const archive = zipSync({ 'bell.obj': bell, 'bEll.obj': strToU8(`${TRIANGLE}v 5 5 5\nf 1 2 4\n`) }, { level: 0 });
    // the second name made the same as the first, in its own header and in the directory
    for (let i = 0; i < archive.length - 4; i++) {
      if (archive[i] === 98 && archive[i + 1] === 69 && archive[i + 2] === 108) archive[i + 1] = 101;
    }
    const model = read(archive, 'kit.zip');
    const third = Object.fromEntries(model.parts.map((p) => [p.name, [...p.positions.subarray(6, 9)]]));
    expect(third).toEqual({ bell: [0, 1, 0], 'bell (2)': [5, 5, 5] });
  });

  it('says of an encrypted archive that it is encrypted', () => {
    const archive = zipSync({ 'bell.obj': bell });
    // the flag in the local header and in the directory
    archive[6] |= 1;
    const central = archive.findIndex((_, i) => archive[i] === 0x50 && archive[i + 1] === 0x4b && archive[i + 2] === 1);
    archive[central + 8] |= 1;
    const error = refusal(archive, 'kit.zip');
    expect(error.code).toBe('zip.encrypted');
    expect(error.message).toContain('password');
  });
});

describe('names in files', () => {
  it('lose what cannot be kept or shown, and are never cut within a character', () => {
    const name = `bell\u0000 of\u0007 ${'🔔'.repeat(200)}`;
    const model = read(`o ${name}\n${TRIANGLE}f 1 2 3\n`, 'bell.obj');
    expect(model.parts[0].name.startsWith('bell of 🔔')).toBe(true);
    expect(model.parts[0].name.length).toBeLessThanOrEqual(120);
    expect(isPlainText(model.parts[0].name)).toBe(true);
  });
});

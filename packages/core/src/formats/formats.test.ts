import { deflateRawSync } from 'node:zlib';
import fc from 'fast-check';
import { strToU8, unzipSync, zipSync } from 'fflate';
import { describe, expect, it } from 'vitest';
import { modelOfMeshes, sampleModels } from '../../testing/models.ts';
import { runs } from '../../testing/runs.ts';
import { box, together } from '../../testing/shapes.ts';
import { bodiesOf } from '../body/index.ts';
import { GephyraError } from '../errors.ts';
import type { WriteFormat } from './file-formats.ts';
import { type RawModel, readModel, triangleCount, writeModel } from './index.ts';
import { parseNumber } from './text.ts';
import { packZip } from './zip-write.ts';

const bytesOf = (text: string): Uint8Array => new TextEncoder().encode(text);

/** The error that reading gives; fails when it was read. */
function refusal(bytes: Uint8Array, name: string): GephyraError {
  try {
    readModel(bytes, { name });
  } catch (error) {
    if (error instanceof GephyraError) return error;
    throw error;
  }
  throw new Error(`${name} was read.`);
}

/** Corners of all triangles with their colour, in order. */
function surface(model: RawModel): { corners: number[]; colours: string[] } {
  const corners: number[] = [];
  const colours: string[] = [];
  for (const p of model.parts) {
    for (let i = 0; i < triangleCount(p); i++) {
      colours.push(model.palette[p.paint?.[i] ?? 0].colour);
      for (let c = 0; c < 3; c++) {
        const v = p.triangles ? p.triangles[i * 3 + c] : i * 3 + c;
        corners.push(...p.positions.subarray(v * 3, v * 3 + 3));
      }
    }
  }
  return { corners, colours };
}

const packed = (model: RawModel, format: WriteFormat): Uint8Array => {
  const files = writeModel(model, format, 'reeve');
  return files.length === 1 ? files[0].bytes : zipSync(Object.fromEntries(files.map((f) => [f.name, f.bytes])));
};

const coordinate = fc.double({ min: -1e5, max: 1e5, noNaN: true }).map((x) => x + 0);
const triangleSoup = fc
  .array(fc.tuple(coordinate, coordinate, coordinate), { minLength: 3, maxLength: 20 })
  .map((points) => ({
    positions: Float64Array.from(points.flat()),
    triangles: Uint32Array.from({ length: (points.length - 2) * 3 }, (_, i) => Math.floor(i / 3) + (i % 3)),
  }));

describe('writing and reading again', () => {
  it('loses nothing that OBJ and 3MF can carry: names, float64 corners, colours', () => {
    const parts = fc.array(
      fc.record({ soup: triangleSoup, name: fc.constantFrom('Bell', 'Neck & <crown>', 'Ring 2') }),
      {
        minLength: 1,
        maxLength: 3,
      },
    );
    const palette = [
      { name: '', colour: '' },
      { name: 'Sea iron', colour: '#7d8a8f' },
      { name: 'Old brass', colour: '#b08d3e' },
    ];
    fc.assert(
      fc.property(parts, fc.constantFrom<WriteFormat>('obj', '3mf'), fc.boolean(), (list, format, painted) => {
        const model = modelOfMeshes(
          list.map(({ soup, name }, k) => ({
            ...soup,
            name: `${name} ${k}`,
            tags: new Uint32Array(soup.triangles.length / 3).map((_, i) => (painted ? (i + k) % 3 : 0)),
          })),
          painted ? palette : undefined,
        );
        const again = readModel(packed(model, format), { name: format === 'obj' ? 'reeve' : 'reeve.3mf' });
        expect(again.parts.map((p) => p.name)).toEqual(model.parts.map((p) => p.name));
        expect(surface(again)).toEqual(surface(model));
      }),
      { numRuns: runs(60) },
    );
  });

  it('loses nothing that PLY can carry, in either coding: corners, colours of triangles and of vertices', () => {
    fc.assert(
      fc.property(
        triangleSoup,
        fc.constantFrom<WriteFormat>('ply', 'ply-ascii'),
        fc.nat(2),
        (soup, format, colouring) => {
          const count = soup.triangles.length / 3;
          const model: RawModel = {
            ...modelOfMeshes(
              [{ ...soup, tags: new Uint32Array(count).map((_, i) => (colouring === 1 ? 1 + (i % 2) : 0)) }],
              [
                { name: '', colour: '' },
                { name: '', colour: '#102030' },
                { name: '', colour: '#fefdfc' },
              ],
            ),
          };
          const vertexColours = Uint8Array.from(soup.positions, (_, i) => (i * 37) % 256);
          const whole =
            colouring === 2
              ? { ...model, palette: model.palette.slice(0, 1), parts: [{ ...model.parts[0], vertexColours }] }
              : model;
          const again = readModel(packed(whole, format), { name: 'reeve.ply' });
          expect(surface(again).corners).toEqual(surface(whole).corners);
          if (colouring === 1) expect(surface(again).colours).toEqual(surface(whole).colours);
          if (colouring === 2) expect([...(again.parts[0].vertexColours ?? [])]).toEqual([...vertexColours]);
        },
      ),
      { numRuns: runs(60) },
    );
  });

  it('keeps named solids in ASCII STL, and one float32 surface in binary STL', () => {
    const model = modelOfMeshes([
      { ...box([0, 0, 0], [1.1, 2, 3]), name: 'Bell' },
      { ...box([5, 0, 0], [6, 2.7, 3]), name: 'Clapper' },
    ]);
    expect(readModel(packed(model, 'stl-ascii')).parts.map((p) => p.name)).toEqual(['Bell', 'Clapper']);
    const binary = readModel(packed(model, 'stl'));
    expect(binary.parts).toHaveLength(1);
    expect(surface(binary).corners).toEqual(surface(model).corners.map(Math.fround));
  });
});

describe('parseNumber', () => {
  it('reads what the language reads', () => {
    fc.assert(
      fc.property(
        fc.oneof(fc.double({ noNaN: true, noDefaultInfinity: true }), fc.integer()),
        fc.nat(17),
        (x, digits) => {
          for (const text of [String(x), x.toExponential(Math.min(digits, 20)), x.toFixed(digits)]) {
            const b = bytesOf(text);
            expect(parseNumber(b, 0, b.length)).toBe(Number(text));
          }
        },
      ),
    );
    for (const text of ['', '-', '.', '1e', '1e+', '1x', '0x10', '1e5.5', '--1']) {
      expect(parseNumber(bytesOf(text), 0, text.length), text).toBeNaN();
    }
  });
});

describe('OBJ', () => {
  it('takes groups and objects as parts, cuts polygons, and counts negative indices from the end', () => {
    const text = [
      '# a pier and its post',
      'o pier',
      'v 0 0 0\nv 10 0 0\nv 10 10 0\nv 4 4 0\nv 0 10 0',
      'f 1/1/1 2/2/1 3//1 4 \\',
      '  5',
      'g post',
      'v 0 0 5\nv 1 0 5\nv 0 1 5',
      'f -3 -2 -1',
      'l 1 2',
    ].join('\r\n');
    const model = readModel(bytesOf(text), { name: 'pier.obj' });
    expect(model.parts.map((p) => [p.name, triangleCount(p)])).toEqual([
      ['pier', 3],
      ['pier post', 1],
    ]);
    // the reflex corner lies inside: the area of the triangles is that of the polygon, not of a fan
    const { corners } = surface({ ...model, parts: [model.parts[0]] });
    let area = 0;
    for (let i = 0; i < corners.length; i += 9) {
      const [ax, ay, , bx, by, , cx, cy] = corners.slice(i, i + 9);
      const twice = (bx - ax) * (cy - ay) - (by - ay) * (cx - ax);
      expect(twice).toBeGreaterThanOrEqual(0);
      area += twice / 2;
    }
    expect(area).toBeCloseTo(70, 9);
  });

  it('names the line of what it cannot take', () => {
    const start = 'v 0 0 0\nv 1 0 0\nv 0 1 0\n';
    const cases: [string, string, number][] = [
      [`${start}f 1 2 4`, 'obj.index', 4],
      [`${start}f 0 1 2`, 'obj.index', 4],
      [`${start}f -4 1 2`, 'obj.index', 4],
      [`${start}f a b c`, 'obj.index', 4],
      ['v 0 0\nf 1 1 1', 'obj.number', 1],
      ['v 0 0 nan', 'obj.number', 1],
      ['v 0 0 1e999', 'obj.number', 1],
    ];
    for (const [text, code, line] of cases) {
      const error = refusal(bytesOf(text), 'tide.obj');
      expect([error.code, error.details.line], text).toEqual([code, line]);
      expect(error.message).toContain(`line ${line}`);
    }
    expect(refusal(bytesOf(start), 'tide.obj').code).toBe('obj.empty');
  });
});

describe('PLY', () => {
  const header = (body: string) => bytesOf(`ply\nformat ascii 1.0\n${body}`);

  it('refuses lying headers before it sets anything aside for them, and says where', () => {
    const vertex = 'property float x\nproperty float y\nproperty float z\n';
    const face = 'property list uchar int vertex_indices\nend_header\n';
    const cases: [string, string][] = [
      [`element vertex 4000000000\n${vertex}element face 1\n${face}0 0 0`, 'ply.truncated'],
      [`element vertex 3\n${vertex}element face 1\n${face}0 0 0 1 0 0 0 1 0\n3 0 1 3`, 'ply.index'],
      [`element vertex 3\n${vertex}element face 1\n${face}0 0 0 1 0 0 0 1 0\n99999 0 1 2`, 'ply.index'],
      [`element vertex 3\n${vertex}element face 1\n${face}0 0 0 1 0 x 0 1 0\n3 0 1 2`, 'ply.number'],
      [`element vertex 3\n${vertex}element face 2\n${face}0 0 0 1 0 0 0 1 0\n3 0 1 2`, 'ply.truncated'],
      [`element vertex -3\n${vertex}`, 'ply.header'],
      [`element vertex 3\nproperty float x\nelement face 1\n${face}`, 'ply.header'],
      [`element vertex 3\n${vertex}element face 0\n${face}0 0 0 1 0 0 0 1 0`, 'ply.empty'],
      ['element vertex 3\nproperty quark x\n', 'ply.header'],
    ];
    for (const [text, code] of cases) expect([text, refusal(header(text), 'tide.ply').code]).toEqual([text, code]);
    expect(refusal(bytesOf('ply\nformat ascii 1.0\n'), 'tide.ply').message).toMatch(/line 3/);
  });

  it('reads big-endian numbers', () => {
    const head =
      'ply\nformat binary_big_endian 1.0\nelement vertex 3\nproperty double x\nproperty short y\nproperty float z\nelement face 1\nproperty list uchar ushort vertex_index\nend_header\n';
    const body = new DataView(new ArrayBuffer(3 * 14 + 7));
    [0, 10, 0].forEach((x, i) => {
      body.setFloat64(i * 14, x);
      body.setInt16(i * 14 + 8, i === 2 ? -7 : 0);
      body.setFloat32(i * 14 + 10, 1.5);
    });
    body.setUint8(42, 3);
    [0, 1, 2].forEach((v, i) => {
      body.setUint16(43 + i * 2, v);
    });
    const model = readModel(Uint8Array.from([...bytesOf(head), ...new Uint8Array(body.buffer)]), { name: 'a.ply' });
    expect(surface(model).corners).toEqual([0, 0, 1.5, 10, 0, 1.5, 0, -7, 1.5]);
  });
});

describe('3MF', () => {
  const RELS = '<Relationships><Relationship Type="http://x/3dmodel" Target="/3D/m.model"/></Relationships>';
  const packageOf = (model: string, more: Record<string, string> = {}): Uint8Array =>
    zipSync({
      '[Content_Types].xml': strToU8('<Types/>'),
      '_rels/.rels': strToU8(RELS),
      '3D/m.model': strToU8(model),
      ...Object.fromEntries(Object.entries(more).map(([k, v]) => [k, strToU8(v)])),
    });
  const MESH =
    '<mesh><vertices><vertex x="0" y="0" z="0"/><vertex x="1" y="0" z="0"/><vertex x="0" y="1" z="0"/><vertex x="0" y="0" z="1"/></vertices>' +
    '<triangles><triangle v1="0" v2="2" v3="1"/><triangle v1="0" v2="1" v3="3"/><triangle v1="1" v2="2" v3="3"/><triangle v1="2" v2="0" v3="3"/></triangles></mesh>';
  const model = (resources: string, build: string, unit = 'inch') =>
    `<?xml version="1.0"?><model unit="${unit}" xmlns:p="x"><resources>${resources}</resources><build>${build}</build></model>`;

  it('places components with their transforms, in the unit it names; a mirrored one stays right side out', () => {
    const found = bodiesOf(
      readModel(
        packageOf(
          model(
            `<object id="1" name="Fluke">${MESH}</object><object id="2" name="Pair"><components><component objectid="1"/><component objectid="1" transform="-1 0 0 0 1 0 0 0 1 -2 0 0"/></components></object>`,
            '<item objectid="2" transform="1 0 0 0 1 0 0 0 1 0 0 10"/>',
          ),
        ),
        { name: 'anchor.3mf' },
      ),
      'anchor',
    );
    expect(found.unit).toBe('in');
    expect(found.bodies.map((b) => b.name)).toEqual(['Fluke 1', 'Fluke 2']);
    expect(found.flipped).toBe(0);
    for (const b of found.bodies) expect(b.volume).toBeCloseTo(25.4 ** 3 / 6, 6);
    expect(Math.min(...found.bodies[1].mesh.positions)).toBeCloseTo(-3 * 25.4, 9);
    expect(found.bodies[0].mesh.positions[2]).toBeCloseTo(254, 9);
  });

  it('reads objects from other parts of the package, and colours of groups and base materials', () => {
    const resources =
      '<basematerials id="5"><base name="Brass" displaycolor="#B08D3EFF"/></basematerials>' +
      '<m:colorgroup id="6"><m:color color="#102030"/></m:colorgroup>' +
      `<object id="1" pid="5" pindex="0">${MESH.replace('v3="1"/>', 'v3="1" pid="6" p1="0"/>')}</object>`;
    const bytes = packageOf(model('', '<item objectid="1" p:path="/3D/other.model"/>', 'centimeter'), {
      '3D/other.model': model(resources, ''),
    });
    const read = readModel(bytes, { name: 'bell.3mf' });
    expect(surface(read).colours).toEqual(['#102030', '#b08d3e', '#b08d3e', '#b08d3e']);
  });

  it('refuses cycles, missing parts and objects, entities, wrong numbers, and path tricks', () => {
    const item = '<item objectid="1"/>';
    const loop =
      '<object id="1"><components><component objectid="2"/></components></object><object id="2"><components><component objectid="1"/></components></object>';
    const cases: [string, Uint8Array][] = [
      ['threemf.cycle', packageOf(model(loop, item))],
      ['threemf.object', packageOf(model('', item))],
      ['threemf.missing', packageOf(model('', '<item objectid="1" p:path="/3D/gone.model"/>'))],
      ['threemf.missing', zipSync({ '[Content_Types].xml': strToU8(''), '_rels/.rels': strToU8(RELS) })],
      ['threemf.package', zipSync({ '[Content_Types].xml': strToU8('') })],
      ['threemf.xml', packageOf(`<!DOCTYPE m [<!ENTITY x SYSTEM "file:///etc/passwd">]>${model('', item).slice(21)}`)],
      ['threemf.xml', packageOf(`${model(`<object id="1">${MESH}</object>`, item).slice(0, -20)}`)],
      ['threemf.xml', packageOf(model('', item, 'cubit'))],
      ['threemf.index', packageOf(model(`<object id="1">${MESH.replace('v1="2"', 'v1="9"')}</object>`, item))],
      ['threemf.number', packageOf(model(`<object id="1">${MESH.replace('z="1"', 'z="up"')}</object>`, item))],
      ['threemf.number', packageOf(model(`<object id="1">${MESH}</object>`, '<item objectid="1" transform="1 0 0"/>'))],
      ['threemf.empty', packageOf(model(`<object id="1">${MESH}</object>`, ''))],
      ['zip.path', packageOf(model(`<object id="1">${MESH}</object>`, item), { '../../evil.model': 'x' })],
      ['zip.damaged', packageOf(model(`<object id="1">${MESH}</object>`, item)).slice(0, 300)],
    ];
    for (const [code, bytes] of cases) expect(refusal(bytes, 'tide.3mf').code).toBe(code);
  });

  it('refuses components that multiply without end', () => {
    const levels = Array.from({ length: 20 }, (_, i) => {
      const inner = `<component objectid="${i + 2}"/>`.repeat(4);
      return `<object id="${i + 1}">${i === 19 ? MESH : `<components>${inner}</components>`}</object>`;
    });
    expect(refusal(packageOf(model(levels.join(''), '<item objectid="1"/>')), 'bomb.3mf').code).toBe('threemf.tooMuch');
  });
});

describe('kits', () => {
  const cube = (x: number) => box([x, 0, 0], [x + 1, 1, 1]);

  it('keeps names and places of several files, and finds the colours beside an OBJ', () => {
    const painted = writeModel(
      modelOfMeshes(
        [{ ...cube(0), tags: new Uint32Array(12).fill(1), name: 'Bell' }],
        [
          { name: '', colour: '' },
          { name: 'Brass', colour: '#b08d3e' },
        ],
      ),
      'obj',
      'bell',
    );
    const files = [...painted, ...writeModel(modelOfMeshes([cube(5)]), 'stl', 'clapper')];
    const entries = Object.fromEntries(files.map((f) => [`kit/${f.name}`, f.bytes]));
    const kit = readModel(
      zipSync({ ...entries, '__MACOSX/kit/._bell.obj': strToU8('junk'), 'kit/readme.txt': strToU8('hi') }),
      {
        name: 'kit.zip',
      },
    );
    expect(kit.format).toBe('kit');
    const { bodies, palette } = bodiesOf(kit, 'kit');
    expect(bodies.map((b) => [b.name, b.part, Math.min(...b.mesh.positions.filter((_, i) => i % 3 === 0))])).toEqual([
      ['bell', 0, 0],
      ['clapper', 1, 5],
    ]);
    expect(palette[bodies[0].mesh.tags[0]].colour).toBe('#b08d3e');
  });

  it('refuses bombs, kits without a model, and names the file in the kit that is broken', () => {
    const zeros = packZip([{ name: 'a.stl', bytes: new Uint8Array(80 << 20) }], (bytes) => deflateRawSync(bytes));
    expect(refusal(zeros, 'bomb.zip').code).toBe('zip.tooLarge');
    expect(refusal(zipSync({ 'a.txt': strToU8('x') }), 'kit.zip').code).toBe('kit.empty');
    const broken = refusal(zipSync({ 'bell.obj': strToU8('v 1 2\n') }), 'kit.zip');
    expect([broken.code, broken.message.startsWith('bell.obj, line 1')]).toEqual(['obj.number', true]);
    const many = Object.fromEntries(Array.from({ length: 4100 }, (_, i) => [`${i}.stl`, new Uint8Array(0)]));
    expect(refusal(zipSync(many, { level: 0 }), 'kit.zip').code).toBe('zip.tooMany');
  });

  it('tells formats by their content, whatever the name says of text or none', () => {
    const [{ bytes }] = writeModel(modelOfMeshes([cube(0)]), 'ply', 'x');
    expect(readModel(bytes, { name: 'oddly.named' }).format).toBe('ply-binary');
    const utf16 = Uint8Array.from([
      0xff,
      0xfe,
      ...[...'v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3'].flatMap((c) => [c.charCodeAt(0), 0]),
    ]);
    expect(readModel(utf16, { name: 'wide.obj' }).parts).toHaveLength(1);
    expect(refusal(bytesOf('just words'), 'note.doc').code).toBe('model.unknown');
    expect(refusal(new Uint8Array(0), 'none.obj').code).toBe('model.empty');
    const inner = unzipSync(packed(modelOfMeshes([together(cube(0), cube(3))]), '3mf'));
    expect(Object.keys(inner)).toContain('3D/3dmodel.model');
  });
});

describe('what other programs write', () => {
  const endings = ['.obj', '.ply', '.stl', '.3mf'];
  it.each(endings)('%s samples are read, or refused in words', (ending) => {
    for (const { name, bytes } of sampleModels(ending)) {
      try {
        const model = readModel(bytes, { name });
        const found = bodiesOf(model, name);
        expect(found.bodies.length, name).toBeGreaterThan(0);
      } catch (error) {
        expect(error, name).toBeInstanceOf(GephyraError);
        expect((error as GephyraError).message, name).toMatch(/\S{3,}/);
      }
    }
  });

  it('the well-formed ones among them are read', () => {
    const wanted = [
      'box.3mf',
      'spider.obj',
      'concave_polygon.obj',
      'cube_binary.ply',
      'Wuson.ply',
      'Spider_ascii.stl',
      'box_UTF16BE.obj',
    ];
    const samples = endings.flatMap(sampleModels);
    for (const { name, bytes } of samples.filter((s) => wanted.includes(s.name))) {
      expect(readModel(bytes, { name }).parts.length, name).toBeGreaterThan(0);
    }
  });
});

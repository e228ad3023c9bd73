import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { box } from '../../testing/shapes.ts';
import { bodiesOf } from '../body/index.ts';
import { GephyraError } from '../errors.ts';
import { NO_PAINT } from './raw.ts';
import { readStl, writeStlAscii, writeStlBinary } from './stl.ts';

const soupPart = (positions: Float32Array) => ({ name: '', positions, triangles: null });
const cube = box([0, 0, 0], [10, 20, 30]);
const binary = writeStlBinary(cube, 'cube');
const text = (s: string): Uint8Array => new TextEncoder().encode(s);

/** The code and details of the error that reading gives. */
function refusal(bytes: Uint8Array): GephyraError {
  try {
    readStl(bytes, { name: 'crest.stl' });
  } catch (error) {
    if (error instanceof GephyraError) return error;
    throw error;
  }
  throw new Error('It was read.');
}

describe('readStl', () => {
  it('tells binary from ASCII by content, not by the first word', () => {
    const disguised = binary.slice();
    disguised.set(text('solid cube facet normal'));
    expect(readStl(disguised).format).toBe('stl-binary');
    expect(readStl(text(writeStlAscii(cube, 'cube'))).format).toBe('stl-ascii');
  });

  it('reads back every float32 coordinate it wrote, in both kinds', () => {
    const number = fc.float({ noNaN: true, noDefaultInfinity: true });
    fc.assert(
      fc.property(fc.array(fc.tuple(number, number, number), { minLength: 3, maxLength: 9 }), (points) => {
        const n = Math.floor(points.length / 3) * 3;
        const positions = Float64Array.from(points.slice(0, n).flat());
        const mesh = { positions, triangles: Uint32Array.from({ length: n }, (_, i) => i) };
        const expected = Float32Array.from(positions, (x) => x + 0);
        for (const bytes of [writeStlBinary(mesh, 'a'), text(writeStlAscii(mesh, 'a'))]) {
          expect(readStl(bytes).parts[0].positions.map((x) => x + 0)).toEqual(expected);
        }
      }),
    );
  });

  it('keeps the names of several solids in one ASCII file', () => {
    const two = writeStlAscii(cube, 'left horn') + writeStlAscii(cube, 'right horn');
    expect(readStl(text(two)).parts.map((p) => p.name)).toEqual(['left horn', 'right horn']);
  });

  it('refuses what is no model, and says why', () => {
    expect(refusal(new Uint8Array(0)).message).toMatch(/crest\.stl is empty/);
    expect(refusal(text('Dear reeve, the tide is late.\n'.repeat(9))).code).toBe('stl.notAModel');
    expect(refusal(text('solid')).code).toBe('stl.notAModel');
    expect(refusal(text('solid nothing\nendsolid nothing\n')).code).toBe('stl.empty');
    expect(refusal(writeStlBinary({ positions: cube.positions, triangles: new Uint32Array(0) }, '')).code).toBe(
      'stl.empty',
    );
  });

  it('offers the whole triangles of a truncated file, and only when asked takes them', () => {
    const cut = binary.subarray(0, binary.length - 70);
    expect(refusal(cut)).toMatchObject({ code: 'stl.truncated', details: { expected: 12, whole: 10 } });
    const model = readStl(cut, { allowTruncated: true });
    expect(model.parts[0].positions).toHaveLength(90);
    expect(model.notes[0]).toMatch(/2 are lost/);
  });

  it('names the line of a broken ASCII file', () => {
    const lines = writeStlAscii(cube, 'cube').split('\n');
    lines[9] = '  outer lopp';
    expect(refusal(text(lines.join('\n')))).toMatchObject({ code: 'stl.line', details: { line: 10 } });
    const numbers = writeStlAscii(cube, 'cube').replace('vertex 10', 'vertex 1o');
    expect(refusal(text(numbers)).message).toMatch(/“1o” is not a usable number/);
    expect(refusal(text(lines.slice(0, 7).join('\n'))).message).toMatch(/the file ends/);
    for (const bad of ['nan', 'Infinity', '1e60']) {
      expect(refusal(text(writeStlAscii(cube, 'c').replace('vertex 10', `vertex ${bad}`))).code).toBe('stl.line');
    }
  });

  it('refuses coordinates that are no numbers in a binary file, with their place', () => {
    for (const bad of [Number.NaN, Number.POSITIVE_INFINITY]) {
      const bytes = binary.slice();
      new DataView(bytes.buffer).setFloat32(84 + 50 * 3 + 12 + 8, bad, true);
      expect(refusal(bytes)).toMatchObject({ code: 'stl.number', details: { triangle: 4, byte: 234 } });
    }
  });
});

describe('bodiesOf', () => {
  const soupOf = (bytes: Uint8Array) => readStl(bytes);

  it('drops triangles without area and says how many', () => {
    const model = soupOf(binary);
    const soup = new Float32Array(model.parts[0].positions.length + 9);
    soup.set(model.parts[0].positions);
    soup.set([1, 1, 1, 1, 1, 1, 2, 2, 2], model.parts[0].positions.length);
    const { bodies, notes } = bodiesOf({ ...model, parts: [soupPart(soup)] }, 'cube');
    expect(bodies[0].topology.watertight).toBe(true);
    expect(notes).toEqual(['1 triangles without any area were dropped.']);
  });

  it('takes two boxes apart that share only an edge', () => {
    const other = box([10, 20, 0], [30, 40, 30]);
    const soup = [cube, other].map((m) => soupOf(writeStlBinary(m, '')).parts[0].positions);
    const joined = new Float32Array(soup[0].length * 2);
    joined.set(soup[0]);
    joined.set(soup[1], soup[0].length);
    const { bodies, notes } = bodiesOf(
      { format: 'stl-binary', notes: [], palette: NO_PAINT, parts: [soupPart(joined)] },
      'two',
    );
    expect(bodies.map((b) => [b.name, b.topology.watertight, Math.round(b.volume)])).toEqual([
      ['two 1', true, 6000],
      ['two 2', true, 12000],
    ]);
    expect(notes).toEqual(['1 edges at which solids only touch were taken apart.']);
  });

  it('turns a body right side out that came inside out', () => {
    const soup = Float32Array.from(soupOf(binary).parts[0].positions);
    for (let i = 0; i < soup.length; i += 9) {
      const b = soup.slice(i + 3, i + 6);
      soup.copyWithin(i + 3, i + 6, i + 9);
      soup.set(b, i + 6);
    }
    const { bodies } = bodiesOf(
      { format: 'stl-binary', notes: [], palette: NO_PAINT, parts: [soupPart(soup)] },
      'cube',
    );
    expect(bodies[0].volume).toBeCloseTo(6000, 6);
  });
});

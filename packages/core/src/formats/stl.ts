import { GephyraError } from '../errors.ts';
import { normalize, triangleCross, type Vec3 } from '../mesh/index.ts';
import { NO_PAINT, type RawModel, type RawPart, type ReadOptions } from './raw.ts';
import { shortest, Words } from './text.ts';

const HEADER = 84;
const RECORD = 50;

/**
 * Reads a binary or ASCII STL file. Which of the two it is, is told from the content: many binary files begin with the
 * word "solid" too.
 *
 * Throws GephyraError: `stl.empty`, `stl.notAModel`, `stl.truncated` (details: expected, whole), `stl.line`
 * (details: line), `stl.number` (details: triangle and byte or line).
 */
export function readStl(bytes: Uint8Array, options: ReadOptions = {}): RawModel {
  const name = options.name ?? 'The file';
  if (bytes.length === 0) throw new GephyraError('stl.empty', `${name} is empty. Export the model again.`);
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const count = bytes.length >= HEADER ? view.getUint32(80, true) : 0;
  const exact = bytes.length >= HEADER && bytes.length === HEADER + count * RECORD;
  if (!exact && looksAscii(bytes)) return readAscii(bytes, name);
  if (bytes.length < HEADER) {
    throw new GephyraError('stl.notAModel', `${name} is no STL model: it holds only ${bytes.length} bytes.`);
  }
  if (!exact && isText(bytes)) {
    throw new GephyraError('stl.notAModel', `${name} is a text, but no STL model: it has no facets.`);
  }
  return readBinary(bytes, view, count, name, options.allowTruncated === true);
}

function readBinary(bytes: Uint8Array, view: DataView, count: number, name: string, allow: boolean): RawModel {
  const notes: string[] = [];
  const whole = Math.floor((bytes.length - HEADER) / RECORD);
  let take = count;
  if (whole < count) {
    if (whole === 0) {
      throw new GephyraError(
        'stl.notAModel',
        `${name} is no STL model: its header speaks of ${count} triangles, but none follows.`,
      );
    }
    if (!allow) {
      throw new GephyraError(
        'stl.truncated',
        `${name} breaks off at byte ${bytes.length}: its header says ${count} triangles, ${whole} are whole. ` +
          'Get the file again, or take the whole triangles.',
        { expected: count, whole },
      );
    }
    take = whole;
    notes.push(`The file broke off: ${whole} of ${count} triangles were taken, ${count - whole} are lost.`);
  } else if (bytes.length > HEADER + count * RECORD) {
    notes.push(`${bytes.length - HEADER - count * RECORD} bytes after the last triangle were ignored.`);
  }
  if (take === 0) throw new GephyraError('stl.empty', `${name} holds no triangles. Export the model again.`);
  const soup = new Float32Array(take * 9);
  // records are 50 bytes, so only every second one is aligned: copy the 36 bytes of corners, then read them as floats
  const out = new Uint8Array(soup.buffer);
  const littleEndian = new Uint8Array(Uint16Array.of(1).buffer)[0] === 1;
  if (littleEndian) {
    for (let i = 0, from = HEADER + 12, to = 0; i < take; i++, from += RECORD, to += 36) {
      for (let b = 0; b < 36; b++) out[to + b] = bytes[from + b];
    }
  } else {
    for (let i = 0; i < take; i++) {
      for (let c = 0; c < 9; c++) soup[i * 9 + c] = view.getFloat32(HEADER + i * RECORD + 12 + c * 4, true);
    }
  }
  for (let k = 0; k < soup.length; k++) {
    if (soup[k] - soup[k] === 0) continue;
    const triangle = Math.floor(k / 9);
    throw new GephyraError(
      'stl.number',
      `${name} holds a coordinate that is not a number, in triangle ${triangle + 1} (byte ${HEADER + triangle * RECORD}).`,
      { triangle: triangle + 1, byte: HEADER + triangle * RECORD },
    );
  }
  return { format: 'stl-binary', parts: [{ name: '', positions: soup, triangles: null }], palette: NO_PAINT, notes };
}

/** A text file whose first word is "solid" and which goes on with facets, or at once with its end. */
function looksAscii(bytes: Uint8Array): boolean {
  const head = latin(bytes.subarray(0, 4096)).trimStart();
  if (!/^solid\b/i.test(head)) return false;
  return /\bfacet\b|\bendsolid\b/i.test(head) || (isText(bytes) && /\bfacet\b/i.test(latin(bytes)));
}

function isText(bytes: Uint8Array): boolean {
  for (let i = 0; i < Math.min(bytes.length, 4096); i++) {
    const b = bytes[i];
    if (b < 9 || (b > 13 && b < 32)) return false;
  }
  return true;
}

const latin = (bytes: Uint8Array): string => new TextDecoder('latin1').decode(bytes);

/** Reads ASCII STL word by word, keeping the line for messages. */
function readAscii(bytes: Uint8Array, name: string): RawModel {
  const parts: RawPart[] = [];
  const words = new Words(bytes);
  const fail = (what: string): never => {
    throw new GephyraError('stl.line', `${name}, line ${words.line}: ${what}. Export the model again.`, {
      line: words.line,
    });
  };
  const expect = (wanted: string): void => {
    const got = words.next();
    if (got === null) fail(`the file ends where “${wanted}” should stand`);
    else if (got.toLowerCase() !== wanted) fail(`“${wanted}” should stand here, not “${got.slice(0, 24)}”`);
  };
  const number = (): number => {
    const x = words.number();
    if (words.to === words.from) fail('the file ends where a number should stand');
    if (!Number.isFinite(Math.fround(x))) fail(`“${words.shown()}” is not a usable number`);
    return x;
  };
  for (;;) {
    const word = words.next();
    if (word === null) break;
    if (word.toLowerCase() !== 'solid') fail(`“solid” should stand here, not “${word.slice(0, 24)}”`);
    const title = words.restOfLine();
    let soup = new Float32Array(9 * 1024);
    let used = 0;
    for (;;) {
      const head = words.next();
      if (head === null) fail('the file ends before “endsolid”');
      if (head?.toLowerCase() === 'endsolid') {
        words.restOfLine();
        break;
      }
      if (head?.toLowerCase() !== 'facet') fail(`“facet” should stand here, not “${head?.slice(0, 24)}”`);
      expect('normal');
      for (let i = 0; i < 3; i++) words.move();
      expect('outer');
      expect('loop');
      if (used + 9 > soup.length) {
        const grown = new Float32Array(soup.length * 2);
        grown.set(soup);
        soup = grown;
      }
      for (let c = 0; c < 3; c++) {
        expect('vertex');
        for (let a = 0; a < 3; a++) soup[used++] = number();
      }
      expect('endloop');
      expect('endfacet');
    }
    if (used > 0) parts.push({ name: title, positions: soup.slice(0, used), triangles: null });
  }
  if (parts.length === 0) throw new GephyraError('stl.empty', `${name} holds no triangles. Export the model again.`);
  return { format: 'stl-ascii', parts, palette: NO_PAINT, notes: [] };
}

/** A closed mesh as binary STL. The header carries the name; normals are computed. Positions should be float32 already. */
export function writeStlBinary(mesh: { positions: Float64Array; triangles: Uint32Array }, name: string): Uint8Array {
  const { positions: p, triangles: t } = mesh;
  const count = t.length / 3;
  const bytes = new Uint8Array(HEADER + count * RECORD);
  const view = new DataView(bytes.buffer);
  // a header that began with "solid" would be taken for ASCII by careless readers
  bytes.set(new TextEncoder().encode(`piece ${name}`.replace(/[^ -~]/g, '_')).subarray(0, 79));
  view.setUint32(80, count, true);
  for (let i = 0, at = HEADER; i < count; i++, at += RECORD) {
    const normal = facetNormal(p, t, i);
    for (let a = 0; a < 3; a++) view.setFloat32(at + a * 4, normal[a], true);
    for (let c = 0; c < 3; c++) {
      const v = t[i * 3 + c] * 3;
      for (let a = 0; a < 3; a++) view.setFloat32(at + 12 + c * 12 + a * 4, p[v + a], true);
    }
  }
  return bytes;
}

/** A mesh as ASCII STL, every coordinate with as many digits as float32 needs. */
export function writeStlAscii(mesh: { positions: Float64Array; triangles: Uint32Array }, name: string): string {
  const { positions: p, triangles: t } = mesh;
  const title = name.replace(/\s+/g, ' ');
  const lines = [`solid ${title}`];
  for (let i = 0; i < t.length / 3; i++) {
    lines.push(` facet normal ${facetNormal(p, t, i).map(shortest).join(' ')}`, '  outer loop');
    for (let c = 0; c < 3; c++) {
      const v = t[i * 3 + c] * 3;
      lines.push(`   vertex ${shortest(p[v])} ${shortest(p[v + 1])} ${shortest(p[v + 2])}`);
    }
    lines.push('  endloop', ' endfacet');
  }
  lines.push(`endsolid ${title}`, '');
  return lines.join('\n');
}

const facetNormal = (p: Float64Array, t: Uint32Array, i: number): Vec3 => normalize(triangleCross(p, t, i));

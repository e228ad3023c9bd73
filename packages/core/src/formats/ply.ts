import { GephyraError } from '../errors.ts';
import { encodeText } from './obj.ts';
import { hexColour, Palette, rgbOf } from './palette.ts';
import { FaceBudget, MOST_CORNERS, triangulateFace } from './polygon-face.ts';
import { NO_PAINT, type RawModel, type ReadOptions } from './raw.ts';
import { decimal, type Growing, growingInts, Words } from './text.ts';

const TYPES: Record<string, { readonly bytes: number; readonly kind: Kind }> = {};
type Kind = 'i1' | 'u1' | 'i2' | 'u2' | 'i4' | 'u4' | 'f4' | 'f8';
for (const [kind, ...names] of [
  ['i1', 'char', 'int8'],
  ['u1', 'uchar', 'uint8'],
  ['i2', 'short', 'int16'],
  ['u2', 'ushort', 'uint16'],
  ['i4', 'int', 'int32'],
  ['u4', 'uint', 'uint32'],
  ['f4', 'float', 'float32'],
  ['f8', 'double', 'float64'],
] as const) {
  for (const n of names) TYPES[n] = { bytes: Number(kind[1]), kind };
}

interface Property {
  readonly name: string;
  readonly kind: Kind;
  readonly bytes: number;
  /** of a list: the type of its length */
  readonly count: { readonly kind: Kind; readonly bytes: number } | null;
}

interface Element {
  readonly name: string;
  readonly count: number;
  readonly properties: Property[];
}

interface Header {
  readonly coding: 'ascii' | 'little' | 'big';
  readonly elements: readonly Element[];
  /** the first byte behind the header, and its line */
  readonly end: number;
  readonly line: number;
}

/** Header lines longer than this are no header, bytes. */
const LONGEST_LINE = 4096;

/**
 * Reads a PLY file: ASCII or binary in either byte order, polygons, colours of vertices or faces.
 *
 * Throws GephyraError: `ply.header` (details: line), `ply.truncated` (byte or line), `ply.number` (vertex), `ply.index`
 * (face), `ply.empty`.
 */
export function readPly(bytes: Uint8Array, options: ReadOptions = {}): RawModel {
  const name = options.name ?? 'The file';
  const header = readHeader(bytes, name);
  const source: Source =
    header.coding === 'ascii'
      ? new TextSource(bytes, header, name)
      : new BinarySource(bytes, header.end, header.coding === 'little', name);
  let positions = new Float64Array(0);
  let vertexColours: Uint8Array | undefined;
  let paint: Growing<Uint32Array> | undefined;
  const palette = new Palette();
  const triangles = growingInts();
  const budget = new FaceBudget();
  let wideFloats = false;
  for (const element of header.elements) {
    const at = (wanted: string): number => element.properties.findIndex((p) => p.name === wanted);
    const values: number[] = [];
    if (element.name === 'vertex') {
      const xyz = [at('x'), at('y'), at('z')];
      if (xyz.includes(-1)) throw headerError(name, header.line, 'its vertices have no x, y and z');
      const rgb = colourColumns(element);
      source.expect(element, 'vertices');
      positions = new Float64Array(element.count * 3);
      if (rgb) vertexColours = new Uint8Array(element.count * 3);
      wideFloats = xyz.some((k) => element.properties[k].kind === 'f8') || header.coding === 'ascii';
      for (let i = 0; i < element.count; i++) {
        source.row(element, values, null, i);
        for (let a = 0; a < 3; a++) {
          const x = values[xyz[a]];
          if (!Number.isFinite(x)) {
            throw new GephyraError(
              'ply.number',
              `${name} holds a coordinate that is not a number, in vertex ${i + 1} (${source.place()}).`,
              { vertex: i + 1 },
            );
          }
          positions[i * 3 + a] = x;
        }
        if (rgb && vertexColours) for (let a = 0; a < 3; a++) vertexColours[i * 3 + a] = colourByte(values, rgb, a);
      }
    } else if (element.name === 'face') {
      const list = element.properties.findIndex((p) => p.count && /^vert(ex|ices)?_?ind(ex|ices)$/.test(p.name));
      if (list < 0) throw headerError(name, header.line, 'its faces do not name their vertices');
      const rgb = colourColumns(element);
      if (rgb) paint = growingInts();
      source.expect(element, 'faces');
      const corners: number[] = [];
      const vertices = positions.length / 3;
      const coordinate = (v: number, a: number): number => positions[v * 3 + a];
      for (let i = 0; i < element.count; i++) {
        source.row(element, values, { property: list, into: corners }, i);
        for (const v of corners) {
          if (Number.isInteger(v) && v >= 0 && v < vertices) continue;
          throw new GephyraError(
            'ply.index',
            `${name}: face ${i + 1} names vertex ${v}, but there are ${vertices} (${source.place()}). Export the model again.`,
            { face: i + 1 },
          );
        }
        if (corners.length < 3) continue;
        const before = triangles.length;
        if (!budget.takes(corners.length)) throw tooManyFaces(name, i, source.place());
        triangulateFace(corners, coordinate, triangles);
        if (!rgb || !paint) continue;
        const own = palette.add(
          '',
          hexColour(colourByte(values, rgb, 0), colourByte(values, rgb, 1), colourByte(values, rgb, 2)),
        );
        for (let k = before; k < triangles.length; k += 3) paint.push(own);
      }
    } else if (element.properties.length > 0) {
      // rows without properties take up nothing, however many they are said to be
      source.expect(element, element.name);
      for (let i = 0; i < element.count; i++) source.row(element, values, null, i);
    }
  }
  if (triangles.length === 0) {
    throw new GephyraError('ply.empty', `${name} has no faces, so there is no model in it. Export it as a surface.`);
  }
  return {
    format: header.coding === 'ascii' ? 'ply-ascii' : 'ply-binary',
    palette: palette.list(),
    notes: [],
    parts: [
      {
        name: '',
        positions: wideFloats ? positions : Float32Array.from(positions),
        triangles: triangles.done(),
        ...(vertexColours && { vertexColours }),
        ...(paint && { paint: paint.done() }),
      },
    ],
  };
}

interface ColourColumns {
  readonly at: readonly number[];
  readonly scale: number;
}

function colourColumns(element: Element): ColourColumns | null {
  for (const prefix of ['', 'diffuse_']) {
    const at = ['red', 'green', 'blue'].map((c) => element.properties.findIndex((p) => p.name === prefix + c));
    if (at.includes(-1)) continue;
    const { kind } = element.properties[at[0]];
    return { at, scale: kind[0] === 'f' ? 255 : kind === 'u2' ? 255 / 65535 : 1 };
  }
  return null;
}

const colourByte = (values: readonly number[], { at, scale }: ColourColumns, a: number): number =>
  Math.min(255, Math.max(0, Math.round(values[at[a]] * scale) || 0));

const headerError = (name: string, line: number, what: string): GephyraError =>
  new GephyraError('ply.header', `${name}, line ${line}: ${what}. Export the model again.`, { line });

const REMARKS = ['comment ', 'obj_info '];

const beginsWith = (bytes: Uint8Array, at: number, words: readonly string[]): boolean =>
  words.some((w) => [...w].every((c, i) => bytes[at + i] === c.charCodeAt(0)));

function readHeader(bytes: Uint8Array, name: string): Header {
  let at = 0;
  let line = 0;
  let coding: Header['coding'] | null = null;
  const elements: Element[] = [];
  for (;;) {
    let end = at;
    // what a program says of itself may be long: it is passed over, and never kept
    const most = beginsWith(bytes, at, REMARKS) ? bytes.length : Math.min(bytes.length, at + LONGEST_LINE);
    while (end < most && bytes[end] !== 10 && bytes[end] !== 13) end++;
    if (end >= most || line > 1000) throw headerError(name, line + 1, 'the header has no end');
    const words = new TextDecoder('latin1').decode(bytes.subarray(at, end)).trim().split(/\s+/);
    at = bytes[end] === 13 && bytes[end + 1] === 10 ? end + 2 : end + 1;
    line++;
    if (line === 1) {
      if (words[0] !== 'ply') throw headerError(name, 1, 'this is no PLY model');
    } else if (words[0] === 'format') {
      if (words[1] === 'ascii') coding = 'ascii';
      else if (words[1] === 'binary_little_endian') coding = 'little';
      else if (words[1] === 'binary_big_endian') coding = 'big';
      else throw headerError(name, line, `the coding “${words[1] ?? ''}” is unknown`);
    } else if (words[0] === 'element') {
      const count = Number(words[2]);
      if (!Number.isSafeInteger(count) || count < 0) throw headerError(name, line, 'a count is no number');
      elements.push({ name: words[1] ?? '', count, properties: [] });
    } else if (words[0] === 'property') {
      const element = elements.at(-1);
      const list = words[1] === 'list';
      const type = TYPES[words[list ? 3 : 1] ?? ''];
      const count = list ? TYPES[words[2] ?? ''] : null;
      if (!element || !type || count === undefined) throw headerError(name, line, 'this property is not understood');
      element.properties.push({ name: words[list ? 4 : 2] ?? '', kind: type.kind, bytes: type.bytes, count });
    } else if (words[0] === 'end_header') break;
    // comments, and lines that only the program that wrote them knows, are passed over
  }
  if (!coding) throw headerError(name, line, 'it does not say how it is coded');
  return { coding, elements, end: at, line };
}

/** Rows of an element, one after another. */
interface Source {
  /** Refuses a count that the rest of the file cannot hold, before anything is set aside for it. */
  expect(element: Element, what: string): void;
  /** Reads a row: single values into `values` by column, the wanted list into `into`. */
  row(element: Element, values: number[], list: { property: number; into: number[] } | null, index: number): void;
  place(): string;
}

class BinarySource implements Source {
  private readonly view: DataView;
  constructor(
    bytes: Uint8Array,
    private at: number,
    private readonly little: boolean,
    private readonly name: string,
  ) {
    this.view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  }

  expect(element: Element, what: string): void {
    const least = element.properties.reduce((n, p) => n + (p.count ? p.count.bytes : p.bytes), 0);
    if (element.count * least > this.view.byteLength - this.at) {
      throw new GephyraError(
        'ply.truncated',
        `${this.name} speaks of ${element.count} ${what}, but breaks off at byte ${this.view.byteLength}. Get the file again.`,
        { byte: this.view.byteLength },
      );
    }
  }

  row(element: Element, values: number[], list: { property: number; into: number[] } | null, index: number): void {
    for (let k = 0; k < element.properties.length; k++) {
      const p = element.properties[k];
      if (!p.count) {
        values[k] = this.read(p.kind, p.bytes, element, index);
        continue;
      }
      const n = this.read(p.count.kind, p.count.bytes, element, index);
      if (n < 0 || n > MOST_CORNERS) throw tooManyCorners(this.name, element, index, n, this.place());
      if (this.at + n * p.bytes > this.view.byteLength) this.ends(element, index);
      const wanted = list?.property === k;
      if (wanted) list.into.length = 0;
      for (let i = 0; i < n; i++) {
        if (wanted) list.into.push(this.read(p.kind, p.bytes, element, index));
        else this.at += p.bytes;
      }
    }
  }

  place(): string {
    return `byte ${this.at}`;
  }

  private ends(element: Element, index: number): never {
    throw new GephyraError(
      'ply.truncated',
      `${this.name} breaks off at byte ${this.view.byteLength}, in ${element.name} ${index + 1} of ${element.count}. Get the file again.`,
      { byte: this.view.byteLength },
    );
  }

  private read(kind: Kind, bytes: number, element: Element, index: number): number {
    const { view, at, little } = this;
    if (at + bytes > view.byteLength) this.ends(element, index);
    this.at += bytes;
    switch (kind) {
      case 'i1':
        return view.getInt8(at);
      case 'u1':
        return view.getUint8(at);
      case 'i2':
        return view.getInt16(at, little);
      case 'u2':
        return view.getUint16(at, little);
      case 'i4':
        return view.getInt32(at, little);
      case 'u4':
        return view.getUint32(at, little);
      case 'f4':
        return view.getFloat32(at, little);
      case 'f8':
        return view.getFloat64(at, little);
    }
  }
}

class TextSource implements Source {
  private readonly words: Words;
  private readonly size: number;
  constructor(
    bytes: Uint8Array,
    header: Header,
    private readonly name: string,
  ) {
    this.words = new Words(bytes, header.end);
    this.words.line = header.line + 1;
    this.size = bytes.length;
  }

  expect(element: Element, what: string): void {
    if (element.count * Math.max(1, element.properties.length) * 2 <= this.size - this.words.to + 2) return;
    throw new GephyraError(
      'ply.truncated',
      `${this.name} speaks of ${element.count} ${what}, but is too short for them. Get the file again.`,
      { line: this.words.line },
    );
  }

  row(element: Element, values: number[], list: { property: number; into: number[] } | null, index: number): void {
    for (let k = 0; k < element.properties.length; k++) {
      const p = element.properties[k];
      if (!p.count) {
        values[k] = this.read(element, index);
        continue;
      }
      const n = this.read(element, index);
      if (!(n >= 0 && n <= MOST_CORNERS)) throw tooManyCorners(this.name, element, index, n, this.place());
      const wanted = list?.property === k;
      if (wanted) list.into.length = 0;
      for (let i = 0; i < n; i++) {
        const x = this.read(element, index);
        if (wanted) list.into.push(x);
      }
    }
  }

  place(): string {
    return `line ${this.words.line}`;
  }

  private read(element: Element, index: number): number {
    const { words } = this;
    const x = words.number();
    if (words.to === words.from) {
      throw new GephyraError(
        'ply.truncated',
        `${this.name} breaks off in line ${words.line}, in ${element.name} ${index + 1} of ${element.count}. Get the file again.`,
        { line: words.line },
      );
    }
    if (Number.isNaN(x) && !/^[+-]?(nan|inf)/i.test(words.shown())) {
      throw new GephyraError('ply.number', `${this.name}, line ${words.line}: “${words.shown()}” is no number.`, {
        line: words.line,
      });
    }
    return x;
  }
}

const tooManyCorners = (name: string, element: Element, index: number, n: number, place: string): GephyraError =>
  new GephyraError(
    'ply.index',
    `${name}: ${element.name} ${index + 1} has a list of ${n} entries (${place}); at most ${MOST_CORNERS} are taken. Export the model again.`,
    { face: index + 1 },
  );

const tooManyFaces = (name: string, index: number, place: string): GephyraError =>
  new GephyraError(
    'ply.index',
    `${name}: from face ${index + 1} on (${place}) its polygons have more corners than can be made triangles of. Export it as triangles.`,
    { face: index + 1 },
  );

/** A model as a binary (little-endian) or ASCII PLY file, all parts in one; colours of vertices or triangles kept. */
export function writePly(model: RawModel, coding: 'ascii' | 'binary' = 'binary'): Uint8Array {
  const palette = model.palette.length > 1 ? model.palette : NO_PAINT;
  const painted = palette.length > 1;
  const coloured = model.parts.some((p) => p.vertexColours);
  const wide = model.parts.some((p) => p.positions.some((x) => Math.fround(x) !== x));
  const vertices = model.parts.reduce((n, p) => n + p.positions.length / 3, 0);
  const faces = model.parts.reduce((n, p) => n + (p.triangles ?? p.positions).length / (p.triangles ? 3 : 9), 0);
  const rgb = 'property uchar red\nproperty uchar green\nproperty uchar blue\n';
  const header =
    `ply\nformat ${coding === 'ascii' ? 'ascii' : 'binary_little_endian'} 1.0\ncomment millimetres\n` +
    `element vertex ${vertices}\n${['x', 'y', 'z'].map((a) => `property ${wide ? 'double' : 'float'} ${a}\n`).join('')}` +
    `${coloured ? rgb : ''}element face ${faces}\nproperty list uchar uint vertex_indices\n${painted ? rgb : ''}end_header\n`;
  const head = new TextEncoder().encode(header);
  const faceColour = (part: RawModel['parts'][number], i: number): [number, number, number] =>
    rgbOf(palette[part.paint?.[i] ?? 0].colour || '#c0c0c0');
  if (coding === 'ascii') {
    const chunks = [header];
    for (const { positions: p, vertexColours: c } of model.parts) {
      for (let k = 0; k < p.length; k += 3) {
        const tail = coloured ? ` ${c ? `${c[k]} ${c[k + 1]} ${c[k + 2]}` : '192 192 192'}` : '';
        chunks.push(`${decimal(p[k])} ${decimal(p[k + 1])} ${decimal(p[k + 2])}${tail}\n`);
      }
    }
    let shift = 0;
    for (const part of model.parts) {
      const count = part.triangles?.length ?? part.positions.length / 3;
      for (let k = 0; k < count; k += 3) {
        const v = (i: number): number => (part.triangles ? part.triangles[k + i] : k + i) + shift;
        chunks.push(`3 ${v(0)} ${v(1)} ${v(2)}${painted ? ` ${faceColour(part, k / 3).join(' ')}` : ''}\n`);
      }
      shift += part.positions.length / 3;
    }
    return encodeText(chunks);
  }
  const row = (wide ? 24 : 12) + (coloured ? 3 : 0);
  const record = 13 + (painted ? 3 : 0);
  const out = new Uint8Array(head.length + vertices * row + faces * record);
  const view = new DataView(out.buffer);
  out.set(head);
  let at = head.length;
  for (const { positions: p, vertexColours: c } of model.parts) {
    for (let k = 0; k < p.length; k += 3) {
      for (let a = 0; a < 3; a++, at += wide ? 8 : 4) {
        if (wide) view.setFloat64(at, p[k + a], true);
        else view.setFloat32(at, p[k + a], true);
      }
      if (coloured) for (let a = 0; a < 3; a++) out[at++] = c ? c[k + a] : 192;
    }
  }
  let shift = 0;
  for (const part of model.parts) {
    const count = part.triangles?.length ?? part.positions.length / 3;
    for (let k = 0; k < count; k += 3) {
      out[at++] = 3;
      for (let i = 0; i < 3; i++, at += 4)
        view.setUint32(at, (part.triangles ? part.triangles[k + i] : k + i) + shift, true);
      if (painted) for (const x of faceColour(part, k / 3)) out[at++] = x;
    }
    shift += part.positions.length / 3;
  }
  return out;
}

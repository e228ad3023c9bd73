import { GephyraError } from '../errors.ts';
import { vecOf } from '../mesh/index.ts';
import { hexColour, Palette } from './palette.ts';
import { FaceBudget, MOST_CORNERS, triangulateFace } from './polygon-face.ts';
import type { RawModel, RawPart, ReadOptions } from './raw.ts';
import { decimal, type Growing, growingBytes, growingFloats, growingInts, parseNumber, shownText } from './text.ts';

/** Objects and groups with faces that a file may have. */
const MOST_PARTS = 20_000;

interface OpenPart {
  readonly name: string;
  readonly triangles: Growing<Uint32Array>;
  readonly paint: Growing<Uint32Array>;
}

/**
 * Reads a Wavefront OBJ file: v (with colours behind the coordinates where there are), f with polygons and negative
 * indices, o and g (each a part), usemtl and mtllib. `sideFile` gives material libraries by name; without it materials
 * keep their name only. Curves, lines, points, normals and texture coordinates are passed over.
 *
 * Throws GephyraError with the line in its details: `obj.number`, `obj.index`, `obj.corners`; `obj.parts` for more groups
 * than are taken; `obj.empty` when there is no face.
 */
export function readObj(
  bytes: Uint8Array,
  options: ReadOptions = {},
  sideFile: (name: string) => Uint8Array | undefined = () => undefined,
): RawModel {
  const name = options.name ?? 'The file';
  const palette = new Palette();
  const materials = new Map<string, string>();
  const positions = growingFloats();
  const colours = growingBytes();
  const parts = new Map<string, OpenPart>();
  const notes: string[] = [];
  let object = '';
  let group = '';
  let part: OpenPart | null = null;
  let paint = 0;
  let line = 0;
  let anyColour = false;
  const missing = new Set<string>();
  const libraries = new Set<string>();
  const corner: number[] = [];
  const budget = new FaceBudget();
  const fail = (code: string, what: string): never => {
    throw new GephyraError(code, `${name}, line ${line}: ${what} Export the model again.`, { line });
  };
  const openPart = (): OpenPart => {
    const key = `${object}\u0000${group}`;
    let known = parts.get(key);
    if (!known) {
      if (parts.size >= MOST_PARTS) fail('obj.parts', `it has more than ${MOST_PARTS} objects and groups with faces.`);
      known = { name: [object, group].filter(Boolean).join(' '), triangles: growingInts(), paint: growingInts() };
      parts.set(key, known);
    }
    return known;
  };
  const lines = new Lines(bytes);
  while (lines.next()) {
    line = lines.line;
    const { keyword, words } = lines;
    const count = words.length / 2;
    if (keyword === 'v') {
      for (let k = 0; k < 3; k++) {
        const x = k < count ? parseNumber(lines.bytes, words[k * 2], words[k * 2 + 1]) : Number.NaN;
        if (!Number.isFinite(x)) fail('obj.number', 'a vertex needs three usable numbers.');
        positions.push(x);
      }
      const coloured = count >= 6;
      anyColour ||= coloured;
      const rgb = vecOf((k) => {
        const w = (count === 7 ? k + 4 : k + 3) * 2;
        return coloured ? parseNumber(lines.bytes, words[w], words[w + 1]) : 1;
      });
      const scale = rgb.some((c) => c > 1) ? 1 : 255;
      for (const c of rgb) colours.push(Math.round(Math.min(255, Math.max(0, c * scale || 0))));
    } else if (keyword === 'f') {
      const vertices = positions.length / 3;
      corner.length = 0;
      if (lines.cut) fail('obj.corners', `a face has more than ${MOST_CORNERS} corners.`);
      for (let k = 0; k < words.length; k += 2) {
        const [from, to] = [words[k], words[k + 1]];
        let end = from;
        while (end < to && lines.bytes[end] !== 47) end++;
        const i = parseNumber(lines.bytes, from, end);
        if (!Number.isInteger(i) || i === 0) fail('obj.index', 'a face names its vertices by whole numbers from 1 on.');
        const v = i > 0 ? i - 1 : vertices + i;
        if (v < 0 || v >= vertices)
          fail('obj.index', `a face names vertex ${i}, but only ${vertices} stand before it.`);
        corner.push(v);
      }
      if (corner.length < 3) {
        if (corner.length > 0) continue;
        fail('obj.index', 'a face has no vertices.');
      }
      if (!budget.takes(corner.length))
        fail('obj.corners', 'its polygons have more corners than can be made triangles of.');
      part ??= openPart();
      const before = part.triangles.length;
      triangulateFace(corner, (v, a) => positions.at(v * 3 + a), part.triangles);
      for (let k = before; k < part.triangles.length; k += 3) part.paint.push(paint);
    } else if (keyword === 'o' || keyword === 'g') {
      const text = lines.rest();
      if (keyword === 'o') {
        object = text;
        group = '';
      } else group = text === 'default' ? '' : text;
      part = null;
    } else if (keyword === 'usemtl') {
      const text = lines.rest();
      paint = text === '' ? 0 : palette.add(text, materials.get(text) ?? '');
    } else if (keyword === 'mtllib') {
      const file = lines.rest();
      if (libraries.has(file)) continue;
      libraries.add(file);
      const library = sideFile(file);
      if (library) for (const [m, colour] of readMaterials(library)) materials.set(m, colour);
      else missing.add(file);
    }
  }
  const found = [...parts.values()].filter((p) => p.triangles.length > 0);
  if (found.length === 0) {
    throw new GephyraError('obj.empty', `${name} has no faces, so there is no model in it. Export it as a surface.`);
  }
  if (missing.size > 0 && palette.list().length > 1) {
    notes.push(`Colours were not brought along: ${[...missing].slice(0, 3).join(', ')}. Bring both files in together.`);
  }
  const all = positions.done();
  const rgb = anyColour ? colours.done() : null;
  const number = new Int32Array(all.length / 3).fill(-1);
  return {
    format: 'obj',
    palette: palette.list(),
    notes,
    parts: found.map((p) => ownVertices(p, all, rgb, number)),
  };
}

/**
 * A part with only the vertices it uses, in the order of the file. `number` holds −1 for every vertex of the file, and does so
 * again afterwards: a file may have very many parts.
 */
function ownVertices(part: OpenPart, all: Float64Array, rgb: Uint8Array | null, number: Int32Array): RawPart {
  const triangles = part.triangles.done();
  const used: number[] = [];
  for (const v of triangles) {
    if (number[v] < 0) used.push(v);
    number[v] = 0;
  }
  const order = Uint32Array.from(used).sort();
  const positions = new Float64Array(order.length * 3);
  const vertexColours = rgb ? new Uint8Array(order.length * 3) : undefined;
  for (let i = 0; i < order.length; i++) {
    const v = order[i];
    number[v] = i;
    for (let a = 0; a < 3; a++) {
      positions[i * 3 + a] = all[v * 3 + a];
      if (vertexColours && rgb) vertexColours[i * 3 + a] = rgb[v * 3 + a];
    }
  }
  for (let i = 0; i < triangles.length; i++) triangles[i] = number[triangles[i]];
  for (const v of order) number[v] = -1;
  const paint = part.paint.done();
  return {
    name: part.name,
    positions,
    triangles,
    ...(paint.some((x) => x > 0) && { paint }),
    ...(vertexColours && { vertexColours }),
  };
}

/** Names and diffuse colours of a material library. */
function readMaterials(bytes: Uint8Array): Map<string, string> {
  const out = new Map<string, string>();
  let current = '';
  for (const text of new TextDecoder().decode(bytes).split(/\r?\n/)) {
    const [, keyword, rest] = /^\s*(\S+)\s+(.*?)\s*$/.exec(text) ?? [];
    if (keyword === 'newmtl') current = rest;
    else if (keyword === 'Kd') {
      const [r, g, b] = rest.split(/\s+/).map(Number);
      if ([r, g, b].every(Number.isFinite)) out.set(current, hexColour(r * 255, g * 255, b * 255));
    }
  }
  return out;
}

/** The statements of an OBJ file: continued lines joined, comments left out. */
class Lines {
  line = 0;
  keyword = '';
  /** of vertices and faces: where each word behind the keyword starts and ends, two numbers each */
  readonly words: number[] = [];
  /** a statement had more words than a face can have corners; the rest was left out */
  cut = false;
  readonly bytes: Uint8Array;
  private at = 0;
  private first = 0;
  private last = 0;

  constructor(bytes: Uint8Array) {
    this.bytes = bytes;
  }

  next(): boolean {
    const { bytes } = this;
    if (this.at >= bytes.length) return false;
    this.line++;
    this.words.length = 0;
    this.cut = false;
    this.keyword = '';
    let i = this.at;
    let started = false;
    for (;;) {
      while (i < bytes.length && bytes[i] !== 10 && bytes[i] !== 13 && bytes[i] <= 32) i++;
      if (i >= bytes.length || bytes[i] === 35) {
        while (i < bytes.length && bytes[i] !== 10) i++;
        break;
      }
      if (bytes[i] === 13) {
        i++;
        if (bytes[i] !== 10) break;
        continue;
      }
      if (bytes[i] === 10) break;
      if (bytes[i] === 92 && (bytes[i + 1] === 10 || (bytes[i + 1] === 13 && bytes[i + 2] === 10))) {
        i += bytes[i + 1] === 10 ? 2 : 3;
        this.line++;
        continue;
      }
      const from = i;
      while (i < bytes.length && bytes[i] > 32) i++;
      if (started) {
        if (this.words.length >= 2 * MOST_CORNERS) this.cut = true;
        else if (this.keyword === 'v' || this.keyword === 'f') this.words.push(from, i);
      } else {
        started = true;
        this.keyword = i - from > 12 ? '' : String.fromCharCode(...bytes.subarray(from, i));
        this.first = i;
      }
      this.last = i;
    }
    this.at = i + 1;
    return true;
  }

  /** Everything behind the keyword, as text. */
  rest(): string {
    return shownText(this.bytes, this.first, this.last);
  }
}

/** A model as a Wavefront OBJ file and its material library (empty without colours). Positions in millimetres. */
export function writeObj(model: RawModel, stem: string): { obj: Uint8Array; mtl: string } {
  const { palette } = model;
  const chunks = ['# millimetres\n'];
  const named = palette.length > 1;
  if (named) chunks.push(`mtllib ${stem}.mtl\n`);
  let shift = 1;
  let paintNow = 0;
  for (const { name, positions: p, triangles, paint, vertexColours: rgb } of model.parts) {
    const title = name.replace(/\s+/g, ' ').trim();
    if (title !== '' || model.parts.length > 1) chunks.push(`o ${title}\n`);
    for (let k = 0; k < p.length; k += 3) {
      const colour = rgb ? ` ${decimal(rgb[k] / 255)} ${decimal(rgb[k + 1] / 255)} ${decimal(rgb[k + 2] / 255)}` : '';
      chunks.push(`v ${decimal(p[k])} ${decimal(p[k + 1])} ${decimal(p[k + 2])}${colour}\n`);
    }
    const count = triangles ? triangles.length : p.length / 3;
    for (let k = 0; k < count; k += 3) {
      const own = paint?.[k / 3] ?? 0;
      if (own !== paintNow) {
        chunks.push(own === 0 ? 'usemtl\n' : `usemtl ${materialName(palette[own].name, own)}\n`);
        paintNow = own;
      }
      const v = (i: number): number => (triangles ? triangles[k + i] : k + i) + shift;
      chunks.push(`f ${v(0)} ${v(1)} ${v(2)}\n`);
    }
    shift += p.length / 3;
  }
  const mtl = named
    ? palette
        .slice(1)
        .map(({ name, colour }, i) => {
          const kd = colour ? `Kd ${rgbText(colour)}\n` : '';
          return `newmtl ${materialName(name, i + 1)}\n${kd}`;
        })
        .join('\n')
    : '';
  return { obj: encodeText(chunks), mtl };
}

const materialName = (name: string, index: number): string => name.replace(/\s+/g, ' ').trim() || `colour_${index}`;

const rgbText = (colour: string): string => {
  const n = Number.parseInt(colour.slice(1, 7), 16);
  return [(n >> 16) & 255, (n >> 8) & 255, n & 255].map((x) => decimal(x / 255)).join(' ');
};

/** Encodes many small strings without ever holding them as one (a string has a length limit). */
export function encodeText(chunks: readonly string[]): Uint8Array {
  const encoder = new TextEncoder();
  const pieces: Uint8Array[] = [];
  for (let i = 0; i < chunks.length; i += 20_000) pieces.push(encoder.encode(chunks.slice(i, i + 20_000).join('')));
  const out = new Uint8Array(pieces.reduce((n, x) => n + x.length, 0));
  let at = 0;
  for (const x of pieces) {
    out.set(x, at);
    at += x.length;
  }
  return out;
}

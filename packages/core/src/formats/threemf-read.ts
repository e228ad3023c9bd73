import { SaxesParser } from 'saxes';
import { GephyraError } from '../errors.ts';
import { Palette } from './palette.ts';
import type { RawModel, RawPart, ReadOptions, Unit } from './raw.ts';
import { type Growing, growingFloats, growingInts } from './text.ts';
import { unzipFiles, unzipStream, zipNames } from './zip.ts';

const UNIT_NAMES: Record<string, Unit> = {
  micron: 'micron',
  millimeter: 'mm',
  centimeter: 'cm',
  inch: 'in',
  foot: 'ft',
  meter: 'm',
};

/** Four rows of three numbers, as the specification writes them: a row vector times this. */
type Transform = readonly number[];
const IDENTITY: Transform = [1, 0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0];

interface Component {
  readonly path: string;
  readonly object: string;
  readonly transform: Transform;
}

interface ObjectResource {
  readonly name: string;
  readonly support: boolean;
  readonly components: Component[];
  readonly vertices: Growing<Float64Array>;
  readonly triangles: Growing<Uint32Array>;
  readonly paint: Growing<Uint32Array>;
}

interface ModelPart {
  unit: Unit;
  readonly objects: Map<string, ObjectResource>;
  readonly items: Component[];
}

const MOST_INSTANCES = 20_000;
const MOST_TRIANGLES = 40_000_000;
const MOST_VERTICES = 20_000_000;
const DEEPEST = 32;

/**
 * Reads a 3MF package (3MF Core Specification 1.3; colour groups of its Materials extension, and objects in other parts of
 * the package as the Production extension has them). Every mesh that the build places becomes a part, in its place.
 *
 * Throws GephyraError: `threemf.package`, `threemf.missing`, `threemf.xml` (details: line), `threemf.object`,
 * `threemf.cycle`, `threemf.index` (line), `threemf.number` (line), `threemf.tooMuch`, `threemf.empty`, and those of the
 * archive (`zip.…`).
 */
export function readThreeMf(bytes: Uint8Array, options: ReadOptions = {}): RawModel {
  const name = options.name ?? 'The file';
  const names = zipNames(bytes, name);
  const byPath = new Map(names.map((n) => [normal(n), n]));
  const start = startPart(bytes, name, byPath);
  const palette = new Palette();
  const models = new Map<string, ModelPart>();
  const wanted = new Set([start]);
  // a part may name further ones; each round reads those that are new
  while ([...wanted].some((p) => !models.has(p))) {
    const round = [...wanted].filter((p) => !models.has(p));
    const readers = new Map<string, PartReader>();
    for (const path of round) {
      const file = byPath.get(path);
      if (!file) throw new GephyraError('threemf.missing', `${name} lacks its part “${path}”. Export the model again.`);
      readers.set(file, new PartReader(name, path, palette));
    }
    unzipStream(
      bytes,
      name,
      (file) => readers.has(file),
      (file, data, last) => readers.get(file)?.push(data, last),
    );
    for (const reader of readers.values()) {
      if (!reader.ended)
        throw new GephyraError('zip.damaged', `${name} is damaged: its part “${reader.path}” breaks off.`);
      models.set(reader.path, reader.model);
      for (const o of reader.model.objects.values()) for (const c of o.components) wanted.add(c.path);
      for (const i of reader.model.items) wanted.add(i.path);
    }
    if (wanted.size > 1000) throw tooMuch(name, 'is spread over more than 1000 parts');
  }
  const { parts, supports } = assemble(name, models.get(start)!, models);
  if (parts.length === 0) {
    throw new GephyraError(
      'threemf.empty',
      `${name} builds nothing: it holds no mesh that is placed. Export the model again.`,
    );
  }
  const notes = supports > 0 ? [`${supports} support objects of the file were left out.`] : [];
  return { format: '3mf', parts, palette: palette.list(), notes };
}

const normal = (path: string): string => path.replace(/\\/g, '/').replace(/^\/+/, '').toLowerCase();

/** The path of the part with the build, as the package's relationships name it. */
function startPart(bytes: Uint8Array, name: string, byPath: ReadonlyMap<string, string>): string {
  const file = byPath.get('_rels/.rels');
  const relations = file && unzipFiles(bytes, name, (n) => n === file).get(file);
  if (!relations) {
    throw new GephyraError('threemf.package', `${name} is an archive, but no 3MF package: it has no relationships.`);
  }
  let target: string | null = null;
  const parser = new SaxesParser();
  parser.on('error', () => {
    throw new GephyraError('threemf.package', `${name}: its relationships cannot be read. Export the model again.`);
  });
  parser.on('doctype', () => {
    throw new GephyraError('threemf.xml', `${name} declares entities, which a 3MF package must not.`);
  });
  parser.on('opentag', ({ name: tag, attributes }) => {
    if (local(tag) === 'Relationship' && /\/3dmodel$/.test(attributes.Type ?? '')) target ??= attributes.Target ?? null;
  });
  parser.write(new TextDecoder().decode(relations)).close();
  if (target === null)
    throw new GephyraError('threemf.package', `${name} names no model part. Export the model again.`);
  return normal(target);
}

const local = (tag: string): string => tag.slice(tag.indexOf(':') + 1);

/** Reads one model part as it is unpacked. */
class PartReader {
  readonly model: ModelPart = { unit: 'mm', objects: new Map(), items: [] };
  ended = false;
  private readonly parser = new SaxesParser();
  private readonly decoder = new TextDecoder();
  private object: ObjectResource | null = null;
  private defaultPaint = 0;
  private readonly groups = new Map<string, number[]>();
  private group: number[] | null = null;

  constructor(
    private readonly name: string,
    readonly path: string,
    private readonly palette: Palette,
  ) {
    const { parser } = this;
    parser.on('error', (error) =>
      this.fail('threemf.xml', `the XML is broken (${error.message.replace(/^\d+:\d+: /, '')})`),
    );
    parser.on('doctype', () => this.fail('threemf.xml', 'it declares entities, which a 3MF package must not'));
    parser.on('opentag', (tag) => this.open(local(tag.name), tag.attributes));
    parser.on('closetag', (tag) => {
      const closed = local(tag.name);
      if (closed === 'object') this.object = null;
      else if (closed === 'basematerials' || closed === 'colorgroup') this.group = null;
    });
  }

  push(data: Uint8Array, last: boolean): void {
    this.parser.write(this.decoder.decode(data, { stream: !last }));
    if (!last) return;
    this.parser.close();
    this.ended = true;
  }

  private fail(code: string, what: string): never {
    const { line } = this.parser;
    throw new GephyraError(code, `${this.name}, part ${this.path}, line ${line}: ${what}. Export the model again.`, {
      line,
    });
  }

  private number(text: string | undefined): number {
    const x = text === undefined || text.trim() === '' ? Number.NaN : Number(text);
    if (!Number.isFinite(x)) this.fail('threemf.number', `“${(text ?? '').slice(0, 24)}” is no usable number`);
    return x;
  }

  private open(tag: string, at: Record<string, string>): void {
    if (tag === 'vertex') {
      const { object } = this;
      if (!object) return;
      object.vertices.push(this.number(at.x));
      object.vertices.push(this.number(at.y));
      object.vertices.push(this.number(at.z));
    } else if (tag === 'triangle') this.triangle(at);
    else if (tag === 'model') {
      const unit = UNIT_NAMES[at.unit ?? 'millimeter'];
      if (!unit) this.fail('threemf.xml', `the unit “${(at.unit ?? '').slice(0, 24)}” is unknown`);
      this.model.unit = unit;
    } else if (tag === 'basematerials' || tag === 'colorgroup') {
      this.group = [];
      this.groups.set(at.id ?? '', this.group);
    } else if (tag === 'base') this.group?.push(this.palette.add(at.name ?? '', colourOf(at.displaycolor)));
    else if (tag === 'color') this.group?.push(this.palette.add('', colourOf(at.color)));
    else if (tag === 'object') {
      this.object = {
        name: at.name ?? '',
        support: at.type === 'support' || at.type === 'solidsupport',
        components: [],
        vertices: growingFloats(),
        triangles: growingInts(),
        paint: growingInts(),
      };
      this.defaultPaint = this.paint(at.pid, at.pindex);
      this.model.objects.set(at.id ?? '', this.object);
    } else if (tag === 'component') this.object?.components.push(this.reference(at));
    else if (tag === 'item') this.model.items.push(this.reference(at));
  }

  private triangle(at: Record<string, string>): void {
    const { object } = this;
    if (!object) return;
    const count = object.vertices.length / 3;
    for (const key of ['v1', 'v2', 'v3']) {
      const v = this.number(at[key]);
      if (!Number.isInteger(v) || v < 0 || v >= count) {
        this.fail('threemf.index', `a triangle names vertex ${at[key]}, but its object has ${count}`);
      }
      object.triangles.push(v);
    }
    object.paint.push(at.p1 === undefined ? this.defaultPaint : this.paint(at.pid, at.p1) || this.defaultPaint);
  }

  private paint(group: string | undefined, index: string | undefined): number {
    return this.groups.get(group ?? '')?.[Number(index ?? 0)] ?? 0;
  }

  private reference(at: Record<string, string>): Component {
    let transform = IDENTITY;
    if (at.transform !== undefined) {
      transform = at.transform
        .trim()
        .split(/\s+/)
        .map((x) => this.number(x));
      if (transform.length !== 12) this.fail('threemf.number', 'a transform needs twelve numbers');
    }
    const path = Object.entries(at).find(([key]) => local(key) === 'path')?.[1];
    return { path: path ? normal(path) : this.path, object: at.objectid ?? '', transform };
  }
}

/** #rrggbb of #RRGGBB or #RRGGBBAA; empty for anything else. */
const colourOf = (text: string | undefined): string =>
  /^#[0-9a-f]{6}([0-9a-f]{2})?$/i.test(text ?? '') ? (text ?? '').slice(0, 7).toLowerCase() : '';

/** What placing an object once comes to, its components included. */
interface Made {
  /** its own surface, without vertices that no triangle uses; null: it has none */
  readonly surface: Surface | null;
  /** its components that lead to a surface */
  readonly components: readonly Component[];
  readonly parts: number;
  readonly triangles: number;
  readonly vertices: number;
  readonly supports: number;
  /** levels of components below it */
  readonly depth: number;
}

/**
 * Walks the build: every mesh in every place becomes a part. A few levels of components can name more places than there are
 * grains of sand, so what each object comes to is summed up first, once an object, and only then anything is made.
 */
function assemble(
  name: string,
  start: ModelPart,
  models: ReadonlyMap<string, ModelPart>,
): { parts: RawPart[]; supports: number } {
  const known = new Map<ObjectResource, Made | null>();
  const objectOf = (c: Component): ObjectResource => {
    const object = models.get(c.path)?.objects.get(c.object);
    if (object) return object;
    throw new GephyraError(
      'threemf.object',
      `${name} places object ${c.object}, which it does not hold. Export the model again.`,
    );
  };
  const sum = (c: Component, level: number): Made => {
    const object = objectOf(c);
    const before = known.get(object);
    if (before === null) {
      throw new GephyraError('threemf.cycle', `${name}: object ${c.object} contains itself. Export the model again.`);
    }
    if (level + (before?.depth ?? 0) > DEEPEST) throw tooMuch(name, `nests its objects more than ${DEEPEST} deep`);
    if (before) return before;
    known.set(object, null);
    const surface = object.support ? null : surfaceOf(object);
    const inner = object.support ? [] : object.components.map((x) => ({ component: x, made: sum(x, level + 1) }));
    const total = (key: 'parts' | 'triangles' | 'vertices' | 'supports', own: number): number =>
      inner.reduce((n, i) => n + i.made[key], own);
    const made: Made = {
      surface,
      components: inner.filter((i) => i.made.parts > 0).map((i) => i.component),
      parts: total('parts', surface ? 1 : 0),
      triangles: total('triangles', surface ? surface.triangles.length / 3 : 0),
      vertices: total('vertices', surface ? surface.positions.length / 3 : 0),
      supports: total('supports', object.support ? 1 : 0),
      depth: inner.reduce((n, i) => Math.max(n, i.made.depth + 1), 0),
    };
    known.set(object, made);
    return made;
  };
  const all = start.items.map((item) => sum(item, 0));
  const total = (key: 'parts' | 'triangles' | 'vertices' | 'supports'): number => all.reduce((n, m) => n + m[key], 0);
  if (total('parts') > MOST_INSTANCES) throw tooMuch(name, `places more than ${MOST_INSTANCES} objects`);
  if (total('triangles') > MOST_TRIANGLES) throw tooMuch(name, `places more than ${MOST_TRIANGLES} triangles`);
  if (total('vertices') > MOST_VERTICES) throw tooMuch(name, `places more than ${MOST_VERTICES} vertices`);
  const parts: RawPart[] = [];
  const place = (c: Component, outer: Transform, title: string): void => {
    const object = objectOf(c);
    const { surface, components } = known.get(object)!;
    const transform = times(c.transform, outer);
    const own = object.name || title;
    if (surface) parts.push(partOf(surface, transform, own, start.unit));
    for (const inner of components) place(inner, transform, own);
  };
  start.items.forEach((item, i) => {
    if (all[i].parts > 0) place(item, IDENTITY, '');
  });
  return { parts, supports: total('supports') };
}

const tooMuch = (name: string, what: string): GephyraError =>
  new GephyraError('threemf.tooMuch', `${name} ${what}, which is more than a model needs. It is not read.`);

/** A mesh of the file, used where it is placed. */
interface Surface {
  readonly positions: Float64Array;
  readonly triangles: Uint32Array;
  readonly paint: Uint32Array;
}

/** The surface of an object with only the vertices that its triangles use; null when it has none. */
function surfaceOf({ vertices, triangles: list, paint }: ObjectResource): Surface | null {
  if (list.length === 0) return null;
  const triangles = list.done();
  const used = new Uint8Array(vertices.length / 3);
  for (const v of triangles) used[v] = 1;
  const number = new Uint32Array(used.length);
  let n = 0;
  for (let v = 0; v < used.length; v++) if (used[v]) number[v] = n++;
  const positions = new Float64Array(n * 3);
  for (let v = 0; v < used.length; v++) {
    if (used[v]) for (let a = 0; a < 3; a++) positions[number[v] * 3 + a] = vertices.at(v * 3 + a);
  }
  for (let i = 0; i < triangles.length; i++) triangles[i] = number[triangles[i]];
  return { positions, triangles, paint: paint.done() };
}

function partOf(surface: Surface, m: Transform, name: string, unit: Unit): RawPart {
  const positions = surface.positions.slice();
  const triangles = surface.triangles.slice();
  if (m !== IDENTITY && m.some((x, i) => x !== IDENTITY[i])) {
    for (let k = 0; k < positions.length; k += 3) {
      const [x, y, z] = [positions[k], positions[k + 1], positions[k + 2]];
      for (let a = 0; a < 3; a++) positions[k + a] = x * m[a] + y * m[3 + a] + z * m[6 + a] + m[9 + a];
    }
    const turn =
      m[0] * (m[4] * m[8] - m[5] * m[7]) - m[1] * (m[3] * m[8] - m[5] * m[6]) + m[2] * (m[3] * m[7] - m[4] * m[6]);
    if (turn < 0) {
      for (let i = 0; i < triangles.length; i += 3) {
        const b = triangles[i + 1];
        triangles[i + 1] = triangles[i + 2];
        triangles[i + 2] = b;
      }
    }
  }
  const { paint } = surface;
  return { name, positions, triangles, unit, ...(paint.some((x) => x > 0) && { paint: paint.slice() }) };
}

/** First a, then b. */
function times(a: Transform, b: Transform): Transform {
  if (b === IDENTITY) return a;
  const out: number[] = [];
  for (let row = 0; row < 4; row++) {
    for (let col = 0; col < 3; col++) {
      let sum = row === 3 ? b[9 + col] : 0;
      for (let k = 0; k < 3; k++) sum += a[row * 3 + k] * b[k * 3 + col];
      out.push(sum);
    }
  }
  return out;
}

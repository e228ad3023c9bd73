import type { Crossed } from '../crossing/index.ts';
import { GephyraError } from '../errors.ts';
import { inMillimetres, type Paint, type RawModel, type RawPart, type Unit } from '../formats/index.ts';
import {
  boxOf,
  buildBlocks,
  compact,
  concatenate,
  type IndexedMesh,
  insideSolid,
  shells,
  sizeOf,
  splitBy,
  type Topology,
  topology,
  turnedOver,
  volume,
  weldExact,
} from '../mesh/index.ts';
import { FARTHEST } from '../units.ts';
import { pairEdges } from './pair.ts';
import { partPaint } from './part-paint.ts';

/** One connected solid of a source model; hollow spaces inside it belong to it. */
export interface Body {
  /** b1, b2 … in the order of the file */
  readonly id: string;
  readonly name: string;
  /** which named surface of the file it comes from, from 0 on; shells are only ever welded within one */
  readonly part: number;
  /** tags: an entry of the import's palette for each triangle */
  readonly mesh: IndexedMesh;
  readonly topology: Topology;
  /** mm³; of an open body only a guess */
  readonly volume: number;
  /** more than 0: so many loose shells, kept together because they are too many to be bodies */
  readonly loose: number;
  /** closed by its edges, and yet the solid kernel does not take it, for this reason */
  readonly refused?: string;
  /** where it passes through itself; without it that was not looked at */
  readonly crossed?: Crossed;
}

/** Whether a body is a solid that can be cut. */
export const isClosed = (body: Pick<Body, 'topology' | 'loose' | 'refused'>): boolean =>
  body.topology.watertight && body.loose === 0 && body.refused === undefined;

/** A model after import: its bodies and what was noticed on the way. */
export interface Import {
  readonly bodies: readonly Body[];
  readonly palette: readonly Paint[];
  /** the unit the file names; null: it names none */
  readonly unit: Unit | null;
  readonly notes: readonly string[];
  /** triangles in the file */
  readonly triangles: number;
  /** triangles without area that were dropped */
  readonly degenerate: number;
  /** shells that were inside out */
  readonly flipped: number;
}

/** A part that falls into more shells than this is kept as one body: it is a scatter, and not as many solids. */
const MOST_SHELLS = 2000;

/**
 * Welds a raw model exactly, drops triangles whose corners coincide, takes solids apart that touch only along edges, and
 * sorts its shells into bodies. Closed shells that are inside out and lie in no other are turned right side out. Lengths
 * become millimetres where the file names its unit.
 *
 * Throws GephyraError `model.far` for a vertex farther than a kilometre from the origin (details: part, vertex), `model.empty`
 * when nothing with a surface is left, `model.small` when all of it is smaller than a millionth of a millimetre.
 */
export function bodiesOf(source: RawModel, fallbackName: string): Import {
  const raw = inMillimetres(source);
  const { palette, paints } = partPaint(raw);
  const notes = [...raw.notes];
  const bodies: Body[] = [];
  let triangles = 0;
  let degenerate = 0;
  let flipped = 0;
  raw.parts.forEach((part, p) => {
    checkReach(part, raw.parts.length, fallbackName);
    const { mesh: whole, count } = weldedPart(part, paints[p]);
    triangles += count;
    degenerate += count - whole.tags.length;
    const { mesh, edgesSplit } = pairEdges(whole);
    if (edgesSplit > 0) notes.push(`${edgesSplit} edges at which solids only touch were taken apart.`);
    const sorted = bodiesOfMesh(mesh);
    flipped += sorted.flipped;
    for (const body of sorted.bodies) {
      bodies.push({ id: `b${bodies.length + 1}`, name: part.name || fallbackName, part: p, ...body });
    }
    const loose = sorted.bodies.find((b) => b.loose > 0)?.loose;
    if (loose)
      notes.push(`${part.name || 'The model'} falls into ${loose} loose shells. They are kept together; weld them.`);
  });
  if (bodies.length === 0) {
    throw new GephyraError('model.empty', 'The model has no surface: all its triangles are without area.');
  }
  checkSize(bodies, fallbackName);
  if (degenerate > 0) notes.push(`${degenerate} triangles without any area were dropped.`);
  if (flipped > 0) {
    notes.push(
      flipped === 1
        ? 'A shell that was inside out was turned right side out.'
        : `${flipped} shells that were inside out were turned right side out.`,
    );
  }
  return {
    bodies: numbered(bodies),
    palette,
    unit: source.parts.find((p) => p.unit)?.unit ?? null,
    notes,
    triangles,
    degenerate,
    flipped,
  };
}

/** What is smaller has lost its shape to rounding before it was read, mm. */
const LEAST = 1e-6;

function checkSize(bodies: readonly Body[], fallbackName: string): void {
  const size = Math.max(...bodies.map((b) => Math.max(...sizeOf(boxOf(b.mesh.positions)))));
  if (size >= LEAST) return;
  throw new GephyraError(
    'model.small',
    `${fallbackName} is only ${Number(size.toPrecision(2))} mm large, too small to be told from rounding. Export it in another unit.`,
    { size },
  );
}

function checkReach(part: RawPart, parts: number, fallbackName: string): void {
  const { positions: p } = part;
  for (let k = 0; k < p.length; k++) {
    if (Math.abs(p[k]) <= FARTHEST) continue;
    const vertex = Math.floor(k / 3) + 1;
    const where = parts > 1 ? `, in “${part.name || 'a part without a name'}”` : '';
    throw new GephyraError(
      'model.far',
      `${fallbackName}${where}: vertex ${vertex} lies ${Number.isFinite(p[k]) ? `${Number(Math.abs(p[k]).toPrecision(3))} mm` : 'infinitely far'} ` +
        'from the origin; models may reach 1 000 000 mm (a kilometre). Move it to the origin, or export it in another unit.',
      { part: part.name, vertex },
    );
  }
}

function weldedPart(part: RawPart, paint: Uint32Array): { mesh: IndexedMesh; count: number } {
  const weld = weldExact(part.positions);
  const corners = part.triangles ? part.triangles.map((v) => weld.corners[v]) : weld.corners;
  const count = Math.floor(corners.length / 3);
  const identity = new Uint32Array(weld.positions.length / 3);
  for (let v = 0; v < identity.length; v++) identity[v] = v;
  const triangles = corners.length === count * 3 ? corners : corners.slice(0, count * 3);
  return { mesh: compact({ positions: weld.positions, triangles, tags: paint }, identity), count };
}

/** Bodies that share a name get a number behind it. */
export function numbered(bodies: readonly Body[]): Body[] {
  const totals = new Map<string, number>();
  for (const b of bodies) totals.set(b.name, (totals.get(b.name) ?? 0) + 1);
  const seen = new Map<string, number>();
  return bodies.map((b) => {
    if (totals.get(b.name) === 1) return b;
    seen.set(b.name, (seen.get(b.name) ?? 0) + 1);
    return { ...b, name: `${b.name} ${seen.get(b.name)}` };
  });
}

/** What is measured of a body when it is made. */
export type BodyShape = Pick<Body, 'mesh' | 'topology' | 'volume' | 'loose'>;

export const shapeOf = (mesh: IndexedMesh, loose = 0): BodyShape => ({
  mesh,
  topology: topology(mesh),
  volume: volume(mesh),
  loose,
});

/**
 * Sorts the shells of a mesh into bodies: a closed shell that is inside out and lies in another is a hollow of the smallest
 * one around it; one that lies in none is turned right side out.
 */
export function bodiesOfMesh(mesh: IndexedMesh): { bodies: BodyShape[]; flipped: number } {
  const found = shells(mesh);
  if (found.count > MOST_SHELLS) return { bodies: [shapeOf(mesh, found.count)], flipped: 0 };
  const parts = found.count === 1 ? [mesh] : splitBy(mesh, found.ofTriangle, found.count);
  const measured = parts.map((m) => shapeOf(m));
  const inverted = measured.filter((m) => m.topology.watertight && m.volume < 0);
  const outer = measured
    .filter((m) => !inverted.includes(m))
    .map((shape) => ({ shape, hollows: [] as IndexedMesh[], index: null as ReturnType<typeof buildBlocks> | null }));
  const closed = outer.filter((o) => o.shape.topology.watertight).sort((a, b) => a.shape.volume - b.shape.volume);
  const turned: BodyShape[] = [];
  for (const { mesh: hollow, volume: size } of inverted) {
    const p = hollow.positions;
    const home = closed.find((o) => {
      if (o.shape.volume <= -size || !holds(o.shape.mesh, hollow)) return false;
      o.index ??= buildBlocks(o.shape.mesh);
      return insideSolid(o.index, [p[0], p[1], p[2]]);
    });
    if (home) home.hollows.push(hollow);
    else turned.push(shapeOf(turnedOver(hollow)));
  }
  const bodies = outer.map((o) =>
    o.hollows.length > 0 ? shapeOf(concatenate([o.shape.mesh, ...o.hollows])) : o.shape,
  );
  return { bodies: [...bodies, ...turned], flipped: turned.length };
}

function holds(mesh: IndexedMesh, inner: IndexedMesh): boolean {
  const a = boxOf(mesh.positions);
  const b = boxOf(inner.positions);
  return [0, 1, 2].every((k) => a.min[k] <= b.min[k] && a.max[k] >= b.max[k]);
}

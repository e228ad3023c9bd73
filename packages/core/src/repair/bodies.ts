import { GephyraError } from '../errors.ts';
import type { RawModel } from '../formats/index.ts';
import {
  bounds,
  buildBlocks,
  compact,
  type IndexedMesh,
  insideSolid,
  shells,
  type Topology,
  topology,
  volume,
  weldExact,
} from '../mesh/index.ts';
import { pairEdges } from './pair.ts';

/** One connected solid of a source model; hollow spaces inside it belong to it. */
export interface Body {
  /** b1, b2 … in the order of the file */
  readonly id: string;
  readonly name: string;
  readonly mesh: IndexedMesh;
  readonly topology: Topology;
  /** mm³; of an open body only a guess */
  readonly volume: number;
}

/** A model after import: its bodies and what was noticed on the way. */
export interface Import {
  readonly bodies: readonly Body[];
  readonly notes: readonly string[];
  /** triangles in the file */
  readonly triangles: number;
}

/** More bodies than this are refused: such a file is a scatter of loose triangles, and not a model. */
const MOST_BODIES = 2000;

/**
 * Welds a raw model exactly, drops triangles whose corners coincide, takes solids apart that touch only along edges, and
 * sorts its shells into bodies. Closed shells that are inside out and lie in no other are turned right side out.
 *
 * Throws GephyraError `model.empty` when nothing with a surface is left, `model.scatter` when it falls into too many
 * shells.
 */
export function bodiesOf(raw: RawModel, fallbackName: string): Import {
  const notes = [...raw.notes];
  const bodies: Body[] = [];
  let triangles = 0;
  for (const part of raw.parts) {
    const weld = weldExact(part.soup);
    const count = part.soup.length / 9;
    triangles += count;
    const identity = new Uint32Array(weld.positions.length / 3);
    for (let v = 0; v < identity.length; v++) identity[v] = v;
    const whole = compact(
      { positions: weld.positions, triangles: weld.corners, tags: new Uint32Array(count) },
      identity,
    );
    const dropped = count - whole.tags.length;
    if (dropped > 0) notes.push(`${dropped} triangles without any area were dropped.`);
    const { mesh, edgesSplit } = pairEdges(whole);
    if (edgesSplit > 0) notes.push(`${edgesSplit} edges at which solids only touch were taken apart.`);
    for (const body of sortShells(mesh, notes)) {
      const n = bodies.length + 1;
      bodies.push({ id: `b${n}`, name: part.name || fallbackName, ...body });
    }
  }
  if (bodies.length === 0) {
    throw new GephyraError('model.empty', 'The model has no surface: all its triangles are without area.');
  }
  if (bodies.length > 1) {
    bodies.forEach((b, i) => {
      bodies[i] = { ...b, name: `${b.name} ${i + 1}` };
    });
  }
  return { bodies, notes, triangles };
}

function sortShells(mesh: IndexedMesh, notes: string[]): Omit<Body, 'id' | 'name'>[] {
  const found = shells(mesh);
  if (found.count > MOST_BODIES) {
    throw new GephyraError(
      'model.scatter',
      `The model falls into ${found.count} loose shells; at most ${MOST_BODIES} can be taken. Weld it in the program it comes from.`,
    );
  }
  const parts = found.count === 1 ? [mesh] : splitShells(mesh, found.ofTriangle, found.count);
  const measured = parts.map((m) => ({ mesh: m, topology: topology(m), volume: volume(m) }));
  const inverted = measured.filter((m) => m.topology.watertight && m.volume < 0);
  const others = measured.filter((m) => !inverted.includes(m));
  for (const cavity of inverted) {
    const p = cavity.mesh.positions;
    const box = bounds(p);
    const home = others
      .filter((o) => o.topology.watertight && holds(o.mesh, box))
      .sort((a, b) => a.volume - b.volume)
      .find((o) => insideSolid(buildBlocks(o.mesh), [p[0], p[1], p[2]]));
    if (home) {
      home.mesh = merge(home.mesh, cavity.mesh);
      home.topology = topology(home.mesh);
      home.volume += cavity.volume;
    } else {
      notes.push('A shell that was inside out was turned right side out.');
      const t = cavity.mesh.triangles.slice();
      for (let i = 0; i < t.length; i += 3) [t[i + 1], t[i + 2]] = [t[i + 2], t[i + 1]];
      others.push({ mesh: { ...cavity.mesh, triangles: t }, topology: cavity.topology, volume: -cavity.volume });
    }
  }
  return others;
}

function holds(mesh: IndexedMesh, inner: { min: readonly number[]; max: readonly number[] }): boolean {
  const box = bounds(mesh.positions);
  return [0, 1, 2].every((a) => box.min[a] <= inner.min[a] && box.max[a] >= inner.max[a]);
}

function splitShells(mesh: IndexedMesh, shellOf: Uint32Array, count: number): IndexedMesh[] {
  const sizes = new Uint32Array(count);
  for (const s of shellOf) sizes[s]++;
  const triangles = Array.from(sizes, (n) => new Uint32Array(n * 3));
  const tags = Array.from(sizes, (n) => new Uint32Array(n));
  const fill = new Uint32Array(count);
  for (let i = 0; i < shellOf.length; i++) {
    const s = shellOf[i];
    triangles[s].set(mesh.triangles.subarray(i * 3, i * 3 + 3), fill[s] * 3);
    tags[s][fill[s]++] = mesh.tags[i];
  }
  // vertices are numbered shell by shell, each in order of first use
  const number = new Int32Array(mesh.positions.length / 3).fill(-1);
  return triangles.map((t, s) => {
    const order: number[] = [];
    for (let i = 0; i < t.length; i++) {
      const v = t[i];
      if (number[v] < 0) {
        number[v] = order.length;
        order.push(v);
      }
      t[i] = number[v];
    }
    const positions = new Float64Array(order.length * 3);
    for (let i = 0; i < order.length; i++) {
      positions.set(mesh.positions.subarray(order[i] * 3, order[i] * 3 + 3), i * 3);
    }
    return { positions, triangles: t, tags: tags[s] };
  });
}

function merge(a: IndexedMesh, b: IndexedMesh): IndexedMesh {
  const positions = new Float64Array(a.positions.length + b.positions.length);
  positions.set(a.positions);
  positions.set(b.positions, a.positions.length);
  const triangles = new Uint32Array(a.triangles.length + b.triangles.length);
  triangles.set(a.triangles);
  triangles.set(
    b.triangles.map((v) => v + a.positions.length / 3),
    a.triangles.length,
  );
  const tags = new Uint32Array(triangles.length / 3);
  tags.set(a.tags);
  tags.set(b.tags, a.tags.length);
  return { positions, triangles, tags };
}

import { boxOf, halfEdges, type IndexedMesh, shells, sizeOf, splitBy, topology, weldWithin } from '../mesh/index.ts';
import { dropDuplicates, dropFlat, without } from './clean.ts';
import { type Closed, closeHoles } from './close.ts';
import { resolveCrowded } from './crowded.ts';
import { cornerFans, splitFans } from './fans.ts';
import { orientConsistently } from './orient.ts';
import { splitAtJunctions } from './tjunctions.ts';

/** What mending everything did. */
export interface Mended {
  readonly mesh: IndexedMesh;
  readonly notes: readonly string[];
}

const ROUNDS = 4;

/** How far mending may move a point of a model with this diagonal when nothing is said, mm. */
export const usualTolerance = (size: number): number => Math.min(0.05, size * 2e-4);

/**
 * Mends a surface in the order that works: duplicates go, open edges within the tolerance are welded and joined where one
 * ends on another, triangles agree about what is outside, edges of more than two triangles are resolved, dust goes, holes
 * are closed. Repeated while something is left and something still changes.
 */
export function mendSurface(source: IndexedMesh, tolerance: number, openings: boolean): Mended {
  const notes: string[] = [];
  const size = Math.hypot(...sizeOf(boxOf(source.positions)));
  let mesh = source;
  let holes: Closed = { mesh, closed: 0, openings: 0, failed: 0 };
  let closed = 0;
  for (let round = 0; round < ROUNDS; round++) {
    const before = mesh;
    mesh = dropDuplicates(mesh).mesh;
    mesh = sewn(mesh, tolerance);
    mesh = dropFlat(mesh, Math.min(tolerance * 0.01, size * 1e-7)).mesh;
    mesh = dropDuplicates(mesh).mesh;
    mesh = orientConsistently(mesh).mesh;
    mesh = resolveCrowded(mesh).mesh;
    const orientation = orientConsistently(mesh);
    mesh = orientation.mesh;
    mesh = splitFans(mesh, cornerFans(mesh, halfEdges(mesh))).mesh;
    mesh = dropScraps(mesh, size);
    holes = closeHoles(mesh, { patch: 'auto', openings, most: Infinity });
    mesh = holes.mesh;
    closed += holes.closed;
    const t = topology(mesh);
    if (t.watertight || mesh === before) break;
    if (holes.openings > 0 && holes.failed === 0 && t.nonManifoldEdges + t.inconsistentEdges === 0) break;
  }
  // rims with points in line leave flat triangles in their patches
  const smooth = dropFlat(mesh, size * 2e-9).mesh;
  if (topology(smooth).watertight) mesh = smooth;
  if (closed > 0) notes.push(closed === 1 ? 'One hole was closed.' : `${closed} holes were closed.`);
  if (holes.openings > 0) {
    notes.push(
      `${holes.openings === 1 ? 'One opening was' : `${holes.openings} openings were`} left, as they are plainly meant. Give the surface a wall, or close them too.`,
    );
  }
  if (orientConsistently(mesh).oneSided > 0)
    notes.push('The surface is one-sided: it has no inside that could be filled.');
  return { mesh, notes };
}

/** Welds what is open: first exactly within the tolerance, then where one open edge ends on another. */
function sewn(source: IndexedMesh, tolerance: number): IndexedMesh {
  let mesh = source;
  for (let k = 0; k < 2; k++) {
    const marks = openVertices(mesh);
    if (!marks) return mesh;
    mesh = weldWithin(mesh, tolerance, marks);
    const { mesh: split, split: count } = splitAtJunctions(mesh, tolerance);
    if (count === 0) return mesh;
    const again = openVertices(split);
    mesh = again ? weldWithin(split, tolerance, again) : split;
  }
  return mesh;
}

/** Marks the vertices on open edges; null: there are none. */
function openVertices(mesh: IndexedMesh): Uint8Array | null {
  const { twin, openCount } = halfEdges(mesh);
  if (openCount === 0) return null;
  const marks = new Uint8Array(mesh.positions.length / 3);
  for (let h = 0; h < twin.length; h++) {
    if (twin[h] !== -1) continue;
    marks[mesh.triangles[h]] = 1;
    marks[mesh.triangles[h % 3 === 2 ? h - 2 : h + 1]] = 1;
  }
  return marks;
}

/** Shells smaller than this share of the size that are open, or have fewer than four triangles, are scraps of broken faces. */
const SCRAP = 0.01;

function dropScraps(mesh: IndexedMesh, size: number): IndexedMesh {
  const found = shells(mesh);
  if (found.count === 1) return mesh;
  const parts = splitBy(mesh, found.ofTriangle, found.count);
  const areas = parts.map((p) => p.tags.length);
  const most = Math.max(...areas);
  const scrap = parts.map((p) => {
    if (p.tags.length === most) return false;
    const small = Math.hypot(...sizeOf(boxOf(p.positions))) < size * SCRAP;
    return (small && halfEdges(p).openCount > 0) || p.tags.length < 4;
  });
  if (!scrap.includes(true)) return mesh;
  const drop = new Uint8Array(mesh.tags.length);
  for (let i = 0; i < drop.length; i++) drop[i] = scrap[found.ofTriangle[i]] ? 1 : 0;
  return without(mesh, drop);
}

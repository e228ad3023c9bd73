import { GephyraError } from '../errors.ts';
import {
  area,
  boxOf,
  fineTree,
  type IndexedMesh,
  nearest,
  noPlace,
  sizeOf,
  subset,
  type Vec3,
  vecOf,
} from '../mesh/index.ts';
import { noSidedPlace, riseAcross, sided, signedDistance } from './signed.ts';
import { withoutSpecks } from './specks.ts';
import { type Field, fieldSurface } from './surface.ts';
import { type Thickness, tilted } from './thickness.ts';
import { padded, usualCell } from './wall.ts';

export interface Hollowed {
  /** the space that is taken out, facing outside; it reaches out through faces that stay open */
  readonly cavity: IndexedMesh;
  readonly cell: number;
}

/**
 * The space inside a closed body that is farther from its skin than the wall is thick there. Triangles in `open` do not count as skin:
 * there the space reaches through.
 *
 *   +----------+        +----------+
 *   |          |   ->   | +------+ |     thickness all round, but none at the open face below
 *   |          |        | |      | |
 *   +----------+        +-+      +-+
 *
 * Throws GephyraError `skin.solid` when nothing is left to take out, `skin.tooFine`.
 */
export function hollowSpace(
  mesh: IndexedMesh,
  thickness: Thickness,
  open: readonly number[],
  wantedCell?: number,
  progress: (share: number) => void = () => {},
): Hollowed {
  const surface = sided(mesh);
  const { least, most } = thickness;
  const cell = wantedCell ?? usualCell(least, area(mesh));
  const isOpen = new Uint8Array(mesh.tags.length);
  for (const i of open) isOpen[i] = 1;
  const kept: number[] = [];
  for (let i = 0; i < isOpen.length; i++) if (!isOpen[i]) kept.push(i);
  if (kept.length === 0) throw new GephyraError('skin.solid', 'Some of the skin must stay closed.');
  const rest = open.length > 0 ? fineTree(subset(mesh, kept)) : null;
  const through = cell * 3;
  const place = noSidedPlace();
  const other = noPlace();
  /** The field at a point; notes whether the place that tells is one of the skin's (`place`) or of the rest's (`other`), or the open end. */
  let by: 'skin' | 'rest' | 'end' = 'skin';
  const look = (x: number, y: number, z: number, reach: number): number => {
    by = 'skin';
    const far = most + reach + (rest ? through : 0);
    signedDistance(surface, x, y, z, far, place);
    // deep inside or far outside: which of the two is told by a wider look
    if (place.triangle < 0) signedDistance(surface, x, y, z, Infinity, place);
    if (isOpen[place.triangle] !== 1) return thickness.at(place.x, place.y, place.z) + place.distance;
    let d = Math.abs(place.distance);
    let here = most;
    if (rest) {
      nearest(rest, x, y, z, far * far, other, other.triangle);
      d = other.triangle < 0 ? far : Math.sqrt(other.squared);
      if (other.triangle >= 0) here = thickness.at(other.x, other.y, other.z);
    }
    const end = place.distance - through;
    by = place.distance >= 0 && end > here - d ? 'end' : rest ? 'rest' : 'skin';
    return by === 'end' ? end : here - d;
  };
  const field: Field = {
    value: look,
    steep: 1 + thickness.steep,
    // halfway between two sides it jumps from the thickness of one to that of the other
    tears: rest !== null || thickness.growth !== null,
    jumps: () => false,
    rise(x, y, z, out) {
      look(x, y, z, most);
      if (by !== 'rest') {
        riseAcross(surface, place, x, y, z, 1, out);
        if (by === 'skin') tilted(thickness, place.x, place.y, place.z, 1, out);
        return;
      }
      const d = Math.sqrt(other.squared) || 1;
      out[0] = (other.x - x) / d;
      out[1] = (other.y - y) / d;
      out[2] = (other.z - z) / d;
      tilted(thickness, other.x, other.y, other.z, 1, out);
    },
  };
  const cavity = fieldSurface(field, padded(boxOf(mesh.positions), through + cell * 2), cell, progress);
  if (cavity.tags.length === 0) {
    throw new GephyraError(
      'skin.solid',
      `The body is nowhere thicker than two walls of ${least} mm, so nothing can be taken out of it.`,
    );
  }
  return { cavity: withoutSpecks(cavity, cell * 3), cell };
}

/**
 * The triangles of the flat face that a point lies on: those joined to the nearest one that look the same way, within
 * half a degree.
 */
export function flatFaceAt(mesh: IndexedMesh, at: Vec3): number[] {
  const { faceNormals, tree } = sided(mesh);
  const place = noPlace();
  nearest(tree, at[0], at[1], at[2], Infinity, place);
  if (place.triangle < 0) return [];
  const { triangles: t, positions: p } = mesh;
  const n = vecOf((a) => faceNormals[place.triangle * 3 + a]);
  const offset = n[0] * place.x + n[1] * place.y + n[2] * place.z;
  const size = Math.hypot(...sizeOf(boxOf(p)));
  const level = (i: number): boolean => {
    const m = faceNormals.subarray(i * 3, i * 3 + 3);
    if (m[0] * n[0] + m[1] * n[1] + m[2] * n[2] < Math.cos(Math.PI / 360)) return false;
    return [0, 1, 2].every((c) => {
      const v = t[i * 3 + c] * 3;
      return Math.abs(p[v] * n[0] + p[v + 1] * n[1] + p[v + 2] * n[2] - offset) < size * 1e-3;
    });
  };
  const atVertex = new Map<number, number[]>();
  for (let i = 0; i < mesh.tags.length; i++) {
    if (!level(i)) continue;
    for (let c = 0; c < 3; c++) {
      const list = atVertex.get(t[i * 3 + c]);
      if (list) list.push(i);
      else atVertex.set(t[i * 3 + c], [i]);
    }
  }
  const found = new Set([place.triangle]);
  for (const i of found) {
    for (let c = 0; c < 3; c++) for (const j of atVertex.get(t[i * 3 + c]) ?? []) found.add(j);
  }
  return [...found];
}

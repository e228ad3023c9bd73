import type { ShowMark } from '../document/index.ts';
import {
  type Affine,
  area,
  type Box,
  boxOf,
  buildTree,
  type IndexedMesh,
  nearest,
  noPlace,
  subset,
  type Tree,
  treeOf,
  type Vec3,
} from '../mesh/index.ts';
import { floodFrom, middleOf, type PlacedMark, placeMark } from './marks.ts';

/** A mark farther than this from every surface has lost its face, mm. */
const LOST = 5;
/** What is so near to a marked face lies on it, mm: seams cut triangles up, and never move them. */
const ON = 1e-3;

/** What is marked of a body: its triangles, and the faces by themselves. */
export interface ShownBody {
  /** 1 for each triangle of the body that is marked */
  readonly marked: Uint8Array;
  readonly mesh: IndexedMesh;
  readonly tree: Tree;
  readonly box: Box;
  /** mm² */
  readonly area: number;
}

/** What is marked, by body. */
export interface ShowFaces {
  readonly bodies: ReadonlyMap<string, ShownBody>;
  /** how many marks lie on no body any more */
  readonly lost: number;
}

interface MarkedMesh {
  readonly key: string;
  readonly shown: ShownBody | null;
}

const kept = new WeakMap<IndexedMesh, MarkedMesh>();

/** The show faces of bodies, by the marks of a plan; in the order of the marks, so that later ones take away or add. */
export function showFaces(
  marks: readonly ShowMark[],
  map: Affine,
  bodies: readonly { readonly id: string; readonly mesh: IndexedMesh }[],
): ShowFaces {
  const out = new Map<string, ShownBody>();
  if (marks.length === 0) return { bodies: out, lost: 0 };
  const own = new Map<string, { mark: PlacedMark; start: number }[]>();
  let lost = 0;
  for (const mark of marks) {
    const placed = placeMark(mark, map);
    const found = nearestBody(bodies, placed.at);
    if (!found) lost++;
    else own.set(found.id, [...(own.get(found.id) ?? []), { mark: placed, start: found.triangle }]);
  }
  for (const { id, mesh } of bodies) {
    const list = own.get(id);
    const shown = list && shownOf(mesh, list);
    if (shown) out.set(id, shown);
  }
  return { bodies: out, lost };
}

function nearestBody(
  bodies: readonly { readonly id: string; readonly mesh: IndexedMesh }[],
  at: Vec3,
): { id: string; triangle: number } | null {
  const place = noPlace();
  let best: { id: string; triangle: number } | null = null;
  let limit = LOST * LOST;
  for (const { id, mesh } of bodies) {
    if (mesh.tags.length === 0) continue;
    nearest(treeOf(mesh), ...at, limit, place);
    if (place.triangle < 0 || place.squared > limit) continue;
    best = { id, triangle: place.triangle };
    limit = place.squared;
  }
  return best;
}

function shownOf(mesh: IndexedMesh, list: readonly { mark: PlacedMark; start: number }[]): ShownBody | null {
  const key = JSON.stringify(list);
  const known = kept.get(mesh);
  if (known?.key === key) return known.shown;
  const marked = new Uint8Array(mesh.tags.length);
  for (const { mark, start } of list) for (const i of floodFrom(mesh, start, mark)) marked[i] = mark.off ? 0 : 1;
  const found: number[] = [];
  for (let i = 0; i < marked.length; i++) if (marked[i]) found.push(i);
  let shown: ShownBody | null = null;
  if (found.length > 0) {
    const faces = subset(mesh, found);
    shown = { marked, mesh: faces, tree: buildTree(faces), box: boxOf(faces.positions), area: area(faces) };
  }
  kept.set(mesh, { key, shown });
  return shown;
}

/** Whether a place of the surface lies on marked faces. */
export function onShow({ tree, box }: ShownBody, [x, y, z]: Vec3): boolean {
  const at = [x, y, z];
  if (at.some((v, k) => v < box.min[k] - ON || v > box.max[k] + ON)) return false;
  const place = noPlace();
  nearest(tree, x, y, z, ON * ON, place);
  return place.triangle >= 0;
}

/** Which triangles of a piece's skin, cut from the body, are marked: 1 for each. */
export function shownTriangles(shown: ShownBody, piece: Pick<IndexedMesh, 'positions' | 'triangles'>): Uint8Array {
  return Uint8Array.from({ length: piece.triangles.length / 3 }, (_, i) => (onShow(shown, middleOf(piece, i)) ? 1 : 0));
}

/** How much of the rim of a face, given by its triangles, runs over marked faces, mm. */
export function rimOnShow(shown: ShownBody, positions: Float64Array, triangles: Uint32Array): number {
  const once = new Map<string, [number, number]>();
  for (let h = 0; h < triangles.length; h++) {
    const [a, b] = [triangles[h], triangles[h % 3 === 2 ? h - 2 : h + 1]];
    if (!once.delete(`${b} ${a}`)) once.set(`${a} ${b}`, [a, b]);
  }
  let length = 0;
  for (const [a, b] of once.values()) {
    const [p, q] = [positions.subarray(3 * a, 3 * a + 3), positions.subarray(3 * b, 3 * b + 3)];
    if (onShow(shown, [(p[0] + q[0]) / 2, (p[1] + q[1]) / 2, (p[2] + q[2]) / 2])) {
      length += Math.hypot(p[0] - q[0], p[1] - q[1], p[2] - q[2]);
    }
  }
  return length;
}

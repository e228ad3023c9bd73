import type { CapLoops, Cell, Frame, Triangulator } from '../cut/index.ts';
import type { Seam } from '../document/index.ts';
import { add, cross, dot, type IndexedMesh, normalize, scale, sub, type Vec3 } from '../mesh/index.ts';
import { hullOf, type Kernel, unionOf } from '../solid/index.ts';
import { carveCell, LAP_TAG } from './carve-cell.ts';
import { seamOfPlane } from './place.ts';

// The rim of a face bevelled on both pieces makes a groove along the seam:
//
//        cap                        width
//      ───────┐ rim               ─────╲
//             │  skin       to           ╲ depth, along the skin
//             │                           │

/** How the rims of a seam's faces are bevelled, mm. */
export type Edge = NonNullable<Seam['edge']>;

/** How much farther a bevel goes than its face and its skin, as a share of it: so that nothing of the rim stays. */
const BEYOND = 0.25;

/** By the cell and how its rims are bevelled: cells that no seam has changed are the same ones. */
const known = new WeakMap<Cell, Map<string, readonly Cell[]>>();

/**
 * Cells with the rims of their flat faces bevelled where their seam wants it. Rims in which two faces meet stay; so do those of
 * openings inside, unless they are wanted. Throws GephyraError `solid.refused` when the kernel does not take a cell.
 */
export function edgedCells(
  cells: readonly Cell[],
  frames: ReadonlyMap<string, Frame>,
  seams: readonly Seam[],
  kernel: Kernel,
  fallback: Triangulator,
): Cell[] {
  const edges = new Map(seams.flatMap((s) => (s.edge && s.enabled ? [[s.id, s.edge] as const] : [])));
  if (edges.size === 0) return [...cells];
  return cells.flatMap((cell) => {
    const own = cell.caps.flatMap((cap) => {
      const edge = edges.get(seamOfPlane(cap.seam).seam);
      return edge ? [{ cap, edge, frame: frames.get(cap.seam)! }] : [];
    });
    if (own.length === 0) return [cell];
    const asked = JSON.stringify(own.map(({ cap, edge, frame }) => [cap.seam, edge, frame.normal, frame.offset]));
    const made = known.get(cell) ?? new Map<string, readonly Cell[]>();
    known.set(cell, made);
    const found = made.get(asked);
    if (found) return found;
    const bevels = own.flatMap(({ cap, edge, frame }) => bevelsOf(kernel, cell, cap, frame, edge));
    if (bevels.length === 0) return [cell];
    const cutter = { mesh: unionOf(kernel, bevels), facets: [], lost: [] };
    const { inside, outside } = carveCell(cell, frames, cutter, () => LAP_TAG, kernel, fallback);
    const result = inside ? (outside ? [outside] : []) : [cell];
    made.set(asked, result);
    return result;
  });
}

/** A bevel's section at one end of a rim's edge: in the face, on the skin, and outside of both. */
type Section = readonly [Vec3, Vec3, Vec3];

/** What a bevel takes off along the rims of a cap: a prism for each edge, and what lies between two at their corner. */
function bevelsOf(kernel: Kernel, cell: Cell, cap: CapLoops, frame: Frame, edge: Edge): IndexedMesh[] {
  const { positions: p, triangles: t } = cell;
  const at = (v: number): Vec3 => [p[v * 3], p[v * 3 + 1], p[v * 3 + 2]];
  const out = scale(frame.normal, -cap.side);
  // the skin's triangle on the other side of each edge of the rim, by its third corner
  const wanted = new Set(cap.loops.flatMap((l) => [...l].map((v, i) => `${l[(i + 1) % l.length]} ${v}`)));
  const third = new Map<string, number>();
  for (let i = 0; i < t.length; i++) {
    const [a, b, c] = [t[i], t[i - (i % 3) + ((i + 1) % 3)], t[i - (i % 3) + ((i + 2) % 3)]];
    if (wanted.has(`${a} ${b}`)) third.set(`${a} ${b}`, c);
  }
  return cap.loops.flatMap((loop) => {
    if (!edge.all && turning(loop, at, out) < 0) return [];
    const solids: IndexedMesh[] = [];
    let before: Section | null = null;
    let first: Section | null = null;
    loop.forEach((v, i) => {
      const [from, to] = [at(v), at(loop[(i + 1) % loop.length])];
      const skin = third.get(`${loop[(i + 1) % loop.length]} ${v}`);
      const way = sub(to, from);
      if (skin === undefined || Math.hypot(...way) < 1e-9) {
        before = null;
        return;
      }
      const along = normalize(way);
      const inward = cross(out, along);
      const down = sub(at(skin), from);
      const onSkin = normalize(sub(down, scale(along, dot(down, along))));
      const [start, end] = [from, to].map((x) => sectionAt(x, inward, onSkin, edge));
      solids.push(bulk(kernel, [...start, ...end]));
      if (before) solids.push(bulk(kernel, [...before, ...start]));
      first ??= i === 0 ? start : null;
      before = end;
    });
    if (before && first) solids.push(bulk(kernel, [...(before as Section), ...(first as Section)]));
    return solids.filter((s) => s.tags.length > 0);
  });
}

function sectionAt(rim: Vec3, inward: Vec3, onSkin: Vec3, { width, depth }: Edge): Section {
  const face = add(rim, scale(inward, width));
  const skin = add(rim, scale(onSkin, depth));
  const beyond = scale(sub(face, skin), BEYOND);
  const away = normalize(add(inward, onSkin));
  return [add(face, beyond), sub(skin, beyond), sub(rim, scale(away, Math.max(width, depth)))];
}

/** Twice the signed area of a loop seen against a direction: positive round an outline, negative round a hole. */
function turning(loop: Uint32Array, at: (v: number) => Vec3, out: Vec3): number {
  const origin = at(loop[0]);
  let sum = 0;
  for (let i = 1; i + 1 < loop.length; i++) {
    sum += dot(cross(sub(at(loop[i]), origin), sub(at(loop[i + 1]), origin)), out);
  }
  return sum;
}

function bulk(kernel: Kernel, points: readonly Vec3[]): IndexedMesh {
  const hull = hullOf(kernel, Float64Array.from(points.flat()));
  return { ...hull, tags: new Uint32Array(hull.triangles.length / 3) };
}

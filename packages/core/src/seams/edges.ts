import { type CapLoops, type Cell, closedMesh, type Frame, type Solid, type Triangulator } from '../cut/index.ts';
import type { Seam } from '../document/index.ts';
import { GephyraError } from '../errors.ts';
import {
  add,
  boxOf,
  cross,
  dot,
  type IndexedMesh,
  normalize,
  pointAlong,
  scale,
  sizeOf,
  sub,
  type Vec3,
  volume,
} from '../mesh/index.ts';
import { hullMesh, type Kernel, unionOf } from '../solid/index.ts';
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
const INTO = 0.02;
/** Edges of a rim off one line by less than this are bevelled together, mm, where the skin turns by less than 8°. */
const ROUGH = 0.02;
const SAME_SKIN = Math.cos((8 * Math.PI) / 180);
const MOST_MERGED = 50;

/** By the cell and how its rims are bevelled: cells that no seam has changed are the same ones. */
const known = new WeakMap<Cell, Map<string, Cell | null>>();

/** Cells in their order, and the seams of which a rim could not be bevelled: those cells are as they were. */
export interface Edged {
  readonly cells: readonly Cell[];
  readonly failed: readonly string[];
}

/**
 * Cells with the rims of their flat faces bevelled where their seam wants it. Rims in which two faces meet stay; so do those of
 * openings inside, unless they are wanted.
 */
export function edgedCells(
  cells: readonly Cell[],
  frames: ReadonlyMap<string, Frame>,
  seams: readonly Seam[],
  kernel: Kernel,
  fallback: Triangulator,
): Edged {
  const edges = new Map(seams.flatMap((s) => (s.edge && s.enabled ? [[s.id, s.edge] as const] : [])));
  if (edges.size === 0) return { cells, failed: [] };
  const failed = new Set<string>();
  const carved = cells.map((cell) => {
    const own = cell.caps.flatMap((cap) => {
      const edge = edges.get(seamOfPlane(cap.seam).seam);
      return edge ? [{ cap, edge, frame: frames.get(cap.seam)! }] : [];
    });
    if (own.length === 0) return cell;
    const asked = JSON.stringify(own.map(({ cap, edge, frame }) => [cap.seam, edge, frame.normal, frame.offset]));
    const made = known.get(cell) ?? new Map<string, Cell | null>();
    known.set(cell, made);
    let found = made.get(asked);
    if (found === undefined) {
      found = bevelled(cell, own, frames, kernel, fallback);
      made.set(asked, found);
    }
    if (!found) for (const { cap } of own) failed.add(seamOfPlane(cap.seam).seam);
    return found ?? cell;
  });
  return { cells: carved, failed: [...failed] };
}

/** A cell without the rims of some of its caps; null when the kernel does not take it, or nothing would be left of a cap. */
function bevelled(
  cell: Cell,
  own: readonly { readonly cap: CapLoops; readonly edge: Edge; readonly frame: Frame }[],
  frames: ReadonlyMap<string, Frame>,
  kernel: Kernel,
  fallback: Triangulator,
): Cell | null {
  try {
    const bevels = own.flatMap(({ cap, edge, frame }) => bevelsOf(kernel, cell, cap, frame, edge));
    if (bevels.length === 0) return cell;
    const cutter = { mesh: unionOf(kernel, bevels), facets: [] };
    const { inside, outside } = carveCell(cell, frames, cutter, () => LAP_TAG, kernel, fallback);
    if (!inside) return cell;
    const left = (cap: CapLoops): boolean => outside!.caps.some((c) => c.seam === cap.seam && c.side === cap.side);
    return outside && own.every(({ cap }) => left(cap)) ? outside : null;
  } catch (error) {
    if (!(error instanceof GephyraError) || error.code !== 'solid.refused') throw error;
    return null;
  }
}

/**
 * Whether a solid is a crumb that bevels have left where the skin is rough: thinner, for its length, than half of a groove's
 * section.
 */
export function isCrumb(solid: Solid, seams: readonly Seam[]): boolean {
  const section = Math.max(0, ...seams.map(({ edge }) => (edge ? edge.width * edge.depth : 0)));
  const mesh = closedMesh(solid, () => 0);
  return volume(mesh) < (section / 2) * Math.hypot(...sizeOf(boxOf(mesh.positions)));
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
    const sides = [...loop].map((v, i): Side | null => {
      const next = loop[(i + 1) % loop.length];
      const [from, to] = [at(v), at(next)];
      const skin = third.get(`${next} ${v}`);
      const way = sub(to, from);
      if (skin === undefined || Math.hypot(...way) < 1e-9) return null;
      const along = normalize(way);
      const down = sub(at(skin), from);
      return { from, to, onSkin: normalize(sub(down, scale(along, dot(down, along)))) };
    });
    const ends = merged(sides).map((side) => {
      if (!side) return null;
      const along = normalize(sub(side.to, side.from));
      const inward = cross(out, along);
      // a little into its neighbours: solids that only touch would keep a film between them
      const places = [pointAlong(side.from, along, -INTO), pointAlong(side.to, along, INTO)];
      return places.map((x) => sectionAt(x, inward, side.onSkin, edge));
    });
    return ends.flatMap((own, i) => {
      if (!own) return [];
      const before = ends[(i + ends.length - 1) % ends.length];
      const solids = [hullMesh(kernel, own.flat())];
      if (before && before !== own) solids.push(hullMesh(kernel, [...before[1], ...own[0]]));
      return solids.filter((s) => s.tags.length > 0);
    });
  });
}

/** An edge of a rim, and the way down the skin from it. */
interface Side {
  readonly from: Vec3;
  readonly to: Vec3;
  readonly onSkin: Vec3;
}

/** Edges that go on in one line, over skin that looks one way, as one; null where a rim is none of the skin's. */
function merged(sides: readonly (Side | null)[]): (Side | null)[] {
  const out: (Side | null)[] = [];
  for (let i = 0; i < sides.length; ) {
    const first = sides[i];
    let end = i + 1;
    if (first) {
      const fits = (last: Side | null | undefined): boolean =>
        last != null &&
        dot(last.onSkin, first.onSkin) > SAME_SKIN &&
        sides.slice(i + 1, end + 1).every((s) => offLine(s!.from, first.from, last.to) < ROUGH);
      while (end < sides.length && end - i < MOST_MERGED && fits(sides[end])) end++;
    }
    const last = sides[end - 1];
    out.push(
      first && last ? { from: first.from, to: last.to, onSkin: normalize(add(first.onSkin, last.onSkin)) } : null,
    );
    i = end;
  }
  return out;
}

function offLine(p: Vec3, from: Vec3, to: Vec3): number {
  const way = sub(to, from);
  const long = Math.hypot(...way);
  return long < 1e-9 ? Infinity : Math.hypot(...cross(sub(p, from), way)) / long;
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

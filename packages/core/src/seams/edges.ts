import { passingWithin } from '../crossing/index.ts';
import {
  type CapLoops,
  type Cell,
  closeCell,
  closedMesh,
  type Frame,
  type Solid,
  type Triangulator,
} from '../cut/index.ts';
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
import { onShow, type ShownBody } from '../show/index.ts';
import { hullMesh, type Kernel, unionOf } from '../solid/index.ts';
import { radians } from '../units.ts';
import { carveCell, LAP_TAG } from './carve-cell.ts';
import { glueChannels } from './glue-channels.ts';
import { seamOfPlane } from './kinds/index.ts';

// The rim of a face bevelled on both pieces makes a groove along the seam:
//
//        cap                        width
//      ───────┐ rim               ─────╲
//             │  skin       to           ╲ depth, along the skin
//             │                           │

/** How the rims of a seam's faces are bevelled, mm. */
type Edge = Pick<NonNullable<Seam['edge']>, 'width' | 'depth'>;

/** What is carved out of the flat faces of a seam; `seen`: but for rims over these faces. */
type Trim = Pick<Seam, 'edge' | 'channel' | 'relief'> & { readonly seen: ShownBody | null };

/** Whether anything is carved out of the flat faces of a seam. */
export const isTrimmed = ({ enabled, edge, channel, relief }: Seam): boolean =>
  enabled && (edge !== undefined || channel !== undefined || relief !== undefined);

/** How much farther a bevel goes than its face and its skin, as a share of it: so that nothing of the rim stays. */
const BEYOND = 0.25;
const INTO = 0.02;
/** Edges of a rim off one line by less than this are bevelled together, mm, where the skin turns by less than 8°. */
const ROUGH = 0.02;
const SAME_SKIN = Math.cos(radians(8));
const MOST_MERGED = 50;
/** Faces that meet in a flatter edge than this (sine) get no relief. */
const SHALLOW = 0.1;

/** By the cell and how its rims are bevelled: cells that no seam has changed are the same ones. */
const known = new WeakMap<Cell, Map<string, Cell | null>>();

/** Marked faces by numbers of their own: as long as nothing about them changes they are the same. */
const numbers = new WeakMap<ShownBody, number>();
let latest = 0;
function numberOf(shown: ShownBody): number {
  const own = numbers.get(shown) ?? ++latest;
  numbers.set(shown, own);
  return own;
}

/** Cells in their order, and the seams of which a rim could not be bevelled: those cells are as they were. */
export interface Edged {
  readonly cells: readonly Cell[];
  readonly failed: readonly string[];
}

/**
 * Cells with the rims of their flat faces bevelled, and channels for glue in them, where their seam wants it. Rims in which two faces
 * meet stay unless they are to be relieved; so do those of openings inside, unless they are wanted, and those over faces of the body
 * that are to be seen (`shown`), where that is wanted. `breath` is called after each cell that was carved anew; it may throw.
 */
export function edgedCells(
  cells: readonly Cell[],
  frames: ReadonlyMap<string, Frame>,
  seams: readonly Seam[],
  shown: ShownBody | null,
  kernel: Kernel,
  fallback: Triangulator,
  breath?: () => void,
): Edged {
  const trims = new Map(seams.filter(isTrimmed).map((s) => [s.id, s] as const));
  if (trims.size === 0) return { cells, failed: [] };
  const failed = new Set<string>();
  const carved = cells.map((cell) => {
    const own = cell.caps.flatMap((cap) => {
      const seam = trims.get(seamOfPlane(cap.seam).seam);
      if (!seam) return [];
      const { edge, channel, relief } = seam;
      return [{ cap, trim: { edge, channel, relief, seen: edge?.clear ? shown : null }, frame: frames.get(cap.seam)! }];
    });
    if (own.length === 0) return cell;
    const asked = JSON.stringify(
      own.map(({ cap, trim: { seen, ...trim }, frame }) => [
        cap.seam,
        trim,
        seen && numberOf(seen),
        frame.normal,
        frame.offset,
      ]),
    );
    const made = known.get(cell) ?? new Map<string, Cell | null>();
    known.set(cell, made);
    let found = made.get(asked);
    if (found === undefined) {
      found = trimmed(cell, own, frames, kernel, fallback);
      made.set(asked, found);
      breath?.();
    }
    if (!found) for (const { cap } of own) failed.add(seamOfPlane(cap.seam).seam);
    return found ?? cell;
  });
  return { cells: carved, failed: [...failed] };
}

/**
 * A cell without what is carved out of some of its caps; null when the kernel does not take it, nothing would be left of a cap, or
 * what comes out would pass through itself.
 */
function trimmed(
  cell: Cell,
  own: readonly { readonly cap: CapLoops; readonly trim: Trim; readonly frame: Frame }[],
  frames: ReadonlyMap<string, Frame>,
  kernel: Kernel,
  fallback: Triangulator,
): Cell | null {
  try {
    const bevels = own.flatMap(({ cap, trim, frame }) => bevelsOf(kernel, cell, cap, frame, trim, frames));
    const channels = own.map(({ cap, trim, frame }) =>
      trim.channel ? glueChannels(kernel, cell.positions, cap, frame, trim.channel) : null,
    );
    if (channels.some((c) => c?.length === 0)) return null;
    const tools = [...bevels, ...channels.flatMap((c) => c ?? [])];
    if (tools.length === 0) return cell;
    const cutter = { mesh: unionOf(kernel, tools), facets: [] };
    const { inside, outside } = carveCell(
      cell,
      frames,
      cutter,
      () => LAP_TAG,
      kernel,
      fallback,
      own.map(({ frame }) => frame.normal),
    );
    if (!inside) return cell;
    const left = (cap: CapLoops): boolean => outside!.caps.some((c) => c.seam === cap.seam && c.side === cap.side);
    if (!outside || !own.every(({ cap }) => left(cap))) return null;
    // where skin folds or the cell is thinner than the bevel, its walls may come out through another place of the cell
    const passing = (part: Cell): number =>
      passingWithin(
        closedMesh(closeCell(part, frames, fallback), () => LAP_TAG),
        (tag) => tag === LAP_TAG,
      );
    const crossed = passing(outside);
    return crossed > 0 && crossed > passing(cell) ? null : outside;
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
  const section = Math.max(
    0,
    ...seams.map(({ edge, relief = 0 }) => Math.max(edge ? edge.width * edge.depth : 0, relief ** 2)),
  );
  const mesh = closedMesh(solid, () => 0);
  return volume(mesh) < (section / 2) * Math.hypot(...sizeOf(boxOf(mesh.positions)));
}

/** A bevel's section at one end of a rim's edge: in the face, on the skin, and outside of both. */
type Section = readonly [Vec3, Vec3, Vec3];

/** What a bevel takes off along the rims of a cap: a prism for each edge, and what lies between two at their corner. */
function bevelsOf(
  kernel: Kernel,
  cell: Cell,
  cap: CapLoops,
  frame: Frame,
  { edge, relief, seen }: Trim,
  frames: ReadonlyMap<string, Frame>,
): IndexedMesh[] {
  if (!edge && relief === undefined) return [];
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
  const relieved = relief === undefined ? null : { width: relief, depth: relief };
  const facing = relieved && meetingFaces(cell, cap, frames);
  return cap.loops.flatMap((loop) => {
    const skinToo = edge?.all || turning(loop, at, out) > 0;
    const sides = [...loop].map((v, i): Side | null => {
      const next = loop[(i + 1) % loop.length];
      const [from, to] = [at(v), at(next)];
      const way = sub(to, from);
      if (Math.hypot(...way) < 1e-9) return null;
      const along = normalize(way);
      const skin = skinToo ? third.get(`${next} ${v}`) : undefined;
      if (skin !== undefined && edge) {
        if (seen && onShow(seen, pointAlong(from, way, 0.5))) return null;
        const down = sub(at(skin), from);
        return { from, to, onSkin: normalize(sub(down, scale(along, dot(down, along)))), edge };
      }
      const other = facing?.get(`${next} ${v}`);
      if (!relieved || !other) return null;
      // into the other face, seen from outside on the left of its rim; only where both meet in an outer edge
      const onSkin = cross(other, scale(along, -1));
      return dot(onSkin, out) < -SHALLOW ? { from, to, onSkin, edge: relieved } : null;
    });
    const ends = merged(sides).map((side) => {
      if (!side) return null;
      const along = normalize(sub(side.to, side.from));
      const inward = cross(out, along);
      // a little into its neighbours: solids that only touch would keep a film between them
      const places = [pointAlong(side.from, along, -INTO), pointAlong(side.to, along, INTO)];
      return places.map((x) => sectionAt(x, inward, side.onSkin, side.edge));
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
  readonly edge: Edge;
}

/** The outward normals of other caps of a cell, by the directed edges of their rims. */
function meetingFaces(cell: Cell, cap: CapLoops, frames: ReadonlyMap<string, Frame>): Map<string, Vec3> {
  const out = new Map<string, Vec3>();
  for (const other of cell.caps) {
    if (other === cap) continue;
    const normal = scale(frames.get(other.seam)!.normal, -other.side);
    for (const loop of other.loops)
      for (const [i, v] of loop.entries()) out.set(`${v} ${loop[(i + 1) % loop.length]}`, normal);
  }
  return out;
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
        last.edge === first.edge &&
        dot(last.onSkin, first.onSkin) > SAME_SKIN &&
        sides.slice(i + 1, end + 1).every((s) => offLine(s!.from, first.from, last.to) < ROUGH);
      while (end < sides.length && end - i < MOST_MERGED && fits(sides[end])) end++;
    }
    const last = sides[end - 1];
    out.push(first && last ? { ...first, to: last.to, onSkin: normalize(add(first.onSkin, last.onSkin)) } : null);
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

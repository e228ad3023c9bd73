import type { FlatRegion, Frame } from '../../cut/index.ts';
import type { Mirror, Vec3 } from '../../mesh/index.ts';
import { type Chunk, emptyBox, growBox } from './chunk.ts';
import { AREA, costOf, type Part, type Scale, SEEN } from './cost.ts';
import type { Needs, Places } from './need.ts';
import type { Slice, SliceRegion } from './slice.ts';
import { bothHalves, type Standing, standingOf } from './twins.ts';

/** A cut of a chunk that is worth a look. */
export interface Move {
  readonly frame: Frame;
  /** regions of the section that are cut, and how many it has */
  readonly cut: readonly FlatRegion[];
  readonly of: number;
  /** in pieces */
  readonly cost: number;
  /** the pieces that what it leaves will come to, and the cost of their seams */
  readonly leaves: readonly Outlook[];
  /** all of it together */
  readonly score: number;
  /** figures for its reasons */
  readonly area: number;
  readonly seen: number;
  readonly creased: number;
  /** of what it leaves, what is whole and stands on it with hardly any overhang */
  readonly steady: number;
  /** how it stands to the mirror plane, where both sides are kept alike */
  readonly standing: Standing | null;
}

/** What a search goes by. */
export interface MoveContext {
  readonly needs: Needs;
  readonly jointRoom: number;
  readonly scale: Omit<Scale, 'need'>;
  /** how dear seams to come are, beside those of an even grid */
  readonly seamWeight: number;
  /** whether a cut is forbidden: it runs through a zone, or parts what must stay whole */
  readonly forbidden?: (slice: Slice, cut: readonly SliceRegion[]) => boolean;
  /** counts planes, for budgets */
  readonly counted: { planes: number };
  /** both sides of it are kept alike, where a chunk is so */
  readonly mirror?: Mirror;
  /** shifts the even places that are tried, −½ … ½ of a step */
  readonly phase?: number;
}

/** Sections of more regions are left alone. */
const MOST_REGIONS = 24;

/** Of its skin what may hang over, and it counts as standing. */
const HARDLY = 0.02;

/** A cut with where it was found from, and its regions as bits. */
export interface Found extends Move {
  readonly home: Vec3;
  readonly mask: number;
}

/** What something will come to: pieces, and the cost of their seams if they stood in an even grid. */
export interface Outlook {
  /** 1 when it fits */
  readonly need: number;
  /** in pieces */
  readonly seams: number;
}

/** What each seam to come costs beside its area and line. */
const EACH = 0.05;

export const priceOf = ({ need, seams }: Outlook, weight: number): number => need + weight * seams;

/**
 * The outlook of a part. Its seams are those of planes that share its box evenly: each cuts its mean section across that
 * axis (its volume over its length), and its skin along a line of mean length.
 */
export function outlookOf(
  places: Places,
  { box, volume, skin }: Pick<Part, 'box' | 'volume' | 'skin'>,
  { needs, scale }: Pick<MoveContext, 'needs' | 'scale'>,
  thorough: boolean,
): Outlook {
  const need = needs.of(places, box, volume, thorough);
  if (need === 1) return { need, seams: 0 };
  const { bed, wishes } = scale;
  const shares = needs.shares(box);
  let seams = 0;
  for (let a = 0; a < 3; a++) {
    const length = Math.max(1, box[a + 3] - box[a]);
    const area = volume / length / (bed[0] * bed[1]);
    const line = ((Math.PI / 4) * skin) / length / (2 * (bed[0] + bed[1]));
    seams += Math.max(0, shares[a] - 1) * (AREA * area + SEEN * wishes.hidden * line + EACH);
  }
  return { need, seams: Math.max(seams, 0.1) / wishes.few };
}

/** The cuts that a plane offers: through all its regions, through some. */
export function cutsOf(slice: Slice, chunk: Chunk, scale: Scale, context: MoveContext, home: Vec3): Found[] {
  const { regions } = slice;
  if (regions.length === 0 || regions.length > MOST_REGIONS) return [];
  const { mirror } = context;
  const masks = [...masksOf(slice, context)];
  const whole = mirror ? new Set(masks.map((m) => bothHalves(slice, m, mirror))) : masks;
  const out: Found[] = [];
  for (const mask of whole) {
    const found = cutOf(slice, mask, chunk, scale, context, home, false);
    if (found) out.push(found);
  }
  return out;
}

/** One cut; null when it is none, or not to be made. */
export function cutOf(
  slice: Slice,
  mask: number,
  chunk: Chunk,
  scale: Scale,
  context: MoveContext,
  home: Vec3,
  thorough: boolean,
): Found | null {
  const cut = slice.regions.filter((_, i) => mask & (1 << i));
  const grouped = partsOf(slice, mask, cut);
  // every region that is cut has to part something
  if (grouped.parts.length < 2 || cut.some((r) => grouped.partOf[r.above] === grouped.partOf[r.below])) return null;
  const stands = context.mirror ? standingOf(slice, chunk, cut.length, grouped, context.mirror) : null;
  if (context.mirror && !stands) return null;
  if (context.forbidden?.(slice, cut)) return null;
  const parts = needy(grouped, slice, chunk, context, thorough);
  const found = foundOf(slice, cut, parts, mask, scale, context, home);
  if (!stands) return found;
  return {
    ...(stands.standing === 'twice' ? madeTwice(found, slice, cut, parts, stands.rest, scale, context) : found),
    standing: stands.standing,
  };
}

/** A cut together with its mirror image: twice the cost, twice what comes off, and a rest that has lost both. */
function madeTwice(
  found: Found,
  slice: Slice,
  cut: readonly SliceRegion[],
  parts: readonly Part[],
  rest: number,
  scale: Scale,
  context: MoveContext,
): Found {
  const { need, seams } = parts[rest];
  const less = Math.max(1, 2 * need - scale.need);
  const left = { need: less, seams: less === 1 ? 0 : (seams * less) / need };
  const after = parts.map((p, i) => (i === rest ? { ...p, ...left } : p));
  const cost = 2 * costOf({ slice, cut, parts: after }, scale);
  const off = parts.filter((_, i) => i !== rest).map((p) => ({ need: p.need, seams: p.seams }));
  const leaves = [...off, ...off, left];
  return { ...found, cost, leaves, score: leaves.reduce((s, l) => s + priceOf(l, context.seamWeight), cost) };
}

function foundOf(
  slice: Slice,
  cut: readonly SliceRegion[],
  parts: readonly Part[],
  mask: number,
  scale: Scale,
  context: MoveContext,
  home: Vec3,
): Found {
  const cost = costOf({ slice, cut, parts }, scale);
  const leaves = parts.map(({ need, seams }) => ({ need, seams }));
  const sum = (of: (r: SliceRegion) => number): number => cut.reduce((s, r) => s + of(r), 0);
  return {
    frame: slice.frame,
    cut: cut.map((r) => r.flat),
    of: slice.regions.length,
    cost,
    leaves,
    score: leaves.reduce((s, l) => s + priceOf(l, context.seamWeight), cost),
    area: sum((r) => r.flat.area),
    seen: sum((r) => r.seen),
    creased: sum((r) => r.creased),
    steady: parts.filter((p) => p.need === 1 && p.hanging < HARDLY * p.skin).length,
    standing: null,
    mask,
    home,
  };
}

/** Which sets of regions are worth cutting, as bits. */
function masksOf({ regions, sides }: Slice, { needs, scale }: MoveContext): Iterable<number> {
  const all = 2 ** regions.length - 1;
  const out = new Set([all]);
  if (regions.length === 1) return out;
  const borders = sides.map((_, s) =>
    regions.reduce((m, r, i) => (r.above === s || r.below === s ? m | (1 << i) : m), 0),
  );
  let fitting = 0;
  let crumbs = 0;
  sides.forEach((side, s) => {
    if (borders[s] === 0) return;
    out.add(borders[s]);
    if (needs.fits(side.box)) fitting |= borders[s];
    if (side.volume < 0.08 * scale.meanVolume) crumbs |= borders[s];
  });
  regions.forEach((_, i) => {
    out.add(1 << i);
  });
  if (fitting) out.add(fitting);
  if (fitting & ~crumbs) out.add(fitting & ~crumbs);
  if (all & ~crumbs) out.add(all & ~crumbs);
  return out;
}

/** What hangs together when some regions are cut. */
function partsOf({ sides, regions }: Slice, mask: number, cut: readonly SliceRegion[]) {
  const home = sides.map((_, i) => i);
  const find = (i: number): number => (home[i] === i ? i : find(home[i]));
  regions.forEach((r, i) => {
    if (mask & (1 << i)) return;
    const [a, b] = [find(r.above), find(r.below)];
    if (a !== b) home[Math.max(a, b)] = Math.min(a, b);
  });
  const roots = sides.map((_, i) => find(i));
  const kept = [...new Set(roots)];
  const partOf = roots.map((r) => kept.indexOf(r));
  const parts = kept.map((root) => {
    const box = emptyBox();
    let volume = 0;
    let skin = 0;
    let hanging = 0;
    let up = 0;
    let down = 0;
    sides.forEach((side, i) => {
      if (roots[i] !== root) return;
      growBox(box, side.box);
      volume += side.volume;
      skin += side.skin;
      hanging += side.hanging;
      if (side.above) up = Math.max(up, side.deep);
      else down = Math.max(down, side.deep);
    });
    return { box, volume, skin, deep: up + down, hanging: up > 0 && down > 0 ? skin / 2 : hanging };
  });
  for (const r of cut) {
    growBox(parts[partOf[r.above]].box, r.boxAbove);
    growBox(parts[partOf[r.below]].box, r.boxBelow);
  }
  return { parts, partOf };
}

/** The parts with their needs. */
function needy(
  { parts, partOf }: ReturnType<typeof partsOf>,
  { sideOf }: Slice,
  { mesh, sample }: Chunk,
  context: MoveContext,
  thorough: boolean,
): Part[] {
  return parts.map((p, part) => ({
    ...p,
    ...outlookOf({ points: mesh.positions, sample, part, parts: partOf, sideOf }, p, context, thorough),
  }));
}

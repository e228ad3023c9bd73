import { bendingOf } from './bending.ts';
import type { Slice, SliceRegion } from './slice.ts';

/** What the maker would rather have; 1 is as usual. */
export interface Wishes {
  /** few pieces: all else weighs so many times less */
  readonly few: number;
  /** seams that are not seen */
  readonly hidden: number;
  /** pieces that print easily: flat faces to stand on */
  readonly print: number;
}

/** What a cut leaves: some sides of a slice that hang together after it. */
export interface Part {
  readonly box: Float64Array;
  /** mm³ */
  readonly volume: number;
  /** of the model's own surface, mm² */
  readonly skin: number;
  /** from the plane, mm */
  readonly deep: number;
  /** what of its surface hangs over by more than 45° when it stands on the cut, mm²; half its skin when it lies on both sides */
  readonly hanging: number;
  readonly need: number;
  readonly seams: number;
}

/** A cut as it is judged. */
export interface Judged {
  readonly slice: Slice;
  readonly cut: readonly SliceRegion[];
  readonly parts: readonly Part[];
}

/** What terms measure by. */
export interface Scale {
  readonly bed: readonly [number, number];
  /** usable volume of the largest printer, mm³ */
  readonly roomVolume: number;
  /** what a piece of this model has on average, mm³ */
  readonly meanVolume: number;
  /** of what is being cut */
  readonly need: number;
  readonly wishes: Wishes;
}

/** One thing that makes a cut dear or cheap; the unit is one piece. */
interface Term {
  readonly name: string;
  of(cut: Judged, scale: Scale): number;
}

const each = (regions: readonly SliceRegion[], of: (r: SliceRegion) => number): number =>
  regions.reduce((sum, r) => sum + of(r), 0);

/** A term for what is added up over the regions that are cut. */
const perRegion = (name: string, of: (r: SliceRegion, scale: Scale) => number): Term => ({
  name,
  of: ({ cut }, scale) => each(cut, (r) => of(r, scale)),
});

/** A term for what is added up over the parts it leaves. */
const perPart = (name: string, of: (p: Part, scale: Scale) => number): Term => ({
  name,
  of: ({ parts }, scale) => parts.reduce((sum, p) => sum + of(p, scale), 0),
});

/** Straight along an axis of the model, as a share of 1. */
export const isSquare = ({ frame }: Slice): boolean => frame.normal.some((x) => Math.abs(x) > 0.9999);

/** What a glued face may be bent by for good, N/mm²: a tenth of what glues are said to hold, for prints are not solid. */
const GLUE_BEARS = 1;

/** What a bed's size of section costs, and a bed's outline of line on the skin. */
export const AREA = 0.35;
export const SEEN = 0.35;

/**
 * All that makes a cut dear. A new term is a line here: what it is called, and what it costs in pieces.
 */
export const TERMS: readonly Term[] = [
  perRegion('area', (r, { bed }) => (AREA * r.flat.area) / (bed[0] * bed[1])),
  perRegion('seen', (r, { bed, wishes }) => (SEEN * wishes.hidden * r.seen) / (2 * (bed[0] + bed[1]))),
  perRegion('each', () => 0.03),
  perRegion('crease', (r, { wishes }) => (r.seen > 0 ? (-0.2 * wishes.hidden * r.creased) / r.seen : 0)),
  perRegion('show', (r, { bed, wishes }) => (2 * wishes.hidden * r.shown) / (bed[0] + bed[1])),
  // an earlier face in two: each half needs joints of its own, and the neighbour has one face more
  perRegion('faces', (r) => 0.15 * r.caps.size),
  perRegion('thin', (r) => ((2 * r.flat.area) / r.perimeter < 6 ? 0.6 : 0)),
  perRegion('ragged', (r) => (compactness(r) < 0.25 ? 0.2 : 0)),
  perPart('small', ({ volume }, { meanVolume, roomVolume }) => {
    // what is under a fiftieth of the mean is no piece, whatever it saves
    if (volume < 0.02 * meanVolume) return 4;
    if (volume < 0.08 * meanVolume || volume < 0.02 * Math.min(roomVolume, meanVolume * 4)) return 1.5;
    return volume < 0.3 * meanVolume ? 0.5 : 0;
  }),
  perPart('shallow', (p) => (p.deep < 25 ? 1 : 0)),
  perPart('narrow', ({ box }) => (Math.min(box[3] - box[0], box[4] - box[1], box[5] - box[2]) < 20 ? 0.5 : 0)),
  {
    name: 'flat',
    of: ({ cut, parts }) => {
      const widest = Math.sqrt(Math.max(0, ...cut.map((r) => r.flat.area)));
      return 0.4 * parts.filter((p) => p.deep < 0.4 * widest).length;
    },
  },
  // what is whole after it, and cannot stand on it without support
  perPart('hanging', ({ need, hanging, skin }, { wishes }) =>
    need === 1 && skin > 0 ? 0.1 * wishes.print * Math.min(1, hanging / skin) : 0,
  ),
  {
    name: 'weak',
    of: ({ cut, parts }) => 0.3 * Math.min(1, Math.max(0, bendingOf(cut, parts) / GLUE_BEARS - 0.5)),
  },
  { name: 'tilt', of: ({ slice }, { wishes }) => (isSquare(slice) ? 0 : 0.03 * wishes.print ** 2) },
  {
    name: 'progress',
    of: ({ parts }, { need }) => (parts.some((p) => p.need > need - 0.15) ? 0.6 : 0),
  },
];

/** How round the outline of a region is: 1 for a circle. */
function compactness({ flat }: SliceRegion): number {
  let around = 0;
  let twice = 0;
  const l = flat.outer2;
  for (let i = 0, j = l.length - 2; i < l.length; j = i, i += 2) {
    around += Math.hypot(l[i] - l[j], l[i + 1] - l[j + 1]);
    twice += l[j] * l[i + 1] - l[i] * l[j + 1];
  }
  return around > 0 ? (2 * Math.PI * Math.abs(twice)) / around ** 2 : 0;
}

/** What a cut costs by itself, in pieces; what it leaves is priced by its need. */
export function costOf(cut: Judged, scale: Scale): number {
  let sum = 0;
  for (const term of TERMS) sum += term.of(cut, scale);
  return sum / scale.wishes.few;
}

import {
  atOffset,
  commonRegions,
  type FlatRegion,
  type Frame,
  Outlines,
  regionsOfLoops,
  sectionAt,
} from '../cut/index.ts';
import { crossingsAlong, type Loop2, nearestOnLoop } from '../mesh/index.ts';
import type { MatingFace } from '../seams/index.ts';
import type { Around } from './model.ts';

// A band beside the wall of an open shell, on the side that it bends round. It keeps clear of the wall wherever that is along
// its width, and of the shell's ends:
//
//        .-----------.
//      /  .---------.  \      wall
//     |  / .-------. \  |     band
//     | | '         ' | |
//     '-'             '-'     ends

/** Heights at which the wall is looked at are this far apart at the most, mm. */
const STEP = 1;
/** An edge of a section whose wall is so much deeper behind it than elsewhere is an end. */
const END = 3;
/** A band is at least so much longer than the wall is thick. */
const LONG = 6;
/** What is thinner than this share of it is no band. */
const THIN = 0.6;
/** Of several parts those are told that are no smaller than this share of the largest. */
const SHARE = 0.25;
/** The band ends so far beside an end of the shell, mm. */
const BESIDE = 0.5;

interface OpenBand {
  readonly region: FlatRegion;
  /** how far it lies from the wall at the most, its gap included, mm */
  readonly off: number;
}

/** The bands that bridge the seam of an open shell at a face; why there is none, if there is none. */
export function bandsBeside(
  { region, frame }: Pick<MatingFace, 'region' | 'frame'>,
  { sized }: Around,
  { width, thickness, gap }: { readonly width: number; readonly thickness: number; readonly gap: number },
): OpenBand[] | string {
  const half = Math.max(1, Math.ceil(width / 2 / STEP));
  const own: FlatRegion[][] = [];
  let all: Outlines | null = null;
  for (const way of [1, -1]) {
    let before: readonly FlatRegion[] = [region];
    for (let i = way > 0 ? 0 : 1; i <= half; i++) {
      const found = sectionOf(sized, frame, (way * i * width) / 2 / half);
      before = found.filter((r) => before.some((b) => commonRegions(b, r).length > 0));
      if (before.length === 0) return `The shell is not as deep as half the strip on both sides of the seam.`;
      own.push([...before]);
      const here = Outlines.of(found);
      all = all ? all.with(here) : here;
    }
  }
  // in the seam, and as far from it as the strip reaches
  const looks = [own[0], own[half], own[own.length - 1]].map(wallOf);
  const [{ thick }] = looks;
  const ends = looks.flatMap((l) => l.ends);
  const wall = Outlines.of(own.flat());
  const beside = wall
    .grown(gap + thickness)
    .without(all!.grown(gap))
    .within(wall.hull())
    .without(Outlines.along(ends, gap + thickness + BESIDE));
  const bands = beside
    .grown((-THIN / 2) * thickness)
    .grown((THIN / 2) * thickness)
    .regions();
  const long = bands.filter((b) => b.area > LONG * thick * thickness && b.area > SHARE * bands[0].area);
  if (long.length === 0) return 'No face of this seam goes round a hollow, nor along a wall that bends round one.';
  return long.map((b) => ({ region: b, off: farthest(b, own, gap) }));
}

const sectionOf = ({ mesh, blocks }: Around['sized'], frame: Frame, height: number): FlatRegion[] =>
  regionsOfLoops(sectionAt(mesh, atOffset(frame, frame.offset + height), blocks()).loops).filter((r) => r.area > 0);

type Edge = readonly [readonly [number, number], readonly [number, number]];

/** How thick a wall mostly is, by its section, and the edges of its ends. */
function wallOf(section: readonly FlatRegion[]): { thick: number; ends: Edge[] } {
  const loops = section.flatMap(({ outer2, holes2 }) => [outer2, ...holes2]);
  const edges = loops.flatMap((l) =>
    Array.from({ length: l.length / 2 }, (_, i) => {
      const k = (2 * i + 2) % l.length;
      const edge: Edge = [
        [l[2 * i], l[2 * i + 1]],
        [l[k], l[k + 1]],
      ];
      const long = Math.hypot(edge[1][0] - edge[0][0], edge[1][1] - edge[0][1]);
      return { edge, long, deep: long > 0 ? depthBehind(edge, long, loops) : 0 };
    }),
  );
  const sorted = edges.filter((e) => e.long > 0).sort((a, b) => a.deep - b.deep);
  const whole = sorted.reduce((sum, e) => sum + e.long, 0);
  let before = 0;
  const middle = sorted.find((e) => {
    before += e.long;
    return before >= whole / 2;
  });
  const thick = middle?.deep ?? 0;
  return { thick, ends: sorted.filter((e) => e.deep > END * thick).map((e) => e.edge) };
}

/** How far it is from the middle of an edge, square to it through the material on its left, to the next outline, mm. */
function depthBehind([[ax, ay], [bx, by]]: Edge, long: number, loops: readonly Loop2[]): number {
  const way = [-(by - ay) / long, (bx - ax) / long] as const;
  let least = Infinity;
  for (const l of loops) {
    for (const t of crossingsAlong(l, [(ax + bx) / 2, (ay + by) / 2], way)) if (t > 1e-6) least = Math.min(least, t);
  }
  return least;
}

/** How far the side of a band that faces the wall is from it at any height, mm. */
function farthest({ outer2 }: FlatRegion, own: readonly (readonly FlatRegion[])[], gap: number): number {
  let most = gap;
  const to = (list: readonly FlatRegion[], x: number, y: number): number =>
    Math.min(...list.flatMap(({ outer2: o, holes2 }) => [o, ...holes2].map((l) => nearestOnLoop(l, x, y).distance)));
  for (let i = 0; i < outer2.length; i += 2) {
    const far = own.map((list) => to(list, outer2[i], outer2[i + 1]));
    // the other side is a band's thickness off wherever the wall is
    if (Math.min(...far) < gap + 0.05) most = Math.max(most, ...far);
  }
  return most;
}

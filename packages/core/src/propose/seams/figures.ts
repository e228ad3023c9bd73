import type { Solid } from '../../cut/index.ts';
import type { Evaluation, Piece } from '../../evaluate/index.ts';
import { sizeOf } from '../../mesh/index.ts';

/** What a parting of a model comes to. Lengths mm, areas mm². */
export interface PartingFigures {
  readonly pieces: number;
  /** under a hundredth of the mean volume, or thinner than 3 mm */
  readonly slivers: number;
  /** pieces that fit their printers */
  readonly fits: number;
  readonly closed: number;
  /** of all mating faces */
  readonly seamArea: number;
  /** of the lines that seams draw on the surface */
  readonly seenLength: number;
}

const THIN = 3;

export function figuresOf({ pieces, faces }: Pick<Evaluation, 'pieces' | 'faces'>): PartingFigures {
  const made = pieces.filter((p) => !p.aside);
  const mean = made.reduce((sum, p) => sum + p.volume, 0) / Math.max(1, made.length);
  const isSliver = (p: Piece): boolean => p.volume < 0.01 * mean || Math.min(...sizeOf(p.box)) < THIN;
  return {
    pieces: made.length,
    slivers: made.filter(isSliver).length,
    fits: made.filter((p) => p.build.within).length,
    closed: made.filter((p) => p.closed).length,
    seamArea: faces.reduce((sum, f) => sum + f.area, 0),
    // each line is the rim of a cap on both of its sides
    seenLength: made.reduce((sum, p) => sum + seenRim(p.solid), 0) / 2,
  };
}

/** How much of the rims of a solid's caps borders on its skin, and not on another cap, mm. */
function seenRim({ positions: p, triangles: t, caps }: Solid): number {
  const rims = new Set<string>();
  for (const { outer, holes, side } of caps) {
    for (const loop of [outer, ...holes]) {
      for (let i = 0; i < loop.length; i++) {
        const a = loop[i];
        const b = loop[i + 1 === loop.length ? 0 : i + 1];
        rims.add(side > 0 ? `${a} ${b}` : `${b} ${a}`);
      }
    }
  }
  let length = 0;
  for (let h = 0; h < t.length; h++) {
    const a = t[h];
    const b = t[h % 3 === 2 ? h - 2 : h + 1];
    if (!rims.has(`${a} ${b}`) && !rims.has(`${b} ${a}`)) continue;
    length += Math.hypot(p[a * 3] - p[b * 3], p[a * 3 + 1] - p[b * 3 + 1], p[a * 3 + 2] - p[b * 3 + 2]);
  }
  return length;
}

import type { Solid } from '../../cut/index.ts';
import { type Box, boxOf, distance, type Mirror, mirroredPoint, sizeOf, type Vec3 } from '../../mesh/index.ts';
import { seamOfPlane } from '../../seams/index.ts';
import type { Parting } from './tree.ts';
import { farApart, imageOf, lyingOf } from './twins.ts';

/** A piece of the model as it stands. */
export interface Target {
  readonly body: string;
  readonly key: string;
  readonly solid: Solid;
  readonly box: Box;
}

/** The seams that a piece lies between, by its key: b1/s1+.s2-#2. */
export const seamsOfKey = (key: string): string[] => {
  const [sides] = key.slice(key.indexOf('/') + 1).split('#');
  return sides.split('.').map((s) => seamOfPlane(s.replace(/[-+±]$/, '')).seam);
};

/** A part of the search, or its mirror image. */
export interface Meant {
  readonly part: Parting;
  readonly flip: boolean;
}

const middleOf = (b: Box): Vec3 => [(b.min[0] + b.max[0]) / 2, (b.min[1] + b.max[1]) / 2, (b.min[2] + b.max[2]) / 2];

/** How far two boxes are from being the same, mm. */
export const boxesApart = (a: Box, b: Box): number =>
  distance(middleOf(a), middleOf(b)) + distance(sizeOf(a), sizeOf(b));

/** Two pieces whose boxes differ by no more than that, mm, are taken to be each other's mirror image. */
const TWINS_APART = 1;

type Lies = Pick<Target, 'solid'>;

export const areMirrored = (a: Lies, b: Lies, mirror: Mirror): boolean =>
  farApart(imageOf(lyingOf(a.solid.positions, mirror)), lyingOf(b.solid.positions, mirror)) < TWINS_APART;

/** How many pieces are not alike on both sides, and have no mirror image. */
export function unlikeOf(pieces: readonly Lies[], mirror: Mirror): number {
  const at = pieces.map((p) => lyingOf(p.solid.positions, mirror));
  return at.filter((a) => !at.some((b) => farApart(imageOf(a), b) < TWINS_APART)).length;
}

/** Which piece of the model is which of the search: the nearest by the middles of their boxes, each once. */
export function matched(
  pieces: readonly Target[],
  meant: readonly Meant[],
  mirror: Mirror | null | undefined,
): [Target, Meant][] {
  const at = (m: Meant): Box => {
    const { positions } = m.part.chunk.solid;
    if (!m.flip || !mirror) return boxOf(positions);
    const image = positions.slice();
    for (let k = 0; k < image.length; k += 3) {
      image.set(mirroredPoint(mirror, [image[k], image[k + 1], image[k + 2]]), k);
    }
    return boxOf(image);
  };
  const places = meant.map((m) => ({ m, box: at(m) }));
  const pairs = pieces.flatMap((piece) => places.map(({ m, box }) => ({ piece, m, off: boxesApart(piece.box, box) })));
  pairs.sort((a, b) => a.off - b.off);
  const out: [Target, Meant][] = [];
  for (const { piece, m, off } of pairs) {
    if (off > 60 || out.some(([p, q]) => p === piece || q === m)) continue;
    out.push([piece, m]);
  }
  return out;
}

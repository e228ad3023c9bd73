import type { CapRegion } from '../cut/index.ts';
import type { Finding } from '../document/index.ts';
import { rimOnShow, type ShowFaces, type ShownBody } from '../show/index.ts';
import { mm } from '../units.ts';
import type { Piece } from './model.ts';

/** Shorter runs over a show face are where it ends, mm. */
const SHORTEST = 0.5;

/** Seams that run over faces that are to be seen. */
export function showFindings(pieces: readonly Piece[], { bodies, lost }: ShowFaces): Finding[] {
  const bySeam = new Map<string, number>();
  for (const { body, solid } of pieces) {
    const shown = bodies.get(body);
    if (!shown) continue;
    for (const cap of solid.caps) {
      // each run is the rim of two pieces
      bySeam.set(cap.seam, (bySeam.get(cap.seam) ?? 0) + rimOf(cap, solid.positions, shown) / 2);
    }
  }
  const over = [...bySeam].filter(([, length]) => length >= SHORTEST);
  return [
    ...over.map(
      ([seam, length]): Finding => ({
        code: 'seam.show',
        severity: 'note',
        where: { seam },
        message: `This seam runs over show faces for ${mm(length)}: it will be seen there.`,
        value: length,
        limit: 0,
      }),
    ),
    ...(lost > 0 ? [lostMarks(lost)] : []),
  ];
}

const rims = new WeakMap<CapRegion, { readonly shown: ShownBody; readonly length: number }>();

/** Kept with the cap: while a seam is dragged, others stay as they are. */
function rimOf(cap: CapRegion, positions: Float64Array, shown: ShownBody): number {
  const known = rims.get(cap);
  if (known?.shown === shown) return known.length;
  const length = rimOnShow(shown, positions, cap.triangles);
  rims.set(cap, { shown, length });
  return length;
}

const lostMarks = (lost: number): Finding => ({
  code: 'show.lost',
  severity: 'note',
  where: {},
  message:
    lost === 1
      ? 'One show face is gone: nothing of the model is where it was marked. Mark it again where it is now.'
      : `${lost} marks of show faces are gone: nothing of the model is where they were set. Mark them again where they are now.`,
  value: lost,
  limit: 0,
});

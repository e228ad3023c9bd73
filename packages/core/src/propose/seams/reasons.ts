import type { SeamReason } from '../../document/index.ts';
import type { MoveContext } from './cuts.ts';
import { Slicer } from './slice.ts';
import type { Parting } from './tree.ts';

/** How far round a seam it is asked whether its section is the smallest, mm. */
const ROUND = [15, 30, 45, 60] as const;

/** What speaks for the cut of a parting, as data. */
export function reasonsOf({ chunk, step }: Parting, { jointRoom, scale }: MoveContext): SeamReason[] {
  if (!step) return [];
  const { move, parts } = step;
  const out: SeamReason[] = [];
  const pieces = parts.filter((p) => !p.step && p.fits).length;
  out.push({ kind: 'fits', pieces, further: parts.length - pieces });
  if (move.standing) out.push({ kind: 'alike', how: move.standing });
  if (move.cut.length > 1) out.push({ kind: 'shared', limbs: move.cut.length });
  if (move.cut.length === 1 && move.of === 1) {
    const slicer = new Slicer(chunk, jointRoom);
    let within = 0;
    for (const far of ROUND) {
      const smaller = [-far, far].some((d) => {
        const slice = slicer.at(move.frame.normal, move.frame.offset + d);
        // past the end of the piece there is nothing to cut
        return slice !== null && slice.regions.reduce((sum, r) => sum + r.flat.area, 0) < move.area * 0.98;
      });
      if (smaller) break;
      within = far;
    }
    if (within > 0) out.push({ kind: 'narrow', within, area: Math.round(move.area) });
  }
  const creased = move.seen > 0 ? move.creased / move.seen : 0;
  if (creased > 0.3) out.push({ kind: 'crease', share: Number(creased.toFixed(2)) });
  if (move.steady > 0) out.push({ kind: 'stand', pieces: move.steady });
  if (Math.abs(move.frame.normal[2]) > 0.9999) {
    const base = Math.min(1, move.area / (scale.bed[0] * scale.bed[1]));
    if (base > 0.05) out.push({ kind: 'base', area: Math.round(move.area) });
  }
  return out;
}

const percent = (share: number): string => `${Math.round(share * 100)} %`;

const ALIKE = {
  across: 'in the mirror plane, so its two sides are twins',
  same: 'square to the mirror plane, the same on both sides',
  twice: 'one of two, each the mirror image of the other',
} as const;

/** A reason in a maker's words. */
export function reasonWords(reason: SeamReason): string {
  switch (reason.kind) {
    case 'fits':
      if (reason.further === 0)
        return reason.pieces === 2 ? 'both sides fit then' : `all ${reason.pieces} parts fit then`;
      return reason.pieces === 0
        ? 'shares out what is too large'
        : `${reason.pieces === 1 ? 'one part fits' : `${reason.pieces} parts fit`} then, ${reason.further === 1 ? 'one is' : `${reason.further} are`} parted further`;
    case 'narrow':
      return `narrowest for ${reason.within} mm round here (${(reason.area / 100).toFixed(reason.area < 1000 ? 1 : 0)} cm²)`;
    case 'crease':
      return `${percent(reason.share)} of its line lies in a crease`;
    case 'shared':
      return `one plane through ${reason.limbs} limbs`;
    case 'alike':
      return ALIKE[reason.how];
    case 'sectors':
      return `parts what is round into ${reason.count} equal sectors, which can share a file`;
    case 'stand':
      return reason.pieces === 1
        ? 'one piece stands on it without support'
        : `${reason.pieces} pieces stand on it without support`;
    case 'grid':
      return 'one of a grid of planes, with which there are the fewest pieces';
    case 'base':
      return 'level, so both sides have a face to stand on';
  }
}

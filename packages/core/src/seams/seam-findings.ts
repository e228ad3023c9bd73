import type { Finding, Seam } from '../document/index.ts';
import { flatsOf } from './flats.ts';
import { seamKind } from './kinds/index.ts';

/** A groove that leaves less of a face than this share is told of. */
const LEAST_LEFT = 0.6;

/** What a seam met when the model was cut. */
export interface SeamReport {
  readonly seam: Seam;
  readonly cuts: boolean;
  readonly film: boolean;
  /** keys in its scope that stand for no piece */
  readonly gone: readonly string[];
  /** seeds in no region */
  readonly astray: number;
  /** why it could not be cut */
  readonly refused: string;
  /** flats that could not be worked in, by their numbers */
  readonly lost: readonly number[];
  /** share of its flat faces that the bevels of their rims leave */
  readonly left: number;
  /** a rim of it could not be bevelled */
  readonly ungrooved: boolean;
  /** regions left whole because they part nothing, and faces that slit a piece and stay */
  readonly slits: number;
  readonly slitsLeft: number;
}

/** What is to be said of each seam by itself. */
export function seamFindings(reports: readonly SeamReport[]): Finding[] {
  return reports.flatMap(({ seam, cuts, film, gone, astray, refused, lost, left, ungrooved, slits, slitsLeft }) => {
    const where = { seam: seam.id };
    const out: Finding[] = [];
    if (gone.length > 0) {
      out.push({
        code: 'seam.scope',
        severity: 'warn',
        where,
        message: `This seam is meant for ${gone.length === 1 ? 'a piece that is' : `${gone.length} pieces that are`} no longer there.`,
        mend: { label: 'Let it cut all pieces', change: { do: 'setSeam', id: seam.id, set: { scope: undefined } } },
      });
    }
    if (astray > 0) {
      out.push({
        code: 'seam.region',
        severity: 'warn',
        where,
        message: `${astray === 1 ? 'A chosen region' : `${astray} chosen regions`} of this seam can no longer be found: nothing of the section lies within 2 mm.`,
        mend: {
          label: 'Cut all regions',
          change: { do: 'setSeam', id: seam.id, set: { regions: { mode: 'all', seeds: [] } } },
        },
      });
    }
    if (slits > 0 || slitsLeft > 0) {
      const count = slits + slitsLeft;
      out.push({
        code: 'seam.partsNothing',
        severity: 'warn',
        where,
        message:
          `${count === 1 ? 'A region' : `${count} regions`} of this seam ${count === 1 ? 'parts' : 'part'} nothing by ` +
          `${count === 1 ? 'itself' : 'themselves'}: both sides belong to one piece.` +
          (slitsLeft > 0 ? '' : ' It is left whole.'),
        value: count,
        limit: 0,
      });
    } else if (refused !== '') {
      out.push({ code: 'seam.refused', severity: 'stop', where, message: refused });
    } else if (!cuts && gone.length === 0) {
      out.push({ code: 'seam.misses', severity: 'warn', where, message: 'This seam cuts nothing.' });
    }
    const bent = seamKind(seam).bent(seam);
    const flats = flatsOf(seam);
    if (cuts && bent && flats.length === 0) {
      out.push({
        code: 'seam.bent',
        severity: 'note',
        where,
        message:
          'The faces of this seam are bent: joints need flats worked into them. Have places for flats found at the seam.',
      });
    }
    if (cuts && lost.length > 0) {
      out.push({
        code: 'seam.flat',
        severity: 'warn',
        where,
        message:
          `${lost.length === 1 ? 'A flat' : `${lost.length} flats`} of this seam ` +
          `${lost.length === 1 ? 'is' : 'are'} not cut: the face no longer lies there, bends too much for the size, or another flat is too near.`,
        value: lost.length,
        limit: 0,
        mend: {
          label: lost.length === 1 ? 'Take it away' : 'Take them away',
          change: { do: 'setSeam', id: seam.id, set: { flats: flats.filter((f) => !lost.includes(f.n)) } },
        },
      });
    }
    if (ungrooved) {
      out.push({
        code: 'seam.edge',
        severity: 'warn',
        where,
        message:
          'What is carved out along this seam could not be carved out of every piece: nothing would be left of a face, it would come out through another one, it has no room for a channel, or the solid kernel does not take it there. Make it smaller.',
        mend: {
          label: 'Carve nothing out along it',
          change: { do: 'setSeam', id: seam.id, set: { edge: undefined, channel: undefined, relief: undefined } },
        },
      });
    } else if (left < LEAST_LEFT) {
      const { edge, channel } = seam;
      const half = {
        ...(edge && { edge: { ...edge, width: edge.width / 2 } }),
        ...(channel && { channel: { ...channel, width: Math.max(0.3, channel.width / 2) } }),
      };
      out.push({
        code: 'seam.edge',
        severity: 'warn',
        where,
        message: `What is carved out along it leaves ${Math.round(100 * left)} % of the faces of this seam to be bonded.`,
        value: left,
        limit: LEAST_LEFT,
        mend: { label: 'Make it half as wide', change: { do: 'setSeam', id: seam.id, set: half } },
      });
    }
    if (film) {
      out.push({
        code: 'seam.film',
        severity: 'warn',
        where,
        message:
          'The seam lies flush with faces on both of its sides, so a film thinner than a print line stays on one of them. ' +
          'Move it a little.',
      });
    }
    return out;
  });
}

import { type Finding, type Mend, type Plan, printSettingOf } from '../document/index.ts';
import type { Figures } from '../print/index.ts';
import { degrees, mm } from '../units.ts';
import type { PiecePrint } from './model.ts';
import { type PrintContext, printerOfPrint } from './prints.ts';
import { type SpoiltRest, spoiltRests } from './sides.ts';

/** Height of the middle of the mass over the width of the rest from which a piece may be knocked over, and least height, mm. */
const TIPS = 3;
const TALL = 60;
/** A rest under this share of the footprint holds badly. */
const LITTLE = 0.02;
/** Marks on show faces under this are nothing, mm². */
const MARK = 25;
/** Support that cannot be reached, under this, is nothing, mm³. */
const LOCKED = 200;
/** How far pegs may stand up from the layers before it is said: cos² of 45° and more. */
const ACROSS = 0.5;

/** Corners sharper than this lift sooner: from so much less of the length. */
const SHARP = Math.PI / 3;
const SOONER = 0.7;
/** A brim this wide, mm, holds a rest down that is so much longer. */
const BRIM = 5;
const HOLDS = 1.5;

/** The longest rest that stays down, mm. */
function restLimit({ bedding }: Plan, { restCorner }: Figures, rest: number) {
  const [sharp, braced] = [restCorner < SHARP, bedding.brim >= BRIM];
  return { sharp, braced, longest: rest * (sharp ? SOONER : 1) * (braced ? HOLDS : 1) };
}

const brimMend = ({ bedding }: Plan): Mend => ({
  label: `Give everything a brim of ${BRIM} mm`,
  change: { do: 'set', set: { bedding: { ...bedding, brim: BRIM } } },
});

/** What is to be said of how pieces are printed: rest, support, warping, layers. Only of files, not of their copies. */
export function printFindings(context: PrintContext, prints: readonly PiecePrint[]): Finding[] {
  const { plan, evaluation } = context;
  return prints
    .filter((p) => p.of === p.key)
    .flatMap((print): Finding[] => {
      const piece = evaluation.pieces.find((p) => p.key === print.key)!;
      const printer = printerOfPrint(plan, print);
      const setting = printSettingOf(printer);
      const where = { piece: print.key };
      const f = print.figures;
      const out: Finding[] = [];
      if (f.standSupported < 0) {
        out.push({
          code: 'print.falls',
          severity: 'warn',
          where,
          message: `${piece.code} would fall over in its pose: the middle of its mass is ${mm(-f.standSupported)} beside what it stands on.`,
          value: f.standSupported,
          limit: 0,
        });
      } else if (printer.kind === 'filament' && f.restArea < LITTLE * f.footprint) {
        out.push({
          code: 'print.rest',
          severity: 'warn',
          where,
          message: `${piece.code} touches the bed with ${(f.restArea / 100).toFixed(2)} cm² only. A brim or another pose will hold it better.`,
          value: f.restArea,
          limit: LITTLE * f.footprint,
        });
      } else if (printer.kind === 'filament' && f.tip > TIPS && f.height > TALL) {
        out.push({
          code: 'print.tips',
          severity: 'warn',
          where,
          message: `${piece.code} is ${mm(f.height)} tall on a narrow rest: the middle of its mass is ${f.tip.toFixed(1)} times as high as the rest is wide. A brim or another pose will help.`,
          value: f.tip,
          limit: TIPS,
        });
      }
      if (f.locked * f.columnVolume > LOCKED) {
        out.push({
          code: 'print.locked',
          severity: 'warn',
          where,
          message: `${piece.code} has ${((f.locked * f.columnVolume) / 1000).toFixed(1)} cm³ of support inside that no tool can reach.`,
          value: f.locked * f.columnVolume,
          limit: LOCKED,
        });
      }
      if (f.showScars > MARK) {
        out.push({
          code: 'print.scars',
          severity: 'warn',
          where,
          message: `Support stands on ${(f.showScars / 100).toFixed(1)} cm² of the show faces of ${piece.code}.`,
          value: f.showScars,
          limit: MARK,
        });
      }
      const { sharp, braced, longest } = restLimit(plan, f, setting.rest);
      if (printer.kind === 'filament' && f.restLength > longest) {
        out.push({
          code: 'print.warps',
          severity: 'warn',
          where,
          message: `${piece.code} rests on ${mm(f.restLength)}, longer than the ${mm(longest)} from which ${printer.material ?? 'its material'} lifts at its ends${sharp ? `, the sooner as it has a corner of ${Math.round(degrees(f.restCorner))}°` : ''}. ${braced ? 'Another' : 'A brim, another'} pose or a shorter piece will help.`,
          value: f.restLength,
          limit: longest,
          ...(!braced && { mend: brimMend(plan) }),
        });
      }
      if (f.pegsAcross > ACROSS) {
        out.push({
          code: 'print.across',
          severity: 'note',
          where,
          message: `The pegs of ${piece.code} stand up from the bed, so layers lie across them: they break more easily than lying.`,
          value: f.pegsAcross,
          limit: ACROSS,
        });
      }
      return out;
    })
    .concat(sideFindings(context, prints));
}

/** Pegs that keep pieces from resting well, each with the change that helps, and what that saves. */
export const sideFindings = (context: PrintContext, prints: readonly PiecePrint[]): Finding[] =>
  spoiltRests(context, prints).map((s) => sideFinding(context, s));

/** Pegs that would be better elsewhere, with the change that puts them there. */
function sideFinding({ plan, evaluation }: PrintContext, spoilt: SpoiltRest): Finding {
  const codeOf = (key: string | undefined): string => evaluation.pieces.find((p) => p.key === key)?.code ?? '';
  const own = codeOf(spoilt.piece);
  const { joints, way, before, after, seam } = spoilt;
  const placed = evaluation.joints.find((j) => j.id === joints[0]);
  const other = codeOf(placed?.male === spoilt.piece ? (placed.socket ?? undefined) : (placed?.male ?? undefined));
  const name = plan.seams.find((s) => s.id === seam)?.name || `seam ${seam}`;
  const pegs = joints.length === 1 ? 'A peg keeps' : `${joints.length} pegs keep`;
  const instead = way === 'swap' ? `with ${joints.length === 1 ? 'it' : 'them'} on ${other}` : 'with loose dowels';
  const cm3 = (x: number): string => (x / 1000).toFixed(1);
  return {
    code: 'print.side',
    severity: 'note',
    where: { piece: spoilt.piece },
    message: `${pegs} ${own} from lying on its face at ${name}: ${instead} it needs ${cm3(after)} cm³ of support there, instead of ${cm3(before)}.`,
    value: before,
    limit: after,
    mend: {
      label: way === 'swap' ? `Put ${joints.length === 1 ? 'it' : 'them'} on ${other}` : 'Use loose dowels',
      change: spoilt.change,
    },
  };
}

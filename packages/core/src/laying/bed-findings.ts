import { boxOfShadow, nearerThan, placed, type Shadow, sharedArea } from '../beds/index.ts';
import type { Bed, Finding, Mend, PlacedPiece, Printer } from '../document/index.ts';
import { mm } from '../units.ts';
import { bedHours, bedRoom, nameOfCopy, shadowOfPrint } from './fill.ts';
import type { PiecePrint } from './model.ts';
import { type PrintContext, printersOf } from './prints.ts';

/** Outlines that cover less of each other are as good as apart, mm². */
const ROUNDING = 0.02;
/** A piece may be so much over the edge by rounding, mm. */
const HAIR = 0.1;

/** What is said of a bed in lists: its name, or its place among them. */
export const bedName = (bed: Bed, beds: readonly Bed[]): string => bed.name || `Bed ${beds.indexOf(bed) + 1}`;

/** What is to be said of the beds of a plan, and of pieces that are on none. */
export function bedFindings(context: PrintContext, prints: readonly PiecePrint[]): Finding[] {
  const { plan, evaluation } = context;
  if (plan.beds.length === 0) return [];
  const byKey = new Map(prints.map((p) => [p.key, p]));
  const codeOf = (key: string): string => evaluation.pieces.find((p) => p.key === key)?.code ?? key;
  const without = (bed: Bed, at: PlacedPiece): Mend => ({
    label: 'Take it off the bed',
    change: {
      do: 'set',
      set: { beds: plan.beds.map((b) => (b === bed ? { ...b, pieces: b.pieces.filter((p) => p !== at) } : b)) },
    },
  });
  const out: Finding[] = [];
  const seen = new Set<string>();
  for (const bed of plan.beds) {
    const name = bedName(bed, plan.beds);
    const printer = printersOf(plan).find((p) => p.name === bed.printer);
    if (!printer) {
      out.push({
        code: 'bed.printer',
        severity: 'stop',
        where: { bed: bed.id },
        message: `${name} is for the printer ${bed.printer}, which this project no longer uses.`,
        mend: {
          label: `Give it to ${plan.printer.name}`,
          change: { do: 'setBed', id: bed.id, set: { printer: plan.printer.name } },
        },
      });
      continue;
    }
    const lying: { at: PlacedPiece; shadow: Shadow }[] = [];
    for (const at of bed.pieces) {
      const print = byKey.get(at.piece);
      const copy = nameOfCopy(at);
      if (!print || at.copy > print.copies || seen.has(copy)) {
        const why = !print ? 'is not made any more' : seen.has(copy) ? 'lies on two places' : 'is one copy too many';
        out.push({
          code: 'bed.piece',
          severity: 'stop',
          where: { bed: bed.id, ...(print && { piece: at.piece }) },
          message: `${name}: ${print ? codeOf(at.piece) : 'a piece'} ${why}.`,
          mend: without(bed, at),
        });
        continue;
      }
      seen.add(copy);
      lying.push({ at, shadow: placed(shadowOfPrint(context, print), at.x, at.y, at.spin) });
    }
    out.push(...outside(bed, name, printer, lying, plan.bedding.brim, codeOf));
    out.push(...overlapping(bed, name, lying, plan.bedding.brim, codeOf));
    const hours = bedHours(
      printer,
      lying.map(({ at }) => byKey.get(at.piece)!.estimate.hours),
    );
    const limit = plan.bedding.hours;
    if (limit !== undefined && hours > limit + 1e-9) {
      out.push({
        code: 'bed.hours',
        severity: 'warn',
        where: { bed: bed.id },
        message: `${name} takes about ${hours.toFixed(1)} h, longer than the ${limit} h that a bed may take.`,
        value: hours,
        limit,
      });
    }
  }
  for (const print of prints) {
    const missing = Array.from({ length: print.copies }, (_, i) => i + 1).filter(
      (c) => !seen.has(nameOfCopy({ piece: print.key, copy: c })),
    );
    if (missing.length === 0) continue;
    out.push({
      code: 'bed.missing',
      severity: 'note',
      where: { piece: print.key },
      message:
        print.copies === 1
          ? `${codeOf(print.key)} lies on no bed.`
          : `${missing.length} of ${print.copies} copies of ${codeOf(print.key)} lie on no bed.`,
      value: missing.length,
      limit: 0,
    });
  }
  return out;
}

/**
 * By how much an outline with its brim reaches beyond what a printer can use of its bed, mm, 0 where it does not (by more
 * than rounding); and whether it lies over what is kept free there.
 */
export function beyondBed(shadow: Shadow, brim: number, printer: Printer): { over: number; blocked: boolean } {
  const { width, depth, keepOut } = bedRoom(printer);
  const { margin } = printer;
  const { min, max } = boxOfShadow(shadow);
  const over = brim + Math.max(margin - min[0], margin - min[1], max[0] - margin - width, max[1] - margin - depth);
  const blocked = keepOut.some(({ at: [x, y], size: [w, d] }) => {
    const box = Float64Array.from([x, y, x + w, y, x + w, y + d, x, y + d], (v) => v + margin);
    return tooNear(shadow, [box], brim);
  });
  return { over: over > HAIR ? over : 0, blocked };
}

/** Whether outlines lie over each other by more than rounding, or nearer than so many mm, which their brims take. */
export const tooNear = (a: Shadow, b: Shadow, room: number): boolean =>
  sharedArea(a, b) > ROUNDING || (room > HAIR && nearerThan(a, b, room - HAIR));

function outside(
  bed: Bed,
  name: string,
  printer: Printer,
  lying: readonly { at: PlacedPiece; shadow: Shadow }[],
  brim: number,
  codeOf: (key: string) => string,
): Finding[] {
  return lying.flatMap(({ at, shadow }): Finding[] => {
    const { over, blocked } = beyondBed(shadow, brim, printer);
    if (over <= 0 && !blocked) return [];
    return [
      {
        code: 'bed.outside',
        severity: 'stop',
        where: { bed: bed.id, piece: at.piece },
        message: blocked
          ? `${name}: ${codeOf(at.piece)} lies where ${printer.name} keeps its bed free.`
          : `${name}: ${codeOf(at.piece)} reaches ${mm(over)} beyond what ${printer.name} can use.`,
        value: blocked ? 0 : over,
        limit: 0,
      },
    ];
  });
}

function overlapping(
  bed: Bed,
  name: string,
  lying: readonly { at: PlacedPiece; shadow: Shadow }[],
  brim: number,
  codeOf: (key: string) => string,
): Finding[] {
  return lying.flatMap(({ at, shadow }, i) =>
    lying.slice(i + 1).flatMap(({ at: other, shadow: its }): Finding[] => {
      if (!tooNear(shadow, its, 2 * brim)) return [];
      const area = sharedArea(shadow, its);
      const both = `${codeOf(at.piece)} and ${codeOf(other.piece)}`;
      return [
        {
          code: 'bed.overlap',
          severity: 'stop',
          where: { bed: bed.id, piece: at.piece },
          message:
            area > ROUNDING
              ? `${name}: ${both} lie over each other, ${(area / 100).toFixed(2)} cm².`
              : `${name}: the brims of ${both} lie over each other. Move them ${mm(2 * brim)} apart.`,
          value: area,
          limit: 0,
        },
      ];
    }),
  );
}

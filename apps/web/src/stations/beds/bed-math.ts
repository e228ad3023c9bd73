import {
  type Bed,
  type Bedding,
  bedHours,
  bedRoom,
  beyondBed,
  loopArea,
  nameOfCopy,
  nest,
  type PlacedPiece,
  type Plan,
  type Printer,
  placed,
  poleOf,
  printerNamed,
  shadowArea,
  tooNear,
} from '@gephyra/core/plan';
import type { PrintView } from '../../engine/prints.ts';

type Prints = ReadonlyMap<string, PrintView>;

/** A piece on a bed, drawn: its outline there, and whether it lies badly. */
export interface OnBed {
  readonly at: PlacedPiece;
  readonly print: PrintView;
  readonly shadow: readonly Float64Array[];
  readonly bad: boolean;
}

/** The printer of a bed; the plan's main one where it is gone. */
export const printerOfBed = (plan: Plan, bed: Pick<Bed, 'printer'>): Printer => printerNamed(plan, bed.printer);

/** The pieces of a bed as they lie; one that overlaps another, or leaves what the printer can use, is marked. */
export function onBed(bed: Bed, prints: Prints, printer: Printer, { brim }: Pick<Bedding, 'brim'>): OnBed[] {
  const lying = bed.pieces.flatMap((at) => {
    const print = prints.get(at.piece);
    return print ? [{ at, print, shadow: placed(print.shadow, at.x, at.y, at.spin) }] : [];
  });
  const leaves = (shadow: OnBed['shadow']): boolean => {
    const { over, blocked } = beyondBed(shadow, brim, printer);
    return over > 0 || blocked;
  };
  return lying.map((own, i) => ({
    ...own,
    bad: leaves(own.shadow) || lying.some((other, k) => k !== i && tooNear(own.shadow, other.shadow, 2 * brim)),
  }));
}

/** Hours and grams of a bed, and the share of what the printer can use that its pieces cover. */
export function sumOfBed(bed: Bed, prints: Prints, printer: Printer): { hours: number; grams: number; share: number } {
  const own = bed.pieces.flatMap((p) => prints.get(p.piece) ?? []);
  const { width, depth } = bedRoom(printer);
  return {
    hours: bedHours(
      printer,
      own.map((p) => p.estimate.hours),
    ),
    grams: own.reduce((sum, p) => sum + p.estimate.grams, 0),
    share: own.reduce((sum, p) => sum + shadowArea(p.shadow), 0) / (width * depth),
  };
}

/** Copies of pieces that lie on no bed. */
export function unplaced(plan: Plan, prints: readonly PrintView[]): { print: PrintView; copy: number }[] {
  const taken = new Set(plan.beds.flatMap((b) => b.pieces.map(nameOfCopy)));
  return prints.flatMap((print) =>
    Array.from({ length: print.copies }, (_, i) => i + 1)
      .filter((copy) => !taken.has(nameOfCopy({ piece: print.key, copy })))
      .map((copy) => ({ print, copy })),
  );
}

/** A free place and turn for a piece on a bed beside what lies there, as filling finds one; the middle where there is none. */
export function freePlace(
  { shadow, estimate }: Pick<PrintView, 'shadow' | 'estimate'>,
  others: readonly OnBed[],
  printer: Printer,
  { spacing, brim }: Bedding,
): { x: number; y: number; spin: number } {
  const { margin } = printer;
  const fixed = others.map((o) => ({
    shadow: placed(o.print.shadow, o.at.x - margin, o.at.y - margin, o.at.spin),
    hours: o.print.estimate.hours,
  }));
  const item = { id: 'new', like: 'new', shadow, hours: estimate.hours, height: 0 };
  const [found] = nest([item], { ...bedRoom(printer), spacing, brim }, [fixed]).placements;
  // a second bed is not what was asked for
  if (found?.bed !== 0) return { x: printer.size[0] / 2, y: printer.size[1] / 2, spin: 0 };
  return { x: found.x + margin, y: found.y + margin, spin: found.spin };
}

/** Loops as a path of an SVG whose y points down. */
export const pathOfShadow = (shadow: readonly Float64Array[]): string =>
  shadow
    .map((loop) => {
      let d = '';
      for (let i = 0; i < loop.length; i += 2)
        d += `${i === 0 ? 'M' : 'L'}${loop[i].toFixed(2)} ${(-loop[i + 1]).toFixed(2)}`;
      return `${d}Z`;
    })
    .join('');

/** A place well within an outline that is turned, for its code: the farthest from its edge. */
export function middleOf(shadow: readonly Float64Array[], spin: number): [number, number] {
  const bySize = [...shadow].sort((a, b) => loopArea(b) - loopArea(a));
  const { u, v } = poleOf({ outer2: bySize[0], holes2: bySize.filter((l) => loopArea(l) < 0) });
  const [c, s] = [Math.cos(spin), Math.sin(spin)];
  return [c * u - s * v, s * u + c * v];
}

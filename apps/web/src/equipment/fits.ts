import type { Equipment, FitResult, OwnPrinter } from '@gephyra/contract';
import { FITS, type Fit, type JointKind, learnedFactor, MATERIALS, PLAINEST, type Printer } from '@gephyra/core/plan';

type Sets = NonNullable<Printer['fits']>;

/** The material a printer prints with, by name. */
export const materialName = (printer: Pick<Printer, 'material' | 'kind'>): string =>
  printer.material ?? MATERIALS.find((m) => m.kind === printer.kind)?.name ?? 'PLA';

/** Fits with what a coupon of a kind said; a pin's hold for all kinds that are not known better. */
export function mergedFits(fits: Sets | undefined, kind: JointKind | 'all', gaps: Partial<Record<Fit, number>>): Sets {
  const where = kind === PLAINEST ? 'all' : kind;
  return { ...fits, [where]: { ...fits?.[where], ...gaps } };
}

const plain = ({ name, size, margin, nozzle, kind, limits }: Printer): Omit<OwnPrinter, 'materials'> => ({
  name,
  size,
  margin,
  nozzle,
  kind,
  ...(limits && { limits }),
});

/** The equipment after a coupon of a printer was tried: its result kept, its fits set, printer and material added if new. */
export function withResult(equipment: Equipment, printer: Printer, result: FitResult): Equipment {
  const known = equipment.printers.find((p) => p.name === printer.name) ?? { ...plain(printer), materials: [] };
  const name = materialName(printer);
  const material = known.materials.find((m) => m.name === name) ?? { name, fits: {}, results: [], prints: [] };
  const gaps = Object.fromEntries(
    FITS.flatMap((f) => (result.gaps[f] === undefined ? [] : [[f, result.gaps[f]]])),
  ) as Partial<Record<Fit, number>>;
  const next = {
    ...material,
    fits: mergedFits(material.fits, result.kind, gaps),
    results: [result, ...material.results].slice(0, 200),
  };
  const changed = { ...known, materials: [...known.materials.filter((m) => m.name !== name), next] };
  return { ...equipment, printers: [...equipment.printers.filter((p) => p.name !== printer.name), changed] };
}

/** A printer of the equipment as a plan has it, with what is known of a material. */
export function printerOf(known: OwnPrinter, material: string | undefined): Printer {
  const own = known.materials.find((m) => m.name === material) ?? known.materials[0];
  const { materials: _, limits, keepOut, ...rest } = known;
  const learned = learnedFactor(own?.prints ?? [], new Date());
  return {
    ...rest,
    ...(limits && { limits }),
    ...(own && { material: own.name }),
    ...(own && Object.keys(own.fits).length > 0 && { fits: own.fits }),
    ...(own?.setting && { setting: own.setting }),
    ...(keepOut && keepOut.length > 0 && { keepOut }),
    ...(learned.count > 0 && { learned }),
  } as Printer;
}

/** A plan's printer as the equipment knows it now, in its material; null where that is the same, or it is not known there. */
export function newerOf({ printers }: Equipment, printer: Printer): Printer | null {
  const known = printers.find((p) => p.name === printer.name);
  if (!known) return null;
  const now = printerOf(known, printer.material);
  const told = (p: Printer): string => JSON.stringify(Object.entries(p).sort(([a], [b]) => (a < b ? -1 : 1)));
  return told(now) === told(printer) ? null : now;
}

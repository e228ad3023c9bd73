/** Names for how tightly two parts go together, tightest first. */
export const FITS = ['press', 'snug', 'slip', 'loose'] as const;
export type Fit = (typeof FITS)[number];

/** Gaps per side, mm. */
export type FitTable = Readonly<Record<Fit, number>>;

/** What a printer says of its fits: for all kinds, and for single kinds where they differ. */
export type FitSets = Readonly<Partial<Record<string, Readonly<Partial<Record<Fit, number | undefined>>> | undefined>>>;

const FILAMENT: FitTable = { press: 0.05, snug: 0.1, slip: 0.2, loose: 0.3 };
const RESIN: FitTable = { press: 0.02, snug: 0.05, slip: 0.1, loose: 0.15 };

/** Gaps to begin with, mm per side: for filament at a 0.4 mm nozzle (a coarser one asks for more), and for resin. */
export function startingFits(printer: FitPrinter): FitTable {
  if (printer.kind === 'resin') return RESIN;
  const more = Math.max(0, printer.nozzle - 0.4) * 0.15;
  const table: Record<Fit, number> = { ...FILAMENT };
  for (const fit of FITS) table[fit] = Number((FILAMENT[fit] + more).toFixed(3));
  return table;
}

/** What starting gaps follow from. */
export interface FitPrinter {
  readonly kind: 'filament' | 'resin';
  readonly nozzle: number;
}

/**
 * The gap of a fit, mm per side: what was found out for the kind, else for all, else the starting value; the latter two with
 * what the kind differs by (`extra`; resin is finer, so half of it).
 */
export function fitGap(
  fit: Fit,
  kind: string,
  printer: FitPrinter & { readonly fits?: FitSets | undefined },
  extra: number,
): number {
  const own = printer.fits?.[kind]?.[fit];
  if (own !== undefined) return own;
  const base = printer.fits?.all?.[fit] ?? startingFits(printer)[fit];
  return Number(Math.max(0, base + extra * (printer.kind === 'resin' ? 0.5 : 1)).toFixed(4));
}

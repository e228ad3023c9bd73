/** Names for how tightly two parts go together, tightest first. */
export const FITS = ['press', 'snug', 'slip', 'loose'] as const;
export type Fit = (typeof FITS)[number];

/** Gaps per side, mm. */
export type FitTable = Readonly<Record<Fit, number>>;

export const JOINT_KINDS = ['key', 'pin', 'cone', 'dowel', 'snap', 'magnet', 'lap'] as const;
export type JointKind = (typeof JOINT_KINDS)[number];

/** What a printer says of its fits: for all kinds, and for single kinds where they differ. */
export type FitSets = Readonly<
  Partial<Record<JointKind | 'all', Readonly<Partial<Record<Fit, number | undefined>>> | undefined>>
>;

const FILAMENT: FitTable = { press: 0.05, snug: 0.1, slip: 0.2, loose: 0.3 };
const RESIN: FitTable = { press: 0.02, snug: 0.05, slip: 0.1, loose: 0.15 };

/**
 * What a kind's starting values differ by from those of a plain pin, mm. A cone centres itself; a bought rod is out of round
 * and its narrow bore prints narrower than drawn; a magnet must go in without force; a lap is long and seldom straight.
 */
const EXTRA: Readonly<Partial<Record<JointKind, number>>> = { cone: -0.05, magnet: 0.05, lap: 0.05 };
const STOCK_EXTRA = 0.05;

/** Gaps to begin with, mm per side: for filament at a 0.4 mm nozzle (a coarser one asks for more), and for resin. */
export function startingFits(printer: { readonly kind: 'filament' | 'resin'; readonly nozzle: number }): FitTable {
  if (printer.kind === 'resin') return RESIN;
  const more = Math.max(0, printer.nozzle - 0.4) * 0.15;
  const table: Record<Fit, number> = { ...FILAMENT };
  for (const fit of FITS) table[fit] = Number((FILAMENT[fit] + more).toFixed(3));
  return table;
}

/** The gap of a fit for a kind of joint: what was found out for the kind, else for all, else the starting value. */
export function gapOf(
  fit: Fit,
  kind: JointKind,
  printer: { readonly kind: 'filament' | 'resin'; readonly nozzle: number; readonly fits?: FitSets | undefined },
  bought = false,
): number {
  const own = printer.fits?.[kind]?.[fit];
  if (own !== undefined) return own;
  const base = printer.fits?.all?.[fit] ?? startingFits(printer)[fit];
  const share = printer.kind === 'resin' ? 0.5 : 1;
  const extra = (EXTRA[kind] ?? 0) + (kind === 'dowel' && bought ? STOCK_EXTRA : 0);
  return Number(Math.max(0, base + extra * share).toFixed(4));
}

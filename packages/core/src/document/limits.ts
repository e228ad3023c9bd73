import type { Printer } from './schema.ts';

/** What checks of joints hold against, mm. */
export interface Limits {
  /** thinner cannot be printed */
  readonly stop: number;
  /** thinner is weak */
  readonly warn: number;
  /** least cover of a magnet */
  readonly cover: number;
  /** widest roof that prints without support; resin bridges what it likes */
  readonly bridge: number;
}

/** Walls thicker than this need no measuring, mm: they are as good as any. */
export const ampleWall = (printer: Pick<Printer, 'kind' | 'nozzle' | 'limits'>): number =>
  Math.max(6, 1.5 * wallLimits(printer).warn);

/**
 * The printer's own limits, or what follows from it: with filament one line of the nozzle can be printed and three hold;
 * resin prints finer than it can bear.
 */
export function wallLimits({ kind, nozzle, limits = {} }: Pick<Printer, 'kind' | 'nozzle' | 'limits'>): Limits {
  const resin = kind === 'resin';
  const stop = limits.least ?? (resin ? 0.4 : nozzle);
  return {
    stop,
    warn: Math.max(stop, limits.wall ?? (resin ? 0.8 : 3 * nozzle)),
    cover: limits.cover ?? (resin ? 0.4 : Math.max(0.4, nozzle)),
    bridge: limits.bridge ?? (resin ? Infinity : 12),
  };
}

import type { Printer } from '@gephyra/core/plan';

const make = (name: string, size: [number, number, number], more: Partial<Printer> = {}): Printer => ({
  name,
  size,
  margin: 2,
  nozzle: 0.4,
  kind: 'filament',
  ...more,
});

/** Plain printers to choose from; any can be changed to own measures. */
export const PRINTERS: readonly Printer[] = [
  make('Small 130', [130, 130, 150]),
  make('Resin 145', [145, 90, 180], { kind: 'resin', nozzle: 0.05, margin: 1 }),
  make('Desktop 180', [180, 180, 180]),
  make('Desktop 220', [220, 220, 250]),
  make('Large 300', [300, 300, 340]),
  make('Workshop 400', [400, 400, 450]),
];

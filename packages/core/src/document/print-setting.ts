import { z } from 'zod';
import { asking, type Measure } from '../asked.ts';
import { between } from '../fields.ts';
import { radians } from '../units.ts';

/** What a printer does with a material; whatever is not said has a starting value. Lengths mm, speeds mm/s. */
export const printSettingSchema = z.strictObject({
  layer: between(0.01, 2).optional(),
  /** steepest lean from upright that prints without support, radians */
  overhang: between(0, 1.5).optional(),
  /** share of their columns that supports fill */
  support: between(0.01, 1).optional(),
  /** g/cm³ */
  density: between(0.1, 25).optional(),
  /** of a kilogram, in whatever currency */
  price: between(0, 10_000).optional(),
  /** minutes before the first layer of a bed */
  warmUp: between(0, 240).optional(),
  /** longest side of a rest that does not warp */
  rest: between(10, 5000).optional(),
  // filament
  line: between(0.02, 5).optional(),
  walls: z.int().min(1).max(100).optional(),
  top: z.int().min(0).max(100).optional(),
  bottom: z.int().min(0).max(100).optional(),
  /** share that is filled inside */
  infill: between(0, 1).optional(),
  wallSpeed: between(1, 1000).optional(),
  fillSpeed: between(1, 1000).optional(),
  /** most that the hot end melts, mm³/s */
  flow: between(0.1, 200).optional(),
  /** what a layer takes beside its lines, s */
  layerSeconds: between(0, 600).optional(),
  // resin; seconds
  exposure: between(0.1, 600).optional(),
  liftSeconds: between(0, 600).optional(),
  baseLayers: z.int().min(0).max(100).optional(),
  baseExposure: between(0.1, 600).optional(),
});

export type PrintSettingInput = z.output<typeof printSettingSchema>;
export type PrintSetting = { readonly [K in keyof PrintSettingInput]-?: NonNullable<PrintSettingInput[K]> };

/** Starting values that are not the common ones. */
type Starting = Partial<PrintSetting>;

const COMMON: PrintSetting = {
  layer: 0.2,
  overhang: radians(45),
  support: 0.2,
  density: 1.24,
  price: 24,
  warmUp: 6,
  rest: 200,
  line: 0.45,
  walls: 3,
  top: 5,
  bottom: 4,
  infill: 0.15,
  wallSpeed: 60,
  fillSpeed: 90,
  flow: 12,
  layerSeconds: 4,
  exposure: 2.5,
  liftSeconds: 6,
  baseLayers: 5,
  baseExposure: 30,
};

const RESIN: Starting = {
  layer: 0.05,
  overhang: radians(30),
  support: 0.08,
  density: 1.1,
  price: 38,
  warmUp: 2,
};

/** By material: density, price and how long a rest may be before its corners lift. Rounded, on the careful side. */
const BY_MATERIAL: Readonly<Record<string, Starting>> = {
  PLA: { density: 1.24, price: 24, rest: 200 },
  'Tough PLA': { density: 1.22, price: 32, rest: 190 },
  PETG: { density: 1.27, price: 26, rest: 170, wallSpeed: 50, fillSpeed: 70 },
  ABS: { density: 1.04, price: 26, rest: 100 },
  ASA: { density: 1.07, price: 32, rest: 110 },
  Nylon: { density: 1.13, price: 60, rest: 90, wallSpeed: 40, fillSpeed: 60 },
};

/** What a printer prints with: its own setting, and starting values for its kind, nozzle and material beside it. */
export function printSettingOf(printer: {
  readonly kind: 'filament' | 'resin';
  readonly nozzle: number;
  readonly material?: string | undefined;
  readonly setting?: PrintSettingInput | undefined;
}): PrintSetting {
  const { kind, nozzle, material, setting } = printer;
  const start: Starting =
    kind === 'resin'
      ? RESIN
      : {
          layer: Math.round(Math.min(0.5 * nozzle, 1) * 100) / 100,
          line: Math.round(nozzle * 1.125 * 100) / 100,
          ...BY_MATERIAL[material ?? 'PLA'],
        };
  return { ...COMMON, ...start, ...setting } as PrintSetting;
}

/** What people set of how a printer prints: what is common, and what its kind of printer has. */
export function printSettingFields(kind: 'filament' | 'resin', setting: PrintSetting): readonly Measure[] {
  const ask = asking(printSettingSchema.shape, setting);
  return [
    ask.length('layer', 'Layer', { step: 0.05 }),
    ask.angle('overhang', 'Overhang from upright'),
    ask.share('support', 'Support filled'),
    ask.length('rest', 'Longest rest', { step: 1 }),
    ask.number('density', 'Density', { unit: 'g/cm³', step: 0.05 }),
    ask.number('price', 'Price of a kilogram', { unit: '' }),
    ask.number('warmUp', 'To warm up', { unit: 'min' }),
    ...(kind === 'resin'
      ? [
          ask.number('exposure', 'Exposure', { unit: 's' }),
          ask.number('liftSeconds', 'Lift', { unit: 's' }),
          ask.count('baseLayers', 'Base layers'),
          ask.number('baseExposure', 'Base exposure', { unit: 's' }),
        ]
      : [
          ask.length('line', 'Line width', { step: 0.05 }),
          ask.count('walls', 'Walls'),
          ask.count('top', 'Layers above'),
          ask.count('bottom', 'Layers below'),
          ask.share('infill', 'Filled inside'),
          ask.number('wallSpeed', 'Speed of walls', { unit: 'mm/s' }),
          ask.number('fillSpeed', 'Speed inside', { unit: 'mm/s' }),
          ask.number('flow', 'Most that melts', { unit: 'mm³/s' }),
          ask.number('layerSeconds', 'Beside, each layer', { unit: 's' }),
        ]),
  ];
}

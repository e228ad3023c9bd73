import { z } from 'zod';
import { asking, lengths } from '../../../asked.ts';
import { between } from '../../../fields.ts';
import { mm, radians, wholeDegrees } from '../../../units.ts';
import type { Ring } from '../../form.ts';
import { circle, flattened } from '../../outline.ts';
import { STOCK_NAMES, STOCKS, stickLength } from '../../stock.ts';
import { common, half, type Kind, rounded, usually } from '../kind.ts';
import { hingeForm, knuckleWidth } from './form.ts';

export const hingeSchema = z
  .strictObject({
    ...common,
    kind: z.literal('hinge'),
    /** of its knuckles */
    diameter: between(3, 60),
    /** of all knuckles together, along the axis */
    length: between(6, 400),
    knuckles: z.int().min(2).max(31).default(3),
    /** thickness of its pin */
    pin: between(0.8, 30),
    stock: z.enum(['printed', 'wood', 'rod', 'filament', 'own']).default('rod'),
    /** how far it opens, radians */
    opens: between(0.05, radians(150)).default(Math.PI / 2),
  })
  .refine((j) => j.pin <= 0.7 * j.diameter, { path: ['pin'], message: 'leaves nothing of the knuckles' })
  .refine((j) => j.length >= 2 * j.knuckles, { path: ['length'], message: 'is too short for so many knuckles' })
  .refine((j) => j.lean === undefined, { path: ['lean'], message: 'is not for a hinge, whose axis lies in its face' });

type Hinge = z.output<typeof hingeSchema>;

/** What it opens over hangs by no more than 45° then. */
const MOST_UPRIGHT = radians(135);

/** The pin upright: a printed one has a flat to lie on. */
function pinOf({ pin, length, stock }: Hinge): Ring[] {
  const loop = (stock === 'printed' ? flattened(pin, 0) : circle(pin)).at(0);
  return [
    { loop, height: 0 },
    { loop, height: length },
  ];
}

/** A pin that leaves a third of the knuckle on either side; bought ones come in a few sizes. */
const pinFor = (diameter: number): number => [6, 5, 4, 3, 2].find((d) => d <= diameter * 0.36) ?? rounded(diameter / 3);

export const hinge: Kind<typeof hingeSchema> = {
  schema: hingeSchema,
  ...usually,
  kind: 'hinge',
  name: 'hinge',
  male: 'Knuckle',
  from: 'What opens',
  leans: false,
  swings: true,
  closing: 'loose',
  squat: true,
  shallower: false,
  usualSize: 9,
  tried: 9,
  title: () => 'hinge',
  sizes: (j) => `Ø ${j.diameter} × ${j.length}`,
  sizeOf: (j) => j.diameter,
  usual: (size) => {
    const diameter = Math.max(4, half(size));
    return { diameter, length: half(diameter * 3), knuckles: 3, pin: pinFor(diameter) };
  },
  plain: (across) => {
    const diameter = Math.max(3, across);
    return { diameter, length: diameter * 3, knuckles: 3, pin: pinFor(diameter) };
  },
  resized: (j, size) => (size < 4 ? null : { diameter: size, pin: Math.min(j.pin, pinFor(size)) }),
  deepened: () => ({}),
  // what the bore leaves of the knuckle on either side of it
  thicker: (j, wanted) => {
    const diameter = Math.ceil(20 * (j.pin / 2 + 0.3 + 2 * wanted)) / 10;
    return {
      label: `Make the knuckles ${mm(diameter)} thick and fewer`,
      set: { diameter, knuckles: Math.max(2, Math.min(j.knuckles, Math.floor(j.length / (2 * wanted + 1)))) },
    };
  },
  form: hingeForm,
  checks: (j) => {
    const stick = stickLength(j.stock);
    if (j.length <= stick) return [];
    return [
      {
        code: 'joint.stock',
        severity: 'stop',
        message: `The pin is cut ${mm(j.length)} long, but a stick has only ${mm(stick)}.`,
        value: j.length,
        limit: stick,
        mend: { label: `Make it ${mm(stick)} long`, set: { length: stick } },
      },
    ];
  },
  numbers: (j, gap) => [
    ['Opens', wholeDegrees(j.opens)],
    ['Each knuckle', `${mm(rounded(knuckleWidth(j, gap)))} wide`],
    ['Bore', `${mm(rounded(j.pin + 2 * gap))} wide, open at both ends`],
    // what is taken off leans over by as much as it opens beyond a right angle
    [
      'Prints',
      j.opens <= MOST_UPRIGHT ? 'face up, without support' : 'face up, with support where it opens over itself',
    ],
  ],
  loose: (j) => ({
    kind: 'dowel',
    what: `${STOCK_NAMES[j.stock]} ${j.pin}${j.stock === 'printed' ? ' with a flat' : ''}, hinge pin`,
    stock: j.stock,
    diameter: j.pin,
    count: 1,
    rod: pinOf(j),
    printed: j.stock === 'printed',
  }),
  trial: (fields) => ({ ...fields, knuckles: 3 }),
  inPlace: (j, _, { turn }) => {
    const rings = pinOf(j).map(({ loop, height }) => ({ loop, height: height - j.length / 2 }));
    const axis = [Math.cos(turn), Math.sin(turn)] as const;
    return [{ tone: j.stock === 'printed' ? 'printed' : 'bought', side: 'own', axis, rings }];
  },
  fields: (j) => {
    const ask = asking(hingeSchema.shape, j);
    const most = 0.7 * j.diameter;
    const sizes = (STOCKS.find((s) => s.stock === j.stock)?.diameters ?? []).filter((d) => d <= most);
    return [
      ask.length('diameter', 'Knuckles across', {
        says: 'Knuckles',
        set: (x) => ({ diameter: x, pin: Math.min(j.pin, 0.7 * x) }),
      }),
      ask.length('length', 'Along the axis', { says: 'Length', least: 2 * j.knuckles }),
      ask.count('knuckles', 'Knuckles', {
        most: Math.floor(j.length / 2),
        set: (x) => ({ knuckles: Math.round(x) }),
      }),
      ask.angle('opens', 'Opens', { step: 5 }),
      ask.choice(
        'stock',
        'Pin',
        [{ value: 'printed', label: 'Printed' }, ...STOCKS.map((s) => ({ value: s.stock, label: s.label }))],
        { shown: 'half' },
      ),
      sizes.length > 0
        ? ask.choice('pin', 'Pin across', lengths(sizes, j.pin), {
            says: 'Pin',
            shown: 'half',
            set: (d) => ({ pin: Number(d) }),
          })
        : ask.length('pin', 'Pin across', { says: 'Pin', most, step: 0.1 }),
    ];
  },
};

import { z } from 'zod';
import { asking, over, under } from '../../../asked.ts';
import { between } from '../../../fields.ts';
import { mm } from '../../../units.ts';
import { materialOf } from '../../materials.ts';
import { common, type Fault, half, type Kind, percent, usually } from '../kind.ts';
import { snapForm, snapLoad } from './form.ts';

/** How much of its diameter the slot may take, so that something is left of the prongs. */
const SLOT = 0.6;

export const snapSchema = z
  .strictObject({
    ...common,
    kind: z.literal('snap'),
    diameter: between(3, 60),
    depth: between(4, 120),
    /** between the two prongs */
    slot: between(0.4, 20).default(1.6),
    /** how far the barb stands out on either side */
    barb: between(0.1, 4).default(0.5),
  })
  .refine((j) => j.slot < SLOT * j.diameter, { path: ['slot'], message: 'leaves too little of the prongs' })
  .refine((j) => j.barb < j.diameter / 5 && 3 * j.barb < j.depth / 2, {
    path: ['barb'],
    message: 'is too large for the pin',
  });

type Snap = z.output<typeof snapSchema>;

/** Whether its prongs bend far enough to hold, have room to, and bear it. */
function loadFaults(
  j: Snap,
  gap: number,
  printer: { kind: 'filament' | 'resin'; material?: string | undefined },
): Fault[] {
  const material = materialOf(printer.material, printer.kind);
  const load = snapLoad(j, gap, material.modulus);
  if (load.bend <= 0) {
    return [
      {
        code: 'joint.holds',
        severity: 'warn',
        message: `The barb, ${mm(j.barb)}, is no wider than the gap, so it does not hold.`,
        value: j.barb,
        limit: gap,
        mend: { label: `Make the barb ${mm(gap + 0.3)}`, set: { barb: Number((gap + 0.3).toFixed(2)) } },
      },
    ];
  }
  if (2 * load.bend > j.slot) {
    return [
      {
        code: 'joint.slot',
        severity: 'stop',
        message: `The prongs bend by ${mm(load.bend)} each, but the slot is only ${mm(j.slot)}.`,
        value: j.slot,
        limit: 2 * load.bend,
        mend: {
          label: `Make the slot ${mm(Math.ceil(20 * load.bend) / 10)}`,
          set: { slot: Math.ceil(20 * load.bend + 1) / 10 },
        },
      },
    ];
  }
  if (load.strain <= material.strain) return [];
  const depth = Math.ceil(j.depth * Math.sqrt(load.strain / material.strain) * 2 + 1) / 2;
  return [
    {
      code: 'joint.strain',
      severity: load.strain > 2 * material.strain ? 'stop' : 'warn',
      message: `Its prongs are strained by ${percent(load.strain)}; ${material.name} bears ${percent(material.strain)}.`,
      value: load.strain,
      limit: material.strain,
      mend: { label: `Make it ${mm(depth)} long`, set: { depth } },
    },
  ];
}

export const snap: Kind<typeof snapSchema> = {
  schema: snapSchema,
  ...usually,
  kind: 'snap',
  name: 'snap pin',
  catches: true,
  closing: 'loose',
  shallower: false,
  title: () => 'snap pin',
  sizes: (j) => `${j.diameter} × ${j.depth}`,
  sizeOf: (j) => j.diameter,
  usual: (size) => {
    const d = Math.max(1.5, half(size));
    return {
      diameter: Math.max(5, d),
      depth: Math.max(10, half(2 * d)),
      slot: Number((Math.max(5, d) / 5).toFixed(1)),
    };
  },
  plain: (across, deep) => ({ diameter: across, depth: Math.max(deep, 2 * across), slot: across / 5 }),
  resized: (j, size) =>
    size < 3 ? null : { diameter: size, slot: Math.min(j.slot, size * 0.4), barb: Math.min(j.barb, size / 6) },
  // each prong has half of what its slot leaves
  thicker: (j, wanted) => {
    const size = Math.max(3, Math.ceil((j.slot + 4 * wanted) * 10) / 10);
    return { label: `Make it ${mm(size)} thick`, set: { diameter: size } };
  },
  form: snapForm,
  checks: (j, { gap, printer }) => loadFaults(j, gap, printer),
  numbers: (j, gap, printer) => {
    const material = materialOf(printer.material, printer.kind);
    const load = snapLoad(j, gap, material.modulus);
    return [
      ['To push it in', `about ${load.force.toFixed(0)} N`],
      ['Strain', `${(load.strain * 100).toFixed(1)} of ${(material.strain * 100).toFixed(1)} %`],
    ];
  },
  fields: (j) => {
    const ask = asking(snapSchema.shape, j);
    return [
      ask.length('diameter', 'Diameter', { least: over(Math.max(j.slot / SLOT, 5 * j.barb)) }),
      ask.length('depth', 'Depth', { least: over(6 * j.barb) }),
      ask.length('slot', 'Slot', { step: 0.1, most: under(SLOT * j.diameter) }),
      ask.length('barb', 'Barb', { step: 0.05, most: under(Math.min(j.diameter / 5, j.depth / 6)) }),
    ];
  },
};

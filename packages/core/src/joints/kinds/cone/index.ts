import { z } from 'zod';
import { asking } from '../../../asked.ts';
import { between } from '../../../fields.ts';
import { mm, radians } from '../../../units.ts';
import { common, half, type Kind, usually, width } from '../kind.ts';
import { coneForm } from './form.ts';

export const coneSchema = z.strictObject({
  ...common,
  kind: z.literal('cone'),
  diameter: width,
  /** of its wall against the mating face */
  slope: between(radians(30), radians(60)).default(radians(45)),
  /** diameter of the flat at its tip */
  tip: between(0.2, 50).default(0.8),
});

export const cone: Kind<typeof coneSchema> = {
  schema: coneSchema,
  ...usually,
  kind: 'cone',
  name: 'cone',
  male: 'Foot of the cone',
  squat: true,
  shallower: false,
  title: () => 'cone',
  sizes: (j) => `Ø ${j.diameter}`,
  sizeOf: (j) => j.diameter,
  usual: (size) => {
    const d = Math.max(1.5, half(size));
    return { diameter: d, tip: Math.min(0.8, d / 2) };
  },
  plain: (across) => ({ diameter: across }),
  resized: (j, size) => ({ diameter: size, tip: Math.min(j.tip, size / 2) }),
  thicker: (_, wanted) => {
    const size = Math.ceil(wanted * 20) / 10;
    return { label: `Leave ${mm(size)} at its tip`, set: { tip: size } };
  },
  // it centres itself
  extraGap: () => -0.05,
  form: coneForm,
  fields: (j) => {
    const ask = asking(coneSchema.shape, j);
    return [
      ask.length('diameter', 'Foot', { step: 0.1, set: (x) => ({ diameter: x, tip: Math.min(j.tip, x / 2) }) }),
      ask.angle('slope', 'Slope'),
      ask.length('tip', 'Tip', { step: 0.1 }),
    ];
  },
};

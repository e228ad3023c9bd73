import { z } from 'zod';
import { asking, words } from '../../../asked.ts';
import { between } from '../../../fields.ts';
import {
  common,
  deepenedWithTip,
  deeper,
  depth,
  half,
  type Kind,
  socketDepth,
  usually,
  widened,
  width,
} from '../kind.ts';
import { pinForm } from './form.ts';

export const pinSchema = z
  .strictObject({
    ...common,
    kind: z.literal('pin'),
    shape: z.enum(['round', 'square', 'hexagon', 'octagon']).default('round'),
    /** diameter, or width across flats */
    diameter: width,
    depth,
    socketDepth,
    /** lead-in at the tip */
    chamfer: between(0, 20).default(0.5),
  })
  .refine((j) => j.chamfer < Math.min(j.diameter / 2, j.depth), {
    path: ['chamfer'],
    message: 'must be less than half the diameter and less than the depth',
  })
  .refine(deeper.check, deeper.said);

export const pin: Kind<typeof pinSchema> = {
  schema: pinSchema,
  ...usually,
  kind: 'pin',
  name: 'pin',
  title: (j) => `${j.shape} pin`,
  sizes: (j) => `${j.diameter} × ${j.depth}`,
  sizeOf: (j) => j.diameter,
  usual: (size) => {
    const d = Math.max(1.5, half(size));
    return { shape: 'hexagon', diameter: d, depth: d, chamfer: Math.min(0.5, d / 4) };
  },
  plain: (across, deep) => ({ diameter: across, depth: deep }),
  resized: (j, size) => ({ diameter: size, chamfer: Math.min(j.chamfer, size / 4) }),
  deepened: deepenedWithTip,
  thicker: (_, wanted) => widened(wanted),
  slides: (j) => j.diameter,
  angular: () => ({ label: 'Make it hexagonal', set: { shape: 'hexagon' } }),
  form: pinForm,
  fields: (j) => {
    const ask = asking(pinSchema.shape, j);
    return [
      ask.choice('shape', 'Outline', words(['round', 'square', 'hexagon', 'octagon'])),
      ask.length('diameter', j.shape === 'round' ? 'Diameter' : 'Across flats', {
        says: 'Size',
        set: (x) => ({ diameter: x, chamfer: Math.min(j.chamfer, x / 4) }),
      }),
      ask.length('depth', 'Depth', { set: (x) => ({ depth: x, chamfer: Math.min(j.chamfer, x / 3) }) }),
      ask.length('chamfer', 'Lead-in', { most: Math.min(j.diameter / 2, j.depth) - 0.01, step: 0.1 }),
    ];
  },
};

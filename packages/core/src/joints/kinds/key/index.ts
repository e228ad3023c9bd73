import { z } from 'zod';
import { between, degrees } from '../../../fields.ts';
import { mm } from '../../../units.ts';
import {
  common,
  deepenedWithTip,
  deeper,
  depth,
  half,
  type Kind,
  rounded,
  socketDepth,
  usually,
  width,
} from '../kind.ts';
import { asking, words } from '../size-field.ts';
import { keyForm } from './form.ts';

export const keySchema = z
  .strictObject({
    ...common,
    kind: z.literal('key'),
    outline: z.enum(['rectangle', 'square', 'hexagon', 'd', 'rounded']).default('rectangle'),
    width,
    /** across; without it as the width */
    height: width.optional(),
    depth,
    socketDepth,
    /** of its sides against its axis */
    taper: between(0, degrees(30)).default(degrees(4)),
    /** radius of its upright edges */
    corner: between(0, 50).default(1),
    /** bevel of its tip */
    chamfer: between(0, 20).default(0.5),
  })
  .refine((j) => Math.tan(j.taper) * j.depth < 0.45 * Math.min(j.width, j.height ?? j.width), {
    path: ['taper'],
    message: 'leaves nothing of the key at its tip',
  })
  .refine(deeper.check, deeper.said);

export const key: Kind<typeof keySchema> = {
  schema: keySchema,
  ...usually,
  kind: 'key',
  name: 'key',
  male: 'Key',
  tried: 12,
  title: (j) => `${j.outline === 'd' ? 'D' : j.outline} key`,
  sizes: (j) => `${j.width} × ${j.height ?? j.width}`,
  sizeOf: (j) => j.width,
  usual: (size) => {
    const d = Math.max(1.5, half(size));
    const less = Math.max(1.5, half(0.7 * d));
    return { width: Math.max(2, d), height: less, depth: less, corner: Math.min(1, d / 8) };
  },
  plain: (across, deep) => ({ width: across, height: across * 0.6, depth: deep }),
  resized: (j, size) => {
    const height = j.height === undefined ? undefined : Math.max(0.5, rounded((j.height * size) / j.width));
    // its tapering sides must not meet before its tip
    const most = (0.44 * Math.min(size, height ?? size)) / Math.max(Math.tan(j.taper), 1e-9);
    return {
      width: size,
      ...(height !== undefined && { height }),
      depth: Math.max(0.5, Math.min(j.depth, size, Math.floor(most * 100) / 100)),
      ...(j.socketDepth !== undefined && { socketDepth: Math.max(j.socketDepth, j.depth) }),
    };
  },
  deepened: deepenedWithTip,
  thicker: (j, wanted) => {
    const size = Math.ceil(wanted * 20) / 10;
    return {
      label: `Make it ${mm(size)} across`,
      set: {
        width: Math.max(size, j.width),
        ...(j.height !== undefined && { height: Math.max(size, j.height) }),
      },
    };
  },
  slides: (j) => Math.min(j.width, j.height ?? j.width),
  form: keyForm,
  fields: (j) => {
    const ask = asking(keySchema.shape, j);
    const oblong = j.outline === 'rectangle' || j.outline === 'rounded';
    return [
      ask.choice('outline', 'Outline', [
        ...words(['rectangle', 'square', 'hexagon']),
        { value: 'd', label: 'D' },
        ...words(['rounded']),
      ]),
      ask.length('width', oblong ? 'Width' : 'Across', { says: 'Width' }),
      ...(oblong ? [ask.length('height', 'Height', { value: j.height ?? j.width })] : []),
      ask.length('depth', 'Depth'),
      ask.angle('taper', 'Taper', { step: 0.5 }),
      ...(j.outline === 'd' || j.outline === 'rounded'
        ? []
        : [ask.length('corner', 'Corner radius', { says: 'Corners', step: 0.1 })]),
      ask.length('chamfer', 'Bevel of the tip', { says: 'Bevel', step: 0.1 }),
    ];
  },
};

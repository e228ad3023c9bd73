import { z } from 'zod';
import { asking, over, under, words } from '../../../asked.ts';
import { between } from '../../../fields.ts';
import { mm, radians } from '../../../units.ts';
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
import { keyForm } from './form.ts';

/** How much of a key's width its tapering sides take away over its depth, at the most. */
const TAKEN = 0.45;

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
    taper: between(0, radians(30)).default(radians(4)),
    /** radius of its upright edges */
    corner: between(0, 50).default(1),
    /** bevel of its tip */
    chamfer: between(0, 20).default(0.5),
  })
  .refine((j) => Math.tan(j.taper) * j.depth < TAKEN * Math.min(j.width, j.height ?? j.width), {
    path: ['taper'],
    message: 'leaves nothing of the key at its tip',
  })
  .refine(deeper.check, deeper.said);

/** How deep a key as wide as this may be: its tapering sides must not meet before its tip. mm. */
const deepest = (across: number, taper: number): number => under((TAKEN * across) / Math.max(Math.tan(taper), 1e-9));

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
    return {
      width: size,
      ...(height !== undefined && { height }),
      depth: Math.max(0.5, Math.min(j.depth, size, deepest(Math.min(size, height ?? size), j.taper))),
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
    const across = Math.min(j.width, j.height ?? j.width);
    const least = over((Math.tan(j.taper) * j.depth) / TAKEN);
    const oblong = j.outline === 'rectangle' || j.outline === 'rounded';
    return [
      ask.choice('outline', 'Outline', [
        ...words(['rectangle', 'square', 'hexagon']),
        { value: 'd', label: 'D' },
        ...words(['rounded']),
      ]),
      ask.length('width', oblong ? 'Width' : 'Across', { says: 'Width', least }),
      ...(oblong ? [ask.length('height', 'Height', { value: j.height ?? j.width, least })] : []),
      ask.length('depth', 'Depth', { most: deepest(across, j.taper) }),
      ask.angle('taper', 'Taper', { step: 0.5, most: Math.atan(under((TAKEN * across) / j.depth)) }),
      ...(j.outline === 'd' || j.outline === 'rounded'
        ? []
        : [ask.length('corner', 'Corner radius', { says: 'Corners', step: 0.1 })]),
      ask.length('chamfer', 'Bevel of the tip', { says: 'Bevel', step: 0.1 }),
    ];
  },
};

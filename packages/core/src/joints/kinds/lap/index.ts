import { z } from 'zod';
import { asking } from '../../../asked.ts';
import { between } from '../../../fields.ts';
import { mm } from '../../../units.ts';
import { common, half, type Kind, usually } from '../kind.ts';
import { lapForm } from './line.ts';

export const lapSchema = z
  .strictObject({
    ...common,
    kind: z.literal('lap'),
    /** thickness of the lip */
    lip: between(0.3, 50),
    /** how far it reaches over the seam */
    depth: between(0.5, 100),
    /** the edge of the wall whose skin the lip continues */
    edge: z.enum(['inside', 'outside']).default('inside'),
    /** how far it keeps from the ends of a wall that has ends */
    setback: between(0, 200).default(2),
  })
  .refine((j) => j.lean === undefined, {
    path: ['lean'],
    message: 'is not for a lap, which stands square to its face',
  });

/** Length of the straight tongue, as thick as its lip, that a lap is tried with on a coupon, mm. */
const TONGUE = 15;

export const lap: Kind<typeof lapSchema> = {
  schema: lapSchema,
  ...usually,
  kind: 'lap',
  name: 'lap',
  male: 'Lip',
  follows: 'wall',
  leans: false,
  usualSize: 1,
  title: (j) => `lap ${j.edge}`,
  sizes: (j) => `${j.lip} × ${j.depth}`,
  sizeOf: (j) => j.lip,
  usual: (size) => {
    const lip = Math.min(3, Math.max(0.8, Math.floor(size * 20) / 20));
    return { lip, depth: Math.max(2, half(3 * lip)) };
  },
  plain: (across, deep) => ({ lip: Math.min(across, 1.2), depth: deep }),
  resized: (_, size) => ({ lip: size }),
  thicker: (_, wanted) => ({ label: `Make the lip ${mm(wanted)} thick`, set: { lip: wanted } }),
  // it is long and seldom straight
  extraGap: () => 0.05,
  form: lapForm,
  trial: ({ lip, depth }) => ({ kind: 'key', width: lip, height: TONGUE, depth, taper: 0, corner: 0, chamfer: 0.2 }),
  fields: (j) => {
    const ask = asking(lapSchema.shape, j);
    return [
      ask.choice(
        'edge',
        'Lip along',
        [
          { value: 'inside', label: 'the inside' },
          { value: 'outside', label: 'the outside' },
        ],
        { says: 'Edge', shown: 'keys' },
      ),
      ask.length('lip', 'Lip', { step: 0.05 }),
      ask.length('depth', 'Height'),
      ask.length('setback', 'Back from the ends', { says: 'Ends', step: 1 }),
    ];
  },
};

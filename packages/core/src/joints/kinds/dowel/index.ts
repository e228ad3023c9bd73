import { z } from 'zod';
import { asking, lengths, note, words } from '../../../asked.ts';
import { between } from '../../../fields.ts';
import { mm } from '../../../units.ts';
import type { Ring } from '../../form.ts';
import { STOCK_NAMES, STOCKS, stickLength } from '../../stock.ts';
import { common, depth, half, type Kind, usually, widened, width } from '../kind.ts';
import { dowelForm } from './form.ts';

export const dowelSchema = z.strictObject({
  ...common,
  kind: z.literal('dowel'),
  stock: z.enum(['printed', 'wood', 'rod', 'filament', 'own']).default('printed'),
  shape: z.enum(['round', 'square', 'tapered']).default('round'),
  diameter: width,
  /** how far it goes into either piece */
  depth,
  /** the same for the − and the + side where they differ */
  depths: z.tuple([depth, depth]).optional(),
  gapOn: z.enum(['socket', 'rod']).default('socket'),
  /** how much of a stick there is; without it that of the stock */
  stockLength: between(1, 10_000).optional(),
});

type Dowel = z.output<typeof dowelSchema>;

/** In which diameters a stock is sold, mm; none: in any. */
const diametersOf = (stock: string): readonly number[] => STOCKS.find((s) => s.stock === stock)?.diameters ?? [];

/** Of some diameters the one nearest to a wish; the wish where there are none. */
const nearest = (sizes: readonly number[], wish: number): number =>
  sizes.reduce((best, d) => (Math.abs(d - wish) < Math.abs(best - wish) ? d : best), sizes[0] ?? wish);

/** How deep a dowel goes into the own piece and into its neighbour, mm. */
function depthsOf(joint: Dowel): [number, number] {
  const [minus, plus] = joint.depths ?? [joint.depth, joint.depth];
  return joint.male === '-' ? [minus, plus] : [plus, minus];
}

/** The rings of a dowel's rod by itself, upright; `rise`: how much longer it is than deep. */
function rodOf(joint: Dowel, rise: number, gap: number): readonly Ring[] {
  const [own, other] = depthsOf(joint);
  const wish = { u: 0, v: 0, turn: 0, lean: [0, 0] as const, gap, depthGap: joint.depthGap, mouth: 0 };
  return dowelForm({ ...joint, depths: [own * rise, other * rise] }, wish).rod ?? [];
}

export const dowel: Kind<typeof dowelSchema> = {
  schema: dowelSchema,
  ...usually,
  kind: 'dowel',
  name: 'dowel',
  male: 'Rod',
  stands: false,
  from: 'Counted from',
  title: (j) =>
    j.stock === 'printed'
      ? `${j.shape} dowel`
      : (STOCKS.find((s) => s.stock === j.stock)?.label.toLowerCase() ?? j.stock),
  sizes: (j) => `${j.diameter} × ${j.depth}`,
  sizeOf: (j) => j.diameter,
  usual: (size) => {
    const d = Math.max(1.5, half(size));
    return { diameter: d, depth: half(1.5 * d) };
  },
  plain: (across, deep) => ({ diameter: across, depth: deep }),
  // bought rods come in a few diameters: the thickest that is no thicker
  resized: ({ stock }, size) => {
    const sizes = diametersOf(stock);
    if (sizes.length === 0) return { diameter: size };
    const thickest = sizes.filter((d) => d <= size).at(-1);
    return thickest === undefined ? null : { diameter: thickest };
  },
  deepened: (j, deep) => ({
    depth: deep,
    ...(j.depths && { depths: [Math.min(j.depths[0], deep), Math.min(j.depths[1], deep)] }),
  }),
  thicker: (_, wanted) => widened(wanted),
  bought: (j) => j.stock !== 'printed',
  thinned: (j) => j.gapOn === 'rod' && j.stock === 'printed',
  // a bought rod is out of round, and its narrow bore prints narrower than drawn
  extraGap: (bought) => (bought ? 0.05 : 0),
  form: (j, wish) => dowelForm({ ...j, depths: depthsOf(j) }, wish),
  checks: (j, { form }) => {
    if (j.stock === 'printed') return [];
    const length = form.depths[0] + form.depths[1] - 2 * j.depthGap;
    const stick = j.stockLength ?? stickLength(j.stock);
    if (length <= stick) return [];
    const deep = Math.floor(stick / 2);
    return [
      {
        code: 'joint.stock',
        severity: 'stop',
        message: `The rod is cut ${mm(length)} long, but a stick has only ${mm(stick)}.`,
        value: length,
        limit: stick,
        mend: { label: `Make it ${mm(deep)} deep on either side`, set: { depth: deep, depths: undefined } },
      },
    ];
  },
  loose: (j, rise, gap) => {
    const printed = j.stock === 'printed';
    const shape = { round: 'with a flat', square: 'square', tapered: 'tapered' }[j.shape];
    return {
      kind: 'dowel',
      what: printed
        ? `printed rod, ${shape}, ${j.diameter}${j.gapOn === 'rod' ? ` less ${gap} a side` : ''}`
        : `${STOCK_NAMES[j.stock]} ${j.diameter}`,
      stock: j.stock,
      diameter: j.diameter,
      count: 1,
      rod: rodOf(j, rise, gap),
      printed,
    };
  },
  inPlace: ({ stock }, { rod = [] }) => [{ tone: stock === 'printed' ? 'printed' : 'bought', side: 'own', rings: rod }],
  fields: (j, codes) => {
    const ask = asking(dowelSchema.shape, j);
    const [minus, plus] = j.depths ?? [j.depth, j.depth];
    const sizes = diametersOf(j.stock);
    return [
      ask.choice(
        'stock',
        'Made of',
        [
          { value: 'printed', label: 'printed with the pieces' },
          ...STOCKS.map((s) => ({ value: s.stock, label: s.label })),
        ],
        { says: 'Stock', set: (next) => ({ stock: next, diameter: nearest(diametersOf(next), j.diameter) }) },
      ),
      ...(j.stock === 'printed'
        ? [
            ask.choice('shape', 'Rod', words(['round', 'square', 'tapered']), { shown: 'keys' }),
            ask.choice(
              'gapOn',
              'Gap taken',
              [
                { value: 'socket', label: 'on the socket' },
                { value: 'rod', label: 'off the rod' },
              ],
              { says: 'Gap', shown: 'keys' },
            ),
          ]
        : []),
      sizes.length > 0
        ? ask.choice('diameter', 'Diameter', lengths(sizes, j.diameter), {
            shown: 'half',
            set: (d) => ({ diameter: Number(d) }),
          })
        : ask.length('diameter', 'Diameter'),
      ...(j.stock === 'printed'
        ? []
        : [
            ask.length('stockLength', 'Stick', {
              value: j.stockLength ?? Math.min(10_000, stickLength(j.stock)),
              step: 10,
            }),
          ]),
      ask.length('depth', `Into ${codes[0]}`, { says: 'Depth', value: minus, set: (x) => ({ depths: [x, plus] }) }),
      ask.length('depth', `Into ${codes[1]}`, { says: 'Depth', value: plus, set: (x) => ({ depths: [minus, x] }) }),
      note(`Cut ${(minus + plus).toFixed(1)} mm long`),
    ];
  },
};

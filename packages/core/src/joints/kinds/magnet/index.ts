import { z } from 'zod';
import { asking } from '../../../asked.ts';
import { between } from '../../../fields.ts';
import { mm } from '../../../units.ts';
import { MAGNETS } from '../../stock.ts';
import { common, type Fault, half, type InPlace, type Kind, type Tone, usually, widened } from '../kind.ts';
import { magnetForm, magnetRing } from './form.ts';

export const magnetSchema = z.strictObject({
  ...common,
  kind: z.literal('magnet'),
  shape: z.enum(['disc', 'block']).default('disc'),
  /** diameter, or length of a block along u */
  diameter: between(1, 100),
  /** of a block along v */
  height: between(1, 100).optional(),
  thickness: between(0.5, 50),
  /** how much of the piece is left over it; 0: an open pocket */
  cover: between(0, 10).default(0),
  /** poles that look out of the − and of the + side */
  poles: z.tuple([z.enum(['n', 's']), z.enum(['n', 's'])]).default(['n', 's']),
});

/** What a magnet is called by its sizes: "block 10 × 5 × 2". */
const magnetName = (m: { shape: string; diameter: number; thickness: number; height?: number | undefined }): string =>
  `${m.shape} ${m.diameter} × ${m.height ? `${m.height} × ` : ''}${m.thickness}`;

export const magnet: Kind<typeof magnetSchema> = {
  schema: magnetSchema,
  ...usually,
  kind: 'magnet',
  closing: 'magnet',
  name: 'magnet',
  male: 'Magnet',
  stands: false,
  from: 'Counted from',
  shallower: false,
  title: (j) => `${j.shape} magnet`,
  sizes: (j) => `${j.diameter} × ${j.thickness}`,
  sizeOf: (j) => j.diameter,
  usual: (size) => ({ diameter: Math.max(3, Math.floor(Math.max(1.5, half(size)))), thickness: 3 }),
  plain: (across) => ({ diameter: across, thickness: 3 }),
  resized: () => null,
  thicker: (_, wanted) => widened(wanted),
  // it must go in without force
  extraGap: () => 0.05,
  form: magnetForm,
  checks: (j, { cover, limits }) => {
    const faults: Fault[] = [];
    if (cover < limits.cover - 1e-6) {
      faults.push({
        code: 'joint.cover',
        severity: 'stop',
        message: `Only ${mm(cover)} cover the magnet; ${mm(limits.cover)} can be printed.`,
        value: cover,
        limit: limits.cover,
        mend: { label: `Cover it with ${mm(limits.cover)}`, set: { cover: limits.cover } },
      });
    }
    if (j.poles[0] === j.poles[1]) {
      const turned = j.poles[0] === 'n' ? 's' : 'n';
      faults.push({
        code: 'joint.poles',
        severity: 'stop',
        message: 'Both magnets show the same pole, so they push each other away.',
        mend: { label: 'Turn the upper one round', set: { poles: [j.poles[0], turned] } },
      });
    }
    return faults;
  },
  loose: (j) => {
    const across = j.shape === 'disc' ? `${j.diameter}` : `${j.diameter} × ${j.height ?? j.diameter}`;
    return {
      kind: 'magnet',
      what: `${j.shape} magnet ${across} × ${j.thickness}`,
      stock: null,
      diameter: j.diameter,
      count: 2,
      rod: null,
      printed: false,
    };
  },
  // they draw each other: what looks at the neighbour is the one's north and the other's south
  inPlace: (j, _, at) => {
    const { cover, thickness } = j;
    const halves = (tone: Tone, side: InPlace['side'], from: number, to: number): InPlace => ({
      tone,
      side,
      rings: [magnetRing(j, at, from), magnetRing(j, at, to)],
    });
    const [near, middle, far] = [cover, cover + thickness / 2, cover + thickness];
    return [
      halves('south', 'own', -far, -middle),
      halves('north', 'own', -middle, -near),
      halves('south', 'other', near, middle),
      halves('north', 'other', middle, far),
    ];
  },
  fields: (j, codes) => {
    const ask = asking(magnetSchema.shape, j);
    const own = magnetName(j);
    const sold = MAGNETS.map((m) => ({ value: magnetName(m), label: `${magnetName(m)} mm` }));
    return [
      ask.choice(
        'shape',
        'Magnet',
        sold.some((m) => m.value === own) ? sold : [...sold, { value: own, label: `own: ${own} mm` }],
        {
          value: own,
          set: (next) => ({ height: undefined, ...MAGNETS.find((m) => magnetName(m) === next) }),
        },
      ),
      ask.length('diameter', j.shape === 'disc' ? 'Diameter' : 'Length', { says: 'Magnet' }),
      ...(j.shape === 'block'
        ? [ask.length('height', 'Width', { says: 'Magnet', value: j.height ?? j.diameter })]
        : []),
      ask.length('thickness', 'Thickness'),
      ask.length('cover', 'Cover', { step: 0.1 }),
      ...codes.map((code, side) =>
        ask.choice(
          'poles',
          `Pole that looks out of ${code}`,
          [
            { value: 'n', label: 'north' },
            { value: 's', label: 'south' },
          ],
          {
            says: 'Pole',
            shown: 'keys',
            value: j.poles[side],
            set: (pole) => ({ poles: side === 0 ? [pole, j.poles[1]] : [j.poles[0], pole] }),
          },
        ),
      ),
    ];
  },
};

import { z } from 'zod';
import { between } from '../../../fields.ts';
import { mm } from '../../../units.ts';
import { common, type Fault, half, type InPlace, type KindOf, type Tone, usually, widened } from '../kind.ts';
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

export const magnet: KindOf<z.output<typeof magnetSchema>> = {
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
      about: 'face',
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
};

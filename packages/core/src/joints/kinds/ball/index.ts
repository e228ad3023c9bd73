import { z } from 'zod';
import { asking } from '../../../asked.ts';
import { between } from '../../../fields.ts';
import { degrees, mm, radians, wholeDegrees } from '../../../units.ts';
import { type Material, materialOf } from '../../materials.ts';
import { segment } from '../../outline.ts';
import { bentProng, FRICTION, pushed } from '../../prong.ts';
import { common, type Fault, half, type Kind, percent, rounded, usually } from '../kind.ts';
import { ballForm, ballPlan, mostSwing } from './form.ts';

export const ballSchema = z
  .strictObject({
    ...common,
    kind: z.literal('ball'),
    diameter: between(5, 80),
    /** thickness of the neck, and its straight part */
    neck: between(2, 50),
    length: between(0, 40).default(2),
    /** how much narrower than the ball the rim of the cup is, on every side */
    bite: between(0.1, 4).default(0.2),
    /** between the two halves of the ball */
    slot: between(0.4, 20).default(1),
    /** how far each half is sprung outwards, so that it rubs and stays where it is put */
    spread: between(0, 2).default(0),
    /** how far it swings from the square, any way round, radians */
    swing: between(0.03, 0.53).default(radians(20)),
  })
  .refine((j) => j.neck <= 0.65 * j.diameter, { path: ['neck'], message: 'leaves nothing for the cup to hold' })
  .refine((j) => j.slot <= 0.4 * j.neck, { path: ['slot'], message: 'leaves too little of the neck' })
  .refine((j) => j.bite <= j.diameter / 8, { path: ['bite'], message: 'is too much for the ball' })
  .refine((j) => j.lean === undefined, { path: ['lean'], message: 'is not for a ball, which swings all round' });

type Ball = z.output<typeof ballSchema>;

/** What a ball goes through when it is pushed in, and when it is in. */
export interface BallLoad {
  /** strain at the root of its halves while it passes the rim, as a share */
  readonly strain: number;
  /** to push it in, N */
  readonly force: number;
  /** what it takes to swing it, N·mm; 0: it hangs loose */
  readonly moment: number;
}

/**
 * The halves of a split ball are prongs as long as from the face to the ball's middle, bent by `bite` to pass the rim. In the
 * cup they are bent by what they are sprung out beyond the gap; each then rubs at the ball's radius.
 */
export function ballLoad(j: Ball, gap: number, { modulus }: Pick<Material, 'modulus'>): BallLoad {
  const { centre, radius, rim, rimAt } = ballPlan(j, gap);
  const section = segment(j.neck, j.slot / 2, 0).at(0);
  const { strain, force } = bentProng(section, centre, j.bite + j.spread, modulus);
  const rest = bentProng(section, centre, Math.max(0, j.spread - gap), modulus);
  // at the rim the ball leads in as its tangent does
  const slope = Math.min(1.5, (centre - rimAt) / rim + 0.3);
  return { strain, force: pushed(2 * force, slope), moment: 2 * FRICTION * rest.force * radius };
}

/** What lets a ball of that size spring in without being strained more than most plastics bear. */
const springy = (diameter: number, neck: number) => ({
  length: half(diameter / 4),
  slot: Math.max(0.4, Math.min(1, rounded(0.4 * neck - 0.01))),
  bite: Math.max(0.1, rounded(diameter / 70)),
});

export const ball: Kind<typeof ballSchema> = {
  schema: ballSchema,
  ...usually,
  kind: 'ball',
  name: 'ball joint',
  male: 'Ball',
  leans: false,
  swings: true,
  closing: 'loose',
  catches: true,
  shallower: false,
  usualSize: 12,
  tried: 12,
  title: () => 'ball joint',
  sizes: (j) => `Ø ${j.diameter}`,
  sizeOf: (j) => j.diameter,
  usual: (size) => {
    const diameter = Math.max(5, half(size));
    const neck = rounded(diameter * 0.5);
    return { diameter, neck, ...springy(diameter, neck) };
  },
  plain: (across) => {
    const diameter = Math.max(5, across);
    return { diameter, neck: diameter / 2, ...springy(diameter, diameter / 2) };
  },
  resized: (j, size) => {
    if (size < 5) return null;
    const neck = Math.max(2, rounded((j.neck * size) / j.diameter));
    return { diameter: size, neck, ...springy(size, neck) };
  },
  deepened: () => ({}),
  // each half has what the slot leaves of the neck
  thicker: (j, wanted) => {
    const neck = Math.ceil((j.slot / 2 + wanted) * 2 * 10) / 10;
    const diameter = Math.max(j.diameter, Math.ceil(neck * 20) / 10);
    return { label: `Make the neck ${mm(neck)} thick`, set: { neck, diameter } };
  },
  form: ballForm,
  checks: (j, { gap, printer }) => {
    const faults: Fault[] = [];
    const material = materialOf(printer.material, printer.kind);
    const { strain } = ballLoad(j, gap, material);
    const bend = j.bite + j.spread;
    if (2 * bend > j.slot + 1e-9) {
      const slot = Math.ceil(20 * bend) / 10;
      faults.push({
        code: 'joint.slot',
        severity: 'stop',
        message: `The halves of the ball bend by ${mm(bend)} each, but the slot is only ${mm(j.slot)}.`,
        value: j.slot,
        limit: 2 * bend,
        mend:
          slot <= 0.4 * j.neck
            ? { label: `Make the slot ${mm(slot)}`, set: { slot } }
            : {
                label: 'Let the rim be wider',
                set: {
                  bite: rounded(Math.max(0.1, j.slot / 2 - j.spread)),
                  spread: Math.min(j.spread, rounded(j.slot / 2 - 0.1)),
                },
              },
      });
    } else if (strain > material.strain) {
      const length =
        Math.ceil(2 * (j.length + ballPlan(j, gap).centre * (Math.sqrt(strain / material.strain) - 1))) / 2;
      faults.push({
        code: 'joint.strain',
        severity: strain > 2 * material.strain ? 'stop' : 'warn',
        message: `The halves of the ball are strained by ${percent(strain)} as it goes in; ${material.name} bears ${percent(material.strain)}.`,
        value: strain,
        limit: material.strain,
        mend: { label: `Make the neck ${mm(length)} longer than it must be`, set: { length } },
      });
    }
    const most = mostSwing(ballPlan(j, gap), gap);
    if (j.swing > most + 1e-9) {
      const swing = Math.floor(degrees(most) * 2) / 2;
      faults.push({
        code: 'joint.swing',
        severity: 'stop',
        message: `Its neck meets the rim of the cup at ${wholeDegrees(most)}, before the ${wholeDegrees(j.swing)} that it shall swing.`,
        value: most,
        limit: j.swing,
        mend:
          swing >= 2
            ? { label: `Let it swing ${swing}°`, set: { swing: radians(swing) } }
            : { label: 'Make the neck thinner', set: { neck: rounded(Math.max(2, j.diameter / 3)) } },
      });
    }
    return faults;
  },
  numbers: (j, gap, printer) => {
    const material = materialOf(printer.material, printer.kind);
    const load = ballLoad(j, gap, material);
    return [
      ['Swings', `${wholeDegrees(j.swing)} any way round`],
      ['To push it in', `about ${load.force.toFixed(0)} N`],
      ['Strain', `${(load.strain * 100).toFixed(1)} of ${(material.strain * 100).toFixed(1)} %`],
      [
        'Stays put',
        load.moment > 0 ? `up to ${load.moment.toFixed(0)} N·mm` : `not: its gap is ${mm(gap)}, so it hangs loose`,
      ],
      ['Prints', 'ball up, cup open upwards, without support'],
    ];
  },
  fields: (j) => {
    const ask = asking(ballSchema.shape, j);
    return [
      ask.length('diameter', 'Ball', {
        set: (x) => ({ diameter: x, neck: Math.min(j.neck, 0.65 * x), bite: Math.min(j.bite, x / 8) }),
      }),
      ask.length('neck', 'Neck', {
        most: 0.65 * j.diameter,
        set: (x) => ({ neck: x, slot: Math.min(j.slot, 0.4 * x) }),
      }),
      ask.length('length', 'Straight part of the neck', { says: 'Neck' }),
      ask.length('slot', 'Slot', { most: 0.4 * j.neck, step: 0.1 }),
      ask.length('bite', 'Rim narrower by', { says: 'Rim', most: j.diameter / 8, step: 0.05 }),
      ask.length('spread', 'Sprung out by', { says: 'Spring', step: 0.05 }),
      ask.angle('swing', 'Swing'),
    ];
  },
};

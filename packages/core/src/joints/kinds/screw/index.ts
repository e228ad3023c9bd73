import { z } from 'zod';
import { asking, lengths, words } from '../../../asked.ts';
import { between } from '../../../fields.ts';
import { mm } from '../../../units.ts';
import { common, type Fault, type InPlace, type Kind, usually } from '../kind.ts';
import { screwForm, screwRing } from './form.ts';
import { SCREW_LENGTHS, SCREWS, screwSize } from './sizes.ts';

export const screwSchema = z.strictObject({
  ...common,
  kind: z.literal('screw'),
  size: z.enum(['M2', 'M2.5', 'M3', 'M4', 'M5', 'M6']).default('M3'),
  /** what it is screwed into: a heat-set insert, a nut laid in while it prints, or plastic in which it cuts its thread */
  into: z.enum(['insert', 'nut', 'plastic']).default('insert'),
  /** material of the piece it goes through under its head */
  grip: between(0.8, 80),
  /** from under its head to its end; without it the longest that finds thread */
  length: between(2, 200).optional(),
  /** the bore and length of the insert where its maker's sheet differs from the usual */
  insert: between(1, 40).optional(),
  insertLength: between(1, 60).optional(),
  /** material between the face and a nut */
  cover: between(0.4, 20).default(1.6),
});

type Screw = z.output<typeof screwSchema>;

const sizesOf = (j: Pick<Screw, 'size' | 'insert' | 'insertLength'>) => {
  const sizes = screwSize(j.size);
  return { sizes, insert: j.insert ?? sizes.insert, insertLength: j.insertLength ?? sizes.insertLength };
};

/** How far a screw has thread behind the face, mm: from where it begins to where it ends. */
function threadOf(j: Screw): readonly [number, number] {
  const { sizes, insertLength } = sizesOf(j);
  if (j.into === 'insert') return [0, insertLength];
  if (j.into === 'nut') return [j.cover, j.cover + sizes.nutHeight];
  return [0, 2.5 * sizes.thread];
}

/** The screw's length: what was asked for, else the first that is sold and takes up all of its thread. */
export function screwLength(j: Screw): number {
  if (j.length !== undefined) return j.length;
  const wanted = j.grip + threadOf(j)[1];
  return SCREW_LENGTHS.find((l) => l >= wanted - 0.5) ?? SCREW_LENGTHS[SCREW_LENGTHS.length - 1];
}

/** The head rests so deep in the piece at least, mm. */
const SEAT = 0.2;

const INTO = { insert: 'into an insert', nut: 'into a nut', plastic: 'into the plastic' } as const;

/** The largest size that is no wider than so many mm of head, else the smallest. */
const upTo = (width: number): Screw['size'] => (SCREWS.filter((s) => s.head <= width).at(-1) ?? SCREWS[0]).size;

export const screw: Kind<typeof screwSchema> = {
  schema: screwSchema,
  ...usually,
  kind: 'screw',
  name: 'screw',
  male: 'Head',
  stands: false,
  from: 'Head in',
  closing: 'screw',
  shallower: false,
  title: (j) => `${j.size} screw ${INTO[j.into]}`,
  sizes: (j) => `${screwSize(j.size).thread} × ${screwLength(j)}`,
  sizeOf: (j) => screwSize(j.size).head,
  usualSize: 5.5,
  usual: (size) => ({ size: upTo(size), grip: 4 }),
  plain: (across) => ({ size: upTo(across), grip: 4, into: 'nut' }),
  resized: () => null,
  deepened: (_, deep) => ({ grip: Math.max(0.8, deep) }),
  thicker: (_, wanted) => {
    const size = SCREWS.find((s) => s.thread >= wanted)?.size ?? 'M6';
    return { label: `Take ${size}`, set: { size } };
  },
  bought: () => true,
  form: (j, wish) =>
    screwForm({ ...sizesOf(j), into: j.into, grip: j.grip, length: screwLength(j), cover: j.cover }, wish),
  checks: (j, { limits, exit }) => {
    const faults: Fault[] = [];
    if (exit && exit.least < j.grip + SEAT) {
      const grip = Math.floor((exit.least - SEAT) * 10 + 1e-4) / 10;
      faults.push({
        code: 'joint.head',
        severity: 'stop',
        message:
          exit.least < 0.8 + SEAT
            ? 'The piece does not reach under all of the head.'
            : `At the side of the head the piece is only ${mm(exit.least)} thick, so ${mm(j.grip)} cannot lie under it.`,
        value: exit.least,
        limit: j.grip,
        mend:
          grip >= 0.8
            ? { label: `Leave ${mm(grip)} under the head`, set: { grip } }
            : { label: 'Take the smallest screw', set: { size: 'M2' } },
      });
    }
    if (exit && exit.barred !== null) {
      faults.push({
        code: 'joint.head',
        severity: 'warn',
        message: `More of the piece stands before the head, ${mm(exit.barred - exit.most)} from where it comes out: see that a driver gets there.`,
        value: exit.barred - exit.most,
        mend: { label: 'Let it come from the other side', set: { male: j.male === '-' ? '+' : '-' } },
      });
    }
    const [from, to] = threadOf(j);
    const reach = screwLength(j) - j.grip;
    const least = from + Math.min(to - from, screwSize(j.size).thread);
    if (reach < least - 1e-6) {
      const length = SCREW_LENGTHS.find((l) => l >= j.grip + to - 0.5);
      faults.push({
        code: 'joint.thread',
        severity: 'stop',
        message: `The screw, ${mm(screwLength(j))} long under its head, ends ${mm(Math.max(0, reach))} behind the face; it holds from ${mm(least)}.`,
        value: reach,
        limit: least,
        mend:
          length === undefined
            ? { label: 'Leave less under its head', set: { grip: 4, length: undefined } }
            : { label: `Take one of ${mm(length)}`, set: { length } },
      });
    }
    const thinnest = 3 * limits.stop;
    if (j.grip < thinnest - 1e-6) {
      faults.push({
        code: 'joint.grip',
        severity: 'warn',
        message: `Only ${mm(j.grip)} lie under the head; ${mm(thinnest)} would not be pulled through.`,
        value: j.grip,
        limit: thinnest,
        mend: { label: `Leave ${mm(thinnest)} under it`, set: { grip: Number(thinnest.toFixed(2)) } },
      });
    }
    return faults;
  },
  numbers: (j) => {
    const { sizes, insert, insertLength } = sizesOf(j);
    return [
      ['Screw', `${j.size} × ${screwLength(j)}, head ${sizes.head}`],
      ['Hole', `${sizes.clear}`],
      j.into === 'insert'
        ? ['Insert', `bore ${insert}, ${insertLength} long`]
        : j.into === 'nut'
          ? ['Nut', `${sizes.nut} across, laid in while it prints`]
          : ['Bore', `${sizes.core}`],
    ];
  },
  loose: (j) => ({
    kind: 'screw',
    what: `screw ${j.size} × ${screwLength(j)}${j.into === 'insert' ? `, heat-set insert ${j.size} × ${sizesOf(j).insertLength}` : j.into === 'nut' ? `, nut ${j.size}` : ''}`,
    stock: null,
    diameter: screwSize(j.size).thread,
    count: 1,
    rod: null,
    printed: false,
  }),
  inPlace: (j, _, at) => {
    const { head, headHeight, thread } = screwSize(j.size);
    const bar = (diameter: number, from: number, to: number): InPlace => ({
      tone: 'bought',
      side: 'own',
      rings: [from, to].map((height) => screwRing(diameter / 2, height, false, at)),
    });
    return [bar(head, -j.grip - headHeight, -j.grip), bar(thread, -j.grip, screwLength(j) - j.grip)];
  },
  fields: (j) => {
    const ask = asking(screwSchema.shape, j);
    const { insert, insertLength } = sizesOf(j);
    const length = screwLength(j);
    return [
      ask.choice('size', 'Screw', words(SCREWS.map((s) => s.size)), {
        shown: 'half',
        set: (size) => ({ size, insert: undefined, insertLength: undefined }),
      }),
      ask.choice(
        'length',
        'Length under its head',
        [
          { value: 'auto', label: `as it takes: ${length} mm` },
          ...lengths(SCREW_LENGTHS, length).toSorted((a, b) => Number(a.value) - Number(b.value)),
        ],
        {
          says: 'Length',
          shown: 'half',
          value: j.length === undefined ? 'auto' : String(j.length),
          set: (next) => ({ length: next === 'auto' ? undefined : Number(next) }),
        },
      ),
      ask.choice('into', 'Screwed into', [
        { value: 'insert', label: 'a heat-set insert' },
        { value: 'nut', label: 'a nut, laid in while it prints' },
        { value: 'plastic', label: 'the plastic itself' },
      ]),
      ask.length('grip', 'Under its head'),
      ...(j.into === 'nut' ? [ask.length('cover', 'Cover of the nut', { says: 'Cover', step: 0.2 })] : []),
      ...(j.into === 'insert'
        ? [
            ask.length('insert', 'Bore of the insert', { says: 'Insert', value: insert, step: 0.1 }),
            ask.length('insertLength', 'Its length', { says: 'Insert', value: insertLength, step: 0.1 }),
          ]
        : []),
    ];
  },
};

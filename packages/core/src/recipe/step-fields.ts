import { type AskedField, asking, type Fields, words } from '../asked.ts';
import { type Step, type StepOf, stepSchemaOf, unevenPlace } from '../document/index.ts';
import { usualBend } from '../solid/index.ts';
import { AXIS_WORDS } from './steps/words.ts';

/** Lengths of steps are shown with so many decimals: a weld is some ten-thousandths of a millimetre. */
const FINE = { digits: 4 };

/** Where a wall is not as thick as said: at its far end, and round marked places. */
function elsewhere({ taper, places }: StepOf<'wall' | 'hollow'>): AskedField[] {
  const at = (i: number, next: Fields): Fields => ({
    places: places.map((p, k) => (k === i ? { ...p, ...next } : p)),
  });
  return [
    ...(taper
      ? [
          asking(unevenPlace.shape, taper).length('thickness', 'At its far end', {
            set: (thickness) => ({ taper: { ...taper, thickness } }),
          }),
        ]
      : []),
    ...places.flatMap((place, i) => {
      const ask = asking(unevenPlace.shape, place);
      return [
        ask.length('thickness', `Place ${i + 1}, wall`, { set: (thickness) => at(i, { thickness }) }),
        ask.length('radius', `Place ${i + 1}, radius`, {
          set: (radius) => at(i, { radius }),
          away: { label: `Unmark place ${i + 1}`, set: { places: places.filter((_, k) => k !== i) } },
        }),
      ];
    }),
  ];
}

/** What a bore has at its ends, and its width where it is a slot. */
function ends({ sink, slot }: StepOf<'bore'>): AskedField[] {
  const { sink: sunk, slot: wide } = stepSchemaOf('bore').shape;
  return [
    ...(sink
      ? [
          asking(sunk.unwrap().shape, sink).length('diameter', 'Sunk, diameter', {
            set: (diameter) => ({ sink: { ...sink, diameter } }),
          }),
          asking(sunk.unwrap().shape, sink).length('depth', 'Sunk, depth', {
            set: (depth) => ({ sink: { ...sink, depth } }),
          }),
        ]
      : []),
    ...(slot
      ? [
          asking(wide.unwrap().shape, slot).length('width', 'Strap, width', {
            set: (width) => ({ slot: { ...slot, width } }),
          }),
        ]
      : []),
  ];
}

/** A factor for the whole, one for each axis, or the size that it comes to. */
function sizes(step: StepOf<'scale'>): AskedField[] {
  const ask = asking(stepSchemaOf('scale').shape, step);
  const { factors, axis = 'z' } = step;
  if (step.factor !== undefined) return [ask.factor('factor', 'Factor', FINE)];
  if (!factors) return [ask.length('size', `Wanted ${AXIS_WORDS[axis]}`, FINE)];
  return factors.map((value, a) =>
    ask.factor('factor', `Factor ${'xyz'[a]}`, {
      ...FINE,
      value,
      set: (x) => ({ factors: factors.map((old, b) => (b === a ? x : old)) }),
    }),
  );
}

// a kind that is not here has nothing to set
const FIELDS: { readonly [K in Step['kind']]?: (step: StepOf<K>) => readonly AskedField[] } = {
  scale: sizes,
  tailor(step) {
    const ask = asking(stepSchemaOf('tailor').shape, step);
    return [ask.length('wanted', 'Wearer'), ask.length('room', 'Room')];
  },
  turn: (step) => [asking(stepSchemaOf('turn').shape, step).angle('angle', `Angle about ${step.axis}`, { step: 5 })],
  bring(step) {
    const ask = asking(stepSchemaOf('bring').shape, step);
    return [ask.length('gap', 'Left between', FINE), ask.angle('turn', 'Turned by', { step: 5 })];
  },
  weld: (step) => [asking(stepSchemaOf('weld').shape, step).length('tolerance', 'Weld within', FINE)],
  drop: (step) => [asking(stepSchemaOf('drop').shape, step).length('dust', 'Dust under', FINE)],
  close(step) {
    const ask = asking(stepSchemaOf('close').shape, step);
    return [
      ask.choice('patch', 'Patch', words(['curved', 'flat']), { shown: 'keys' }),
      ask.tick('openings', 'also openings that are plainly meant'),
    ];
  },
  takeOut: (step) => [asking(stepSchemaOf('takeOut').shape, step).length('gap', 'Gap on each side')],
  simplify(step) {
    const ask = asking(stepSchemaOf('simplify').shape, step);
    return [
      step.triangles === undefined
        ? ask.length('deviation', 'Deviation', FINE)
        : ask.count('triangles', 'Triangles', { step: 1000 }),
    ];
  },
  wall(step) {
    const ask = asking(stepSchemaOf('wall').shape, step);
    return [
      ask.length('thickness', 'Thickness'),
      ...elsewhere(step),
      ask.choice('side', 'Side', words(['inward', 'outward', 'both']), { shown: 'keys' }),
    ];
  },
  hollow: (step) => [asking(stepSchemaOf('hollow').shape, step).length('thickness', 'Wall'), ...elsewhere(step)],
  bore(step) {
    const ask = asking(stepSchemaOf('bore').shape, step);
    return [
      ask.length('diameter', 'Diameter'),
      ask.length('gap', 'Gap round it', { step: 0.05 }),
      ask.length('bend', 'Bends, radius', { value: step.bend ?? usualBend(step.diameter) }),
      ask.length('mouth', 'Mouths widened'),
      ...ends(step),
    ];
  },
  inlay(step) {
    const ask = asking(stepSchemaOf('inlay').shape, step);
    return [ask.length('depth', 'Depth'), ask.length('gap', 'Gap round it', { step: 0.05 })];
  },
};

/** What people can set of a step where it stands in the recipe. */
export const stepFields = (step: Step): readonly AskedField[] =>
  (FIELDS[step.kind] as ((step: Step) => readonly AskedField[]) | undefined)?.(step) ?? [];

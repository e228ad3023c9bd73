import type { Step, StepOf } from '../document/index.ts';
import { AXIS_WORDS, degreesText, lengthText } from './steps/words.ts';

const UNIT_WORDS = { micron: 'microns', mm: 'millimetres', cm: 'centimetres', in: 'inches', ft: 'feet', m: 'metres' };

/** "3 mm", or "2 to 5 mm" where it is not the same everywhere. */
function thicknessText({ thickness, taper, places }: StepOf<'wall'> | StepOf<'hollow'>): string {
  const all = [thickness, ...(taper ? [taper.thickness] : []), ...places.map((p) => p.thickness)];
  const [least, most] = [Math.min(...all), Math.max(...all)];
  return least === most ? lengthText(most) : `${least} to ${lengthText(most)}`;
}

// apart from the work, so that a list of steps can be shown where none of it is loaded
const TITLES: { readonly [K in Step['kind']]: (step: StepOf<K>) => string } = {
  unit: (step) => `Numbers are ${UNIT_WORDS[step.unit]}`,
  scale({ factor, factors, size, axis }) {
    if (factor !== undefined) return `Scale × ${Number(factor.toFixed(5))}`;
    if (factors) return `Scale × ${factors.map((f) => Number(f.toFixed(4))).join(', ')}`;
    return `To ${lengthText(size ?? 0)} ${AXIS_WORDS[axis ?? 'z']}`;
  },
  tailor: ({ name, wanted, room }) =>
    `Fit ${name || 'the wearer'}: ${lengthText(wanted)}${room === 0 ? '' : ` + ${lengthText(room)}`}`,
  turn: (step) => `Turn ${degreesText(step.angle)} about ${step.axis}`,
  lay: () => 'Lay on a face',
  place: (step) => (step.to === 'floor' ? 'Onto the floor' : 'To the centre'),
  mirror: (step) => (step.copy ? 'Mirrored copy' : 'Mirror'),
  bring: (step) => `Bring ${step.body} against a face`,
  remove: ({ on }) => (on.length === 1 ? `Drop body ${on[0]}` : `Drop ${on.length} bodies`),
  weld: (step) => `Weld within ${lengthText(step.tolerance)}`,
  drop: (step) => (step.dust > 0 ? `Drop dust under ${lengthText(step.dust)}` : 'Drop duplicates and slivers'),
  split: () => 'Take apart what only touches',
  orient: () => 'Turn outward',
  close: (step) => (step.openings ? 'Close all holes' : 'Close holes'),
  mend: () => 'Mend all',
  untangle: () => 'Resolve what passes through itself',
  join: () => 'Join into one solid',
  separate: () => 'One body per shell',
  takeOut: (step) => `Take ${step.body} out, gap ${lengthText(step.gap)}`,
  simplify: ({ triangles, deviation }) =>
    triangles === undefined
      ? `Simplify within ${lengthText(deviation ?? 0)}`
      : `Simplify to ${triangles.toLocaleString('en')} triangles`,
  wall: (step) => `Wall of ${thicknessText(step)} ${step.side}`,
  hollow: (step) => `Hollow, wall ${thicknessText(step)}`,
  bore: ({ diameter, stock }) => `Bore ${lengthText(diameter)}${stock ? ` for ${stock}` : ''}`,
  inlay: (step) => `Inlay ${lengthText(step.depth)} deep`,
};

/** A step of the recipe in a few words. */
export const stepTitle = (step: Step): string => (TITLES[step.kind] as (step: Step) => string)(step);

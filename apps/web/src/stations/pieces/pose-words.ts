import type { Estimate, Figures, Wish } from '@gephyra/core/plan';
import { hoursText } from '@gephyra/core/plan';

export const WISH_WORDS: Readonly<Record<Wish, string>> = {
  support: 'little support',
  fast: 'a fast print',
  strong: 'strong joints',
  show: 'clean show faces',
};

/** A number that is compared between poses: less is better. */
export interface Measure {
  readonly name: string;
  readonly text: string;
  readonly value: number;
}

/** What poses are compared by. */
export function measuresOf({ figures: f, estimate: e }: { figures: Figures; estimate: Estimate }): Measure[] {
  return [
    { name: 'time', text: hoursText(e.hours), value: e.hours },
    { name: 'weight', text: `${e.grams.toFixed(0)} g`, value: e.grams },
    { name: 'support', text: `${(f.supportVolume / 1000).toFixed(1)} cm³`, value: f.supportVolume },
    {
      name: 'marks',
      text: `${((f.showScars + f.capScars + f.skinOverhang) / 100).toFixed(0)} cm²`,
      value: f.showScars + f.capScars + f.skinOverhang,
    },
    { name: 'height', text: `${f.height.toFixed(0)} mm`, value: f.height },
    {
      name: 'weakness',
      text: f.pegsAcross > 0.5 ? 'pegs stand' : f.pegsAcross > 0.05 ? 'some stand' : 'none',
      value: f.pegsAcross,
    },
  ];
}

/** Each measure of each pose as a share of the largest of its kind. */
export function sharesOf(poses: readonly (readonly Measure[])[]): number[][] {
  return poses.map((own) =>
    own.map(({ value }, k) => {
      const most = Math.max(...poses.map((p) => p[k].value));
      return most > 0 ? value / most : 0;
    }),
  );
}

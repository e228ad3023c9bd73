import { hoursText } from '@gephyra/core';
import { describe, expect, it } from 'vitest';
import { measuresOf, sharesOf } from './pose-words.ts';

const pose = (more: { hours?: number; support?: number; across?: number }) =>
  measuresOf({
    figures: {
      supportVolume: more.support ?? 0,
      showScars: 100,
      capScars: 0,
      skinOverhang: 250,
      height: 40,
      pegsAcross: more.across ?? 0,
    },
    estimate: { hours: more.hours ?? 1, grams: 12.4 },
  } as never);

describe('numbers of poses', () => {
  it('are said as people say them', () => {
    expect([0.2, 0.995, 1, 3.2, 26.999].map(hoursText)).toEqual(['12 min', '1 h 00', '1 h 00', '3 h 12', '27 h 00']);
    const said = Object.fromEntries(pose({ hours: 4.983, support: 1234, across: 0.9 }).map((m) => [m.name, m.text]));
    expect(said).toEqual({
      time: '4 h 59',
      weight: '12 g',
      support: '1.2 cm³',
      marks: '4 cm²',
      height: '40 mm',
      weakness: 'pegs stand',
    });
  });

  it('are compared with the largest of their kind; nothing is a share of nothing', () => {
    const shares = sharesOf([pose({ hours: 2, support: 500 }), pose({ hours: 4 }), pose({ hours: 1, support: 1000 })]);
    expect(shares.map((s) => s[0])).toEqual([0.5, 1, 0.25]);
    expect(shares.map((s) => s[2])).toEqual([0.5, 0, 1]);
    expect(shares.every((s) => s[5] === 0)).toBe(true);
    expect(sharesOf([])).toEqual([]);
  });
});

import { describe, expect, it } from 'vitest';
import { flat, printer } from '../../testing/plans.ts';
import { parsePlan } from './schema.ts';

const said = (more: object): string => {
  try {
    parsePlan({ version: 5, printer, ...more });
  } catch (error) {
    return (error as Error).message;
  }
  return 'nothing';
};
const seam = flat('s1', [0, 0, 0], [0, 0, 1]);

describe('what is wrong in a plan', () => {
  it('is said in a maker’s words, with the number and name of what it is about', () => {
    expect(said({ seams: [seam, { ...seam, name: 'Brow' }] })).toBe(
      'This plan cannot be used: seam 2, Brow, has the key of another.',
    );
    expect(said({ seams: [{ ...seam, normal: 'up' }] })).toMatch(
      /^This plan cannot be used: the direction of seam 1, s1, must be /,
    );
    expect(said({ joints: [{ id: 'j1', kind: 'pin', seam: 's1', at: [0, 0], diameter: -3 }] })).toMatch(
      /^This plan cannot be used: the diameter of joint 1, j1, /,
    );
    expect(said({ printer: { ...printer, size: [0, 10, 10] } })).toMatch(/the size of the printer /);
  });

  it('never holds a path of the document, whatever is wrong', () => {
    const wrong: object[] = [
      { seams: [seam, seam, { ...seam, id: '' }] },
      { seams: 'none' },
      { printer: null },
      { joints: [{}] },
      { recipe: [{ kind: 'melt' }] },
      { pieces: [{ key: 3 }] },
      { zones: [{ kind: 'sphere' }] },
      { bodies: [null] },
      { measures: [{ name: '' }] },
      { shape: 'round' },
    ];
    for (const more of wrong) {
      const message = said(more);
      expect(message).toMatch(/^This plan cannot be used: /);
      expect(message).not.toMatch(/\w\[\d|\.\w+\[|undefined/);
    }
  });

  it('tells how much more there is', () => {
    expect(said({ seams: [seam, { ...seam, normal: 'up', origin: 4 }] })).toMatch(/\(and \d+ more\)\.$/);
  });
});

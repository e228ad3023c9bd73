import { describe, expect, it } from 'vitest';
import { kernel } from '../../testing/judges.ts';
import { box } from '../../testing/shapes.ts';
import { kept } from './kept.ts';
import { toTagged } from './tagged.ts';

describe('bodies kept with the kernel', () => {
  const made: number[] = [];
  const of = (key: object, size: number) =>
    kept(kernel, key, () => {
      made.push(size);
      return { body: toTagged(kernel, box([0, 0, 0], [size, size, size])), more: size };
    });

  it('are given once, and again when others came in between; those of long ago are given back', () => {
    const keys = Array.from({ length: 8 }, (_, i) => ({ name: i }));
    const first = of(keys[0], 1);
    expect(of(keys[0], 1)).toBe(first);
    expect(made).toEqual([1]);
    for (let i = 1; i < 5; i++) of(keys[i], i + 1);
    expect(of(keys[0], 1).body.solid.volume()).toBeCloseTo(1, 5);
    for (let i = 5; i < 8; i++) of(keys[i], i + 1);
    // what was used last is still there, the second is not
    expect(of(keys[0], 1)).toBe(first);
    expect(of(keys[1], 2).body.solid.volume()).toBeCloseTo(8, 4);
    expect(made).toEqual([1, 2, 3, 4, 5, 6, 7, 8, 2]);
  });
});

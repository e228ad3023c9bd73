import { describe, expect, it } from 'vitest';
import { arrowStep } from './arrow-step.ts';

describe('an arrow key', () => {
  const press = (key: string, shiftKey = false, altKey = false) => arrowStep({ key, shiftKey, altKey });
  it('moves by one to the right and up, with Shift by ten, with Alt by a tenth', () => {
    expect(press('ArrowRight')).toEqual([1, 0]);
    expect(press('ArrowUp', true)).toEqual([0, 10]);
    expect(press('ArrowDown', false, true)?.[1]).toBeCloseTo(-0.1, 12);
    expect(press('ArrowLeft', true)).toEqual([-10, 0]);
  });

  it('is told from other keys', () => {
    expect(press('Enter')).toBeNull();
    expect(press('toString')).toBeNull();
  });
});

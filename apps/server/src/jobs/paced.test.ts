import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import { paced } from './paced.ts';

beforeEach(() => void vi.useFakeTimers());
afterEach(() => void vi.useRealTimers());

it('a long piece of work is heard of a few times a second, and at once when it begins with something else', () => {
  const told: [number, string][] = [];
  const tell = paced((share, what) => told.push([share, what]));
  for (let i = 0; i < 1000; i++) {
    tell(i / 2000, 'Hollowing');
    vi.advanceTimersByTime(1);
  }
  expect(told).toHaveLength(10);
  expect(told.at(-1)).toEqual([0.45, 'Hollowing']);
  tell(0.5, 'Checking the solids');
  tell(0.51, 'Checking the solids');
  expect(told.slice(10)).toEqual([[0.5, 'Checking the solids']]);
});

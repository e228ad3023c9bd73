import type { Job } from '@gephyra/contract';
import { describe, expect, it } from 'vitest';
import { beyondKeeping, type Finished } from './forget.ts';
import { jobKind } from './kinds/index.ts';

const now = new Date('2026-11-25T12:00:00Z');
const job = (kind: Job['kind'], n: number, bytes = 1000, daysAgo = 0): Finished => ({
  id: `${kind} ${n}`,
  kind,
  bytes,
  createdAt: new Date(now.getTime() - daysAgo * 86_400_000 - n),
});
const many = (kind: Job['kind'], count: number, bytes = 1000): Finished[] =>
  Array.from({ length: count }, (_, n) => job(kind, n, bytes));

describe('finished jobs', () => {
  it('are kept by number, each kind by itself: health and archives push out no shapes', () => {
    const { newest } = jobKind('shape').keep!;
    const all = [...many('health', 500), ...many('archive', 500), ...many('shape', newest)];
    expect(beyondKeeping(all, now).filter((id) => id.startsWith('shape'))).toEqual([]);
    const more = [...all, job('shape', newest)];
    expect(beyondKeeping(more, now).filter((id) => id.startsWith('shape'))).toEqual([`shape ${newest}`]);
  });

  it('are kept by bytes: the oldest of what is too much goes', () => {
    const { bytes } = jobKind('export').keep!;
    expect(beyondKeeping(many('export', 4, bytes / 3), now)).toEqual(['export 3']);
    expect(beyondKeeping(many('export', 3, bytes / 3), now)).toEqual([]);
  });

  it('are kept by age', () => {
    const { days } = jobKind('export').keep!;
    expect(beyondKeeping([job('export', 1, 1, days - 1), job('export', 2, 1, days + 1)], now)).toEqual(['export 2']);
  });

  it('of imports are the record of projects, and never forgotten', () => {
    expect(beyondKeeping([job('import', 1, 1e12, 4000)], now)).toEqual([]);
  });
});

import { FINDINGS } from '@gephyra/core';
import { describe, expect, it } from 'vitest';
import { STATIONS } from './registry.ts';

describe('the stations', () => {
  it('have all that findings are listed at, each once', () => {
    const ids = STATIONS.map((s) => s.id);
    expect(new Set(ids).size).toBe(ids.length);
    const named = Object.values(FINDINGS).flatMap((f) => [f.station, ...('also' in f ? f.also : [])]);
    expect([...new Set<string>(named)].filter((id) => !ids.includes(id))).toEqual([]);
  });
});

import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { Table } from './number-table.ts';

describe('a table of numbers by number', () => {
  it('holds what a map holds, however it has grown, and nothing else', () => {
    const key = fc.oneof(fc.integer({ min: 0, max: 300 }), fc.integer({ min: 0, max: 2 ** 50 }));
    fc.assert(
      fc.property(fc.uniqueArray(key, { maxLength: 400 }), key, (keys, other) => {
        const table = new Table(8);
        const map = new Map(keys.map((k, i) => [k, i * 0.5 - 3]));
        for (const [k, value] of map) table.put(k, value);
        for (const [k, value] of map) expect(table.values[table.slot(k)]).toBe(value);
        expect(table.slot(other) >= 0).toBe(map.has(other));
      }),
    );
  });
});

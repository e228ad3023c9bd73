import { describe, expect, it } from 'vitest';
import type { Label } from '../project/shown.ts';
import { apartLabels } from './labels.ts';

const label = (text: string, x: number, y: number, kind: Label['kind'] = 'staff'): Label => ({ text, x, y, kind });

describe('labels of the view', () => {
  it('of a ruler that is looked along are not printed over each other', () => {
    const along = [0, 100, 200, 300].map((n) => label(String(n), 400 + n / 50, 300));
    expect(apartLabels(along).map((l) => l.text)).toEqual(['0']);
    const beside = [0, 100, 200, 300].map((n) => label(String(n), 400, 300 - n));
    expect(apartLabels(beside)).toHaveLength(4);
  });

  it('of a ruler give way to what is marked', () => {
    const both = [label('100', 50, 50), label('30.0 mm', 70, 55, 'mark')];
    expect(apartLabels(both).map((l) => l.text)).toEqual(['30.0 mm']);
    // side by side there is room for both
    expect(apartLabels([label('100', 50, 50), label('30.0 mm', 120, 50, 'mark')])).toHaveLength(2);
  });
});

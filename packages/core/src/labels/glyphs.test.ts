import { describe, expect, it } from 'vitest';
import { kernel } from '../../testing/judges.ts';
import type { Loop2 } from '../mesh/index.ts';
import { arrowStrokes, arrowWidth, STROKE, strokesOf, textWidth } from './glyphs.ts';

const SIGNS = 'ABCDEFGHIJKLMNOPQRSTUVWXYZ0123456789-';
/** Strokes as the kernel sees them. */
const section = (loops: readonly Loop2[]) =>
  new kernel.CrossSection(
    loops.map((l) => Array.from({ length: l.length / 2 }, (_, i): [number, number] => [l[2 * i], l[2 * i + 1]])),
    'NonZero',
  );

/** Whether a loop turns left at every corner. */
function convex(loop: Loop2): boolean {
  const n = loop.length / 2;
  return Array.from({ length: n }, (_, i) => {
    const [a, b, c] = [i, (i + 1) % n, (i + 2) % n].map((k) => [loop[2 * k], loop[2 * k + 1]]);
    return (b[0] - a[0]) * (c[1] - b[1]) - (b[1] - a[1]) * (c[0] - b[0]);
  }).every((turn) => turn > 0);
}

describe('signs', () => {
  it('have strokes that are convex, counter-clockwise, within the sign, and apart from each other', () => {
    for (const sign of SIGNS) {
      const strokes = strokesOf(sign, 10);
      expect(strokes.length, sign).toBeGreaterThan(0);
      for (const s of strokes) {
        expect(convex(s), sign).toBe(true);
        const [x, y] = [0, 1].map((k) => s.filter((_, i) => i % 2 === k));
        expect(Math.min(...x), sign).toBeGreaterThanOrEqual(0);
        expect(Math.max(...x), sign).toBeLessThanOrEqual(textWidth(sign, 10) + 1e-9);
        expect(Math.min(...y), sign).toBeGreaterThanOrEqual(0);
        expect(Math.max(...y), sign).toBeLessThanOrEqual(10);
      }
      // a hair wider each, and still none meets another: what they cover adds up
      const hair = strokes.map((s) => section([s]).offset(0.15, 'Square'));
      expect(kernel.CrossSection.union(hair).area(), sign).toBeCloseTo(
        hair.reduce((all, h) => all + h.area(), 0),
        3,
      );
    }
  });

  it('are told apart: no two letters, and no two figures, are the same', () => {
    const seen = new Map<string, string>();
    for (const sign of SIGNS) {
      const print = `${/[A-Z]/.test(sign)} ${strokesOf(sign, 10)
        .map((s) => [...s].map((x) => x.toFixed(3)).join())
        .sort()
        .join(';')}`;
      expect(seen.get(print), `${sign} looks like ${seen.get(print)}`).toBeUndefined();
      seen.set(print, sign);
    }
  });

  it('strokes are as wide as they are said to be, everywhere', () => {
    for (const sign of SIGNS) {
      for (const s of strokesOf(sign, 10)) {
        // what is narrower than nine tenths of the stroke is gone when its edges move in by half of that
        const inner = section([s]).offset(-0.45 * STROKE * 10, 'Miter');
        if (!'XVKMNYZWRQ'.includes(sign)) expect(inner.numContour(), sign).toBe(1);
      }
    }
  });

  it('a text is as wide as it is told, whatever it holds', () => {
    for (const text of ['A1', 'M12', 'B-2', '.150', 'W', '10']) {
      const x = strokesOf(text, 8).flatMap((s) => [...s].filter((_, i) => i % 2 === 0));
      expect(Math.max(...x)).toBeLessThanOrEqual(textWidth(text, 8) + 1e-9);
      expect(Math.max(...x)).toBeGreaterThan(textWidth(text, 8) - 8 * 0.05);
    }
    expect(section(strokesOf('A1', 8)).area()).toBeGreaterThan(10);
    expect(strokesOf('A 1', 8)).toHaveLength(strokesOf('A1', 8).length);
  });

  it('an arrow has its head above its shaft', () => {
    const [shaft, head] = arrowStrokes(10);
    expect(convex(shaft) && convex(head)).toBe(true);
    const top = (l: Loop2): number => Math.max(...[...l].filter((_, i) => i % 2 === 1));
    expect([top(shaft) < 6, top(head)]).toEqual([true, 10]);
    expect(section([shaft, head]).area()).toBeCloseTo(section([shaft]).area() + section([head]).area(), 6);
    expect(Math.max(...[...head].filter((_, i) => i % 2 === 0))).toBeCloseTo(arrowWidth(10), 9);
  });
});

import { Clipper, FillRule, type PathsD } from 'clipper2-ts';
import { describe, expect, it } from 'vitest';
import type { Loop2 } from '../cut/index.ts';
import { arrowStrokes, arrowWidth, STROKE, strokesOf, textWidth } from './glyphs.ts';

const SIGNS = 'ABCDEFGHIJKLMNOPQRSTUVWXYZ0123456789-';
const path = (loop: Loop2) =>
  Array.from({ length: loop.length / 2 }, (_, i) => ({ x: loop[2 * i], y: loop[2 * i + 1] }));
const sum = (paths: PathsD): number => Math.abs(paths.reduce((all, p) => all + Clipper.areaD(p), 0));
const area = (loops: readonly Loop2[]): number => sum(Clipper.unionD(loops.map(path), [], FillRule.NonZero, 6));

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
      const hair = strokes.map((s) => Clipper.inflatePathsD([path(s)], 0.15, 0, 0, 2, 6)[0]);
      const together = sum(Clipper.unionD(hair, [], FillRule.NonZero, 6));
      expect(together, sign).toBeCloseTo(
        hair.reduce((all, p) => all + Math.abs(Clipper.areaD(p)), 0),
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
        // what is narrower than the stroke is gone when its edges move in by half of it
        const inner = Clipper.inflatePathsD([path(s)], -0.45 * STROKE * 10, 0, 2, 2, 6);
        if (!'XVKMNYZWRQ'.includes(sign)) expect(inner.length, sign).toBe(1);
      }
    }
  });

  it('a text is as wide as it is told, whatever it holds', () => {
    for (const text of ['A1', 'M12', 'B-2', '.150', 'W', '10']) {
      const x = strokesOf(text, 8).flatMap((s) => [...s].filter((_, i) => i % 2 === 0));
      expect(Math.max(...x)).toBeLessThanOrEqual(textWidth(text, 8) + 1e-9);
      expect(Math.max(...x)).toBeGreaterThan(textWidth(text, 8) - 8 * 0.05);
    }
    expect(area(strokesOf('A1', 8))).toBeGreaterThan(10);
    expect(strokesOf('A 1', 8)).toHaveLength(strokesOf('A1', 8).length);
  });

  it('an arrow has its head above its shaft', () => {
    const [shaft, head] = arrowStrokes(10);
    expect(convex(shaft) && convex(head)).toBe(true);
    const top = (l: Loop2): number => Math.max(...[...l].filter((_, i) => i % 2 === 1));
    expect([top(shaft) < 6, top(head)]).toEqual([true, 10]);
    expect(area([shaft, head])).toBeCloseTo(area([shaft]) + area([head]), 6);
    expect(Math.max(...[...head].filter((_, i) => i % 2 === 0))).toBeCloseTo(arrowWidth(10), 9);
  });
});

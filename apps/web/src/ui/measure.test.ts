import { describe, expect, it } from 'vitest';
import { parseMeasure, showMeasure } from './measure.ts';

describe('parseMeasure', () => {
  it.each([
    ['12.5', 12.5],
    ['12,5', 12.5],
    ['148/2+3', 77],
    ['1/2 in', 12.7],
    ['2in + 1mm', 51.8],
    ['-(40+2)*3', -126],
    ['3 cm', 30],
    ['.5', 0.5],
    ['5"', 127],
    ['2--1', 3],
  ])('reads %s', (text, value) => {
    expect(parseMeasure(text)).toBeCloseTo(value, 9);
  });

  it.each(['', 'bell', '12 bells', '1/0', '(2', '2)', '3 4', '1+', 'in'])('refuses “%s”', (text) => {
    expect(parseMeasure(text)).toBeNull();
  });

  it('shows numbers without needless digits', () => {
    expect([showMeasure(312.5, 2), showMeasure(-0.0001, 2), showMeasure(1 / 3, 3)]).toEqual(['312.5', '0', '0.333']);
  });
});

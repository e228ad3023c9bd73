import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { alongAxis, baseAxis, leaning, leans, seamAcross, sides, stopsBeside } from './seam-math.ts';

const box = { min: [-10, -20, 0], max: [30, 20, 600] } as const;

describe('seams by axis, place and lean', () => {
  it('angles come back as they were given, for leans that keep the axis', () => {
    const angle = fc.double({ min: -40, max: 40, noNaN: true });
    fc.assert(
      fc.property(fc.nat(2), angle, angle, (axis, a, b) => {
        const normal = leaning(axis, a, b);
        expect(baseAxis(normal)).toBe(axis);
        expect(Math.hypot(...normal)).toBeCloseTo(1, 9);
        expect(leans(normal)[0]).toBeCloseTo(a, 4);
        expect(leans(normal)[1]).toBeCloseTo(b, 4);
      }),
    );
  });

  it('a new seam goes through the middle of the model', () => {
    expect(seamAcross('s1', 2, 312.5, box)).toMatchObject({ origin: [10, 0, 312.5], normal: [0, 0, 1] });
  });

  it('places on the axis follow from offsets along a leaning normal', () => {
    const seam = { origin: [10, 0, 300] as [number, number, number], normal: leaning(2, 30, 0) };
    const offset = seam.origin.reduce((sum, x, i) => sum + x * seam.normal[i], 0);
    expect(alongAxis(seam, offset)).toBeCloseTo(300, 9);
    expect(alongAxis(seam, offset + Math.cos(Math.PI / 6))).toBeCloseTo(301, 6);
  });

  it('sides reach to the next seam or the end of the model', () => {
    expect(sides(300, [100, 400], 0, 600)).toEqual({ before: 200, after: 100 });
    expect(sides(300, [], 0, 600)).toEqual({ before: 300, after: 300 });
  });

  it('a piece ends at seams that cut all of it, not at those that are meant for something else', () => {
    const at = (id: string, z: number, more: object = {}) => ({ ...seamAcross(id, 2, z, box), ...more });
    const limb = at('s2', 200, { regions: { mode: 'only', seeds: [[0, 0]] } });
    const boxed = at('s3', 250, { bound: { min: [0, 0, 0], max: [9, 9, 300] } });
    const other = at('s4', 400, { scope: ['b2'] });
    const seams = [at('s1', 100), limb, boxed, other, at('s5', 500), at('s6', 550, { enabled: false })];
    const stops = (seam: (typeof seams)[number]) => stopsBeside(seam, seams).map((s) => s.id);
    expect(stops(seams[0])).toEqual(['s5']);
    expect(stops(seams[4])).toEqual(['s1']);
    // what is meant for a piece has it as it stands by then
    const own = at('s7', 450, { scope: ['b1/s1+'] });
    expect(stopsBeside(own, [...seams, own]).map((s) => s.id)).toEqual([]);
    const later = at('s8', 480, { scope: ['b1/s1+.s7+'] });
    expect(stopsBeside(own, [...seams, own, later]).map((s) => s.id)).toEqual(['s8']);
  });
});

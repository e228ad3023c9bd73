import { describe, expect, it } from 'vitest';
import { FITS, startingFits } from './fits.ts';
import { gapOf, JOINT_KINDS } from './kinds/index.ts';
import { type SnapSizes, snapForm, snapLoad } from './kinds/snap/form.ts';
import { materialOf } from './materials.ts';
import { segment } from './outline.ts';

const filament = { kind: 'filament', nozzle: 0.4 } as const;
const resin = { kind: 'resin', nozzle: 0.05 } as const;

describe('fits', () => {
  it('widen from press to loose, for every kind, printer and nozzle', () => {
    for (const printer of [filament, resin, { ...filament, nozzle: 0.8 }]) {
      for (const kind of JOINT_KINDS) {
        const gaps = FITS.map((f) => gapOf(f, kind, printer));
        expect(gaps).toEqual([...gaps].sort((a, b) => a - b));
        expect(gaps[0]).toBeGreaterThanOrEqual(0);
      }
    }
    expect(startingFits({ ...filament, nozzle: 0.8 }).slip).toBeCloseTo(0.26, 9);
  });

  it('come from the kind’s own table, then from that for all, then from where one begins', () => {
    const fits = { all: { slip: 0.3 }, cone: { slip: 0.11 } };
    const tried = { ...filament, fits };
    expect(gapOf('slip', 'cone', tried)).toBe(0.11);
    expect(gapOf('slip', 'pin', tried)).toBe(0.3);
    expect(gapOf('slip', 'magnet', tried)).toBeCloseTo(0.35, 9);
    expect(gapOf('press', 'pin', tried)).toBe(0.05);
    expect(gapOf('press', 'cone', filament)).toBe(0);
    expect(gapOf('slip', 'dowel', filament, true)).toBeCloseTo(0.25, 9);
    expect(gapOf('slip', 'dowel', resin, true)).toBeCloseTo(0.125, 9);
  });
});

describe('a snap pin’s load', () => {
  const snap: SnapSizes = { diameter: 8, depth: 16, slot: 1.6, barb: 0.6 };

  it('is that of a cantilever whose section is integrated in strips', () => {
    const gap = 0.1;
    const modulus = 2000;
    // second moment and centroid of a prong by thin strips, independent of the polygon formulas
    const [r, from] = [snap.diameter / 2, snap.slot / 2];
    const n = 20_000;
    let [area, first, second] = [0, 0, 0];
    for (let i = 0; i < n; i++) {
      const x = from + ((r - from) * (i + 0.5)) / n;
      const strip = 2 * Math.sqrt(r * r - x * x) * ((r - from) / n);
      area += strip;
      first += strip * x;
      second += strip * x * x;
    }
    const middle = first / area;
    const inertia = second - area * middle * middle;
    const fibre = Math.max(r - middle, middle - from);
    const loop = segment(8, 0.8, 0).at(0);
    expect(Math.min(...loop.filter((_, i) => i % 2 === 0))).toBeCloseTo(from, 9);
    const load = snapLoad(snap, gap, modulus);
    const length = snap.depth - 1.5;
    const bend = snap.barb - gap;
    expect(load.bend).toBeCloseTo(bend, 9);
    expect(load.strain / ((3 * bend * fibre) / length ** 2)).toBeCloseTo(1, 2);
    const side = (3 * modulus * inertia * bend) / length ** 3;
    // pushed over its lead-in it takes more than friction alone, and less than three times the side force of both
    expect(load.force).toBeGreaterThan(2 * 0.35 * side);
    expect(load.force).toBeLessThan(2 * 3 * side);
  });

  it('grows with the barb, falls with length, is nothing without a barb, and is borne by tougher plastic', () => {
    const strain = (s: Partial<SnapSizes>) => snapLoad({ ...snap, ...s }, 0.1, 2000).strain;
    expect(strain({ barb: 0.8 })).toBeGreaterThan(strain({}));
    expect(strain({ depth: 24 })).toBeLessThan(strain({}) / 2);
    expect(snapLoad({ ...snap, barb: 0.1 }, 0.1, 2000)).toEqual({ bend: 0, strain: 0, force: 0 });
    expect(materialOf('Nylon', 'filament').strain).toBeGreaterThan(materialOf('PLA', 'filament').strain);
    expect(materialOf('unheard of', 'resin').kind).toBe('resin');
    expect(materialOf(undefined, 'filament').name).toBe('PLA');
  });

  it('its prongs stay apart by the slot, and its groove is as deep as the barb', () => {
    const wish = { u: 0, v: 0, turn: 0, lean: [0, 0] as const, gap: 0.2, depthGap: 0.3, mouth: 0 };
    const { own, other, depths } = snapForm(snap, wish);
    expect(own).toHaveLength(2);
    const inner = own.map((s) => s.rings[0].loop.filter((_, i) => i % 2 === 0).map(Math.abs));
    for (const xs of inner) expect(Math.min(...xs)).toBeCloseTo(0.8, 6);
    const radius = (l: Float64Array) => Math.max(...l.map(Math.abs));
    const rings = other[0].rings;
    expect(radius(rings[rings.length - 1].loop) - radius(rings[0].loop)).toBeCloseTo(snap.barb, 2);
    expect(depths).toEqual([0, 16.3]);
  });
});

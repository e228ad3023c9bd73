import { IDENTITY, type Seam } from '@gephyra/core';
import { describe, expect, it } from 'vitest';
import { onPlane, raysOf, seamTitle, tilted, turnedBy } from '../../project/seam-math.ts';
import { seamSheets } from './sheets.ts';

const common = {
  id: 's1',
  name: '',
  origin: [0, 0, 0] as [number, number, number],
  normal: [0, 0, 1] as [number, number, number],
  enabled: true,
};
const fan: Extract<Seam, { kind: 'fan' }> = { ...common, kind: 'fan', up: [0, 1, 0], count: 4, phase: 0 };
const box = { min: [-50, -50, 0], max: [50, 50, 20] } as const;

const sheetsOf = (seam: Seam): Float32Array => seamSheets(seam, IDENTITY, box);

describe('the sheets of a seam', () => {
  it('gives each half-plane of a fan a quad from the axis past the model', () => {
    const quads = sheetsOf(fan);
    expect(quads.length).toBe(4 * 12);
    // the first half-plane runs along up
    expect([...quads.slice(0, 2)]).toEqual([0, 0]);
    expect(quads[4]).toBeGreaterThan(50);
    expect(Math.abs(quads[3])).toBeLessThan(1e-4);
  });

  it('sweeps a ring and a bent line over the whole model', () => {
    const ring = sheetsOf({ ...common, kind: 'ring', radius: 30 });
    expect(ring.length).toBe(64 * 12);
    for (let i = 0; i < ring.length; i += 3) expect(Math.hypot(ring[i], ring[i + 1])).toBeCloseTo(30, 3);
    const line: Seam = {
      ...common,
      kind: 'profile',
      up: [0, 1, 0],
      points: [
        [-50, 0],
        [50, 0],
      ],
      curve: 'line',
      bend: 8,
    };
    const heights = [...sheetsOf(line)].filter((_, i) => i % 3 === 1);
    expect(Math.max(...heights.map(Math.abs))).toBeCloseTo(8, 6);
    expect(sheetsOf({ ...common, kind: 'flat' }).length).toBe(0);
  });
});

describe('turning seams', () => {
  it('keeps the place it tilts about on the plane', () => {
    const seam = { origin: [0, 0, 100] as [number, number, number], normal: [0, 0, 1] as [number, number, number] };
    const about = onPlane(seam, [30, 10, 140]);
    expect(about).toEqual([30, 10, 100]);
    const normal = turnedBy(seam.normal, [1, 0, 0], 15);
    const next = tilted(seam, normal, about);
    const h = about.reduce((sum, x, a) => sum + (x - next.origin[a]) * next.normal[a], 0);
    expect(h).toBeCloseTo(0, 9);
    expect((Math.acos(next.normal[2]) * 180) / Math.PI).toBeCloseTo(15, 9);
  });

  it('knows the directions of a fan, and what each kind is called', () => {
    const rays = raysOf(fan, IDENTITY);
    expect(rays[0][0]).toBeCloseTo(0, 9);
    expect(rays[0][1]).toBeCloseTo(1, 9);
    expect(rays[2][1]).toBeCloseTo(-1, 9);
    expect(seamTitle(fan)).toBe('Fan round z');
    expect(seamTitle({ ...fan, name: 'Rim' })).toBe('Rim');
  });
});

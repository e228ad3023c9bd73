import type { Equipment, OwnPrinter } from '@gephyra/contract';
import { parsePlan } from '@gephyra/core';
import { describe, expect, it } from 'vitest';
import { materialName, mergedFits, newerOf, printerOf, withResult } from './fits.ts';

const desktop: OwnPrinter = {
  name: 'Desktop 220',
  size: [220, 220, 250],
  margin: 2,
  nozzle: 0.4,
  kind: 'filament',
  materials: [
    { name: 'PLA', fits: { all: { slip: 0.22 } }, results: [], prints: [] },
    { name: 'PETG', fits: {}, results: [], prints: [], setting: { layer: 0.28 } },
  ],
};
const equipment = (...printers: OwnPrinter[]): Equipment => ({ printers, presets: [] });
const inPlan = (printer: object) => parsePlan({ version: 5, printer }).printer;

describe('a printer of the equipment, as a plan has it', () => {
  it('takes the fits, setting and limits of the material, and leaves out what is not said', () => {
    expect(printerOf(desktop, 'PLA')).toEqual({
      name: 'Desktop 220',
      size: [220, 220, 250],
      margin: 2,
      nozzle: 0.4,
      kind: 'filament',
      material: 'PLA',
      fits: { all: { slip: 0.22 } },
    });
    expect(printerOf(desktop, 'PETG')).toMatchObject({ material: 'PETG', setting: { layer: 0.28 } });
    expect(printerOf(desktop, 'Nylon').material).toBe('PLA');
    const strict = {
      ...desktop,
      limits: { wall: 1.6 },
      keepOut: [{ at: [0, 0] as [number, number], size: [9, 9] as [number, number] }],
    };
    expect(printerOf(strict, 'PLA')).toMatchObject({ limits: { wall: 1.6 }, keepOut: strict.keepOut });
    expect(inPlan(printerOf(strict, 'PLA'))).toEqual(printerOf(strict, 'PLA'));
  });

  it('carries what was learned of its hours, by the material alone', () => {
    const day = new Date().toISOString().slice(0, 10);
    const timed = {
      ...desktop,
      materials: [
        { ...desktop.materials[0], prints: [{ date: day, hours: 6, estimate: 5, note: '' }] },
        desktop.materials[1],
      ],
    };
    expect(printerOf(timed, 'PLA').learned).toEqual({ factor: 1.2, count: 1 });
    expect(printerOf(timed, 'PETG').learned).toBeUndefined();
  });

  it('is newer than a plan’s own when anything of it differs, in whatever order it is written', () => {
    const own = inPlan(printerOf(desktop, 'PLA'));
    expect(newerOf(equipment(desktop), own)).toBeNull();
    const { name, ...rest } = own;
    expect(newerOf(equipment(desktop), { ...rest, name })).toBeNull();
    expect(newerOf(equipment(), own)).toBeNull();
    const changed = { ...desktop, margin: 5 };
    expect(newerOf(equipment(changed), own)).toMatchObject({ margin: 5, material: 'PLA' });
    // what a plan says otherwise is not newer in itself: the equipment's word is offered
    expect(newerOf(equipment(desktop), { ...own, margin: 9 })).toMatchObject({ margin: 2 });
  });
});

describe('what a coupon said', () => {
  const result = { date: '2026-11-12', kind: 'cone' as const, gaps: { snug: 0.08 }, note: '' };

  it('is kept with its printer and material, which are added when they are new', () => {
    const next = withResult(equipment(), inPlan({ name: 'Own', size: [100, 100, 100], material: 'ABS' }), result);
    expect(next.printers).toMatchObject([
      { name: 'Own', materials: [{ name: 'ABS', fits: { cone: { snug: 0.08 } }, results: [result], prints: [] }] },
    ]);
    const again = withResult(equipment(desktop), inPlan(printerOf(desktop, 'PETG')), result);
    expect(again.printers[0].materials.map((m) => [m.name, m.results.length])).toEqual([
      ['PLA', 0],
      ['PETG', 1],
    ]);
    expect(again.printers[0].materials[1].setting).toEqual({ layer: 0.28 });
  });

  it('of a pin holds for all kinds that are not known better', () => {
    expect(mergedFits({ cone: { snug: 0.1 } }, 'pin', { slip: 0.2 })).toEqual({
      cone: { snug: 0.1 },
      all: { slip: 0.2 },
    });
    expect(mergedFits({ all: { slip: 0.3, snug: 0.1 } }, 'all', { slip: 0.2 })).toEqual({
      all: { slip: 0.2, snug: 0.1 },
    });
  });

  it('is of the material that the printer prints, or the commonest of its kind', () => {
    expect(materialName({ kind: 'resin' })).toBe('Standard resin');
    expect(materialName({ kind: 'filament', material: 'PETG' })).toBe('PETG');
  });
});

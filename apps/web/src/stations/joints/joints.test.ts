import { type Joint, jointSchema, newJoint, parsePlan, perAxis, vecOf } from '@gephyra/core';
import { describe, expect, it } from 'vitest';
import type { EvaluationView, FaceView, Triple } from '../../engine/types.ts';
import { mergedFits, printerOf, withResult } from '../../equipment/fits.ts';
import { PRINTERS } from '../../equipment/printers.ts';
import { aligned } from './align.ts';
import { bookOf } from './book.ts';
import { fromPreset, KINDS, presetOf } from './kinds.ts';
import { looseCsv } from './loose-list.tsx';

const common = { id: 'j1', seam: 's1', at: [3, 4] as [number, number] };
const made = KINDS.flatMap(({ value }) =>
  [1.5, 3, 6, 10].map((size) => jointSchema.parse(newJoint(value, common, size)) as Joint),
);

describe('a preset', () => {
  it('keeps settings and no place; one that is none any more gives nothing', () => {
    for (const joint of made) {
      const preset = presetOf(joint);
      for (const key of ['id', 'seam', 'at', 'lean']) expect(preset).not.toHaveProperty(key);
      const again = fromPreset(preset, { id: 'j9', seam: 's2', at: [0, 0], part: 3 });
      expect(again).toEqual({ ...joint, id: 'j9', seam: 's2', at: [0, 0], part: 3 });
    }
    expect(fromPreset({ kind: 'pin', diameter: 0 }, { id: 'j9', seam: 's2', at: [0, 0] })).toBeNull();
  });
});

describe('a place on a face', () => {
  const help = { axis: { u: 0, v: 0, du: 0, dv: 1 }, middle: Float64Array.of(20, 5, 20, 6, 20, 7) };
  const pole = { u: 8, v: 8 };

  it('is drawn to the middle first, to the wall’s middle, to the axis, else to the grid', () => {
    expect(aligned([8.3, 7.8], help, pole, 1, 0.1)).toEqual({ u: 8, v: 8, to: 'middle' });
    expect(aligned([20.4, 6.1], help, pole, 1, 0.1)).toEqual({ u: 20, v: 6, to: 'wall' });
    expect(aligned([0.6, 31.26], help, pole, 1, 0.1)).toEqual({ u: 0, v: 31.26, to: 'axis' });
    expect(aligned([3.14, 2.72], help, pole, 1, 0.1)).toEqual({ u: 3.1, v: 2.7, to: null });
    expect(aligned([8.3, 7.8], null, pole, 1, 1)).toEqual({ u: 8, v: 8, to: null });
    expect(aligned([3.14, 31.26], { ...help, axis: null }, pole, 1, 0.5)).toEqual({ u: 3, v: 31.5, to: null });
  });
});

describe('a face opened like a book', () => {
  const face = (normal: Triple, u: Triple, v: Triple) =>
    ({
      pieces: ['a', 'b'],
      outer: Float64Array.of(-20, -10, 20, -10, 20, 10, -20, 10),
      frame: { origin: [0, 0, 0], normal, u, v, offset: 0 },
    }) as unknown as FaceView;
  const view = {
    pieces: [
      { key: 'a', box: { min: [-30, -30, -30], max: [30, 30, 0] } },
      { key: 'b', box: { min: [-30, -30, 0], max: [30, 30, 30] } },
    ],
  } as unknown as EvaluationView;
  const turned = (x: Triple, axis: Triple, angle: number): Triple => {
    const [c, s] = [Math.cos(angle), Math.sin(angle)];
    const along = x[0] * axis[0] + x[1] * axis[1] + x[2] * axis[2];
    const across: Triple = [
      axis[1] * x[2] - axis[2] * x[1],
      axis[2] * x[0] - axis[0] * x[2],
      axis[0] * x[1] - axis[1] * x[0],
    ];
    return vecOf((k) => x[k] * c + across[k] * s + axis[k] * along * (1 - c));
  };

  it('both halves look at whoever looks, and neither runs into the other', () => {
    for (const f of [face([0, 0, 1], [1, 0, 0], [0, 1, 0]), face([1, 0, 0], [0, 1, 0], [0, 0, 1])]) {
      const book = bookOf(f, view);
      const n = f.frame.normal;
      const dot = (a: Triple, b: Triple) => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
      // the outside of the lower half's face is along the normal, of the upper one's against it
      const lower = turned(n, book.axis, book.angle);
      const upper = turned(
        perAxis(n, (x) => -x),
        book.axis,
        -book.angle,
      );
      expect(dot(lower, book.towards)).toBeGreaterThan(0.9);
      expect(dot(upper, book.towards)).toBeGreaterThan(0.9);
      expect(Math.abs(dot(book.axis, n))).toBeLessThan(1e-9);
      // the hinge lies behind everything, so that the covers swing free
      for (let c = 0; c < 8; c++) {
        const corner: Triple = [c & 1 ? 30 : -30, c & 2 ? 30 : -30, c & 4 ? 30 : -30];
        const off = perAxis(corner, (x, k) => x - book.hinge[k]);
        expect(dot(off, book.towards)).toBeGreaterThan(-1e-9);
      }
    }
  });
});

describe('fits of the equipment', () => {
  const printer = PRINTERS.find((p) => p.name === 'Desktop 220')!;
  const result = { date: '2026-11-20', kind: 'pin' as const, gaps: { slip: 0.24, snug: undefined }, note: 'warm' };

  it('a pin’s coupon sets them for all kinds, another kind’s only its own; what was not said stays', () => {
    expect(mergedFits({ all: { snug: 0.1 } }, 'pin', { slip: 0.24 })).toEqual({ all: { snug: 0.1, slip: 0.24 } });
    expect(mergedFits(undefined, 'cone', { snug: 0.06 })).toEqual({ cone: { snug: 0.06 } });
  });

  it('a result adds its printer and material, keeps the older ones, and gives a printer that a plan takes', () => {
    const first = withResult({ printers: [], presets: [] }, printer, result);
    const second = withResult(first, { ...printer, material: 'PETG' }, { ...result, gaps: { slip: 0.3 } });
    const third = withResult(second, printer, { ...result, date: '2026-11-21', gaps: { press: 0.04 } });
    expect(third.printers).toHaveLength(1);
    const [own] = third.printers;
    expect(own.materials.map((m) => [m.name, m.fits])).toEqual([
      ['PETG', { all: { slip: 0.3 } }],
      ['PLA', { all: { slip: 0.24, press: 0.04 } }],
    ]);
    expect(own.materials[1].results.map((r) => r.date)).toEqual(['2026-11-21', '2026-11-20']);
    const plan = parsePlan({ version: 5, printer: printerOf(own, 'PLA') });
    expect(plan.printer).toMatchObject({
      name: 'Desktop 220',
      material: 'PLA',
      fits: { all: { slip: 0.24, press: 0.04 } },
    });
    expect(printerOf(own, 'unknown').material).toBe('PETG');
  });
});

describe('the list of loose parts', () => {
  it('is a table that a spreadsheet reads, also with quotes in it', () => {
    const part = {
      kind: 'dowel' as const,
      stock: 'wood' as const,
      diameter: 8,
      joints: ['j1', 'j2'],
      count: 2,
      printed: false,
    };
    const csv = looseCsv([
      { ...part, what: 'wooden dowel 8', length: 40.5 },
      { ...part, what: 'magnet "strong", 6', length: null, joints: ['j3'], printed: true },
    ]);
    expect(csv.split('\r\n')).toEqual([
      '"count","what","length mm","made","joints"',
      '2,"wooden dowel 8",40.5,"to cut or buy","j1 j2"',
      '2,"magnet ""strong"", 6","","printed","j3"',
      '',
    ]);
  });
});

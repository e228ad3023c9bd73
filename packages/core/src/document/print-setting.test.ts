import { describe, expect, it } from 'vitest';
import { printSettingFields, printSettingOf, printSettingSchema } from './print-setting.ts';

describe('how a printer prints', () => {
  it.each(['filament', 'resin'] as const)(
    'of %s: each number is within its bounds, and is kept under its name',
    (kind) => {
      const setting = printSettingOf({ kind, nozzle: 0.4 });
      const fields = printSettingFields(kind, setting);
      for (const { name, value, least, most, set } of fields) {
        expect(value).toBe(setting[name as keyof typeof setting]);
        for (const x of [least, value, most]) expect(printSettingSchema.parse(set(x))).toEqual({ [name]: x });
        for (const x of [least - 1, most + 1])
          expect([name, printSettingSchema.safeParse(set(x)).success]).toEqual([name, false]);
      }
    },
  );

  it('asks of every number of the schema, for one kind of printer or for both', () => {
    const [filament, resin] = (['filament', 'resin'] as const).map((kind) =>
      printSettingFields(kind, printSettingOf({ kind, nozzle: 0.4 })).map((f) => f.name),
    );
    expect([...new Set([...filament, ...resin])].sort()).toEqual(Object.keys(printSettingSchema.shape).sort());
    expect(filament).not.toContain('exposure');
    expect(resin).not.toContain('infill');
  });

  it('starts by the nozzle and the material, and goes by what is said', () => {
    const start = printSettingOf({ kind: 'filament', nozzle: 0.6, material: 'PETG' });
    expect(start).toMatchObject({ layer: 0.3, line: 0.68, wallSpeed: 50, walls: 3 });
    const own = printSettingOf({ kind: 'filament', nozzle: 0.6, material: 'PETG', setting: { wallSpeed: 30 } });
    expect(own).toEqual({ ...start, wallSpeed: 30 });
  });
});

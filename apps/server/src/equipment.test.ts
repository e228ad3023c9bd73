import { rm } from 'node:fs/promises';
import { type EquipmentRecord, type Problem, routes } from '@gephyra/contract';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { Client } from '../testing/client.ts';
import { freshData } from '../testing/fresh-data.ts';
import { type RunningServer, startServer } from './server.ts';

let data = '';
let server: RunningServer;
let client: Client;

beforeAll(async () => {
  data = await freshData();
  server = await startServer({ data, port: 0 });
  client = new Client(`http://127.0.0.1:${server.port}`);
});
afterAll(async () => {
  await server.close();
  await rm(data, { recursive: true, force: true });
});

const get = async (): Promise<EquipmentRecord> => (await client.call<EquipmentRecord>(routes.equipment)).body;
const put = (basedOn: number, equipment: unknown) =>
  client.call<EquipmentRecord & Problem>(routes.equipment, 'PUT', { basedOn, equipment });
const printer = { name: 'Desktop 220', size: [220, 220, 250] };

describe('the equipment', () => {
  it('is empty at first, keeps what it is given with its defaults, and refuses what was made on an older state', async () => {
    expect(await get()).toEqual({ revision: 0, equipment: { printers: [], presets: [] } });
    const first = await put(0, { printers: [printer] });
    expect(first.status).toBe(200);
    expect(first.body.revision).toBe(1);
    expect(first.body.equipment.printers[0]).toMatchObject({ margin: 2, nozzle: 0.4, kind: 'filament', materials: [] });
    const stale = await put(0, { printers: [] });
    expect([stale.status, stale.body.code]).toEqual([409, 'equipment.stale']);
    const second = await put(1, { printers: [printer, { ...printer, name: 'Large 300' }] });
    expect(second.body.revision).toBe(2);
    expect((await put(1, { printers: [] })).status).toBe(409);
    expect((await get()).equipment.printers.map((p) => p.name)).toEqual(['Desktop 220', 'Large 300']);
  });

  it('refuses what cannot be, names it, and stays as it was', async () => {
    const before = await get();
    const wrong: [unknown, RegExp][] = [
      [{ printers: [{ ...printer, size: [220, 220, 0] }] }, /size/],
      [{ printers: [{ ...printer, name: ' ' }] }, /name/],
      [{ presets: [{ name: 'Peg', joint: { kind: 'pin', diameter: -2, depth: 4 } }] }, /joint that can be built/],
      [{ presets: [{ name: 'Peg', joint: { kind: 'bolt' } }] }, /joint that can be built/],
      [
        {
          printers: [
            { ...printer, materials: [{ name: 'PLA', results: [{ date: 'yesterday', kind: 'pin', gaps: {} }] }] },
          ],
        },
        /date/,
      ],
      [{ printers: [{ ...printer, materials: [{ name: 'PLA', fits: { all: { slip: 9 } } }] }] }, /slip/],
      [{ tools: [] }, /tools/],
    ];
    for (const [equipment, named] of wrong) {
      const answer = await put(before.revision, equipment);
      expect(answer.status).toBe(400);
      expect(JSON.stringify(answer.body)).toMatch(named);
    }
    expect(await get()).toEqual(before);
  });

  it('is there again after a restart', async () => {
    const before = await get();
    const preset = { name: 'Changeable head', joint: { kind: 'snap', diameter: 8, depth: 14, slot: 1.6 } };
    await put(before.revision, { ...before.equipment, presets: [preset] });
    await server.close();
    server = await startServer({ data, port: 0 });
    client = new Client(`http://127.0.0.1:${server.port}`);
    expect(await get()).toEqual({
      revision: before.revision + 1,
      equipment: { ...before.equipment, presets: [preset] },
    });
  });
});

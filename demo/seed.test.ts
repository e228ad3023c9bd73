import { execFile } from 'node:child_process';
import { rm } from 'node:fs/promises';
import { fileURLToPath } from 'node:url';
import { promisify } from 'node:util';
import { type Project, type ProjectCard, routes } from '@gephyra/contract';
import { loadKernel, type Plan, toPrintable, topology } from '@gephyra/core';
import { startServer } from '@gephyra/server';
import { describe, expect, it } from 'vitest';
import { Client } from '../apps/server/testing/client.ts';
import { freshData } from '../apps/server/testing/fresh-data.ts';
import { lantern } from './models.ts';

/** As the demo does it: in a process of its own. */
const seed = (base: string, data: string) =>
  promisify(execFile)(process.execPath, [
    '--import',
    'tsx',
    fileURLToPath(new URL('./seeding.ts', import.meta.url)),
    base,
    data,
  ]);

describe('the demo', () => {
  it('has a closed lantern of some 620 mm and more than 100 000 triangles', async () => {
    const { positions, triangles } = lantern(await loadKernel());
    const count = triangles.length / 3;
    expect(count).toBeGreaterThan(100_000);
    expect(topology({ triangles }).watertight).toBe(true);
    expect(toPrintable({ positions, triangles, tags: new Uint32Array(count) }).topology.watertight).toBe(true);
  });

  it('is brought in once: the lantern with one thing to mend, the hoop in six, the fluke off the anchor; a second start changes nothing', async () => {
    const data = await freshData();
    const server = await startServer({ data, port: 0 });
    const client = new Client(`http://localhost:${server.port}`);
    const cards = async () => (await client.call<ProjectCard[]>(routes.projects)).body;
    await seed(client.base, data);
    await expect
      .poll(async () => (await cards()).map((c) => [c.name, c.summary?.pieces, c.summary?.fitting, c.summary?.stops]), {
        timeout: 90_000,
      })
      .toEqual([
        ['Ebb-bell lantern', 3, 3, 1],
        ['Anchor in one', 3, 1, 2],
        ['Heron herald', 11, 11, 0],
        ['Rope-work hoop', 6, 6, 0],
        ['Heron visor', 1, 1, 0],
        ['Heron puppet', 5, 5, 0],
        ['Ceremonial anchor', 6, 3, 8],
      ]);
    // every project whose pieces fit comes with its poses and beds
    const all = await Promise.all(
      (await cards()).map(async (c) => (await client.call<Project>(routes.project(c.id))).body),
    );
    const of = (name: string) => all.find((p) => p.name === name)!.plan as Plan;
    expect(of('Rope-work hoop').beds.flatMap((b) => b.pieces)).toHaveLength(6);
    expect(of('Ebb-bell lantern').beds).toHaveLength(3);
    expect(of('Heron herald').seams.every((s) => s.reasons!.length > 0)).toBe(true);
    expect(of('Heron puppet').beds.flatMap((b) => b.pieces)).toHaveLength(5);
    const { order, joints } = of('Heron herald');
    expect(order).toHaveLength(10);
    expect(joints.length).toBeGreaterThan(15);
    expect(of('Rope-work hoop').log!.at(-1)).toMatchObject({ to: 'done', pieces: { length: 6 } });
    expect(of('Ceremonial anchor').log!.filter((e) => e.failed)).toHaveLength(1);
    expect(of('Heron visor').pieces[0].pose).toMatchObject({ by: 'search' });
    expect(of('Ceremonial anchor').beds.flatMap((b) => b.pieces).length).toBeGreaterThanOrEqual(3);
    const [first] = await cards();
    await client.call(routes.project(first.id), 'PATCH', { name: 'My lantern' });
    await seed(client.base, data);
    expect((await cards()).map((c) => c.name).sort()).toEqual([
      'Anchor in one',
      'Ceremonial anchor',
      'Heron herald',
      'Heron puppet',
      'Heron visor',
      'My lantern',
      'Rope-work hoop',
    ]);
    await server.close();
    await rm(data, { recursive: true, force: true });
  }, 480_000);
});

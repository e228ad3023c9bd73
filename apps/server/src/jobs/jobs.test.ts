import { readFile, rm } from 'node:fs/promises';
import { type Job, type JobEntry, type Print, type Problem, type Project, routes } from '@gephyra/contract';
import { type Step, writeStlBinary } from '@gephyra/core';
import { eq } from 'drizzle-orm';
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import { box } from '../../../../packages/core/testing/shapes.ts';
import { Client } from '../../testing/client.ts';
import { freshData } from '../../testing/fresh-data.ts';
import { openDatabase } from '../db/open.ts';
import { jobs } from '../db/schema.ts';
import { type RunningServer, startServer } from '../server.ts';
import type { ModelRequest } from './models.ts';
import { Workbench } from './workbench.ts';

const small = (size: number) => writeStlBinary(box([0, 0, 0], [size, 40, 30]), 'small');
/** Takes minutes. */
const slow = { steps: [{ kind: 'hollow', thickness: 3, cell: 0.1 }] };

let data = '';
let server: RunningServer;
let client: Client;
const start = async (deadlines: Partial<Record<Job['kind'], number>> = {}): Promise<void> => {
  server = await startServer({ data, port: 0, jobs: { deadlines, threads: 2 } });
  client = new Client(`http://127.0.0.1:${server.port}`);
};
beforeAll(async () => {
  data = await freshData();
  await start();
});
afterAll(async () => {
  await server.close();
  await rm(data, { recursive: true, force: true });
});
const begin = async (p: Project, wanted: object = slow): Promise<Job> =>
  (await client.call<Job>(routes.askedJob(p.id, 'shape'), 'POST', wanted)).body;
const listed = async (): Promise<JobEntry[]> => (await client.call<JobEntry[]>(routes.jobs)).body;
/** What somebody asked for: cards come and go by themselves. */
const underWay = async (): Promise<JobEntry[]> => (await listed()).filter((j) => j.kind !== 'summary');
const stop = async (job: Job): Promise<void> => {
  await client.call(routes.job(job.id), 'DELETE');
  expect((await client.ended(job.id)).state).toBe('cancelled');
};

describe('what is under way', () => {
  it('is listed with its project: what runs, and what waits for its turn', async () => {
    const p = await client.project(small(200), 'Anchor.stl');
    await client.idle();
    const first = await begin(p);
    await expect.poll(async () => (await underWay()).map((j) => j.state)).toEqual(['running']);
    const second = await begin(p, { steps: [{ kind: 'hollow', thickness: 4, cell: 0.1 }] });
    await expect.poll(async () => (await underWay()).map((j) => j.state)).toEqual(['running', 'queued']);
    const [running, waiting] = await underWay();
    expect(running).toMatchObject({ id: first.id, kind: 'shape', subject: 'Anchor', projectId: p.id });
    expect(waiting).toMatchObject({ id: second.id, what: 'Waiting for its turn', progress: 0 });
    await stop(second);
    await stop(first);
    await client.idle();
  });

  it('of one project does not keep another, nor an import, from beginning', async () => {
    const [a, b] = [await client.project(small(201)), await client.project(small(202))];
    await client.idle();
    const busy = await begin(a);
    const more = await begin(a, { steps: [{ kind: 'hollow', thickness: 4, cell: 0.1 }] });
    // done while both still stand; to open the busy project is as little work
    expect((await client.upload(small(203))).state).toBe('done');
    expect((await client.ended((await begin(a, { steps: [] })).id)).state).toBe('done');
    const other = await begin(b, { steps: [{ kind: 'mend' }] });
    expect((await client.ended(other.id)).state).toBe('done');
    const states = new Map((await underWay()).map((j) => [j.id, j.state]));
    expect([states.get(busy.id), states.get(more.id)]).toEqual(['running', 'queued']);
    await stop(busy);
    await stop(more);
  });

  it('for a card gives way: plans that take long to compute hold up nobody', async () => {
    const heavy = await client.project(small(204), 'Heavy.stl');
    const seams = Array.from({ length: 200 }, (_, i) => ({
      id: `s${i}`,
      kind: 'flat',
      origin: [102, 20, 15],
      normal: [Math.sin(i * 7), Math.cos(i * 7), Math.sin(i * 3) / 2],
    }));
    expect((await client.save(heavy, 'Many seams', { ...heavy.plan, seams })).status).toBe(200);
    await expect.poll(async () => (await listed()).map((j) => j.kind)).toContain('summary');
    expect((await client.upload(small(205))).state).toBe('done');
    const other = await client.project(small(206));
    const first = await begin(other, { steps: [{ kind: 'mend' }] });
    expect((await client.ended(first.id)).state).toBe('done');
    // it goes with its project
    await client.call(routes.project(heavy.id), 'DELETE');
    await client.idle();
  });
});

describe('what two windows ask for', () => {
  it('is done once, goes on while one of them waits for it, and ends when neither does or one ends it for all', async () => {
    const p = await client.project(small(210));
    await client.idle();
    const [mine, theirs] = [await begin(p), await begin(p)];
    expect(theirs.id).toBe(mine.id);
    const state = async (): Promise<string> => (await client.call<Job>(routes.job(mine.id))).body.state;
    await expect.poll(state).toBe('running');
    await client.call(routes.job(mine.id), 'DELETE');
    expect(await state()).toBe('running');
    // who asks while it is being stopped gets another
    const [, after] = await Promise.all([client.call(routes.job(mine.id), 'DELETE'), begin(p)]);
    expect((await client.ended(mine.id)).state).toBe('cancelled');
    expect(after.id).not.toBe(mine.id);
    await begin(p);
    await client.call(routes.jobForAll(after.id), 'DELETE');
    expect((await client.ended(after.id)).state).toBe('cancelled');
  });

  it('is named by its own file, also when the bytes are the same', async () => {
    const bytes = writeStlBinary(box([0, 0, 0], [30, 30, 30]), '');
    for (const name of ['Anchor', 'Bell', 'Anchor']) {
      expect((await client.project(bytes, `${name}.stl`)).source.bodies.map((b) => b.name)).toEqual([name]);
    }
  });

  it('that was put off for more urgent work and then given up is not computed', async () => {
    const bench = new Workbench(1);
    const { hash, allowTruncated } = (await client.project(small(211))).source as never as ModelRequest;
    const request = { hash, allowTruncated: !!allowTruncated, path: server.blobs.path(hash), fileName: 'small.stl' };
    const errand = { project: null, deadline: 60_000 };
    const stop = new AbortController();
    let started = 0;
    const hollow = { do: 'shape' as const, ...request, ...(slow as never as { steps: Step[] }), locked: [] };
    const aside = bench.run(hollow, {
      ...errand,
      rank: 'aside',
      signal: stop.signal,
      started: () => started++,
    });
    expect(started).toBe(1);
    const urgent = bench.run({ do: 'import', ...request }, { ...errand, rank: 'wanted' });
    stop.abort();
    await expect(aside).rejects.toMatchObject({ code: 'job.cancelled' });
    expect((await urgent).do).toBe('import');
    expect((await bench.run({ do: 'import', ...request }, { ...errand, rank: 'aside' })).do).toBe('import');
    expect(started).toBe(1);
    await bench.close();
  });
});

describe('a project from elsewhere', () => {
  const brought = async (name: string): Promise<Job> =>
    client.upload(await readFile(new URL(`../../testing/cases/${name}.zip`, import.meta.url)), 'strange.zip');

  it('that is refused leaves no project and no file, and says what is wrong', async () => {
    const before = (await client.call<unknown[]>(routes.projects)).body.length;
    const job = await brought('printed-in-year-0');
    expect(job.error?.code).toBe('project.archive');
    expect(job.error?.message).toMatch(/prints\.0\.print\.startedAt cannot be read/);
    expect((await client.call<unknown[]>(routes.projects)).body).toHaveLength(before);
  });

  it('that names one file for many beds stores it once', async () => {
    const put = vi.spyOn(server.blobs, 'put');
    const job = await brought('one-file-for-2000-beds');
    expect(job.state).toBe('done');
    expect((await client.call<Print[]>(routes.printsOf(job.projectId!))).body).toHaveLength(2000);
    expect(put.mock.calls.filter(([, bytes]) => bytes === 3_000_000)).toHaveLength(1);
    put.mockRestore();
  });
});

describe('failed and cancelled jobs', () => {
  it('are forgotten after a week, while the server runs', async () => {
    const { id } = await client.upload(Uint8Array.of(1, 2, 3), 'none.stl');
    await server.jobs.tidy(0);
    expect((await client.call<Job>(routes.job(id))).body.state).toBe('failed');
    const week = new Date(Date.now() - 8 * 86_400_000);
    await server.db.update(jobs).set({ createdAt: week }).where(eq(jobs.id, id));
    await server.jobs.tidy(0);
    expect((await client.call<Problem>(routes.job(id))).body.code).toBe('job.unknown');
  });
});

describe('work that never ends', () => {
  it('is stopped at its deadline, with what to do, and the next begins', async () => {
    const p = await client.project(small(207));
    await server.close();
    await start({ shape: 5000 });
    const ended = await client.ended((await begin(p)).id);
    expect([ended.state, ended.error?.code]).toEqual(['failed', 'job.deadline']);
    expect(ended.error?.message).toMatch(/5 seconds.*Simplify/);
    const quick = await begin(p, { steps: [{ kind: 'mend' }] });
    expect((await client.ended(quick.id)).state).toBe('done');
  });

  it('is begun again once after the server has died of it, and not a third time', async () => {
    const p = await client.project(small(208));
    await server.close();
    const database = await openDatabase(data);
    const [done] = await database.db.select().from(jobs).where(eq(jobs.projectId, p.id));
    const died = (id: string, attempts: number) => ({
      id,
      kind: 'shape' as const,
      key: id,
      state: 'running' as const,
      attempts,
      projectId: p.id,
      input: { ...done.input, kind: 'shape' as const, steps: [{ kind: 'mend' as const }], locked: [] },
    });
    await database.db.insert(jobs).values([died('once', 1), died('twice', 2)]);
    await database.close();
    await start();
    expect((await client.ended('once')).state).toBe('done');
    const given = await client.ended('twice');
    expect([given.state, given.error?.code]).toEqual(['failed', 'job.died']);
    expect(given.error?.message).toMatch(/2 times/);
  });

  it('is no failed attempt when the server is stopped in good order', async () => {
    const p = await client.project(small(209));
    const job = await begin(p);
    await expect.poll(async () => (await client.call<Job>(routes.job(job.id))).body.state).toBe('running');
    await server.close();
    const database = await openDatabase(data);
    const [row] = await database.db.select().from(jobs).where(eq(jobs.id, job.id));
    expect([row.state, row.attempts]).toEqual(['queued', 0]);
    await database.close();
    await start();
    await expect.poll(async () => (await underWay()).map((j) => j.id)).toEqual([job.id]);
    await stop(job);
  });

  it('cannot be asked for by a name that is none', async () => {
    expect((await client.call<Problem>(routes.job('summary-nobody'), 'DELETE')).status).toBe(204);
    expect((await client.call<Problem>(routes.job('nobody'), 'DELETE')).body.code).toBe('job.unknown');
  });
});

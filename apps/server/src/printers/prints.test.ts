import { type Job, type Print, type Problem, type Project, routes } from '@gephyra/contract';
import { type SeamInput, writeStlBinary } from '@gephyra/core';
import { unzipSync, zipSync } from 'fflate';
import { expect, it } from 'vitest';
import { runs } from '../../../../packages/core/testing/runs.ts';
import { box } from '../../../../packages/core/testing/shapes.ts';
import { Client } from '../../testing/client.ts';
import { freshData } from '../../testing/fresh-data.ts';
import { startServer } from '../server.ts';

it('a bed is sent with its file, goes on while the server is off, is told to stop, and its file stays as it was', async () => {
  const data = await freshData();
  let server = await startServer({ data, port: 0 });
  let client = new Client(`http://localhost:${server.port}`);
  const project = await client.project(writeStlBinary(box([0, 0, 0], [40, 40, 60]), 'post'), 'Post.stl');
  const bed = { id: 'bed1', printer: 'Desktop 220', pieces: [{ piece: 'b1', x: 60, y: 60 }] };
  const { body: saved } = await client.save(project, 'Fill beds', { ...project.plan, beds: [bed] });
  const wish = { revision: saved.revision, format: '3mf', pieces: ['b1'], as: 'beds' };
  const { body: begun } = await client.call<Job>(routes.askedJob(project.id, 'export'), 'POST', wish);
  const { id: job } = await client.ended(begun.id);
  const order = (more: object = {}) => ({
    project: project.id,
    printer: 'Desktop 220',
    bed: 'bed1',
    title: 'Bed 1',
    pieces: [{ piece: 'b1', copy: 1, height: 60 }],
    seconds: 7200,
    layers: 300,
    job,
    ...more,
  });
  const { status, body: print } = await client.call<Print>(routes.prints, 'POST', order());
  expect([status, print.state, print.share]).toEqual([201, 'heating', 0]);

  // the printer has one bed at a time; another printer is free
  const busy = await client.call<Problem>(routes.prints, 'POST', order());
  expect([busy.status, busy.body.detail]).toEqual([409, expect.stringMatching(/^Desktop 220 is at Bed 1/)]);
  const fast = await client.call<Print>(routes.prints, 'POST', order({ printer: 'Large', pace: 1e5, failAt: 0.4 }));
  expect(fast.status).toBe(201);
  for (const wrong of [
    { seconds: 0 },
    { pieces: [] },
    { pace: 1e9 },
    { job: 'none' },
    { project: 'none' },
    { bed: 'bed2' },
  ]) {
    const { status: refused } = await client.call(routes.prints, 'POST', order(wrong));
    expect([wrong, refused >= 400 && refused < 500]).toEqual([wrong, true]);
  }

  // the project is edited, many times, and the server started anew
  const before = await bytesOf(client, print.id);
  // the note that a bed failed may come in between
  for (let i = 0; i < runs(50); ) {
    const { body: now } = await client.call<Project>(routes.project(project.id));
    const seams: SeamInput[] = [{ id: 's1', kind: 'flat', origin: [20, 20, 2 + ((i * 37) % 56)], normal: [0, 0, 1] }];
    const edited = await client.save(now, `Edit ${i}`, { ...now.plan, seams });
    if (edited.status === 200) i++;
    else expect(edited.body.code).toBe('plan.stale');
  }
  await server.close();
  server = await startServer({ data, port: 0 });
  client = new Client(`http://localhost:${server.port}`);
  const prints = async (): Promise<Print[]> => (await client.call<Print[]>(routes.printsOf(project.id))).body;
  const list = await prints();
  expect(list.map((p) => [p.printer, p.state])).toEqual([
    ['Desktop 220', 'heating'],
    ['Large', 'failed'],
  ]);
  expect(list[1]).toMatchObject({ share: 0.4, height: 24, layer: 120 });
  expect(await bytesOf(client, print.id)).toEqual(before);
  const names = Object.keys(unzipSync(before));
  expect(names.some((n) => n.endsWith('.3mf'))).toBe(true);

  const act = async (what: string) => (await client.call<Print>(routes.print(print.id), 'POST', { do: what })).body;
  expect((await act('pause')).state).toBe('paused');
  expect((await act('resume')).state).toBe('heating');
  expect((await act('stop')).state).toBe('stopped');
  expect((await client.call(routes.print('nothing'), 'POST', { do: 'stop' })).status).toBe(404);

  // what became of both is noted in the plan, once each, though no page is open
  await expect.poll(async () => (await prints()).map((p) => p.noted), { timeout: 10_000 }).toEqual([true, true]);
  const { plan } = (await client.call<Project>(routes.project(project.id))).body;
  expect(plan.log?.map((e) => [e.print, e.to, e.failed?.height])).toEqual([
    [print.id, 'printing', undefined],
    [fast.body.id, 'printing', undefined],
    [fast.body.id, 'toPrint', 24],
  ]);

  // another workshop is given the project as one file: what was printed, how it ended, and from which bytes
  const fresh = await freshData();
  const elsewhere = await startServer({ data: fresh, port: 0 });
  const other = new Client(`http://localhost:${elsewhere.port}`);
  const { body: packing } = await client.call<Job>(routes.askedJob(project.id, 'archive'), 'POST');
  await client.ended(packing.id);
  const whole = new Uint8Array(await (await fetch(client.base + routes.jobFile(packing.id))).arrayBuffer());
  const again = await other.project(whole, 'Post.gephyra.zip');
  const { body: known } = await client.call<Print[]>(routes.printsOf(project.id));
  const { body: taken } = await other.call<Print[]>(routes.printsOf(again.id));
  const plain = ({ id: _, project: __, ...p }: Print) => p;
  expect(taken.map((p) => p.state)).toEqual(['stopped', 'failed']);
  expect(taken.map(plain)).toEqual(known.map(plain));
  for (const [i, p] of taken.entries()) expect(await bytesOf(other, p.id)).toEqual(await bytesOf(client, known[i].id));
  // one whose printed file was taken out is refused, and leaves nothing behind
  const { 'printed/1.zip': _, ...rest } = unzipSync(whole);
  const broken = await other.upload(zipSync(rest), 'Post.gephyra.zip');
  expect(broken.error?.message).toMatch(/printed\/1\.zip.* is missing/);
  expect((await other.call<unknown[]>(routes.projects)).body).toHaveLength(1);
  await elsewhere.close();
  await server.close();
}, 120_000);

it('a printer is free again when the project that it is at is deleted, and takes nothing of another project', async () => {
  const data = await freshData();
  const server = await startServer({ data, port: 0 });
  const client = new Client(`http://localhost:${server.port}`);
  const made = async (name: string) => {
    const p = await client.project(writeStlBinary(box([0, 0, 0], [40, 40, 60]), name), `${name}.stl`);
    const beds = [{ id: 'bed1', printer: 'Desktop 220', pieces: [{ piece: 'b1', x: 60, y: 60 }] }];
    const { revision } = (await client.save(p, 'Fill beds', { ...p.plan, beds })).body;
    const wish = { revision, format: '3mf', pieces: ['b1'], as: 'beds' };
    const { id: job } = await client.ended(
      (await client.call<Job>(routes.askedJob(p.id, 'export'), 'POST', wish)).body.id,
    );
    const pieces = [{ piece: 'b1', copy: 1, height: 60 }];
    return { project: p.id, job, printer: 'Quay', bed: 'bed1', title: 'Bed 1', pieces, seconds: 7200, layers: 300 };
  };
  const [post, rail] = [await made('post'), await made('rail')];
  const start = (order: object) => client.call<Print & Problem>(routes.prints, 'POST', order);
  expect((await start({ ...post, job: rail.job })).body.code).toBe('print.export');
  expect((await start({ ...post, pieces: [{ piece: 'b1', copy: 2, height: 60 }] })).body.code).toBe('print.bed');
  expect((await start(post)).status).toBe(201);
  expect((await start(rail)).body.code).toBe('printer.busy');
  await client.call(routes.project(post.project), 'DELETE');
  expect((await start(rail)).status).toBe(201);
  // it comes back as what it is: stopped, with a note of it
  await client.call(routes.restore(post.project), 'POST');
  const { body: prints } = await client.call<Print[]>(routes.printsOf(post.project));
  expect(prints.map((p) => p.state)).toEqual(['stopped']);
  const log = async () => (await client.call<Project>(routes.project(post.project))).body.plan.log ?? [];
  await expect
    .poll(async () => (await log()).map((e) => [e.to, e.note]), { timeout: 10_000 })
    .toEqual([
      ['printing', undefined],
      ['toPrint', 'stopped'],
    ]);
  await server.close();
}, 60_000);

async function bytesOf(client: Client, id: string): Promise<Uint8Array> {
  const response = await fetch(client.base + routes.printFile(id));
  expect(response.status).toBe(200);
  return new Uint8Array(await response.arrayBuffer());
}

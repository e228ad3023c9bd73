import { type Job, type Print, type Problem, routes } from '@gephyra/contract';
import { writeStlBinary } from '@gephyra/core';
import { unzipSync, zipSync } from 'fflate';
import { expect, it } from 'vitest';
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
  const { body: begun } = await client.call<Job>(routes.exports(project.id), 'POST', wish);
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
  for (const wrong of [{ seconds: 0 }, { pieces: [] }, { pace: 1e9 }, { job: 'none' }, { project: 'none' }]) {
    const { status: refused } = await client.call(routes.prints, 'POST', order(wrong));
    expect([wrong, refused >= 400 && refused < 500]).toEqual([wrong, true]);
  }

  // the project is edited, 200 times, and the server started anew
  const before = await bytesOf(client, print.id);
  let { revision } = saved;
  for (let i = 0; i < 200; i++) {
    const seams = [{ id: 's1', kind: 'flat', origin: [20, 20, 2 + ((i * 37) % 56)], normal: [0, 0, 1] }];
    const edited = await client.save({ ...project, revision }, `Edit ${i}`, { ...project.plan, seams });
    expect(edited.status).toBe(200);
    revision = edited.body.revision;
  }
  await server.close();
  server = await startServer({ data, port: 0 });
  client = new Client(`http://localhost:${server.port}`);
  const { body: list } = await client.call<Print[]>(routes.printsOf(project.id));
  expect(list.map((p) => [p.printer, p.state, p.noted])).toEqual([
    ['Desktop 220', 'heating', false],
    ['Large', 'failed', false],
  ]);
  expect(list[1]).toMatchObject({ share: 0.4, height: 24, layer: 120 });
  expect(await bytesOf(client, print.id)).toEqual(before);
  const names = Object.keys(unzipSync(before));
  expect(names.some((n) => n.endsWith('.3mf'))).toBe(true);

  const act = async (what: string) => (await client.call<Print>(routes.print(print.id), 'POST', { do: what })).body;
  expect((await act('pause')).state).toBe('paused');
  expect((await act('resume')).state).toBe('heating');
  expect(await act('stop')).toMatchObject({ state: 'stopped', noted: false });
  expect(await act('noted')).toMatchObject({ state: 'stopped', noted: true });
  expect((await client.call(routes.print('nothing'), 'POST', { do: 'stop' })).status).toBe(404);

  // another workshop is given the project as one file: what was printed, how it ended, and from which bytes
  const fresh = await freshData();
  const elsewhere = await startServer({ data: fresh, port: 0 });
  const other = new Client(`http://localhost:${elsewhere.port}`);
  const { body: packing } = await client.call<Job>(routes.archive(project.id), 'POST');
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

async function bytesOf(client: Client, id: string): Promise<Uint8Array> {
  const response = await fetch(client.base + routes.printFile(id));
  expect(response.status).toBe(200);
  return new Uint8Array(await response.arrayBuffer());
}

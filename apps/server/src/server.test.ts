import { createHash } from 'node:crypto';
import { once } from 'node:events';
import { readdir, readFile, rm, writeFile } from 'node:fs/promises';
import { request } from 'node:http';
import { connect } from 'node:net';
import { join } from 'node:path';
import { type Job, type Problem, type Project, type ProjectCard, type ProjectNews, routes } from '@gephyra/contract';
import { bounds, type LogEntry, readStl, unpackModel, writeModel, writeStlBinary } from '@gephyra/core';
import { eq } from 'drizzle-orm';
import { strToU8, unzipSync, zipSync } from 'fflate';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { modelOfMeshes } from '../../../packages/core/testing/models.ts';
import { blob, box } from '../../../packages/core/testing/shapes.ts';
import { Client, spawnServer, tempFolder } from '../testing/client.ts';
import { freshData } from '../testing/fresh-data.ts';
import { revisions } from './db/schema.ts';
import { Projects } from './projects.ts';
import { type RunningServer, startServer } from './server.ts';

const tall = writeStlBinary(box([0, 0, 0], [60, 40, 300]), 'tall');
const LIMIT = 2_000_000;
let data = '';
let server: RunningServer;
let client: Client;

beforeAll(async () => {
  data = await freshData();
  server = await startServer({ data, port: 0, uploadLimit: LIMIT });
  client = new Client(`http://127.0.0.1:${server.port}`);
});
afterAll(async () => {
  await server.close();
  await rm(data, { recursive: true, force: true });
});

const hashOf = (bytes: Uint8Array): string => createHash('sha256').update(bytes).digest('hex');

/** Names of all stored files, also half-written ones. */
async function stored(folder = data): Promise<string[]> {
  const all = await readdir(join(folder, 'blobs'), { recursive: true, withFileTypes: true });
  return all.filter((f) => f.isFile()).map((f) => f.name);
}

/** Names of files that are being written: those that are whole are called by their hash. */
const halfWritten = async (): Promise<string[]> => (await stored()).filter((name) => !/^[0-9a-f]{64}$/.test(name));

const seam = (z: number) => ({ id: 's1', kind: 'flat', origin: [30, 20, z], normal: [0, 0, 1] });

describe('projects', () => {
  it('are made from an uploaded model, renamed, duplicated, deleted and brought back', async () => {
    const p = await client.project(tall, 'anchor / "stock" 🐟.stl');
    expect(p).toMatchObject({ name: '"stock" 🐟', revision: 1, undo: null, redo: null });
    expect(p.source.bodies).toMatchObject([{ id: 'b1', triangles: 12, size: [60, 40, 300], watertight: true }]);
    await client.call(routes.project(p.id), 'PATCH', { name: 'Anchor' });
    const copy = (await client.call<Project>(routes.duplicate(p.id), 'POST')).body;
    expect(copy.name).toBe('Anchor copy');
    await client.call(routes.project(p.id), 'DELETE');
    expect((await client.call(routes.project(p.id))).status).toBe(404);
    expect((await client.call<Project>(routes.restore(p.id), 'POST')).body.name).toBe('Anchor');
    const { status, body } = await client.call<Problem>(routes.project(p.id), 'PATCH', { name: '  ' });
    expect([status, body.code]).toEqual([400, 'request.invalid']);
  });

  it('get their number of pieces and a picture computed', async () => {
    const p = await client.project(tall);
    await client.save(p, 'Add a seam', { ...p.plan, seams: [seam(150)] });
    await expect
      .poll(async () => (await client.call<ProjectCard[]>(routes.projects)).body.find((c) => c.id === p.id)?.summary)
      .toMatchObject({ revision: 2, pieces: 2, fitting: 2 });
    const picture = await fetch(client.base + routes.thumbnail(p.id, 'x'));
    const bytes = new Uint8Array(await picture.arrayBuffer());
    expect([...bytes.subarray(1, 4)]).toEqual([80, 78, 71]);
  });
});

describe('revisions', () => {
  it('undo and redo walk along them, and a new change starts a branch', async () => {
    let p = await client.project(tall);
    for (const z of [100, 120]) p = (await client.save(p, `Seam at ${z}`, { ...p.plan, seams: [seam(z)] })).body;
    const step = async (way: 'undo' | 'redo') => {
      const { status, body } = await client.step(p, way);
      if (status === 200) p = body;
      return body;
    };
    expect(p).toMatchObject({ undo: 'Seam at 120', redo: null });
    expect(await step('undo')).toMatchObject({ undo: 'Seam at 100', redo: 'Seam at 120' });
    expect((await step('undo')).plan.seams).toEqual([]);
    expect((await step('undo')).code).toBe('undo.nothing');
    expect((await step('redo')).plan.seams[0].origin[2]).toBe(100);
    p = (await client.save(p, 'Seam at 140', { ...p.plan, seams: [seam(140)] })).body;
    expect((await step('redo')).code).toBe('redo.nothing');
  });

  it('a change made on an old revision is refused, and the newer one stays', async () => {
    const p = await client.project(tall);
    const one = await client.save(p, 'first tab', { ...p.plan, seams: [seam(100)] });
    const two = await client.save(p, 'second tab', { ...p.plan, seams: [seam(200)] });
    expect([one.status, two.status, two.body.code]).toEqual([200, 409, 'plan.stale']);
    expect((await client.call<Project>(routes.project(p.id))).body.plan.seams[0].origin[2]).toBe(100);
  });

  it('what is sent again, since its answer was lost, is done once, and what others did since is told', async () => {
    const p = await client.project(tall);
    const lost = await client.save(p, 'first tab', { ...p.plan, seams: [seam(100)] }, 'sent-twice-1');
    const other = await client.save(lost.body, 'second tab', { ...p.plan, seams: [seam(200)] });
    const again = await client.save(p, 'first tab', { ...p.plan, seams: [seam(100)] }, 'sent-twice-1');
    expect([again.status, again.body.revision, again.body.plan.seams[0].origin[2]]).toEqual([200, 3, 200]);
    const undone = await client.step(other.body, 'undo', 'undone-twice');
    expect((await client.step(other.body, 'undo', 'undone-twice')).body).toEqual(undone.body);
    expect(undone.body.revision).toBe(2);
  });

  it('are told to whoever watches, with where everything stands to begin with', async () => {
    const p = await client.project(tall);
    const response = await fetch(client.base + routes.projectEvents);
    const events = response.body!.pipeThrough(new TextDecoderStream()).getReader();
    let told = '';
    const until = async (news: ProjectNews): Promise<void> => {
      while (!told.includes(JSON.stringify(news))) told += (await events.read()).value!;
    };
    await until({ project: p.id, revision: 1, name: 'bell' });
    await client.save(p, 'Add a seam', { ...p.plan, seams: [seam(100)] });
    await until({ project: p.id, revision: 2, name: 'bell' });
    await client.call(routes.project(p.id), 'PATCH', { name: 'Ebb bell' });
    await until({ project: p.id, revision: 2, name: 'Ebb bell' });
    await events.cancel();
  });

  it('of a log are its entries alone, on every branch, and come back with the plan', async () => {
    const entry = (n: number): LogEntry => ({
      at: `2026-12-01T10:00:0${n}.000Z`,
      pieces: [{ piece: 'b1', copy: 1 }],
      to: 'printed',
    });
    let p = await client.project(tall);
    const note = async (...log: LogEntry[]): Promise<void> => {
      p = (await client.save(p, `Note ${log.length}`, { ...p.plan, log })).body;
    };
    await note(entry(1));
    await note(entry(1), entry(2));
    p = (await client.step(p, 'undo')).body;
    expect(p.plan.log).toEqual([entry(1)]);
    await note(entry(1), entry(3), entry(4));
    p = (await client.save(p, 'Seam', { ...p.plan, seams: [seam(100)] })).body;
    await note(entry(1), entry(5));
    const reopened = new Projects(server.db);
    const { plan } = await reopened.get(p.id);
    expect([plan.log, plan.seams.length]).toEqual([[entry(1), entry(5)], 1]);
    const rows = await server.db.select().from(revisions).where(eq(revisions.projectId, p.id));
    expect(rows.filter((r) => r.plan !== null).map((r) => r.label)).toEqual(['Import', 'Seam']);
  });

  it('what is no plan is refused with its place', async () => {
    const p = await client.project(tall);
    const { status, body } = await client.save(p, 'bad', { ...p.plan, seams: [{ ...seam(1), normal: [0, 0, 0] }] });
    expect([status, body.code]).toEqual([422, 'plan.invalid']);
    expect(body.detail).toMatch(/the direction of seam 1, s1,/);
  });
});

describe('uploads', () => {
  it('that hold no model fail with a clear message and leave nothing behind', async () => {
    const cases: [Uint8Array, string][] = [
      [new Uint8Array(0), 'model.empty'],
      [new TextEncoder().encode('The tide table of Brackhythe'.repeat(9)), 'stl.notAModel'],
      [tall.subarray(0, 84 + 50 * 5 + 20), 'stl.truncated'],
    ];
    for (const [bytes, code] of cases) {
      const job = await client.upload(bytes, 'tide.stl');
      expect([job.state, job.error?.code]).toEqual(['failed', code]);
      expect(job.error?.message).toMatch(/^tide\.stl/);
      await expect.poll(stored).not.toContain(hashOf(bytes));
    }
    await expect.poll(halfWritten).toEqual([]);
  });

  it('a truncated file is taken when the maker says so', async () => {
    const job = await client.upload(tall.subarray(0, 84 + 50 * 5 + 20), 'tide.stl', true);
    const p = (await client.call<Project>(routes.project(job.projectId!))).body;
    expect(p.source).toMatchObject({ truncated: true, bodies: [{ triangles: 5, watertight: false }] });
    expect(p.source.notes[0]).toMatch(/7 are lost/);
  });

  it('too large ones are refused before they are read, and while, when their size is not said', async () => {
    const announced = request(client.base + routes.upload('big.stl', false), {
      method: 'POST',
      headers: { 'Content-Length': 600 * 1024 * 1024 },
    });
    announced.on('error', () => {});
    announced.flushHeaders();
    const [early] = await once(announced, 'response');
    expect(early.statusCode).toBe(413);
    announced.destroy();
    const chunked = request(client.base + routes.upload('big.stl', false), { method: 'POST' });
    chunked.on('error', () => {});
    chunked.end(new Uint8Array(LIMIT + 1));
    const [late] = await once(chunked, 'response');
    expect(late.statusCode).toBe(413);
    expect(await stored()).not.toContain(hashOf(new Uint8Array(LIMIT + 1)));
    await expect.poll(halfWritten).toEqual([]);
  });

  it('one that breaks off half way leaves nothing', async () => {
    await client.idle();
    const half = request(client.base + routes.upload('half.stl', false), {
      method: 'POST',
      headers: { 'Content-Length': tall.length },
    });
    half.on('error', () => {});
    half.write(tall.subarray(0, 300));
    await expect.poll(halfWritten).toHaveLength(1);
    half.destroy();
    await expect.poll(halfWritten).toEqual([]);
  });
});

describe('exports', () => {
  it('give a zip with a folder of the project, its pieces and their list', async () => {
    let p = await client.project(tall, 'Tide bell.stl');
    p = (await client.save(p, 'Add a seam', { ...p.plan, seams: [seam(120)] })).body;
    const wanted = { revision: p.revision, format: 'stl', pieces: ['b1/s1+', 'b1/s1-'] };
    const { body } = await client.call<Job>(routes.askedJob(p.id, 'export'), 'POST', wanted);
    const job = await client.ended(body.id);
    expect(job).toMatchObject({ state: 'done', fileName: 'tide-bell.zip' });
    const response = await fetch(client.base + routes.jobFile(job.id));
    const files = unzipSync(new Uint8Array(await response.arrayBuffer()));
    expect(Object.keys(files).sort()).toEqual([
      'tide-bell/pieces.csv',
      'tide-bell/tide-bell-a1-lower.stl',
      'tide-bell/tide-bell-a2-upper.stl',
    ]);
    expect(readStl(files['tide-bell/tide-bell-a1-lower.stl']).parts[0].positions.length).toBeGreaterThan(9 * 11);
    const again = await client.call<Job>(routes.askedJob(p.id, 'export'), 'POST', wanted);
    expect(again.body).toMatchObject({ id: job.id, state: 'done' });
    const unknown = await client.call<Problem>(`${routes.project(p.id)}/jobs/melt`, 'POST', wanted);
    expect([unknown.status, unknown.body.code]).toEqual([404, 'route.unknown']);
    const stale = await client.call<Problem>(routes.askedJob(p.id, 'export'), 'POST', { ...wanted, revision: 1 });
    expect(stale.body.code).toBe('plan.stale');
  });

  it('write equal pieces once, and say how often each file is wanted', async () => {
    let p = await client.project(tall, 'Tide bell.stl');
    p = (await client.save(p, 'Add a seam', { ...p.plan, seams: [seam(150)] })).body;
    const wanted = { revision: p.revision, format: 'stl', pieces: ['b1/s1+', 'b1/s1-'] };
    const { body } = await client.call<Job>(routes.askedJob(p.id, 'export'), 'POST', wanted);
    const job = await client.ended(body.id);
    const response = await fetch(client.base + routes.jobFile(job.id));
    const files = unzipSync(new Uint8Array(await response.arrayBuffer()));
    expect(Object.keys(files).sort()).toEqual(['tide-bell/pieces.csv', 'tide-bell/tide-bell-a1-lower-2x.stl']);
    const rows = new TextDecoder().decode(files['tide-bell/pieces.csv']).trim().split('\r\n').slice(1);
    expect(rows.map((r) => r.split(',').slice(0, 4))).toEqual([
      ['A1', 'lower', 'b1/s1-', 'tide-bell-a1-lower-2x.stl'],
      ['A2', 'upper', 'b1/s1+', 'tide-bell-a1-lower-2x.stl'],
    ]);
  });

  it('lay each piece as it prints, or all on their beds', async () => {
    let p = await client.project(tall, 'Tide bell.stl');
    const pose = { up: [1, 0, 0], spin: 0, by: 'hand' };
    const plan = {
      ...p.plan,
      pieces: [{ key: 'b1', pose }],
      beds: [{ id: 'bed1', name: 'Night', printer: p.plan.printer.name, pieces: [{ piece: 'b1', x: 160, y: 40 }] }],
      printer: { ...p.plan.printer, size: [320, 220, 250] },
    };
    p = (await client.save(p, 'Lay it down', plan)).body;
    const written = async (as: string, format: string) => {
      const wanted = { revision: p.revision, format, as, pieces: ['b1'] };
      const { body } = await client.call<Job>(routes.askedJob(p.id, 'export'), 'POST', wanted);
      const job = await client.ended(body.id);
      if (job.state !== 'done') return job;
      const response = await fetch(client.base + routes.jobFile(job.id));
      return unzipSync(new Uint8Array(await response.arrayBuffer()));
    };
    const boxOfFile = (files: Record<string, Uint8Array>, name: RegExp) =>
      bounds(readStl(files[Object.keys(files).find((n) => name.test(n))!]).parts[0].positions);
    const placed = boxOfFile((await written('place', 'stl')) as Record<string, Uint8Array>, /\.stl$/);
    expect(placed.max.map((x, k) => x - placed.min[k])).toEqual([60, 40, 300]);
    const printed = boxOfFile((await written('print', 'stl')) as Record<string, Uint8Array>, /\.stl$/);
    expect(printed.min[2]).toBeCloseTo(0, 6);
    expect(printed.max[2]).toBeCloseTo(60, 4);
    const beds = (await written('beds', 'stl')) as Record<string, Uint8Array>;
    expect(Object.keys(beds).sort()).toEqual([
      'tide-bell/bed-1-night/bed-1-night.png',
      'tide-bell/bed-1-night/bed-1-night.stl',
      'tide-bell/beds.csv',
    ]);
    const lying = boxOfFile(beds, /\.stl$/);
    expect((lying.min[0] + lying.max[0]) / 2).toBeCloseTo(160, 4);
    expect((lying.min[1] + lying.max[1]) / 2).toBeCloseTo(40, 4);
    expect(await written('beds', 'ply')).toMatchObject({ state: 'failed', error: { code: 'export.format' } });
  });

  it('can be cancelled', async () => {
    const large = writeStlBinary(
      blob(120, 130, 300, () => 90),
      'large',
    );
    const p = await client.project(large);
    const { body } = await client.call<Job>(routes.askedJob(p.id, 'export'), 'POST', {
      revision: 1,
      format: '3mf',
      pieces: ['b1'],
    });
    await client.call(routes.job(body.id), 'DELETE');
    expect((await client.ended(body.id)).state).toBe('cancelled');
    expect((await client.upload(tall)).state).toBe('done');
  });
});

describe('guards', () => {
  it('answers only under the machine’s own names, and only its own pages', async () => {
    const status = (headers: Record<string, string>) =>
      new Promise<number | undefined>((resolve, reject) => {
        request(`${client.base}/api/projects`, { headers }, (r) => resolve(r.resume().statusCode))
          .on('error', reject)
          .end();
      });
    expect(await status({ Host: 'harbour.example' })).toBe(403);
    expect(await status({ Origin: 'http://harbour.example' })).toBe(403);
    expect(await status({ 'Sec-Fetch-Site': 'cross-site' })).toBe(403);
    expect(await status({ Origin: client.base })).toBe(200);
    const { headers } = await fetch(`${client.base}/api/projects`);
    expect(headers.get('content-security-policy')).toContain("script-src 'self' 'wasm-unsafe-eval'");
    expect(headers.get('cross-origin-embedder-policy')).toBe('require-corp');
  });

  it('gives every page a number of its own for its styles, and lets no other style or script in', async () => {
    const own = await freshData();
    const built = await tempFolder();
    await writeFile(join(built, 'index.html'), '<meta property="csp-nonce" nonce="NONCE-OF-THIS-ANSWER">');
    const pages = await startServer({ data: own, port: 0, web: built });
    const open = async (path: string) => {
      const response = await fetch(`http://127.0.0.1:${pages.port}${path}`);
      const policy = new Map(
        response.headers
          .get('content-security-policy')!
          .split(';')
          .map((d): [string, string] => [d.split(' ')[0], d.slice(d.indexOf(' ') + 1)]),
      );
      return { policy, nonce: /nonce="([^"]+)"/.exec(await response.text())?.[1] };
    };
    const [one, other, named] = [await open('/'), await open('/p/anything/seams'), await open('/index.html')];
    expect(one.nonce).toMatch(/^[A-Za-z0-9+/]{24}$/);
    expect(other.nonce).not.toBe(one.nonce);
    for (const { policy, nonce } of [one, other, named]) {
      expect(policy.get('style-src')).toBe(`'self' 'nonce-${nonce}'`);
      expect(policy.get('script-src')).toBe("'self' 'wasm-unsafe-eval'");
      expect([...policy.values()].join()).not.toMatch(/unsafe-inline|unsafe-eval'(?<!wasm-unsafe-eval')|\*|https?:/);
    }
    await pages.close();
    for (const folder of [own, built]) await rm(folder, { recursive: true, force: true });
  });

  it('listens on the loopback address only, and survives what is no request', async () => {
    const socket = connect(server.port, '127.0.0.1');
    socket.resume().end('\u0000\u0001 not http\r\n\r\n');
    await once(socket, 'close');
    const bad = await fetch(`${client.base}/api/projects/x/plan`, {
      method: 'PUT',
      body: '{',
      headers: { 'Content-Type': 'application/json' },
    });
    expect([bad.status, bad.headers.get('content-type')]).toEqual([400, 'application/problem+json; charset=utf-8']);
    expect((await client.call<Problem>('/api/nothing')).body.code).toBe('route.unknown');
  });

  it('a second server on the same folder is refused', async () => {
    await expect(startServer({ data, port: 0 })).rejects.toMatchObject({ code: 'data.inUse' });
  });

  it('notices when a stored model was changed outside', async () => {
    const p = await client.project(writeStlBinary(box([0, 0, 0], [7, 8, 9]), 'x'));
    const path = server.blobs.path(p.source.hash);
    const bytes = await readFile(path);
    expect(createHash('sha256').update(bytes).digest('hex')).toBe(p.source.hash);
    await writeFile(path, bytes.subarray(1));
    // a thread may still hold the model as it was read; what is packed is read again
    const { body } = await client.call<Job>(routes.askedJob(p.id, 'archive'), 'POST');
    expect((await client.ended(body.id)).error?.code).toBe('blob.damaged');
  });
});

describe('a server that is killed', () => {
  it('keeps every change it has acknowledged, and finishes what it had begun', async () => {
    const folder = await freshData();
    const first = await spawnServer(folder);
    let p = await first.client.project(
      writeStlBinary(
        blob(60, 70, 300, () => 90),
        'bell',
      ),
    );
    let acknowledged = p;
    const saving = (async () => {
      for (let i = 0; ; i++) {
        const { body } = await first.client.save(p, `Move ${i}`, {
          ...p.plan,
          seams: [{ ...seam(i * 0.1), origin: [0, 0, i * 0.1] }],
        });
        p = body;
        acknowledged = body;
      }
    })().catch(() => {});
    await expect.poll(() => acknowledged.revision).toBeGreaterThan(12);
    first.process.kill('SIGKILL');
    await saving;

    const second = await spawnServer(folder);
    const kept = (await second.client.call<Project>(routes.project(p.id))).body;
    expect(kept.revision).toBeGreaterThanOrEqual(acknowledged.revision);
    const back = (await second.client.step(kept, 'undo')).body;
    expect(back.revision).toBe(kept.revision - 1);
    const { body } = await second.client.call<Job>(routes.askedJob(p.id, 'export'), 'POST', {
      revision: back.revision,
      format: '3mf',
      pieces: ['b1/s1+', 'b1/s1-'],
    });
    second.process.kill('SIGKILL');
    await once(second.process, 'exit');

    const third = await spawnServer(folder);
    expect(await third.client.ended(body.id)).toMatchObject({ state: 'done', fileName: 'bell.zip' });
    // a card may be written just now
    await expect.poll(async () => (await readdir(join(folder, 'blobs', 'temp'))).length).toBe(0);
    third.process.kill();
    await once(third.process, 'exit');
    await rm(folder, { recursive: true, force: true });
    // three servers are started one after the other
  }, 180_000);
});

describe('recipes', () => {
  const shape = async (p: Project, steps: unknown[]) => {
    const { status, body } = await client.call<Job & Problem>(routes.askedJob(p.id, 'shape'), 'POST', { steps });
    return { status, body };
  };
  const fileOf = async (job: string) =>
    new Uint8Array(await (await fetch(client.base + routes.jobFile(job))).arrayBuffer());

  it('are done once: the same steps asked again are the finished job, whatever their ids', async () => {
    const p = await client.project(tall);
    const first = (await shape(p, [{ id: 'r1', kind: 'mend' }])).body;
    expect((await client.ended(first.id)).state).toBe('done');
    const again = (
      await shape(p, [
        { id: 'r7', kind: 'mend' },
        { kind: 'scale', factor: 2 },
      ])
    ).body;
    expect([again.id, again.state]).toEqual([first.id, 'done']);
    const model = unpackModel(await fileOf(first.id));
    expect(model.bodies.map((b) => b.topology.watertight)).toEqual([true]);
    expect(model.reports).toHaveLength(1);
  });

  it('that cannot be done fail with the reason, and unknown steps are refused', async () => {
    const p = await client.project(tall);
    const { body } = await shape(p, [{ kind: 'hollow', thickness: 190 }]);
    const ended = await client.ended(body.id);
    expect([ended.state, ended.error?.code]).toEqual(['failed', 'skin.solid']);
    expect((await shape(p, [{ kind: 'melt' }])).status).toBe(400);
    expect((await shape(p, [{ kind: 'weld', tolerance: 0 }])).status).toBe(400);
  });

  it('are cancelled on demand', async () => {
    const p = await client.project(tall);
    const { body } = await shape(p, [{ kind: 'hollow', thickness: 3, cell: 0.12 }]);
    await client.call(routes.job(body.id), 'DELETE');
    expect((await client.ended(body.id)).state).toBe('cancelled');
  });

  it('have their health told: bodies, defects, overlaps', async () => {
    const { bytes } = writeModel(
      modelOfMeshes([box([0, 0, 0], [10, 10, 10]), box([5, 5, 5], [20, 20, 20])]),
      '3mf',
      'x',
    )[0];
    const p = await client.project(bytes, 'buckle.3mf');
    expect(p.source).toMatchObject({ format: '3mf', unit: 'mm', bodies: [{ watertight: true }, { watertight: true }] });
    const { body } = await client.call<Job>(routes.askedJob(p.id, 'health'), 'POST', { steps: [] });
    await client.ended(body.id);
    const report = JSON.parse(new TextDecoder().decode(await fileOf(body.id)));
    expect(report.bodies.map((b: { defects: unknown[] }) => b.defects)).toEqual([[], []]);
    expect(report.overlaps[0].bodies).toEqual(['b1', 'b2']);
  });
});

describe('a whole project', () => {
  it('goes out as one file and comes in again, with its name, plan and source', async () => {
    const p = await client.project(tall, 'Ebb bell.stl');
    await client.call(routes.project(p.id), 'PATCH', { name: 'Bell / of “ebb”' });
    const recipe = [{ id: 'r1', kind: 'scale', factor: 1.5 }];
    const seams = [{ id: 's1', kind: 'flat', origin: [0, 0, 3], normal: [0, 0, 1] }];
    expect((await client.save(p, 'Size', { ...p.plan, recipe, seams })).status).toBe(200);
    const { body: job } = await client.call<Job>(routes.askedJob(p.id, 'archive'), 'POST');
    expect((await client.ended(job.id)).fileName).toBe('bell-of-ebb.gephyra.zip');
    const bytes = new Uint8Array(await (await fetch(client.base + routes.jobFile(job.id))).arrayBuffer());
    const again = await client.project(bytes, 'anything.zip');
    expect([again.name, again.source.fileName, again.source.hash]).toEqual([
      'Bell / of “ebb”',
      'Ebb bell.stl',
      p.source.hash,
    ]);
    expect(again.plan.recipe).toMatchObject([{ kind: 'scale', factor: 1.5 }]);
    expect(again.plan.seams).toHaveLength(1);
  });

  it('that is broken is refused with what is wrong', async () => {
    const project = (document: unknown, more: Record<string, Uint8Array> = {}) =>
      zipSync({
        'gephyra-project.json': strToU8(typeof document === 'string' ? document : JSON.stringify(document)),
        ...more,
      });
    const plan = { version: 5, printer: { size: [220, 220, 250] } };
    const source = { file: 'source/x.stl', name: 'x.stl' };
    const cases: [Uint8Array, string, RegExp][] = [
      [project('{'), 'project.archive', /no JSON/],
      [project({ gephyra: 2 }), 'project.archive', /newer/],
      [project({ gephyra: 1, name: 'x', plan }), 'project.archive', /holds as source cannot be read/],
      [project({ gephyra: 1, name: 'x', plan, source }), 'project.archive', /is missing/],
      [project({ gephyra: 1, name: 'x', plan: {}, source }, { 'source/x.stl': tall }), 'plan.invalid', /version/],
    ];
    for (const [bytes, code, message] of cases) {
      const job = await client.upload(bytes, 'reeve.zip');
      expect([job.state, job.error?.code]).toEqual(['failed', code]);
      expect(job.error?.message).toMatch(message);
    }
  });
});

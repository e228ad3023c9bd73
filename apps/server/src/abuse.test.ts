// What no page of ours sends: requests, names and downloads that once ended the server or got a 500 of it.
import { once } from 'node:events';
import { readdirSync } from 'node:fs';
import { mkdir, rm, writeFile } from 'node:fs/promises';
import { request } from 'node:http';
import { join } from 'node:path';
import { gzipSync } from 'node:zlib';
import { type Job, type Problem, type Project, routes } from '@gephyra/contract';
import { isPlainText, writeStlBinary } from '@gephyra/core';
import { strToU8, zipSync } from 'fflate';
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import { runs } from '../../../packages/core/testing/runs.ts';
import { blob, box } from '../../../packages/core/testing/shapes.ts';
import { Client } from '../testing/client.ts';
import { freshData } from '../testing/fresh-data.ts';
import { type RunningServer, startServer } from './server.ts';

let data = '';
let server: RunningServer;
let client: Client;
let project: Project;

beforeAll(async () => {
  data = await freshData();
  const web = join(data, 'web');
  await mkdir(join(web, 'assets'), { recursive: true });
  await writeFile(join(web, 'index.html'), '<!doctype html><title>Gephyra</title>');
  server = await startServer({ data, port: 0, web, uploadLimit: 3_000_000 });
  client = new Client(`http://127.0.0.1:${server.port}`);
  const large = blob(110, 120, 200, () => 70);
  project = await client.project(writeStlBinary(large, 'float'), 'float.stl');
});
afterAll(async () => {
  await server.close();
  await rm(data, { recursive: true, force: true });
});

/** A request as it is written, with what no client library would send. */
function raw(method: string, path: string, body: string | Uint8Array = '', headers: Record<string, string> = {}) {
  return new Promise<{ status: number; code: string; type: string }>((resolve, reject) => {
    const sent = request(client.base, {
      method,
      path,
      headers: { 'Content-Length': Buffer.byteLength(body), ...headers },
    });
    sent.on('error', reject);
    sent.on('response', (response) => {
      const chunks: Buffer[] = [];
      response.on('data', (c: Buffer) => chunks.push(c));
      response.on('end', () => {
        const text = Buffer.concat(chunks).toString();
        const type = response.headers['content-type'] ?? '';
        resolve({
          status: response.statusCode!,
          type,
          code: type.includes('problem') ? (JSON.parse(text) as Problem).code : '',
        });
      });
    });
    sent.end(body);
  });
}

const JSON_TYPE = { 'Content-Type': 'application/json' };

describe('requests that nobody means well', () => {
  it('are refused as problems of the client, never as faults of the server', async () => {
    const name = routes.project(project.id);
    const cases: [string, string, string | Uint8Array, Record<string, string>, number][] = [
      ['GET', '/api/projects/%00', '', {}, 404],
      ['GET', '/api/projects/%ff', '', {}, 400],
      ['GET', `/api/projects/${'x'.repeat(3000)}`, '', {}, 404],
      ['GET', '/api/jobs/%00/events', '', {}, 404],
      ['DELETE', '/api/jobs/..%2f..', '', {}, 404],
      ['PATCH', name, '{"name":"x"}', { 'Content-Type': 'application/json; charset=ebcdic' }, 415],
      ['PATCH', name, '{"name":"x"}', { ...JSON_TYPE, 'Content-Encoding': 'rot13' }, 415],
      ['PATCH', name, 'no gzip at all', { ...JSON_TYPE, 'Content-Encoding': 'gzip' }, 400],
      ['PATCH', name, '{"name":"a\\u0000b"}', JSON_TYPE, 400],
      ['PATCH', name, '{"name":"a\\ud800b"}', JSON_TYPE, 400],
      ['POST', routes.undo(project.id), '{"gesture":"gesture-1","basedOn":3000000000}', JSON_TYPE, 400],
      ['POST', routes.undo(project.id), '{"gesture":"gesture-1","basedOn":-1}', JSON_TYPE, 400],
      ['POST', '/', '', {}, 404],
      ['GET', '/assets/index-deadbeef.js', '', {}, 404],
    ];
    for (const [method, path, body, headers, status] of cases) {
      const got = await raw(method, path, body, headers);
      expect([method, path, got.status]).toEqual([method, path, status]);
      expect(got.type).toContain('application/problem+json');
    }
    expect((await raw('GET', `/p/${project.id}/seams`)).type).toContain('text/html');
    expect((await raw('GET', '/api/projects', '', { Host: `LocalHost:${server.port}` })).status).toBe(200);
  });

  it('are not followed into the depth, nor unpacked without end', async () => {
    const path = routes.plan(project.id);
    const deep = `{"basedOn":1,"label":"x","plan":${'['.repeat(200_000)}${']'.repeat(200_000)}}`;
    expect(await raw('PUT', path, deep, JSON_TYPE)).toMatchObject({ status: 400, code: 'request.deep' });
    const bomb = gzipSync(Buffer.alloc(64 << 20, 32));
    expect((await raw('PUT', path, bomb, { ...JSON_TYPE, 'Content-Encoding': 'gzip' })).status).toBe(413);
    const texts = { ...project.plan, pieces: [{ key: 'b1', name: 'bell\u0000' }] };
    const { status, body } = await client.save(project, 'Rename', texts);
    expect([status, body.code]).toEqual([422, 'plan.invalid']);
    expect(body.detail).toMatch(/the name of the note on piece 1/);
    const label = await client.save(project, 'Move\u0007', project.plan);
    expect([label.status, label.body.code]).toEqual([400, 'request.invalid']);
  });

  it('that are too large get their answer, although they are still being sent', async () => {
    const sent = request(client.base + routes.upload('big.stl', false), { method: 'POST' });
    const broken = vi.fn();
    sent.on('error', broken);
    const answered = once(sent, 'response');
    for (let i = 0; i < 40; i++) sent.write(new Uint8Array(1 << 18));
    const [response] = await answered;
    expect(response.statusCode).toBe(413);
    for (let i = 0; i < 40; i++) sent.write(new Uint8Array(1 << 18));
    sent.end();
    response.resume();
    await once(response, 'end');
    expect(broken).not.toHaveBeenCalled();
  });
});

describe('downloads', () => {
  const open = (): number => readdirSync('/proc/self/fd').length;

  it('that are broken off leave no file open, however often', async () => {
    const { body } = await client.call<Job>(routes.askedJob(project.id, 'archive'), 'POST');
    expect((await client.ended(body.id)).state).toBe('done');
    const path = client.base + routes.jobFile(body.id);
    const abort = async (): Promise<void> => {
      const sent = request(path, { agent: false });
      sent.on('error', () => {});
      sent.end();
      const [response] = await once(sent, 'response');
      response.on('error', () => {});
      response.destroy();
    };
    await abort();
    const before = open();
    for (let i = 0; i < runs(300); i += 20) await Promise.all(Array.from({ length: 20 }, abort));
    await expect.poll(open).toBeLessThan(before + 5);
    expect((await fetch(path)).status).toBe(200);
  });

  it('of a file that is gone are told so, and the server lives on', async () => {
    const quiet = vi.spyOn(console, 'error').mockImplementation(() => {});
    const p = await client.project(writeStlBinary(box([0, 0, 0], [5, 6, 7]), 'x'), 'gone.stl');
    const { body } = await client.call<Job>(routes.askedJob(p.id, 'archive'), 'POST');
    await client.ended(body.id);
    const { hash } = await server.jobs.file(body.id);
    await rm(server.blobs.path(hash));
    const gone = await client.call<Problem>(routes.jobFile(body.id));
    expect([gone.status, gone.body.code]).toEqual([404, 'blob.gone']);
    // a folder in its place opens, and fails when it is read
    await mkdir(server.blobs.path(hash));
    await fetch(client.base + routes.jobFile(body.id)).then(
      (r) => r.arrayBuffer().catch(() => null),
      () => null,
    );
    expect((await client.call(routes.projects)).status).toBe(200);
    quiet.mockRestore();
  });
});

describe('names', () => {
  it('that cannot be kept are cleaned on the way in, and cut between characters', async () => {
    const bell = writeStlBinary(box([0, 0, 0], [5, 6, 7]), 'x');
    const p = await client.project(bell, `tide\u0000 \u0007bell ${'🔔'.repeat(150)}.stl`);
    expect(p.name.startsWith('tide bell 🔔')).toBe(true);
    expect(p.name.length).toBeLessThanOrEqual(120);
    expect(isPlainText(p.name)).toBe(true);
    const solids = await client.project(strToU8('o a\u0000b\nv 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n'), 'solid.obj');
    expect(solids.source.bodies[0].name).toBe('a b');
    const document = {
      gephyra: 1,
      name: 'Bell\u0000 of Brackhythe',
      source: { file: 'source/x.stl', name: 'x\u0000.stl' },
      plan: { version: 5, printer: { size: [220, 220, 250] }, bodies: [{ id: 'b1', name: 'rim\u0000' }] },
    };
    const archive = zipSync({ 'gephyra-project.json': strToU8(JSON.stringify(document)), 'source/x.stl': bell });
    const again = await client.project(archive, 'reeve.zip');
    expect([again.name, again.plan.bodies[0].name]).toEqual(['Bell  of Brackhythe', 'rim ']);
  });

  it('an archive whose source cannot be read leaves nothing behind', async () => {
    await client.idle();
    const stored = (): number =>
      readdirSync(join(data, 'blobs'), { recursive: true, withFileTypes: true }).filter((f) => f.isFile()).length;
    const before = stored();
    const document = { gephyra: 1, name: 'x', source: { file: 'source/x.stl', name: 'x.stl' }, plan: project.plan };
    const archive = zipSync({
      'gephyra-project.json': strToU8(JSON.stringify(document)),
      'source/x.stl': strToU8('solid x\n facet nonsense'),
    });
    const job = await client.upload(archive, 'reeve.zip');
    expect([job.state, job.error?.code]).toEqual(['failed', 'stl.line']);
    expect(stored()).toBe(before);
  });
});

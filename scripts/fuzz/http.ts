import { mkdtemp, rm } from 'node:fs/promises';
import { request } from 'node:http';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { writeStlBinary } from '@gephyra/core';
import { startServer } from '../../apps/server/src/server.ts';
import { mutated } from '../../packages/core/testing/models.ts';
import { box } from '../../packages/core/testing/shapes.ts';
import type { Fuzz } from './fuzz.ts';

const METHODS = ['GET', 'POST', 'PUT', 'PATCH', 'DELETE', 'HEAD', 'OPTIONS'];
const TYPES = ['application/json', 'application/octet-stream', 'text/plain', 'application/json; charset=ebcdic', ''];
const CODINGS = ['', '', '', 'gzip', 'deflate', 'br', 'rot13'];

/** Random requests with damaged bodies, to a server of its own. Whatever comes, the answer is no fault of the server. */
export async function http(): Promise<Fuzz> {
  const data = await mkdtemp(join(tmpdir(), 'gephyra-fuzz-'));
  const server = await startServer({ data, port: 0 });
  const base = `http://127.0.0.1:${server.port}`;
  const bell = writeStlBinary(box([0, 0, 0], [20, 20, 20]), 'bell');
  const sent = await fetch(`${base}/api/projects?file=bell.stl`, { method: 'POST', body: Buffer.from(bell) });
  const job = (await sent.json()) as { id: string };
  await (await fetch(`${base}/api/jobs/${job.id}/events`)).text();
  const [{ id }] = (await (await fetch(`${base}/api/projects`)).json()) as { id: string }[];
  const project = (await (await fetch(`${base}/api/projects/${id}`)).json()) as { revision: number; plan: object };
  const paths = [
    '',
    '/plan',
    '/undo',
    '/redo',
    '/exports',
    '/shapes',
    '/health',
    '/archive',
    '/duplicate',
    '/restore',
    '/thumbnail',
  ].map((p) => `/api/projects/${id}${p}`);
  paths.push(
    '/api/projects',
    '/api/projects?file=x.stl',
    '/api/jobs',
    `/api/jobs/${job.id}`,
    '/api/equipment',
    '/',
    '/x.js',
  );
  const bodies = [
    { gesture: 'gesture-1', basedOn: 1, label: 'Move', plan: project.plan },
    { gesture: 'gesture-1', basedOn: 1 },
    { name: 'Bell' },
    { revision: 1, format: 'stl', pieces: ['b1'] },
    { steps: [{ kind: 'mend' }], locked: [] },
    { basedOn: 0, equipment: { printers: [], presets: [] } },
  ].map((b) => new TextEncoder().encode(JSON.stringify(b)));
  return {
    usual: 3000,
    longest: 20_000,
    async run(next) {
      const pick = <T>(list: readonly T[]): T => list[Math.floor(next() * list.length)];
      let path = pick(paths);
      if (next() < 0.2) path += pick(['%00', '%ff', '/../..', '?file=%00', '/%F0%9F%94%94', `/${'x'.repeat(9000)}`]);
      const body = next() < 0.2 ? pick(bodies) : mutated(pick([...bodies, bell]), next);
      const [type, coding] = [pick(TYPES), pick(CODINGS)];
      const status = await new Promise<number>((resolve) => {
        const out = request(base, {
          path,
          method: pick(METHODS),
          headers: {
            ...(type && { 'Content-Type': type }),
            ...(coding && { 'Content-Encoding': coding }),
            'Content-Length': body.length,
          },
        });
        out.on('error', () => resolve(0));
        out.on('response', (response) => {
          response.resume().on('end', () => resolve(response.statusCode!));
        });
        out.end(body);
      });
      const alive = next() > 0.02 || (await fetch(`${base}/api/projects`)).ok;
      return { outcome: String(status), fault: status >= 500 || !alive ? `${path}: ${status}` : null };
    },
    async close() {
      await server.close();
      await rm(data, { recursive: true, force: true });
    },
  };
}

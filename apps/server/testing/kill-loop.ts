import { randomUUID } from 'node:crypto';
import { once } from 'node:events';
import { readdir } from 'node:fs/promises';
import { request } from 'node:http';
import { join } from 'node:path';
import { setTimeout } from 'node:timers/promises';
import { type Job, type JobEntry, type Print, type Project, type ProjectCard, routes } from '@gephyra/contract';
import { writeStlBinary } from '@gephyra/core';
import { random } from '../../../packages/core/testing/defects.ts';
import { blob } from '../../../packages/core/testing/shapes.ts';
import { type Client, spawnServer } from './client.ts';

/** What a round came to. */
export interface Round {
  readonly acknowledged: number;
  readonly uploads: number;
  readonly faults: readonly string[];
}

/** The newest revision of each project that was acknowledged, and what it held. */
type Known = Map<string, { revision: number; z: number }>;

/** Beds that a printer took, and the share that was told last. */
type Printing = Map<string, { project: string; share: number }>;

/** What a server has to acknowledge before it is killed: nothing can be lost where nothing was promised. */
const LEAST = 2;

/**
 * Works on a data folder as two tabs at once do (saves, undo, uploads, exports, beds sent to printers, downloads and uploads
 * broken off), kills the server at any moment after it acknowledged something, starts it again and looks whether everything
 * is there that was acknowledged. Rounds go on with the same folder. `seed` makes the same wishes again.
 */
export async function killLoop(
  data: string,
  rounds: number,
  seed: number,
  told?: (round: Round) => void,
): Promise<Round[]> {
  const next = random(seed);
  const out: Round[] = [];
  const known: Known = new Map();
  const printing: Printing = new Map();
  let server = await spawnServer(data);
  for (let round = 0; round < rounds; round++) {
    const { client, process: child } = server;
    let over = false;
    let acknowledged = 0;
    let uploads = 0;
    const until = async (work: () => Promise<void>): Promise<void> => {
      while (!over) {
        try {
          await work();
        } catch (error) {
          if (!over && child.exitCode === null) throw error;
        }
      }
    };
    const bell = (): Uint8Array => {
      const waves = 2 + Math.floor(next() * 7);
      return writeStlBinary(
        blob(30, 36, 200, (a) => 60 + 4 * Math.sin(waves * a) + next()),
        'bell',
      );
    };
    const upload = async (): Promise<void> => {
      const { projectId } = await client.upload(bell(), 'bell.stl');
      if (!projectId) return;
      uploads++;
      known.set(projectId, { revision: 1, z: Number.NaN });
    };
    if (known.size === 0) await upload();
    const tab = async (): Promise<void> => {
      const ids = [...known.keys()];
      const id = ids[Math.floor(next() * ids.length)];
      const { body: p } = await client.call<Project>(routes.project(id));
      const z = Math.round((next() - 0.5) * 1800) / 10;
      const seams = [{ id: 's1', kind: 'flat', origin: [0, 0, z], normal: [0, 0, 1] }];
      const bed = { id: 'bed1', printer: 'Desktop 220', pieces: [{ piece: 'b1/s1-', x: 100, y: 100 }] };
      const gesture = randomUUID();
      const send = () => client.save(p, `Seam at ${z}`, { ...p.plan, seams, beds: [bed] }, gesture);
      // an answer may be lost: it is sent again
      if (next() < 0.3) await send();
      const { status, body } = await send();
      // the other tab may have been first
      if (status === 409) return;
      if (status !== 200) throw new Error(`a save was refused: ${status} ${body.detail}`);
      acknowledged++;
      // one that was done before is answered with how the project stands now, which may be another tab's
      const held = body.plan ? (body.plan.seams[0]?.origin[2] ?? Number.NaN) : z;
      if (body.revision > (known.get(id)?.revision ?? 0)) known.set(id, { revision: body.revision, z: held });
    };
    const printed = async (project: string, job: string, piece: string): Promise<void> => {
      const { status, body: print } = await client.call<Print>(routes.prints, 'POST', {
        project,
        job,
        printer: `Printer ${printing.size + 1}`,
        bed: 'bed1',
        title: 'Bed 1',
        pieces: [{ piece, copy: 1, height: 100 }],
        seconds: 3600,
        layers: 400,
        pace: 60,
        ...(next() < 0.3 && { failAt: 0.4 }),
      });
      if (status !== 201) throw new Error(`a bed was refused: ${status}`);
      printing.set(print.id, { project, share: print.share });
      acknowledged++;
    };
    const others = async (): Promise<void> => {
      const ids = [...known.keys()];
      const id = ids[Math.floor(next() * ids.length)];
      const kind = next();
      if (kind < 0.2) await upload();
      else if (kind < 0.5) {
        const { body: p } = await client.call<Project>(routes.project(id));
        await client.call(routes.askedJob(id, 'export'), 'POST', {
          revision: p.revision,
          format: 'stl',
          pieces: ['b1'],
        });
      } else if (kind < 0.75) await broken(client, 'POST', routes.upload('half.stl', false), bell());
      else {
        const { body } = await client.call<Job>(routes.askedJob(id, 'archive'), 'POST');
        await client.ended(body.id);
        await broken(client, 'GET', routes.jobFile(body.id));
        const { body: p } = await client.call<Project>(routes.project(id));
        const [lying] = p.plan.beds[0]?.pieces ?? [];
        if (!lying) return;
        const wish = { revision: p.revision, format: 'stl', pieces: [lying.piece], as: 'beds' };
        const { status, body: beds } = await client.call<Job>(routes.askedJob(id, 'export'), 'POST', wish);
        if (status === 202 && (await client.ended(beds.id)).state === 'done') await printed(id, beds.id, lying.piece);
      }
    };
    const work = Promise.all([until(tab), until(tab), until(others)]);
    const faults: string[] = [];
    work.catch((error: unknown) => faults.push(String(error)));
    await setTimeout(200 + next() * 1500);
    // on a busy machine the first answers take longer than that
    for (let wait = 0; acknowledged < LEAST && faults.length === 0 && wait < 600; wait++) await setTimeout(50);
    over = true;
    child.kill('SIGKILL');
    await once(child, 'exit');
    await work.catch(() => {});

    server = await spawnServer(data);
    faults.push(...(await missing(server.client, known, printing)));
    const temp = await readdir(join(data, 'blobs', 'temp'));
    if (temp.length > 0) faults.push(`${temp.length} half-written files were left`);
    faults.push(...(await endless(server.client)));
    const result = { acknowledged, uploads, faults };
    out.push(result);
    told?.(result);
  }
  server.process.kill();
  await once(server.process, 'exit');
  return out;
}

/** What was acknowledged and is not there; what is there goes into `known` and `printing`. */
async function missing(client: Client, known: Known, printing: Printing): Promise<string[]> {
  const faults: string[] = [];
  const { body: cards } = await client.call<ProjectCard[]>(routes.projects);
  for (const [id, { revision, z }] of known) {
    if (!cards.some((c) => c.id === id)) faults.push(`project ${id} is gone`);
    const { body: p } = await client.call<Project>(routes.project(id));
    if (p.revision < revision) faults.push(`${id} is at revision ${p.revision}, ${revision} was acknowledged`);
    if (p.revision === revision && Number.isFinite(z) && p.plan.seams[0]?.origin[2] !== z) {
      faults.push(`${id}: revision ${revision} holds something else`);
    }
    if (p.revision > revision) known.set(id, { revision: p.revision, z: p.plan.seams[0]?.origin[2] ?? Number.NaN });
  }
  for (const [id, { project, share }] of printing) {
    const { body: list } = await client.call<Print[]>(routes.printsOf(project));
    const print = list.find((p) => p.id === id);
    if (!print) faults.push(`print ${id} is gone`);
    else {
      if (print.share < share) faults.push(`print ${id} went back from ${share} to ${print.share}`);
      printing.set(id, { project, share: print.share });
      const { body: p } = await client.call<Project>(routes.project(project));
      const noted = (p.plan.log ?? []).filter((e) => e.print === id);
      for (const to of ['printing', 'printed', 'toPrint']) {
        if (noted.filter((e) => e.to === to).length > 1) faults.push(`print ${id} is noted twice as ${to}`);
      }
      const file = await fetch(client.base + routes.printFile(id));
      if (!file.ok || (await file.arrayBuffer()).byteLength === 0) faults.push(`the file of print ${id} is gone`);
    }
  }
  return faults;
}

/** What is still at work after a minute. */
async function endless(client: Client): Promise<string[]> {
  for (let wait = 0; ; wait++) {
    const { body: open } = await client.call<JobEntry[]>(routes.jobs);
    if (open.length === 0) return [];
    if (wait > 300) return [`${open[0].kind} of ${open[0].subject} never ends`];
    await setTimeout(200);
  }
}

/** A request that is broken off half way. */
function broken(client: Client, method: string, path: string, body?: Uint8Array): Promise<void> {
  return new Promise((resolve) => {
    const sent = request(client.base + path, { method, ...(body && { headers: { 'Content-Length': body.length } }) });
    sent.on('error', () => resolve());
    sent.on('close', () => resolve());
    sent.on('response', (response) => {
      response.on('error', () => {});
      response.once('data', () => sent.destroy());
      response.on('end', () => resolve());
    });
    if (body) sent.write(body.subarray(0, body.length / 2), () => sent.destroy());
    else sent.end();
  });
}

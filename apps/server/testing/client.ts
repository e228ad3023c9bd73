import { type ChildProcess, spawn } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { mkdtemp } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { createInterface } from 'node:readline';
import { setTimeout } from 'node:timers/promises';
import { type Job, type JobEntry, type Problem, type Project, routes, type SavedProject } from '@gephyra/contract';
import type { Plan } from '@gephyra/core';
import { bundled } from '../src/bundled.ts';

export const tempFolder = (): Promise<string> => mkdtemp(join(tmpdir(), 'gephyra-'));

/** Talks to a server as the web application does. */
export class Client {
  constructor(readonly base: string) {}

  async call<T>(path: string, method = 'GET', body?: unknown): Promise<{ status: number; body: T }> {
    const binary = body instanceof Uint8Array;
    const response = await fetch(this.base + path, {
      method,
      ...(body === undefined
        ? {}
        : {
            body: binary ? (body as Uint8Array<ArrayBuffer>) : JSON.stringify(body),
            headers: { 'Content-Type': binary ? 'application/octet-stream' : 'application/json' },
          }),
    });
    const text = await response.text();
    return { status: response.status, body: (text ? JSON.parse(text) : null) as T };
  }

  /** The job once it has ended, by its event stream. */
  async ended(id: string): Promise<Job> {
    const response = await fetch(this.base + routes.jobEvents(id));
    const events = (await response.text()).split('\n\n').filter(Boolean);
    return JSON.parse(events.at(-1)!.replace('data: ', '')) as Job;
  }

  async upload(bytes: Uint8Array, name = 'bell.stl', allowTruncated = false): Promise<Job> {
    const { body } = await this.call<Job>(routes.upload(name, allowTruncated), 'POST', bytes);
    return this.ended(body.id);
  }

  /** Waits until nothing runs or waits. */
  async idle(): Promise<void> {
    for (let wait = 0; wait < 600; wait++) {
      const { body } = await this.call<JobEntry[]>(routes.jobs);
      if (body.length === 0) return;
      await setTimeout(100);
    }
    throw new Error('Something is under way without end.');
  }

  /** Uploads a model and returns its project. */
  async project(bytes: Uint8Array, name?: string): Promise<Project> {
    const { projectId } = await this.upload(bytes, name);
    return (await this.call<Project>(routes.project(projectId!))).body;
  }

  async save(
    p: Project,
    label: string,
    plan: unknown,
    gesture: string = randomUUID(),
  ): Promise<{ status: number; body: Project & Problem }> {
    const asked = { gesture, basedOn: p.revision, label, plan };
    const { status, body } = await this.call<SavedProject & Problem>(routes.plan(p.id), 'PUT', asked);
    return { status, body: { ...body, plan: body.plan ?? (plan as Plan) } };
  }

  step(
    p: Project,
    way: 'undo' | 'redo',
    gesture: string = randomUUID(),
  ): Promise<{ status: number; body: Project & Problem }> {
    return this.call(routes[way](p.id), 'POST', { gesture, basedOn: p.revision });
  }
}

/** A server in a process of its own, so that it can be killed. */
export async function spawnServer(data: string): Promise<{ process: ChildProcess; client: Client }> {
  const main = await bundled(new URL('../src/main.ts', import.meta.url));
  const child = spawn(process.execPath, [main], {
    env: { ...process.env, GEPHYRA_DATA: data, GEPHYRA_PORT: '0' },
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  for await (const line of createInterface({ input: child.stdout })) {
    const address = /http:\/\/localhost:\d+/.exec(line)?.[0];
    if (address) return { process: child, client: new Client(address) };
  }
  throw new Error('The server ended before it listened.');
}

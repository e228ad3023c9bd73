import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { mkdtemp, readFile, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { createInterface } from 'node:readline';
import { setTimeout } from 'node:timers/promises';
import { fileURLToPath } from 'node:url';
import { type Job, routes } from '@gephyra/contract';
import { writeStlBinary } from '@gephyra/core';
import { blob } from '../packages/core/testing/shapes.ts';
import type { Row } from './measure.ts';

const MIB = 1024 * 1024;

/** Resident memory of a process now and at its peak, bytes. */
async function memory(pid: number): Promise<{ now: number; peak: number }> {
  const status = await readFile(`/proc/${pid}/status`, 'utf8');
  const kib = (key: string): number => Number(new RegExp(`${key}:\\s+(\\d+)`).exec(status)?.[1] ?? 0);
  return { now: kib('VmRSS') * 1024, peak: kib('VmHWM') * 1024 };
}

/**
 * What bringing in a large model costs the server, upload and first shape included: time against reading the file's bytes
 * through a hash in the same run, memory at rest, at the peak and a minute later. Linux only.
 */
export async function benchImport(): Promise<Row[]> {
  const rows: Row[] = [];
  for (const [rings, sides] of [
    [600, 850],
    [1200, 1700],
  ]) {
    const data = await mkdtemp(join(tmpdir(), 'gephyra-bench-'));
    const main = fileURLToPath(new URL('../apps/server/src/main.ts', import.meta.url));
    const child = spawn(process.execPath, ['--import', 'tsx', main], {
      env: { ...process.env, GEPHYRA_DATA: data, GEPHYRA_PORT: '0' },
      stdio: ['ignore', 'pipe', 'inherit'],
    });
    let base = '';
    for await (const line of createInterface({ input: child.stdout })) {
      base = /http:\/\/localhost:\d+/.exec(line)?.[0] ?? '';
      if (base) break;
    }
    const bytes = writeStlBinary(
      blob(rings, sides, 400, (a, z) => 120 + 6 * Math.sin(7 * a + 5 * z)),
      'float',
    );
    const reference = performance.now();
    await crypto.subtle.digest('SHA-256', bytes as Uint8Array<ArrayBuffer>);
    const hashed = performance.now() - reference;
    await setTimeout(3000);
    const idle = await memory(child.pid!);
    const ended = async (id: string): Promise<Job> => {
      const events = (await (await fetch(base + routes.jobEvents(id))).text()).split('\n\n').filter(Boolean);
      return JSON.parse(events.at(-1)!.replace('data: ', '')) as Job;
    };
    const start = performance.now();
    const sent = await fetch(base + routes.upload('float.stl', false), { method: 'POST', body: bytes as never });
    const done = await ended(((await sent.json()) as Job).id);
    const imported = performance.now() - start;
    const shape = await fetch(base + routes.askedJob(done.projectId!, 'shape'), {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify({ steps: [] }),
    });
    await ended(((await shape.json()) as Job).id);
    const shown = performance.now() - start;
    const { peak } = await memory(child.pid!);
    await setTimeout(60_000);
    const after = await memory(child.pid!);
    const mib = (x: number): string => `${Math.round(x / MIB)} MiB`;
    const million = `${Math.round(((rings * sides * 2) / 1e6) * 10) / 10} M`;
    const s = (ms: number): string => `${(ms / 1000).toFixed(1)} s`;
    rows.push(
      {
        what: `${million}: imported, and ready to be shown`,
        measured: `${s(imported)} (${(imported / hashed).toFixed(0)} × hashing its bytes), ${s(shown)}`,
        wanted: 'told',
        ok: true,
      },
      {
        what: `${million}: memory at rest, peak, a minute later`,
        measured: `${mib(idle.now)}, ${mib(peak)}, ${mib(after.now)}`,
        wanted: 'at rest 350 MiB, afterwards 500 MiB at the most',
        ok: idle.now < 350 * MIB && after.now < 500 * MIB,
      },
    );
    child.kill();
    await once(child, 'exit');
    await rm(data, { recursive: true, force: true });
  }
  return rows;
}

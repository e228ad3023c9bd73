// The whole way, file to beds, over models of many kinds: npm run whole [-- name or kind] [--random=N] [--seed=S] [--at-once=N].
// Each model is written to a file and prepared by the command line in a process of its own; what it wrote is then judged by the
// kernel: every bed's file closed, positive, no triangle through another. Says time, memory, pieces and what was left.
import { spawn } from 'node:child_process';
import { mkdtemp, readdir, readFile, rm, writeFile } from 'node:fs/promises';
import { availableParallelism, tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { bodiesOf, readModel, volume, withCrossings, writeStlBinary } from '@gephyra/core';
import { CORPUS, randomSolid, type Sample } from '../packages/core/testing/corpus.ts';
import { judge } from '../packages/core/testing/judges.ts';

const args = process.argv.slice(2);
const option = (name: string, usual: number): number =>
  Number(args.find((a) => a.startsWith(`--${name}=`))?.slice(name.length + 3) ?? usual);
const wanted = args.find((a) => !a.startsWith('--'));
const LIMIT = 300;
const MOST_MEMORY = 2 * 1024;

interface Row {
  readonly name: string;
  readonly code: number;
  readonly seconds: number;
  /** MB, at the most */
  readonly memory: number;
  readonly pieces: number;
  readonly beds: number;
  readonly left: readonly string[];
  /** what is wrong with what was written */
  readonly faults: readonly string[];
}

const program = fileURLToPath(new URL('../apps/cli/src/main.ts', import.meta.url));

/** Runs the command line; what it printed, and the most memory it had, MB. */
async function prepared(file: string, out: string): Promise<{ code: number; text: string; memory: number }> {
  const words = ['prepare', file, '--printer', '220x220x250', '--out', out, '--limit', String(LIMIT), '--json'];
  const child = spawn(process.execPath, ['--import', 'tsx', program, ...words]);
  let text = '';
  let memory = 0;
  child.stdout.on('data', (b: Buffer) => {
    text += b;
  });
  child.stderr.on('data', (b: Buffer) => {
    text += b;
  });
  const watch = setInterval(async () => {
    const status = await readFile(`/proc/${child.pid}/status`, 'utf8').catch(() => '');
    memory = Math.max(memory, Number(/VmHWM:\s*(\d+)/.exec(status)?.[1] ?? 0) / 1024);
  }, 200);
  const late = setTimeout(() => child.kill('SIGKILL'), (LIMIT + 60) * 1000);
  const code = await new Promise<number>((resolve) =>
    child.on('exit', (c, signal) => resolve(signal ? -1 : (c ?? -1))),
  );
  clearInterval(watch);
  clearTimeout(late);
  return { code, text, memory };
}

/** Places at which bodies pass through themselves. */
const crossingsOf = (bodies: Parameters<typeof withCrossings>[0]): number =>
  withCrossings(bodies).reduce((sum, b) => sum + (b.crossed?.count ?? 0), 0);

/** What is wrong with the files of beds and pieces in a folder; what the model itself passes through is its own. */
async function faultsIn(folder: string, own: number): Promise<string[]> {
  const faults: string[] = [];
  for (const name of await readdir(folder, { recursive: true })) {
    if (!name.endsWith('.3mf')) continue;
    const { bodies } = bodiesOf(readModel(new Uint8Array(await readFile(join(folder, name)))), name);
    for (const body of withCrossings(bodies)) {
      const where = `${name}, ${body.name}`;
      const { status, closed } = judge(body.mesh);
      if (!closed) faults.push(`${where}: open`);
      else if (status !== 'NoError') faults.push(`${where}: ${status}`);
      else if (!(volume(body.mesh) > 0)) faults.push(`${where}: inside out`);
      else if (body.crossed && body.crossed.count > own) faults.push(`${where}: ${body.crossed.count} crossings`);
    }
  }
  return faults;
}

async function row({ name, make }: Pick<Sample, 'name' | 'make'>): Promise<Row> {
  const folder = await mkdtemp(join(tmpdir(), 'gephyra-whole-'));
  try {
    const file = join(folder, 'model.stl');
    await writeFile(file, writeStlBinary(make(), name));
    const start = performance.now();
    const { code, text, memory } = await prepared(file, join(folder, 'out'));
    const seconds = (performance.now() - start) / 1000;
    let told: { pieces?: number; beds?: number; left?: string[] } = {};
    try {
      told = JSON.parse(text.slice(text.indexOf('{')));
    } catch {
      told = { left: [text.trim()] };
    }
    const faults =
      code === 0 || code === 2
        ? await faultsIn(join(folder, 'out'), crossingsOf(bodiesOf(readModel(await readFile(file)), name).bodies))
        : [`exit ${code}: ${text.trim()}`];
    return {
      name,
      code,
      seconds,
      memory,
      pieces: told.pieces ?? 0,
      beds: told.beds ?? 0,
      left: told.left ?? [],
      faults,
    };
  } finally {
    await rm(folder, { recursive: true });
  }
}

const seed = option('seed', 1);
const samples = [
  ...CORPUS.filter((s) => !wanted || s.kind === wanted || s.name.includes(wanted)),
  ...Array.from({ length: option('random', wanted ? 0 : 60) }, (_, i) => ({
    name: `random ${seed + i}`,
    make: () => randomSolid(seed + i),
  })),
];
const rows: Row[] = [];
const queue = [...samples];
await Promise.all(
  Array.from({ length: option('at-once', availableParallelism()) }, async () => {
    for (let next = queue.shift(); next; next = queue.shift()) {
      const r = await row(next);
      rows.push(r);
      console.log(
        `${r.name.padEnd(20)} ${r.seconds.toFixed(0).padStart(4)} s ${r.memory.toFixed(0).padStart(5)} MB ${String(r.pieces).padStart(4)} pieces ${String(r.beds).padStart(3)} beds, ${r.left.length} left${r.faults.length > 0 ? `, FAULTS ${r.faults.slice(0, 4).join('; ')}` : ''}`,
      );
      if (args.includes('--left')) for (const l of r.left) console.log(`    ${l}`);
    }
  }),
);
const bad = rows.filter((r) => r.faults.length > 0 || r.seconds > LIMIT || r.memory > MOST_MEMORY);
console.log({
  models: rows.length,
  slowest: Math.max(...rows.map((r) => r.seconds)).toFixed(0),
  largest: Math.max(...rows.map((r) => r.memory)).toFixed(0),
  bad: bad.map((r) => r.name),
});
process.exitCode = bad.length > 0 ? 1 : 0;

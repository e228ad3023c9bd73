import { execFile } from 'node:child_process';
import { mkdtemp, readdir, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { promisify } from 'node:util';
import { readStl, writeStlBinary } from '@gephyra/core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { box } from '../../../packages/core/testing/shapes.ts';

const root = fileURLToPath(new URL('../../../', import.meta.url));
let folder = '';

beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'gephyra-cli-'));
  await writeFile(join(folder, 'stock.stl'), writeStlBinary(box([0, 0, 0], [60, 40, 300]), 'stock'));
});
afterAll(() => rm(folder, { recursive: true, force: true }));

/** Runs the command line; a failing exit is a result, too. */
async function gephyra(...args: string[]): Promise<{ code: number; stdout: string; stderr: string }> {
  const all = ['--import', 'tsx', join(root, 'apps/cli/src/main.ts'), ...args];
  try {
    return { code: 0, ...(await promisify(execFile)(process.execPath, all, { cwd: root })) };
  } catch (error) {
    const failed = error as { code: number; stdout: string; stderr: string };
    return { code: failed.code, stdout: failed.stdout, stderr: failed.stderr };
  }
}

const plan = (seams: object[]) => ({
  version: 1,
  printer: { name: 'Desktop 220', size: [220, 220, 250], margin: 2 },
  seams,
  joints:
    seams.length > 0 ? [{ id: 'j1', kind: 'pin', seam: 's1', at: [0, 0], shape: 'square', diameter: 8, depth: 8 }] : [],
});

const middle = { id: 's1', kind: 'flat', origin: [30, 20, 150], normal: [0, 0, 1] };

describe('gephyra', () => {
  it('inspects a file', async () => {
    const { stdout } = await gephyra('inspect', join(folder, 'stock.stl'), '--json');
    expect(JSON.parse(stdout)).toMatchObject({
      format: 'stl-binary',
      triangles: 12,
      vertices: 8,
      size: [60, 40, 300],
      volume: 720_000,
      area: 64_800,
      shells: 1,
      watertight: true,
      openEdges: 0,
      nonManifoldEdges: 0,
    });
  });

  it('runs a plan and writes pieces that read back', async () => {
    await writeFile(join(folder, 'plan.json'), JSON.stringify(plan([middle])));
    const out = join(folder, 'out');
    const run = await gephyra(
      'run',
      join(folder, 'plan.json'),
      '--model',
      join(folder, 'stock.stl'),
      '--out',
      out,
      '--json',
    );
    expect(run.code).toBe(0);
    const result = JSON.parse(run.stdout);
    expect(result.pieces).toHaveLength(2);
    expect(result.faces).toMatchObject([{ seam: 's1', area: 2400, joints: ['j1'] }]);
    expect(result.source).toEqual({ volume: 720_000, triangles: 12 });
    expect((await readdir(out)).sort()).toEqual(['pieces.csv', 'stock-a1-lower.stl', 'stock-a2-upper.stl']);
    const lower = readStl(await readFile(join(out, 'stock-a1-lower.stl')));
    expect(lower.parts[0].positions.length / 9).toBe(result.pieces[0].triangles);
  });

  it('writes nothing while there are stop findings, unless allowed', async () => {
    await writeFile(join(folder, 'long.json'), JSON.stringify(plan([])));
    const args = [
      'run',
      join(folder, 'long.json'),
      '--model',
      join(folder, 'stock.stl'),
      '--out',
      join(folder, 'long'),
    ];
    const refused = await gephyra(...args);
    expect([refused.code, refused.stderr.trim().split('\n').length]).toEqual([2, 1]);
    await expect(readdir(join(folder, 'long'))).rejects.toThrow();
    expect((await gephyra(...args, '--allow-findings', '--format', '3mf')).code).toBe(2);
    expect((await readdir(join(folder, 'long'))).sort()).toEqual(['pieces.csv', 'stock.3mf']);
  });

  it('names what is wrong in a plan by its path, and in its use by one line', async () => {
    const bad = plan([middle]);
    (bad.joints[0] as { gap?: unknown }).gap = -1;
    await writeFile(join(folder, 'bad.json'), JSON.stringify(bad));
    const check = await gephyra('plan', '--check', join(folder, 'bad.json'));
    expect([check.code, check.stderr]).toEqual([1, 'joints[0].gap: must be from 0 to 3\n']);
    for (const args of [['inspect', join(folder, 'none.stl')], ['run', '--out'], ['dance']]) {
      const wrong = await gephyra(...args);
      expect([wrong.code, wrong.stderr.trim().split('\n').length]).toEqual([1, 1]);
    }
  });
});

import { execFile } from 'node:child_process';
import { mkdtemp, readdir, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { promisify } from 'node:util';
import {
  bounds,
  concatenate,
  readModel,
  readStl,
  topology,
  volume,
  weldExact,
  writeModel,
  writeStlBinary,
} from '@gephyra/core';
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import { damaged } from '../../../packages/core/testing/defects.ts';
import { modelOfMeshes } from '../../../packages/core/testing/models.ts';
import { box, torus } from '../../../packages/core/testing/shapes.ts';
import { command } from './command.ts';

const root = fileURLToPath(new URL('../../../', import.meta.url));
let folder = '';

beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'gephyra-cli-'));
  await writeFile(join(folder, 'stock.stl'), writeStlBinary(box([0, 0, 0], [60, 40, 300]), 'stock'));
});
afterAll(() => rm(folder, { recursive: true, force: true }));

interface Ended {
  readonly code: number;
  readonly stdout: string;
  readonly stderr: string;
}

/** Runs a command here, with all that it says. */
async function gephyra(...args: string[]): Promise<Ended> {
  const said = { log: '', error: '' };
  const spies = (['log', 'error'] as const).map((way) =>
    vi.spyOn(console, way).mockImplementation((text: string) => {
      said[way] += `${text}\n`;
    }),
  );
  try {
    return { code: await command(args), stdout: said.log, stderr: said.error };
  } finally {
    for (const spy of spies) spy.mockRestore();
  }
}

/** Runs the program by itself; a failing exit is a result, too. */
async function program(...args: string[]): Promise<Ended> {
  const all = [join(root, 'apps/cli/gephyra.mjs'), ...args];
  try {
    return { code: 0, ...(await promisify(execFile)(process.execPath, all, { cwd: root })) };
  } catch (error) {
    const failed = error as Ended;
    return { code: failed.code, stdout: failed.stdout, stderr: failed.stderr };
  }
}

const plan = (seams: object[]) => ({
  version: 5,
  printer: { name: 'Desktop 220', size: [220, 220, 250], margin: 2 },
  seams,
  joints:
    seams.length > 0 ? [{ id: 'j1', kind: 'pin', seam: 's1', at: [0, 0], shape: 'square', diameter: 8, depth: 8 }] : [],
});

const middle = { id: 's1', kind: 'flat', origin: [30, 20, 150], normal: [0, 0, 1] };

describe('gephyra', () => {
  it('engraves codes into the files it writes, when the plan wants them', async () => {
    const volumes: number[] = [];
    for (const labels of [undefined, { height: 8, depth: 0.5 }]) {
      const name = labels ? 'with' : 'without';
      await writeFile(join(folder, `${name}.json`), JSON.stringify({ ...plan([middle]), joints: [], labels }));
      const out = join(folder, `codes-${name}`);
      const { code } = await gephyra(
        'run',
        join(folder, `${name}.json`),
        '--model',
        join(folder, 'stock.stl'),
        '--out',
        out,
      );
      expect(code).toBe(0);
      const files = (await readdir(out, { recursive: true })).filter((f) => f.endsWith('.stl'));
      // both halves are equal, and one file
      expect(files).toHaveLength(1);
      for (const f of files) {
        const { positions, corners } = weldExact(
          readStl(new Uint8Array(await readFile(join(out, f)))).parts[0].positions,
        );
        const mesh = { positions, triangles: corners, tags: new Uint32Array(corners.length / 3) };
        expect(topology(mesh).watertight).toBe(true);
        volumes.push(volume(mesh));
      }
    }
    expect(volumes[0] - volumes[1]).toBeGreaterThan(5);
    expect(volumes[0] - volumes[1]).toBeLessThan(60);
  });

  it('is a program: it lists its commands, exits with what came of one, and is refused in one line', async () => {
    const [bare, known, unknown] = await Promise.all([
      program(),
      program('inspect', join(folder, 'stock.stl'), '--json'),
      program('bury'),
    ]);
    expect(bare.code).toBe(1);
    expect(bare.stdout).toContain('gephyra run PLAN.json');
    expect(known.code).toBe(0);
    expect(JSON.parse(known.stdout)).toMatchObject({ format: 'stl-binary', triangles: 12 });
    expect(unknown).toEqual({
      code: 1,
      stdout: '',
      stderr: 'There is no command “bury”; “gephyra help” lists them.\n',
    });
  });

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

  it('says everything that is wrong with a file, body by body', async () => {
    const bad = damaged(
      torus(30, 24, 12, () => 8),
      ['missing triangles', 'turned triangles', 'dust'],
      4,
    );
    const [{ bytes }] = writeModel(
      modelOfMeshes([bad, { ...box([80, 0, 0], [90, 9, 8]), name: 'Buckle' }]),
      'obj',
      'x',
    );
    await writeFile(join(folder, 'torn.obj'), bytes);
    const { stdout } = await gephyra('inspect', join(folder, 'torn.obj'), '--json');
    const report = JSON.parse(stdout);
    expect(report).toMatchObject({
      format: 'obj',
      unit: null,
      watertight: false,
      duplicateTriangles: 0,
      selfCrossings: 0,
      flipped: 0,
    });
    expect(report.holes.length).toBeGreaterThan(0);
    expect(report.holes[0].perimeter).toBeGreaterThan(1);
    expect(report.inconsistentEdges).toBeGreaterThan(0);
    expect(report.bodies.find((b: { name: string }) => b.name === 'Buckle')).toMatchObject({
      closed: true,
      triangles: 12,
      shells: 1,
    });
    expect((await gephyra('inspect', join(folder, 'torn.obj'))).stdout).toMatch(/Buckle: 12 triangles, closed/);
  });

  it('ends searches at the limit with what they have found, and breaks off what cannot end', async () => {
    const file = join(folder, 'long.stl');
    await writeFile(file, writeStlBinary(box([0, 0, 0], [300, 60, 40]), 'long'));
    const out = join(folder, 'hurried');
    const done = await gephyra('prepare', file, '--printer', '220x220x250', '--out', out, '--limit', '0.001', '--json');
    const report = JSON.parse(done.stdout);
    // it has come as far as a seam, and not to its face
    expect([done.code, report.pieces, report.fits]).toEqual([2, 2, 2]);
    expect(report.left.join()).toContain('No joint between A1 and A2');
    expect((await gephyra('plan', '--check', join(out, 'plan.json'))).code).toBe(0);
    // a pipe that nobody writes to never has an end
    const pipe = join(folder, 'pipe.stl');
    await promisify(execFile)('mkfifo', [pipe]);
    const stuck = await program('inspect', pipe, '--limit', '1');
    expect(stuck).toMatchObject({ code: 1, stdout: '' });
    expect(stuck.stderr).toBe(
      'It was not done after 6 seconds and was stopped. Simplify the model, or say --limit SECONDS.\n',
    );
    expect((await gephyra('inspect', file, '--limit', 'soon')).stderr).toContain('--limit is a number');
  });

  it('repairs into another format, with before and after, and says in its exit code what stays open', async () => {
    const out = join(folder, 'mended.3mf');
    const { code, stdout } = await gephyra('repair', join(folder, 'torn.obj'), '--out', out, '--json');
    const result = JSON.parse(stdout);
    expect(code).toBe(0);
    expect(result).toMatchObject({
      closed: true,
      before: { watertight: false },
      after: { watertight: true, openEdges: 0, inconsistentEdges: 0 },
    });
    expect(result.deviation.old).toBeLessThan(100);
    const again = JSON.parse((await gephyra('inspect', out, '--json')).stdout);
    expect([again.format, again.unit, again.watertight]).toEqual(['3mf', 'mm', true]);

    const [strip] = writeModel(
      modelOfMeshes([{ ...box([0, 0, 0], [1, 1, 1]), triangles: Uint32Array.of(0, 1, 3), tags: new Uint32Array(1) }]),
      'ply',
      'x',
    );
    await writeFile(join(folder, 'leaf.ply'), strip.bytes);
    const open = await gephyra('repair', join(folder, 'leaf.ply'), '--out', join(folder, 'leaf.stl'));
    expect(open.code).toBeGreaterThan(0);
    expect((await gephyra('repair', join(folder, 'torn.obj'), '--out', join(folder, 'x.doc'))).stderr).toMatch(
      /ends in none of/,
    );
  });

  it('converts without losing names, and puts colours beside an OBJ', async () => {
    const [{ bytes }] = writeModel(
      modelOfMeshes(
        [{ ...box([0, 0, 0], [1, 2, 3]), tags: new Uint32Array(12).fill(1), name: 'Pennant' }],
        [
          { name: '', colour: '' },
          { name: 'Cut red', colour: '#bf3b26' },
        ],
      ),
      '3mf',
      'x',
    );
    await writeFile(join(folder, 'pennant.3mf'), bytes);
    const { code, stdout } = await gephyra(
      'convert',
      join(folder, 'pennant.3mf'),
      '--out',
      join(folder, 'pennant.obj'),
    );
    expect([code, stdout.trim().endsWith('pennant.mtl written.')]).toEqual([0, true]);
    expect(await readFile(join(folder, 'pennant.mtl'), 'utf8')).toMatch(/newmtl Cut red/);
    expect(await readFile(join(folder, 'pennant.obj'), 'utf8')).toMatch(/o Pennant/);
  });

  it('does the heavy steps of a recipe when it runs a plan', async () => {
    await writeFile(
      join(folder, 'hollow.json'),
      JSON.stringify({ ...plan([]), recipe: [{ kind: 'hollow', thickness: 5, cell: 2 }] }),
    );
    const args = [join(folder, 'hollow.json'), '--model', join(folder, 'stock.stl'), '--out', join(folder, 'hollowed')];
    const { stdout } = await gephyra('run', ...args, '--json', '--allow-findings');
    const { source, recipe } = JSON.parse(stdout);
    expect(source.volume / (720_000 - 50 * 30 * 290)).toBeCloseTo(1, 1);
    expect(recipe[0].after.closed).toBe(1);
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

  it('writes a plan after which every piece fits, and says how many planes it took', async () => {
    const out = join(folder, 'grid.json');
    await writeFile(
      join(folder, 'hoop.stl'),
      writeStlBinary(
        torus(400, 90, 24, () => 30),
        'hoop',
      ),
    );
    const { code, stdout, stderr } = await gephyra(
      'grid',
      join(folder, 'hoop.stl'),
      '--printer',
      '220x220x250',
      '--out',
      out,
      '--json',
    );
    expect([code, stderr]).toEqual([0, '']);
    const said = JSON.parse(stdout);
    expect(said.used).toBeLessThanOrEqual(said.byBox);
    const pieces = await gephyra(
      'run',
      out,
      '--model',
      join(folder, 'hoop.stl'),
      '--out',
      join(folder, 'grid'),
      '--json',
    );
    expect(pieces.code).toBe(0);
    const result = JSON.parse(pieces.stdout);
    expect(result.pieces).toHaveLength(said.pieces);
    expect(result.pieces.every((p: { fits: boolean }) => p.fits)).toBe(true);
  });

  it('proposes seams with reasons, which run to pieces that fit; a plan with its pieces parts only what is too large', async () => {
    const out = join(folder, 'proposed.json');
    const made = await gephyra(
      'propose',
      '--effort',
      '0',
      join(folder, 'stock.stl'),
      '--printer',
      '220x220x250',
      '--out',
      out,
      '--json',
    );
    expect(made).toMatchObject({ code: 0, stderr: '' });
    const told = JSON.parse(made.stdout);
    expect(told).toMatchObject({ pieces: 2, fits: 2, closed: 2, slivers: 0, seams: 1 });
    expect(told.reasons[0].reasons).toContain('both sides fit then');
    const written = join(folder, 'proposed');
    const run = await gephyra(
      'run',
      out,
      '--model',
      join(folder, 'stock.stl'),
      '--out',
      written,
      '--allow-findings',
      '--json',
    );
    expect(JSON.parse(run.stdout).pieces).toHaveLength(2);
    const again = await gephyra(
      'propose',
      '--effort',
      '0',
      out,
      '--model',
      join(folder, 'stock.stl'),
      '--printer',
      '220x220x120',
      '--out',
      out,
      '--json',
    );
    expect(JSON.parse(again.stdout).pieces).toBeGreaterThan(2);
    expect(JSON.parse(await readFile(out, 'utf8')).seams[0].id).toBe('s1');
    const short = [join(folder, 'stock.stl'), '--printer', '220x220x250', '--effort', '0', '--out', out, '--json'];
    const limited = await gephyra('propose', ...short, '--longest', '90', '--turned');
    expect(JSON.parse(limited.stdout).pieces).toBeGreaterThan(2);
    const nobody = await gephyra('propose', ...short, '--whole', 'Mast');
    expect(nobody.code).toBe(1);
    expect(nobody.stderr).toMatch(/^--whole: there is no body called Mast\. There are /);
    const wrong = await gephyra(
      'propose',
      '--effort',
      '0',
      join(folder, 'stock.stl'),
      '--printer',
      '220x220x250',
      '--wish',
      'cheap',
      '--out',
      out,
    );
    expect(wrong).toMatchObject({ code: 1, stderr: '--wish is few, hidden or print.\n' });
  });

  it('makes a torn model printable in one go: mended, cut, jointed, posed, on beds, with a report', async () => {
    const whole = box([0, 0, 0], [60, 40, 300]);
    const torn = { ...whole, triangles: whole.triangles.slice(3), tags: whole.tags.slice(1) };
    const file = join(folder, 'torn.stl');
    await writeFile(file, writeStlBinary(torn, 'torn'));
    const out = join(folder, 'prepared');
    const { code, stdout, stderr } = await gephyra('prepare', file, '--printer', '220x220x250', '--out', out, '--json');
    expect(stderr).toBe('');
    const told = JSON.parse(stdout);
    expect(told.steps.map((s: { step: string }) => s.step)).toEqual(['mend', 'seams', 'joints', 'poses', 'beds']);
    expect(told.steps[0].did).toBe('Mended 1 of 1 bodies.');
    expect(told).toMatchObject({ pieces: 2, fits: 2, left: [] });
    expect(code).toBe(0);
    expect((await readdir(join(out, 'pieces'))).length).toBeGreaterThan(0);
    expect((await readdir(join(out, 'beds'), { recursive: true })).filter((n) => n.endsWith('.3mf'))).toHaveLength(1);
    expect(await readFile(join(out, 'report.md'), 'utf8')).toContain('- joints: ');
    const checked = await gephyra('plan', '--check', join(out, 'plan.json'));
    expect(checked.code).toBe(0);
  });

  it('refuses a grid for what is open, and for a printer it does not understand', async () => {
    const open = box([0, 0, 0], [400, 40, 40]);
    await writeFile(join(folder, 'open.stl'), writeStlBinary({ ...open, triangles: open.triangles.slice(6) }, 'open'));
    const refused = await gephyra(
      'grid',
      join(folder, 'open.stl'),
      '--printer',
      '220x220x250',
      '--out',
      join(folder, 'no.json'),
    );
    expect(refused.code).toBe(2);
    expect(refused.stderr).toContain('not closed');
    const wrong = await gephyra('grid', join(folder, 'hoop.stl'), '--printer', 'big', '--out', join(folder, 'no.json'));
    expect([wrong.code, wrong.stderr]).toEqual([1, expect.stringContaining('220x220x250')]);
    expect(await readdir(folder)).not.toContain('no.json');
  });

  it('seats joints on every face, and run then tells the joints of each, and what got none', async () => {
    const bare = join(folder, 'bare.json');
    const seated = join(folder, 'seated.json');
    const model = join(folder, 'foil.stl');
    // a post on a foil: the first has room for joints, the second is too thin for any
    const foil = box([100, 0, 0], [160, 0.8, 300]);
    await writeFile(model, writeStlBinary(concatenate([box([0, 0, 0], [60, 40, 300]), foil]), 'x'));
    const seams = [middle, { ...middle, id: 's2', origin: [30, 20, 80] }];
    await writeFile(bare, JSON.stringify({ ...plan(seams), joints: [] }));
    const said = await gephyra('seat', bare, '--model', model, '--out', seated, '--json');
    expect(said.code).toBe(0);
    const report = JSON.parse(said.stdout);
    expect(report.stops).toEqual([]);
    expect(report.seated).toBeGreaterThan(3);
    expect(report.faces).toHaveLength(4);
    const furnished = JSON.parse(await readFile(seated, 'utf8'));
    expect(furnished.joints).toHaveLength(report.seated);
    const run = await gephyra('run', seated, '--model', model, '--out', join(folder, 'seated'), '--json');
    const result = JSON.parse(run.stdout);
    const bareFaces = result.faces.filter((f: { joints: string[] }) => f.joints.length === 0);
    expect(bareFaces.map((f: { pieces: string[] }) => f.pieces[0].slice(0, 2))).toEqual(['b2', 'b2']);
    expect(result.faces.flatMap((f: { joints: string[] }) => f.joints)).toHaveLength(report.seated);
    for (const face of bareFaces) {
      const codes = result.findings
        .filter((f: { where: { face?: string } }) => f.where.face === face.id)
        .map((f: { code: string }) => f.code);
      expect(codes).toContain('face.bare');
      expect(report.faces.find((f: { face: string }) => f.face === face.id).help).toBeTruthy();
    }
    const words = await gephyra('run', seated, '--model', model, '--out', join(folder, 'again'));
    expect(words.stdout).toMatch(/face s1@b1.*A2 to A3: j\d/);
    expect(words.stdout).toMatch(/face s1@b2.*: no joint/);
    expect((await gephyra('seat', bare, '--model', model)).stderr).toContain('--out PLAN2.json');
  });

  it('finds an order of joining, keeps it, and says which step is blocked when it is changed', async () => {
    const row = join(folder, 'row.json');
    const model = join(folder, 'row.stl');
    await writeFile(model, writeStlBinary(box([0, 0, 0], [400, 40, 40]), 'row'));
    const cuts = [100, 200, 300].map((x, i) => ({
      ...middle,
      id: `s${i + 1}`,
      origin: [x, 20, 20],
      normal: [1, 0, 0],
    }));
    await writeFile(row, JSON.stringify({ ...plan(cuts), joints: [] }));
    const kept = join(folder, 'ordered.json');
    const said = await gephyra('order', row, '--model', model, '--out', kept, '--json');
    expect(said.code).toBe(0);
    const found = JSON.parse(said.stdout);
    expect(found).toMatchObject({ blocked: 0, locked: [], proposed: true });
    expect(found.steps.map((s: { parts: string[][] }) => s.parts.map((p) => p.length))).toEqual([
      [1, 1],
      [1, 1],
      [2, 2],
    ]);
    const document = JSON.parse(await readFile(kept, 'utf8'));
    // the second pair comes from the wrong side
    document.order[2].way = [-1, 0, 0];
    await writeFile(kept, JSON.stringify(document));
    const blocked = await gephyra('order', kept, '--model', model);
    expect(blocked.code).toBe(2);
    expect(blocked.stdout).toMatch(/blocked: A\d, A\d: they would go into each other/);
    expect(blocked.stdout).toContain('3 steps, 1 blocked.');
  });

  it('writes a coupon with a ladder of gaps, and refuses one that cannot be', async () => {
    const out = join(folder, 'coupon.stl');
    const ask = ['coupon', '--kind', 'pin', '--diameter', '6', '--from', '0.05', '--step', '0.05', '--count', '6'];
    const { code, stdout } = await gephyra(...ask, '--out', out, '--json');
    expect(code).toBe(0);
    const said = JSON.parse(stdout);
    expect(said.gaps).toEqual([0.05, 0.1, 0.15, 0.2, 0.25, 0.3]);
    expect(said.minutes).toBeLessThan(40);
    const { corners, positions } = weldExact(readStl(new Uint8Array(await readFile(out))).parts[0].positions);
    expect(topology({ triangles: corners }).watertight).toBe(true);
    expect(volume({ positions, triangles: corners })).toBeCloseTo(said.volume, 0);
    const wrong = await gephyra('coupon', '--kind', 'pin', '--count', '40', '--out', out);
    expect([wrong.code, wrong.stderr]).toEqual([1, expect.stringMatching(/2 to 12 gaps/)]);
    expect((await gephyra('coupon', '--kind', 'bolt', '--out', out)).stderr).toContain('--kind is one of');
    expect((await gephyra('coupon', '--out', join(folder, 'x.txt'))).stderr).toContain('.stl, .obj');
  });
});

describe('gephyra, from poses to beds', () => {
  const table = () => join(folder, 'table.stl');
  const made = () => join(folder, 'table.json');

  beforeAll(async () => {
    const top = box([0, 0, 36], [60, 40, 40]);
    const leg = box([20, 10, 0], [40, 30, 36.5]);
    await writeFile(table(), writeStlBinary(concatenate([top, leg]), 'table'));
    await writeFile(made(), JSON.stringify({ ...plan([]), recipe: [{ kind: 'join' }] }));
  });

  it('poses pieces, tells figures, and writes a plan that can be checked', async () => {
    const out = join(folder, 'posed.json');
    const { code, stdout } = await gephyra(
      'pose',
      made(),
      '--model',
      table(),
      '--wish',
      'support',
      '--out',
      out,
      '--json',
    );
    const report = JSON.parse(stdout);
    expect(code).toBe(0);
    expect(report.pieces).toHaveLength(1);
    expect(report.pieces[0]).toMatchObject({ up: [0, 0, -1], overhangArea: 0, supportVolume: 0, fits: true });
    expect(report.pieces[0].restArea).toBeCloseTo(2400, 3);
    expect(report.pieces[0].height).toBeCloseTo(40, 3);
    expect(report.pieces[0].hours).toBeLessThan(report.before.hours);
    expect(report.pieces[0].grams).toBeGreaterThan(5);
    expect((await gephyra('plan', '--check', out)).code).toBe(0);
    const { stdout: text } = await gephyra('pose', made(), '--model', table(), '--out', out);
    expect(text).toMatch(/upside down; support 0\.0 cm³/);
  });

  it('writes pieces as they print, and beds with their list', async () => {
    const posed = join(folder, 'posed.json');
    const printed = join(folder, 'as-print');
    expect((await gephyra('run', posed, '--model', table(), '--out', printed, '--as', 'print')).code).toBe(0);
    const [stl] = (await readdir(printed)).filter((n) => n.endsWith('.stl'));
    const { min, max } = bounds(readStl(await readFile(join(printed, stl))).parts[0].positions);
    expect([min[2], max[2]]).toEqual([0, 40]);
    const out = join(folder, 'beds');
    const { code, stdout } = await gephyra('beds', posed, '--model', table(), '--out', out, '--json');
    const report = JSON.parse(stdout);
    expect([code, report.against, report.left]).toEqual([0, [], []]);
    expect(report.beds).toMatchObject([{ printer: 'Desktop 220', pieces: [{ key: 'b1', copy: 1 }] }]);
    expect(report.beds[0].fill).toBeCloseTo(2400 / (216 * 216), 3);
    const { parts } = readModel(await readFile(join(out, report.beds[0].file)), { name: 'bed.3mf' });
    expect(bounds(parts[0].positions).min[2]).toBeCloseTo(0, 6);
    expect((await gephyra('plan', '--check', join(out, 'plan.json'))).code).toBe(0);
  });

  it.each([
    [['pose', 'x.json', '--model', 'y.stl'], /Say pose PLAN/],
    [['pose', 'x.json', '--model', 'y.stl', '--out', 'z', '--wish', 'luck'], /--wish is one of/],
    [['beds', 'x.json', '--out', 'z'], /Say beds PLAN/],
    [['beds', 'x.json', '--model', 'y.stl', '--out', 'z', '--format', 'ply'], /3mf or stl/],
    [['run', 'x.json', '--model', 'y.stl', '--out', 'z', '--as', 'toast'], /place or print/],
  ])('says how it is used: %j', async (args, message) => {
    const { code, stderr } = await gephyra(...args);
    expect([code, stderr]).toEqual([1, expect.stringMatching(message)]);
  });
});

import type { Act, Project } from '@gephyra/contract';
import { type FlatSeam, type Plan, type PlanInput, parsePlan } from '@gephyra/core';
import { describe, expect, it } from 'vitest';
import { ProjectRecord, type RecordServer, type Saying } from './record.ts';

const empty = (): Plan => parsePlan({ version: 5, printer: { size: [200, 200, 200] } } satisfies PlanInput);
const seam = (id: string, z: number) => ({
  do: 'addSeam' as const,
  seam: {
    id,
    kind: 'flat' as const,
    origin: [0, 0, z] as [number, number, number],
    normal: [0, 0, 1] as [number, number, number],
  },
});

function project(plan: Plan, revision: number): Project {
  return {
    id: 'p1',
    name: 'Bell',
    revision,
    plan,
    undo: revision > 0 ? 'a step' : null,
    redo: null,
    updatedAt: '2026-11-25T10:00:00Z',
  } as unknown as Project;
}

/** A server whose answers are let go one by one. */
class Server implements RecordServer {
  revision = 0;
  plan = empty();
  readonly asked: { what: string; basedOn: number; plan?: Plan }[] = [];
  private readonly waiting: (() => void)[] = [];
  fail: Error | null = null;

  private async turn(): Promise<void> {
    await new Promise<void>((resolve) => this.waiting.push(resolve));
    if (this.fail) throw this.fail;
  }

  /** Answers the request that has waited longest, and lets what follows from it happen. */
  async answer(): Promise<void> {
    for (let k = 0; k < 20 && this.waiting.length === 0; k++) await Promise.resolve();
    this.waiting.shift()!();
    for (let k = 0; k < 20; k++) await Promise.resolve();
  }

  async savePlan(_: string, { basedOn }: Act, label: string, plan: Plan): Promise<Project> {
    this.asked.push({ what: label, basedOn, plan });
    await this.turn();
    if (basedOn !== this.revision) throw Object.assign(new Error('Changed in another window.'), { code: 'plan.stale' });
    this.plan = plan;
    return project(plan, ++this.revision);
  }

  async project(): Promise<Project> {
    await this.turn();
    return project(this.plan, this.revision);
  }

  async undo(_: string, { basedOn }: Act): Promise<Project> {
    this.asked.push({ what: 'undo', basedOn });
    await this.turn();
    this.plan = empty();
    return project(this.plan, ++this.revision);
  }

  redo = this.undo;

  async rename(_: string, name: string): Promise<{ name: string }> {
    await this.turn();
    return { name };
  }
}

function opened() {
  const server = new Server();
  const said: Saying[] = [];
  const waits: { run: () => void; ms: number }[] = [];
  const wait = (run: () => void, ms: number): (() => void) => {
    waits.push({ run, ms });
    return () => {};
  };
  const record = new ProjectRecord(project(server.plan, 0), server, (s) => said.push(s), wait);
  return { server, said, record, waits };
}

describe('the record of an open project', () => {
  it('makes a change at once and sends it; one request at a time, each on top of the last', async () => {
    const { server, record } = opened();
    record.change('Waist', seam('s1', 10));
    record.change('Neck', seam('s2', 20));
    record.change('Foot', seam('s3', 30));
    expect(record.state.plan.seams.map((s) => s.id)).toEqual(['s1', 's2', 's3']);
    expect(server.asked.map((a) => a.what)).toEqual(['Waist']);
    expect(record.state.saveState).toBe('saving');
    await server.answer();
    await server.answer();
    expect(server.asked.map((a) => [a.what, a.basedOn])).toEqual([
      ['Waist', 0],
      ['Neck', 1],
      ['Foot', 2],
    ]);
    await server.answer();
    expect(record.state).toMatchObject({ saveState: 'saved', project: { revision: 3 } });
    expect(server.plan.seams).toHaveLength(3);
  });

  it('gives a seam that was thought of on an older plan an id that is free now', async () => {
    const { server, record } = opened();
    record.change('Waist', seam('s1', 10));
    expect([...record.change('Neck', seam('s1', 20))]).toEqual([['s1', 's2']]);
    await server.answer();
    await server.answer();
    expect(server.plan.seams.map((s) => s.id)).toEqual(['s1', 's2']);
  });

  it('sends nothing for a change that changes nothing', () => {
    const { server, record } = opened();
    record.change('As before', { do: 'set', set: { alike: 0.05 } });
    expect(server.asked).toEqual([]);
    expect(record.state.saveState).toBe('saved');
  });

  it('keeps what could not be sent, says so once, and sends it again by itself', async () => {
    const { server, said, record, waits } = opened();
    server.fail = new Error('The server cannot be reached.');
    record.change('Waist', seam('s1', 10));
    for (let k = 0; k < 7; k++) {
      await server.answer();
      expect(record.state.saveState).toBe('unsaved');
      if (k < 6) waits[k].run();
    }
    expect(said).toMatchObject([{ tone: 'stop', text: 'The server cannot be reached.' }]);
    expect(waits.map((w) => w.ms)).toEqual([1000, 2000, 4000, 8000, 15_000, 15_000, 15_000]);
    expect(record.can('undo')).toBe(false);
    server.fail = null;
    record.change('Neck', seam('s2', 20));
    await server.answer();
    await server.answer();
    expect(server.plan.seams.map((s) => s.id)).toEqual(['s1', 's2']);
    expect(record.state.saveState).toBe('saved');
  });

  it('makes what waits here on the plan of another window that was first', async () => {
    const { server, said, record } = opened();
    server.revision = 7;
    server.plan = parsePlan({ ...empty(), alike: 0.5, seams: [seam('s1', 99).seam] });
    record.change('Waist', seam('s1', 10));
    record.change('Neck', seam('s2', 20));
    // of this window's two seams the first, which got another id by now
    record.change('Lift the waist', { do: 'setSeam', id: 's1', set: { origin: [0, 0, 12] } });
    for (let k = 0; k < 5; k++) await server.answer();
    expect(said).toEqual([]);
    expect(record.state).toMatchObject({ saveState: 'saved', plan: { alike: 0.5 }, project: { revision: 10 } });
    expect(server.plan.seams.map((s) => (s as FlatSeam).origin[2])).toEqual([99, 12, 20]);
    expect(server.plan).toEqual(record.state.plan);
  });

  it('gives back what cannot be made on the plan of another window, with its words and the reason', async () => {
    const { server, said, record } = opened();
    record.change('Waist', seam('s1', 10));
    await server.answer();
    server.revision = 7;
    server.plan = parsePlan({ ...empty(), seams: [seam('s1', 50).seam] });
    record.change('Lift the waist', { do: 'setSeam', id: 's1', set: { origin: [0, 0, 12] } });
    record.change('Name it', { do: 'setSeam', id: 's1', set: { name: 'Waist' } });
    for (let k = 0; k < 3; k++) await server.answer();
    expect(said).toMatchObject([
      {
        tone: 'warn',
        text: '“Lift the waist” was taken back: the plan was changed elsewhere. The same was changed elsewhere meanwhile.',
      },
    ]);
    expect(server.plan.seams).toMatchObject([{ origin: [0, 0, 50], name: 'Waist' }]);
    said[0].action!.run();
    await server.answer();
    expect(server.plan.seams).toMatchObject([{ origin: [0, 0, 12], name: 'Waist' }]);
  });

  it('follows another window, and what waits here stays while its plan cannot be had', async () => {
    const { server, record } = opened();
    server.revision = 1;
    server.plan = parsePlan({ ...empty(), alike: 0.5 });
    record.hear({ revision: 1, name: 'Bell of the quay' });
    await server.answer();
    expect(record.state).toMatchObject({ plan: { alike: 0.5 }, project: { revision: 1, name: 'Bell' } });
    server.revision = 2;
    record.change('Waist', seam('s1', 10));
    await server.answer();
    server.fail = new Error('The server cannot be reached.');
    await server.answer();
    expect(record.state.plan.seams).toHaveLength(1);
    expect(record.state.saveState).toBe('unsaved');
  });

  it('says once how large a plan has become, and what fills it, and takes nothing that would not be kept', async () => {
    const { said, record } = opened();
    const log = (bytes: number) => ({
      do: 'set' as const,
      set: {
        log: Array.from({ length: bytes / 500 / 1024 }, (_, k) => ({
          at: new Date(k).toISOString(),
          pieces: Array.from({ length: 256 }, () => ({ piece: 'b1'.repeat(995), copy: 1 })),
          to: 'printed' as const,
        })),
      },
    });
    record.change('Note much', log(13e6));
    record.change('Note more', log(14e6));
    expect(said.map((s) => s.text)).toEqual([
      expect.stringMatching(/^The plan takes 1[23]\.\d of 16\.0 MB, most of it the log of the workshop\./),
    ]);
    const before = record.state.plan;
    record.change('Note it all', log(18e6));
    expect(said.at(-1)?.text).toMatch(/“Note it all” was not done. The plan would take 1[78]\.\d of 16\.0 MB/);
    expect(record.state.plan).toBe(before);
  });

  it('gives back what the server will never take, and sends the rest', async () => {
    const { server, said, record } = opened();
    server.fail = Object.assign(new Error('The plan is larger than 16 MB.'), { status: 413 });
    record.change('Waist', seam('s1', 10));
    record.change('Neck', seam('s2', 20));
    await server.answer();
    server.fail = null;
    await server.answer();
    expect(said).toMatchObject([{ tone: 'stop', text: '“Waist” was not done. The plan is larger than 16 MB.' }]);
    expect(record.state.saveState).toBe('saved');
    expect(server.plan.seams.map((s) => s.id)).toEqual(['s2']);
  });

  it('refuses a change in words, leaves the plan, and does it again on demand', async () => {
    const { said, record } = opened();
    const before = record.state.plan;
    expect(record.change('Move the waist', { do: 'setSeam', id: 's1', set: { enabled: false } }).size).toBe(0);
    expect(record.state.plan).toBe(before);
    expect(said[0].text).toBe('“Move the waist” was not done. The seam is no longer there.');
    record.change('Waist', seam('s1', 10));
    said[0].action!.run();
    expect(record.state.plan.seams[0].enabled).toBe(false);
  });

  it('steps back behind what still waits to be sent, and shows what was before', async () => {
    const { server, record } = opened();
    expect(record.can('undo')).toBe(false);
    record.change('Waist', seam('s1', 10));
    expect([record.can('undo'), record.can('redo')]).toEqual([true, false]);
    void record.step('undo');
    expect(server.asked.map((a) => a.what)).toEqual(['Waist']);
    await server.answer();
    expect(server.asked.at(-1)).toEqual({ what: 'undo', basedOn: 1 });
    await server.answer();
    expect(record.state).toMatchObject({ plan: { seams: [] }, saveState: 'saved' });
  });

  it('takes steps that were asked for quickly one after the other, each on the last', async () => {
    const { server, record } = opened();
    for (const z of [10, 20, 30]) record.change(`at ${z}`, seam(`s${z}`, z));
    for (let k = 0; k < 3; k++) void record.step('undo');
    for (let k = 0; k < 6; k++) await server.answer();
    expect(server.asked.map(({ what, basedOn }) => [what, basedOn])).toEqual([
      ['at 10', 0],
      ['at 20', 1],
      ['at 30', 2],
      ['undo', 3],
      ['undo', 4],
      ['undo', 5],
    ]);
    expect(record.state.saveState).toBe('saved');
  });

  it('makes no change on a plan that a step is about to take away, and offers it again', async () => {
    const { server, record, said } = opened();
    record.change('Waist', seam('s1', 10));
    void record.step('undo');
    await server.answer();
    record.change('Neck', seam('s2', 20));
    expect(said.at(-1)).toMatchObject({ tone: 'stop', text: expect.stringContaining('still under way') });
    await server.answer();
    expect(record.state.plan.seams).toEqual([]);
    said.at(-1)?.action?.run();
    expect(record.state.plan.seams.map((x) => x.id)).toEqual(['s2']);
  });

  it('says what kept a step from being taken, and does not try it again', async () => {
    const { server, record, said } = opened();
    record.change('Waist', seam('s1', 10));
    await server.answer();
    server.fail = Object.assign(new Error('The disk is full.'), { status: 422 });
    void record.step('undo');
    await server.answer();
    expect(said.at(-1)?.text).toBe('The disk is full.');
    expect(record.state).toMatchObject({ saveState: 'saved', plan: { seams: [{ id: 's1' }] } });
    server.fail = null;
    record.retry();
    expect(server.asked.filter((a) => a.what === 'undo')).toHaveLength(1);
  });

  it('keeps what tells pieces apart with the next change, but only of the plan it was computed for', async () => {
    const { server, record } = opened();
    const anchors = [{ key: 'b1/s1-#2', at: [1, 2, 3] as [number, number, number] }];
    const codes = [{ key: 'b1/s1-#2', letters: 'A', n: 2, name: 'lower', within: [], volume: 1 }];
    record.keepPiecesOf(empty(), { anchors, codes });
    record.change('Waist', seam('s1', 10));
    expect(server.asked[0].plan!.anchors).toEqual([]);
    record.keepPiecesOf(record.state.plan, { anchors, codes });
    record.change('Neck', seam('s2', 20));
    await server.answer();
    expect(server.asked[1].plan).toMatchObject({ anchors, codes });
  });

  it('leaves alone what a change itself says of what tells pieces apart, then and in the changes after it', async () => {
    const server = new Server();
    const record = new ProjectRecord(project(empty(), 0), server, () => {});
    const codes = [{ key: 'b1', letters: 'A', n: 3, name: 'whole', within: [], volume: 1 }];
    record.keepPiecesOf(record.state.plan, { anchors: [{ key: 'b1/s1-#2', at: [1, 2, 3] }], codes });
    const own = [{ key: 'b1/s2-#2', at: [4, 5, 6] as [number, number, number] }];
    record.change('Take a proposal', seam('s1', 10), { do: 'set', set: { anchors: own } });
    expect(record.state.plan).toMatchObject({ anchors: own, codes });
    record.change('Seat', seam('s2', 20));
    expect(record.state.plan.anchors).toEqual(own);
    await server.answer();
    await server.answer();
    expect(server.plan.anchors).toEqual(own);
  });

  it('is renamed at once where it is shown, and back again', async () => {
    const { server, said, record } = opened();
    let told = 0;
    const end = record.subscribe(() => told++);
    record.rename('Ebb bell');
    await server.answer();
    expect(record.state.project.name).toBe('Ebb bell');
    said[0].action!.run();
    await server.answer();
    expect(record.state.project.name).toBe('Bell');
    expect(told).toBe(2);
    end();
    record.rename('Quiet');
    await server.answer();
    expect(told).toBe(2);
  });
});

import type { Job } from '@gephyra/contract';
import { type Plan, parsePlan, type StepInput } from '@gephyra/core';
import { describe, expect, it } from 'vitest';
import type { ModelView } from '../engine/types.ts';
import { Shaper, type ShaperTools } from './shaper.ts';

const plan = (...recipe: StepInput[]): Plan =>
  parsePlan({
    version: 5,
    printer: { size: [200, 200, 200] },
    recipe: recipe.map((s, i) => ({ ...s, id: `r${i + 1}` })),
  });
const wall = (thickness: number): StepInput => ({ kind: 'wall', thickness });

/** Lets everything that waits for nothing else happen. */
const settle = async (): Promise<void> => {
  for (let k = 0; k < 20; k++) await Promise.resolve();
};

class Server implements ShaperTools {
  readonly started: string[] = [];
  readonly cancelled: string[] = [];
  readonly ends = new Map<string, { done(): void; fail(error: Error): void; tell(progress: number): void }>();
  refuse: Error | null = null;

  async start({ steps }: { steps: readonly { kind: string }[] }): Promise<Job> {
    if (this.refuse) throw this.refuse;
    const id = `job ${this.started.length + 1}`;
    this.started.push(steps.map((s) => s.kind).join());
    return { id } as Job;
  }

  follow(job: Job, changed: (job: Job) => void): Promise<Job> {
    return new Promise((resolve, reject) => {
      this.ends.set(job.id, {
        done: () => resolve(job),
        fail: reject,
        tell: (progress) => changed({ ...job, progress, what: 'Making the wall' }),
      });
    });
  }

  async cancel(job: string): Promise<void> {
    this.cancelled.push(job);
    this.ends.get(job)?.fail(Object.assign(new Error('It was cancelled.'), { code: 'cancelled' }));
  }

  async load(job: string): Promise<ModelView> {
    return { triangles: Number(job.split(' ')[1]) } as ModelView;
  }
}

function opened() {
  const server = new Server();
  return { server, shaper: new Shaper(server) };
}

describe('the model that a plan’s heavy steps make', () => {
  it('is made by a job, told on the way, and loaded', async () => {
    const { server, shaper } = opened();
    shaper.want(plan(wall(3)));
    expect(shaper.state.working).toEqual({ progress: 0, what: 'Reading the model' });
    await settle();
    server.ends.get('job 1')!.tell(0.4);
    expect(shaper.state.working).toEqual({ progress: 0.4, what: 'Making the wall' });
    server.ends.get('job 1')!.done();
    await settle();
    expect(shaper.state).toMatchObject({ model: { triangles: 1 }, working: null, failure: null });
  });

  it('is not made again for light steps, other ids or seams', async () => {
    const { server, shaper } = opened();
    shaper.want(plan(wall(3)));
    await settle();
    shaper.want(plan(wall(3), { kind: 'turn', axis: 'x', angle: 1 }));
    shaper.want(parsePlan({ ...plan(wall(3)), recipe: [{ ...wall(3), id: 'r9' }] }));
    await settle();
    expect(server.started).toEqual(['wall']);
  });

  it('of an older wish is given up: its job is cancelled, and a late reply not taken', async () => {
    const { server, shaper } = opened();
    shaper.want(plan(wall(3)));
    await settle();
    const late = server.ends.get('job 1')!;
    server.cancel = async (job) => void server.cancelled.push(job);
    shaper.want(plan(wall(4)));
    await settle();
    expect(server.cancelled).toEqual(['job 1']);
    late.done();
    await settle();
    expect(shaper.state.model).toBeNull();
    server.ends.get('job 2')!.done();
    await settle();
    expect(shaper.state.model).toMatchObject({ triangles: 2 });
  });

  it('is cancelled on demand, said so, and made after all when it is tried again', async () => {
    const { server, shaper } = opened();
    shaper.want(plan(wall(3)));
    await settle();
    shaper.cancel();
    await settle();
    expect(shaper.state).toMatchObject({ working: null, failure: 'The work on the model was stopped.' });
    shaper.retry();
    expect(shaper.state.failure).toBeNull();
    await settle();
    server.ends.get('job 2')!.done();
    await settle();
    expect(shaper.state.model).toMatchObject({ triangles: 2 });
  });

  it('that was cancelled before its job had a name is cancelled as soon as it has one', async () => {
    const { server, shaper } = opened();
    shaper.want(plan(wall(3)));
    shaper.cancel();
    await settle();
    expect(server.cancelled).toEqual(['job 1']);
  });

  it('stays that of before when it fails, with the reason', async () => {
    const { server, shaper } = opened();
    shaper.want(plan());
    await settle();
    server.ends.get('job 1')!.done();
    await settle();
    shaper.want(plan({ kind: 'hollow', thickness: 3 }));
    await settle();
    server.ends.get('job 2')!.fail(new Error('Horn is open, so it cannot be hollowed.'));
    await settle();
    expect(shaper.state).toMatchObject({
      model: { triangles: 1 },
      working: null,
      failure: 'Horn is open, so it cannot be hollowed.',
    });
    server.refuse = new Error('The server cannot be reached.');
    shaper.retry();
    await settle();
    expect(shaper.state.failure).toBe('The server cannot be reached.');
  });

  it('tells nobody any more once it is closed', async () => {
    const { server, shaper } = opened();
    let told = 0;
    shaper.subscribe(() => told++);
    shaper.want(plan(wall(3)));
    await settle();
    shaper.close();
    const before = told;
    await settle();
    expect(server.cancelled).toEqual(['job 1']);
    expect(told).toBe(before);
  });
});

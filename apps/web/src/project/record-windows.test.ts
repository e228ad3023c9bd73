import type { Act, Project, SavedProject } from '@gephyra/contract';
import { happened, type Plan, parsePlan } from '@gephyra/core';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { random } from '../../../../packages/core/testing/defects.ts';
import { runs } from '../../../../packages/core/testing/runs.ts';
import type { Changing } from './changes.ts';
import { ProjectRecord, type RecordServer } from './record.ts';

/** What is yet to happen, in an order that chance decides. */
class World {
  private readonly coming: (() => void)[] = [];
  constructor(readonly chance: () => number) {}

  soon<T>(work: () => T): Promise<T> {
    return new Promise((resolve, reject) => {
      this.coming.push(() => {
        try {
          resolve(work());
        } catch (error) {
          reject(error);
        }
      });
    });
  }

  /** One thing happens, with all that follows at once; false when there is none. */
  async step(): Promise<boolean> {
    const [next] = this.coming.splice(Math.floor(this.chance() * this.coming.length), 1);
    next?.();
    for (let k = 0; k < 20; k++) await Promise.resolve();
    return next !== undefined;
  }
}

interface Revision {
  readonly parent: number | null;
  readonly label: string;
  readonly plan: Plan;
}

/** The server's side of saving, as its own tests hold it: each gesture once, only on the plan that it was made on. */
class Server {
  head = 0;
  readonly revisions: Revision[];
  private readonly done = new Set<string>();
  readonly windows: ((news: { revision: number; name: string }) => void)[] = [];

  constructor(
    first: Plan,
    private readonly world: World,
  ) {
    this.revisions = [{ parent: null, label: 'Import', plan: first }];
  }

  project(): Project {
    const { parent, label, plan } = this.revisions[this.head];
    const redo = this.revisions.findLast((r) => r.parent === this.head)?.label ?? null;
    const undo = parent === null ? null : label;
    const rest = { id: 'p1', name: 'Bell', updatedAt: '2026-12-01T10:00:00Z' };
    return { ...rest, revision: this.head, undo, redo, plan } as unknown as Project;
  }

  act({ gesture, basedOn }: Act, to: () => number): boolean {
    if (this.done.has(gesture)) return false;
    if (basedOn !== this.head)
      throw Object.assign(new Error('Changed elsewhere.'), { code: 'plan.stale', status: 409 });
    this.head = to();
    this.done.add(gesture);
    for (const tell of this.windows) void this.world.soon(() => tell({ revision: this.head, name: 'Bell' }));
    return true;
  }

  save(sent: Act, label: string, plan: Plan): SavedProject {
    const fresh = this.act(sent, () => this.revisions.push({ parent: this.head, label, plan: parsePlan(plan) }) - 1);
    return { ...this.project(), ...(fresh && { plan: null }) };
  }

  step(way: 'undo' | 'redo', sent: Act): Project {
    this.act(sent, () => {
      const to =
        way === 'undo'
          ? (this.revisions[this.head].parent ?? -1)
          : this.revisions.findLastIndex((r) => r.parent === this.head);
      if (to < 0) throw Object.assign(new Error('There is nothing.'), { code: 'undo.nothing', status: 422 });
      return to;
    });
    return this.project();
  }
}

/** What a window sees of the server: requests and answers get lost, are doubled, and come late. */
function through(world: World, server: Server): RecordServer {
  const lost = (): never => {
    throw Object.assign(new Error('The server does not answer.'), { code: 'offline', status: 0 });
  };
  const ask = async <T>(work: () => T): Promise<T> => {
    const luck = world.chance();
    if (luck < 0.1) await world.soon(lost);
    if (luck > 0.9) void world.soon(work).catch(() => {});
    const answer = await world.soon(work);
    if (luck < 0.25) await world.soon(lost);
    return world.soon(() => answer);
  };
  return {
    project: () => ask(() => server.project()),
    savePlan: (_, sent, label, plan) => ask(() => server.save(sent, label, plan)),
    undo: (_, sent) => ask(() => server.step('undo', sent)),
    redo: (_, sent) => ask(() => server.step('redo', sent)),
    rename: async (_, name) => ({ name }),
  };
}

const start = parsePlan({ version: 5, printer: { size: [220, 220, 250] }, measures: [{ name: 'Head girth' }] });

/** A gesture as a maker makes it on a plan, and the only part of the plan that it may touch. */
function gesture(plan: Plan, n: number, chance: () => number): { touches: string[]; changes: Changing[] } {
  const some = <T>(list: readonly T[]): T | undefined => list[Math.floor(chance() * list.length)];
  const seam = some(plan.seams);
  const id = `s${plan.seams.length + 1}`;
  const flat = { id, kind: 'flat' as const, origin: [0, 0, n] as [number, number, number], normal: [0, 0, 1] as const };
  switch (Math.floor(chance() * 8)) {
    case 0:
      return { touches: ['log'], changes: [(now) => happened(now, entry(n))] };
    case 1:
      return {
        touches: ['measures'],
        changes: [{ do: 'set', set: { measures: [...plan.measures, { name: `Girth ${n}` }] } }],
      };
    case 2:
      return { touches: ['pieces'], changes: [{ do: 'setPiece', key: `b1/${seam?.id}+`, set: { name: `Rim ${n}` } }] };
    case 3:
      return {
        touches: ['printer'],
        changes: [(now) => ({ do: 'set', set: { printer: { ...now.printer, margin: 3.01 + n / 9 } } })],
      };
    case 4:
      if (seam) return { touches: ['seams'], changes: [{ do: 'setSeam', id: seam.id, set: { origin: [0, n, n] } }] };
      break;
    case 5:
      if (seam) return { touches: ['seams', 'joints'], changes: [{ do: 'removeSeam', id: seam.id }] };
      break;
    case 6: {
      const pin = { id: `j${n}`, kind: 'pin' as const, seam: seam?.id ?? id, at: [0, n] as [number, number] };
      if (seam) return { touches: ['joints'], changes: [{ do: 'addJoint', joint: { ...pin, diameter: 6, depth: 6 } }] };
      break;
    }
    default:
  }
  return { touches: ['seams'], changes: [{ do: 'addSeam', seam: { ...flat, normal: [0, 0, 1] } }] };
}

const entry = (n: number) => ({
  at: new Date(n).toISOString(),
  pieces: [{ piece: 'b1', copy: 1 }],
  to: 'printed' as const,
});

describe('two windows on one project', () => {
  it('lose and double nothing, whatever becomes of requests and answers: what was done is in the plan or was given back', async () => {
    let [all, taken] = [0, 0];
    await fc.assert(
      fc.asyncProperty(fc.integer(), async (seed) => {
        const chance = random(seed);
        const world = new World(chance);
        const server = new Server(start, world);
        const said: string[] = [];
        const records = [1, 2].map(() => {
          const wait = (run: () => void): (() => void) => {
            let dropped = false;
            void world.soon(() => !dropped && run());
            return () => {
              dropped = true;
            };
          };
          const record = new ProjectRecord(server.project(), through(world, server), (s) => said.push(s.text), wait);
          server.windows.push(record.hear);
          return record;
        });
        const made = new Map<string, readonly string[]>();
        for (let n = 1; n <= 50; n++) {
          const record = records[Math.floor(chance() * 2)];
          const luck = chance();
          if (luck < 0.08) void record.step(luck < 0.05 ? 'undo' : 'redo');
          else {
            const { touches, changes } = gesture(record.state.plan, n, chance);
            made.set(`Gesture ${n}.`, touches);
            record.change(`Gesture ${n}.`, ...changes);
          }
          for (let k = chance() * 6; k > 0; k--) await world.step();
        }
        for (let k = 0; k < 20_000 && (await world.step()); k++);
        for (const { state } of records) {
          expect(state.saveState).toBe('saved');
          expect(state.plan).toEqual(server.project().plan);
          expect(state.project.revision).toBe(server.head);
        }
        for (const [label, touches] of made) {
          const kept = server.revisions.filter((r) => r.label === label);
          const back = said.filter((s) => s.includes(`“${label}”`));
          expect([label, kept.length + Math.min(1, back.length)]).toEqual([label, 1]);
          all++;
          if (kept.length === 0) continue;
          taken++;
          const before = server.revisions[kept[0].parent!].plan;
          for (const field of Object.keys(start) as (keyof Plan)[]) {
            if (!touches.includes(field))
              expect([label, field, kept[0].plan[field]]).toEqual([label, field, before[field]]);
          }
          expect(kept[0].plan).not.toEqual(before);
          if (touches[0] === 'log') expect(kept[0].plan.log!.slice(0, -1)).toEqual(before.log ?? []);
        }
      }),
      { numRuns: runs(20) },
    );
    // most are made on the other's plan, not given back
    expect(taken / all).toBeGreaterThan(0.8);
  });
});

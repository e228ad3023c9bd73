import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { random } from '../../testing/defects.ts';
import { fallback } from '../../testing/judges.ts';
import { runs } from '../../testing/runs.ts';
import { blob, box, torus } from '../../testing/shapes.ts';
import { type Body, bodiesOf } from '../body/bodies.ts';
import { closedMesh } from '../cut/index.ts';
import { applyChange } from '../document/change.ts';
import { type Plan, type PlanInput, parsePlan } from '../document/schema.ts';
import { readStl, writeStlBinary } from '../formats/stl.ts';
import { buildBlocks, type IndexedMesh, insideSolid, type Vec3 } from '../mesh/index.ts';
import { EvalCache } from './eval-cache.ts';
import { evaluate } from './evaluate.ts';
import { codesWritten, insideOf, notesByKeys } from './ledger.ts';
import type { Evaluation, Piece } from './model.ts';

const printer = { name: 'Desktop 220', size: [220, 220, 250] as [number, number, number] };
const bodiesFrom = (mesh: IndexedMesh): Body[] => [...bodiesOf(readStl(writeStlBinary(mesh, 'x')), 'Anchor').bodies];
const flat = (id: string, origin: Vec3, normal: Vec3) => ({
  id,
  kind: 'flat' as const,
  origin: [...origin] as [number, number, number],
  normal: [...normal] as [number, number, number],
});

/** A project as it is edited: every change is made on what was seen before, and keeps what that knew of its pieces. */
class Project {
  readonly cache = new EvalCache();
  seen: Evaluation;
  constructor(
    readonly bodies: readonly Body[],
    public plan: Plan,
  ) {
    this.seen = this.evaluated();
  }

  private evaluated = (): Evaluation => evaluate(this.plan, this.bodies, { fallback, cache: this.cache });

  edit(change: (plan: Plan) => Plan): this {
    const { anchors, codes } = this.seen;
    this.plan = parsePlan({ ...change(this.plan), anchors, codes });
    this.seen = this.evaluated();
    return this;
  }

  seam = (id: string, origin: Vec3, normal: Vec3): this =>
    this.edit((plan) => applyChange(plan, { do: 'addSeam', seam: flat(id, origin, normal) }));

  print = (piece: string): this =>
    this.edit((plan) => {
      const entry = { at: '2026-12-01T10:00:00Z', pieces: [{ piece, copy: 1 }], to: 'printed' as const };
      return applyChange(plan, { do: 'set', set: { log: [...(plan.log ?? []), entry] } });
    });

  without = (id: string): this => this.edit((plan) => applyChange(plan, { do: 'removeSeam', id }));
  codes = (): string[] => this.seen.pieces.map((p) => p.code).sort();
  at = (point: Vec3): Piece => this.seen.pieces.find((p) => holds(p, point))!;
}

const samplesOf = (solid: Piece['solid']) => insideOf(solid).points;
const holds = ({ solid }: Piece, point: Vec3): boolean => insideSolid(buildBlocks(closedMesh(solid, () => 0)), point);
const project = (mesh: IndexedMesh, plan: Partial<PlanInput> = {}): Project =>
  new Project(bodiesFrom(mesh), parsePlan({ version: 5, printer, ...plan }));
const bar = (): Project => project(box([0, 0, 0], [300, 40, 40]));

describe('a code', () => {
  it('is given by place when a whole body is parted', () => {
    const p = bar();
    expect(p.codes()).toEqual(['A1']);
    p.edit((plan) => {
      const seams = [50, 100, 180].map((x, i) => flat(`s${i + 1}`, [x, 20, 20], [1, 0, 0]));
      return applyChange(plan, { do: 'addSeams', seams });
    });
    expect([20, 70, 150, 250].map((x) => p.at([x, 20, 20]).code)).toEqual(['A1', 'A2', 'A3', 'A4']);
  });

  it('stays with a piece, through cuts beside it', () => {
    const p = bar().seam('s1', [100, 20, 20], [1, 0, 0]).seam('s2', [200, 20, 20], [1, 0, 0]);
    const [left, middle, right] = [50, 150, 250].map((x) => p.at([x, 20, 20]).code);
    p.seam('s3', [40, 20, 20], [1, 0, 0]).seam('s4', [280, 20, 10], [1, 0, 0]);
    expect(p.at([150, 20, 20]).code).toBe(middle);
    // the larger part of what is cut keeps it
    expect(p.at([70, 20, 20]).code).toBe(left);
    expect(p.at([250, 20, 20]).code).toBe(right);
    expect(new Set(p.codes()).size).toBe(5);
  });

  it('stays when a seam is moved, and is the larger piece’s when two become one', () => {
    const p = bar().seam('s1', [100, 20, 20], [1, 0, 0]);
    const [left, right] = [p.at([50, 20, 20]).code, p.at([250, 20, 20]).code];
    p.edit((plan) => applyChange(plan, { do: 'setSeam', id: 's1', set: { origin: [180, 20, 20] } }));
    expect([p.at([50, 20, 20]).code, p.at([250, 20, 20]).code]).toEqual([left, right]);
    p.seam('s2', [20, 20, 20], [1, 0, 0]).without('s1');
    expect(p.at([250, 20, 20]).code).toBe(left);
  });

  it('of a piece that went is free again, but not while something printed or exported carries it', () => {
    const cut = (): Project => bar().seam('s1', [100, 20, 20], [1, 0, 0]);
    const free = cut();
    const small = free.at([50, 20, 20]);
    free.without('s1').edit((plan) => plan);
    expect(free.seam('s2', [200, 20, 20], [1, 0, 0]).codes()).toEqual(['A1', 'A2']);
    const printed = cut().print(small.key).without('s1').seam('s2', [290, 20, 20], [1, 0, 0]);
    expect(printed.codes()).not.toContain(small.code);
    const out = cut();
    out.edit((plan) => plan);
    const written = out.seen.codes.filter((c) => c.key === small.key);
    // what was seen since stays as it is
    const later = out.seen.codes.map((c) => ({ ...c, name: 'later' }));
    expect(codesWritten(later, written).map((c) => [c.name, c.out])).toEqual(
      later.map((c) => ['later', c.key === small.key ? true : undefined]),
    );
    expect(codesWritten([], written)).toEqual(written.map((c) => ({ ...c, out: true })));
    out.seen = { ...out.seen, codes: codesWritten(out.seen.codes, written) };
    expect(out.without('s1').seam('s2', [290, 20, 20], [1, 0, 0]).codes()).not.toContain(small.code);
  });

  it('begins with what the maker says, and otherwise with letters that stay the body’s', () => {
    const two = [box([0, 0, 0], [100, 40, 40]), box([0, 100, 0], [100, 140, 40])].flatMap(bodiesFrom);
    const named = two.map((b, i) => ({ ...b, id: `b${i + 1}` }));
    const p = new Project(named, parsePlan({ version: 5, printer }));
    expect(p.codes()).toEqual(['A1', 'B1']);
    p.edit((plan) => plan);
    const left = new Project([named[1]], p.plan);
    expect(left.codes()).toEqual(['B1']);
    p.edit((plan) => applyChange(plan, { do: 'setBody', id: 'b2', set: { code: 'RAIL' } }));
    expect(p.codes()).toEqual(['A1', 'RAIL1']);
    // its numbers go on
    const seam = { ...flat('s1', [50, 120, 20], [1, 0, 0]), scope: ['b2'] };
    p.edit((plan) => applyChange(plan, { do: 'addSeam', seam }));
    p.edit((plan) =>
      applyChange(plan, { do: 'addSeam', seam: { ...seam, id: 's2', origin: [20, 120, 20], scope: ['b2/s1-'] } }),
    );
    expect(p.codes()).toEqual(['A1', 'RAIL1', 'RAIL2', 'RAIL3']);
  });

  it('of a plan from before there was a ledger is the one that it showed', () => {
    const seams = [flat('s1', [100, 20, 20], [1, 0, 0]), flat('s2', [200, 20, 20], [1, 0, 0])];
    const p = project(box([0, 0, 0], [300, 40, 40]), { seams });
    expect([50, 150, 250].map((x) => p.at([x, 20, 20]).code)).toEqual(['A1', 'A2', 'A3']);
  });
});

describe('a name and what was said of a piece', () => {
  it('stay through unrelated cuts', () => {
    const p = bar().seam('s1', [100, 20, 20], [1, 0, 0]).seam('s2', [200, 20, 20], [1, 0, 0]);
    expect(p.at([150, 20, 20]).name).toBe('middle');
    const scope = [p.at([250, 20, 20]).key];
    p.edit((plan) => applyChange(plan, { do: 'addSeam', seam: { ...flat('s3', [250, 20, 20], [0, 1, 0]), scope } }));
    expect(p.at([150, 20, 20]).name).toBe('middle');
    expect(new Set(p.seen.pieces.map((x) => x.name)).size).toBe(4);
  });

  it('goes on with the larger part', () => {
    const p = bar().seam('s1', [100, 20, 20], [1, 0, 0]);
    const { key } = p.at([250, 20, 20]);
    p.edit((plan) => applyChange(plan, { do: 'setPiece', key, set: { name: 'Shank' } }));
    p.seam('s2', [150, 20, 20], [1, 0, 0]);
    expect(p.at([250, 20, 20]).name).toBe('Shank');
    expect(p.at([120, 20, 20]).name).not.toBe('Shank');
    // with all that it says, under the key that the piece has now
    const now = p.at([250, 20, 20]).key;
    expect(notesByKeys(p.plan.pieces, p.seen.codes).find((n) => n.key === now)).toMatchObject({ name: 'Shank' });
    expect(notesByKeys(p.plan.pieces, p.seen.codes)).toHaveLength(2);
  });
});

describe('points that tell a piece again', () => {
  it('lie inside, and as many in a part as it has of the volume', () => {
    for (const mesh of [box([0, 0, 0], [300, 40, 40]), torus(60, 48, 24, () => 12), blob(90, 60, 200, () => 70)]) {
      const [whole] = project(mesh).seen.pieces;
      const points = samplesOf(whole.solid);
      expect(points).toHaveLength(12);
      expect(points.every((at) => holds(whole, at))).toBe(true);
    }
    expect(insideOf(project(box([0, 0, 0], [300, 40, 40])).seen.pieces[0].solid).volume).toBeCloseTo(480_000, 0);
    const third = samplesOf(project(box([0, 0, 0], [300, 40, 40])).seen.pieces[0].solid).filter((at) => at[0] < 100);
    expect(third.length).toBeGreaterThanOrEqual(2);
    expect(third.length).toBeLessThanOrEqual(6);
  });
});

describe('ten edits of any kind', () => {
  it('leave every code with what it was given to, and give none twice', () => {
    fc.assert(
      fc.property(fc.integer(), (seed) => {
        const next = random(seed);
        const p = project(blob(60, 66, 240, (a, z) => 60 + 8 * Math.sin(3 * a + 2 * z)));
        let last = p.seen;
        let id = 0;
        for (let k = 0; k < 10; k++) {
          const some = p.plan.seams[Math.floor(next() * p.plan.seams.length)];
          const spot = (): [number, number, number] => [80 * (next() - 0.5), 80 * (next() - 0.5), 200 * (next() - 0.5)];
          const kind = next();
          const piece = p.seen.pieces[Math.floor(next() * p.seen.pieces.length)];
          if (kind < 0.2 && some) p.without(some.id);
          else if (kind < 0.35 && some) {
            p.edit((plan) => applyChange(plan, { do: 'setSeam', id: some.id, set: { origin: spot() } }));
          } else if (kind < 0.5) p.print(piece.key);
          else p.seam(`t${++id}`, spot(), [next() - 0.5, next() - 0.5, next() - 0.5]);
          const codes = p.codes();
          expect([seed, k, new Set(codes).size]).toEqual([seed, k, codes.length]);
          // a body that was whole had no pieces yet
          const whole = last.pieces.length === 1 && last.pieces[0].key === 'b1' && !p.plan.log;
          const before = new Map(whole ? [] : last.pieces.map((x) => [x.code, x]));
          for (const now of p.seen.pieces) {
            const was = before.get(now.code);
            // by its key, or by what it shares with the piece that had the code
            if (was && was.key !== now.key) {
              expect([seed, k, samplesOf(was.solid).some((at) => holds(now, at))]).toEqual([seed, k, true]);
            }
          }
          const kept = new Set(last.pieces.map((x) => x.code));
          for (const was of whole ? [] : last.pieces) {
            if (codes.includes(was.code)) continue;
            // it is gone only where all of it went to pieces that had codes of their own
            const homes = samplesOf(was.solid).flatMap((at) => p.seen.pieces.filter((now) => holds(now, at)));
            expect([seed, k, homes.every((now) => kept.has(now.code))]).toEqual([seed, k, true]);
          }
          last = p.seen;
        }
      }),
      { numRuns: runs(7) },
    );
  });
});

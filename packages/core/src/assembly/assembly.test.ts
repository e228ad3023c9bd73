import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { kernel, meshOfSolid } from '../../testing/judges.ts';
import { checked, jointed, judged, orderOf } from '../../testing/orders.ts';
import { anySeam, cutBy, flat, numbered } from '../../testing/plans.ts';
import { runs } from '../../testing/runs.ts';
import { box, together } from '../../testing/shapes.ts';
import { type PlanInput, parsePlan } from '../document/index.ts';
import { cross, type IndexedMesh, sub, type Vec3 } from '../mesh/index.ts';
import { toKernel } from '../solid/index.ts';
import { codesOf, comesFrom, needsOf, offsetsAt, partMoved, stepMoved, stepWords, writtenOrder } from './index.ts';
import { meets, seenAlong } from './sweep.ts';

const swept = (mesh: IndexedMesh) => ({ mesh, of: new Int32Array(mesh.tags.length).fill(-1) });
const boxAt = (x: number, y: number, z: number, size: Vec3 = [10, 10, 10]) =>
  box([x, y, z], [x + size[0], y + size[1], z + size[2]]);

const three = (min: number, max: number): fc.Arbitrary<Vec3> => {
  const one = fc.integer({ min, max });
  return fc.tuple(one, one, one);
};

describe('sweeping', () => {
  it('finds what lies ahead and covers it, at the way there is, and nothing beside or behind', () => {
    const way: Vec3 = [1, 0, 0];
    const a = seenAlong(swept(boxAt(0, 0, 0)), way);
    const at = (x: number, y: number): number | null => meets(a, seenAlong(swept(boxAt(x, y, 0)), way), false);
    expect(at(25, 0)).toBeCloseTo(15, 9);
    expect(at(25, 9.9)).toBeCloseTo(15, 9);
    expect(at(25, 10)).toBeNull();
    expect(at(-25, 0)).toBeNull();
    expect(at(0, 10)).toBeNull();
  });

  it('is the same question from either side, and agrees with the kernel about boxes anywhere', () => {
    const place = three(-30, 30);
    const size = three(2, 20);
    fc.assert(
      fc.property(place, size, place, ([x, y, z], s, w) => {
        fc.pre(Math.hypot(...w) > 0.5);
        const way = w.map((c) => c / Math.hypot(...w)) as unknown as Vec3;
        const still = boxAt(0, 0, 0);
        const other = boxAt(x, y, z, s);
        const one = toKernel(kernel, still);
        const two = toKernel(kernel, other);
        fc.pre(one.intersect(two).volume() === 0);
        // swept by itself: the hull of where it is and where it ends
        const path = kernel.Manifold.hull([one, one.translate(way.map((c) => c * 200) as [number, number, number])]);
        const common = path.intersect(two).volume();
        fc.pre(common === 0 || common > 2);
        const back = way.map((c) => -c) as unknown as Vec3;
        const found = meets(seenAlong(swept(still), way), seenAlong(swept(other), way), true) !== null;
        expect(found).toBe(common > 0);
        expect(meets(seenAlong(swept(other), back), seenAlong(swept(still), back), true) !== null).toBe(found);
      }),
      { numRuns: runs(100) },
    );
  });
});

describe('orders of joining', () => {
  it('join every piece once, and are free of collisions as the kernel sees it, joints included', () => {
    fc.assert(
      fc.property(fc.array(anySeam(60), { minLength: 1, maxLength: 4 }), (found) => {
        const planes = numbered(found.filter((s) => s.kind === 'flat' && !('regions' in s)));
        fc.pre(planes.length > 0);
        const e = jointed(box([-90, -70, -60], [90, 70, 60]), planes);
        const { steps, locked } = orderOf(e);
        expect(locked).toEqual([]);
        const joined = steps.flatMap((s) => s.parts.flatMap((p) => ('piece' in p ? [p.piece] : [])));
        expect(joined.sort()).toEqual(e.pieces.map((p) => p.key).sort());
        const assembly = checked(e, [...steps]);
        expect(assembly.findings).toEqual([]);
        expect(assembly.steps.at(-1)!.parts.flat().length).toBe(e.pieces.length);
        for (const { common, allowed } of judged(e, assembly)) expect(common).toBeLessThan(allowed);
      }),
      { numRuns: runs(6) },
    );
  });

  it('join pairs first: a row of eight is three levels deep', () => {
    const seams = [1, 2, 3, 4, 5, 6, 7].map((i) => flat(`s${i}`, [i * 50, 0, 0], [1, 0, 0]));
    const { steps } = orderOf(cutBy(box([0, -20, -20], [400, 20, 20]), seams));
    expect(steps.map((s) => s.parts.filter((p) => 'piece' in p).length)).toEqual([2, 2, 2, 2, 0, 0, 0]);
  });

  it('find a way that is no face’s normal: a wedge that sits in its groove', () => {
    const wedge = kernel.Manifold.hull(
      [-40, 40].flatMap((y): [number, number, number][] => [
        [-20, y, 40],
        [20, y, 40],
        [0, y, 10],
      ]),
    );
    const block = toKernel(kernel, box([-40, -40, 0], [40, 40, 40])).subtract(wedge);
    const e = cutBy(together(meshOfSolid(block), meshOfSolid(wedge)), []);
    expect(e.faces).toHaveLength(2);
    const { steps, locked } = orderOf(e);
    expect(locked).toEqual([]);
    expect(checked(e, [...steps]).steps.map((s) => s.blockers)).toEqual([[]]);
  });

  it('bring a tongue in from behind its hook, and tell of the hook when it is to be lifted out', () => {
    const hook = kernel.Manifold.union([
      toKernel(kernel, box([0, 0, 0], [60, 30, 10])),
      toKernel(kernel, box([0, 0, 5], [10, 30, 40])),
      toKernel(kernel, box([5, 0, 30], [40, 30, 40])),
    ]);
    const e = cutBy(together(meshOfSolid(hook), box([10, 0, 10], [50, 30, 30])), []);
    const [tongue, holds] = [...e.pieces].sort((a, b) => a.volume - b.volume).map((p) => p.key);
    const { steps, locked } = orderOf(e);
    expect(locked).toEqual([]);
    expect(checked(e, [...steps]).findings).toEqual([]);
    const lifted: PlanInput['order'] = [{ id: 'o1', parts: [{ piece: holds }, { piece: tongue }], way: [0, 0, -1] }];
    const blocked = checked(e, lifted);
    expect(blocked.steps[0].blockers.map((b) => [b.comes, b.stays])).toContainEqual([tongue, holds]);
    expect(blocked.findings.map((f) => f.code)).toEqual(['order.blocked']);
  });

  it('name two pieces that lock each other: a block in a chest that is closed all round', () => {
    const e = cutBy(together(box([11, 11, 10], [49, 49, 30]), closedRound()), []);
    const { locked } = orderOf(e);
    expect(locked).toHaveLength(1);
    expect([...locked[0].pair].sort()).toEqual(e.pieces.map((p) => p.key).sort());
    const { findings } = checked(e, undefined);
    expect(findings.map((f) => f.code)).toContain('order.blocked');
  });
});

describe('orders changed by hand', () => {
  const seams = [1, 2, 3, 4, 5].map((i) => flat(`s${i}`, [i * 50, 0, 0], [1, 0, 0]));
  const row = cutBy(box([0, -20, -20], [300, 20, 20]), seams);
  const keys = row.pieces.map((p) => p.key).sort();

  it('are the default ones written down when nothing was said, and then give the same steps', () => {
    const plain = checked(row, undefined);
    const written = writtenOrder(row.context.plan, plain.steps);
    expect(plain.steps.every((s) => s.id === null)).toBe(true);
    const again = checked(row, written);
    expect(again.steps.map((s) => s.parts)).toEqual(plain.steps.map((s) => s.parts));
    expect(again.steps.every((s) => s.id !== null)).toBe(true);
  });

  it('join every piece exactly once whatever is moved where, and stay orders that a plan takes', () => {
    fc.assert(
      fc.property(fc.array(fc.tuple(fc.nat(), fc.nat(), fc.nat()), { minLength: 1, maxLength: 8 }), (moves) => {
        let order = [...orderOf(row).steps];
        for (const [a, b, c] of moves) {
          const step = order[a % order.length];
          const part = step.parts[b % step.parts.length];
          const after = order[c % order.length];
          order = partMoved(order, part, after.id) ?? stepMoved(order, step.id, c % order.length);
          const { order: kept } = parsePlan({ ...row.context.plan, order });
          const joined = kept!.flatMap((s) => s.parts.flatMap((p) => ('piece' in p ? [p.piece] : [])));
          expect(joined.sort()).toEqual(keys);
          const all = checked(row, order);
          expect(all.steps.at(-1)!.parts.flat().sort()).toEqual(keys);
        }
      }),
      { numRuns: runs(40) },
    );
  });

  it('tell of a piece that cannot come any more, by what it meets, and after how many mm', () => {
    const bar = cutBy(box([0, 0, 0], [90, 30, 30]), [
      flat('s1', [30, 0, 0], [1, 0, 0]),
      flat('s2', [60, 0, 0], [1, 0, 0]),
    ]);
    const [left, middle, right] = [...bar.pieces].sort((p, q) => p.box.min[0] - q.box.min[0]).map((p) => p.key);
    const order: PlanInput['order'] = [
      { id: 'o1', parts: [{ piece: left }, { piece: middle }], way: [0, 0, 1] },
      { id: 'o2', parts: [{ step: 'o1' }, { piece: right }], way: [-1, 0, 0] },
    ];
    const { steps, findings } = checked(bar, order);
    expect(steps.map((s) => s.blockers.length)).toEqual([0, 2]);
    expect(steps[1].blockers.map((b) => b.hold.by).sort()).toEqual(['face', 'shape']);
    expect(steps[1].blockers.find((b) => b.stays === left)!.hold).toMatchObject({ by: 'shape', after: 30 });
    expect(findings[0].message).toMatch(/^Step 2: .* cannot come to /);
  });
});

describe('words', () => {
  it('say where a part comes from and what it is', () => {
    expect(comesFrom([0, 0, 1])).toBe('from above');
    expect(comesFrom([-1, 0, 0])).toBe('from the left');
    expect(comesFrom([0, -1, 0.2])).toBe('from the front, leaning 11°');
    expect(stepWords([['a'], ['b', 'c']], (k) => k.toUpperCase())).toBe('B and C to A');
    expect(codesOf(['a', 'b', 'c', 'd'], (k) => k.toUpperCase())).toBe('A, B and 2 more');
  });
});

describe('the moment of the build', () => {
  const steps = [
    { parts: [['a'], ['b']], out: [1, 0, 0] as const, travel: 40 },
    { parts: [['c'], ['a', 'b']], out: [0, 0, 1] as const, travel: 1000 },
  ];
  const at = (moment: number) => offsetsAt(steps, ['a', 'b', 'c'], moment, 1000);

  it('stands parts off along the ways of the steps that are not done, far enough to be seen, and lets them come', () => {
    expect(at(0)).toEqual(
      new Map([
        ['a', [0, 0, 150]],
        ['b', [60, 0, 150]],
        ['c', [0, 0, 0]],
      ]),
    );
    expect(at(0.5).get('b')).toEqual([30, 0, 150]);
    expect(at(1).get('b')).toEqual([0, 0, 150]);
    expect([...at(2).values()].every((o) => o.every((x) => x === 0))).toBe(true);
  });
});

describe('taking apart', () => {
  it('is putting together the other way round: what a step has joined moves as one from then on', () => {
    fc.assert(
      fc.property(fc.array(anySeam(60), { minLength: 2, maxLength: 4 }), (found) => {
        const planes = numbered(found.filter((s) => s.kind === 'flat' && !('regions' in s)));
        fc.pre(planes.length > 1);
        const e = cutBy(box([-90, -70, -60], [90, 70, 60]), planes);
        const { steps } = checked(e, [...orderOf(e).steps]);
        const keys = e.pieces.map((p) => p.key);
        const at = (moment: number) => offsetsAt(steps, keys, moment, 300);
        steps.forEach(({ parts, out }, k) => {
          const [before, after] = [at(k), at(k + 1)];
          const joined = parts.flat();
          const [first] = joined;
          for (const key of joined) expect(after.get(key)).toEqual(after.get(first));
          // apart again, the coming part stands off along its way, and nothing else has moved against the rest
          const stays = parts.slice(0, -1).flat();
          const off = parts.at(-1)!.map((key) => sub(before.get(key)!, before.get(stays[0])!));
          for (const d of off) expect(Math.hypot(...cross(d, out))).toBeLessThan(1e-6 * Math.max(1, Math.hypot(...d)));
          expect(Math.hypot(...off[0])).toBeGreaterThan(1);
        });
        expect([...at(steps.length).values()].every((o) => o.every((x) => Math.abs(x) < 1e-9))).toBe(true);
      }),
      { numRuns: runs(15) },
    );
  });
});

describe('what a step needs', () => {
  it('is told of its own joints, and of loose parts by its share of them', () => {
    const joints = (['dowel', 'dowel', 'key', 'pin'] as const).map((kind, i) => ({ id: `j${i + 1}`, kind }));
    const loose = [
      { what: 'wooden dowel 6', length: 40, joints: ['j1', 'j2'], count: 2 },
      { what: 'magnet 8', length: null, joints: ['j9'], count: 2 },
    ];
    expect(needsOf({ joints: ['j1', 'j3'] }, joints, loose)).toEqual({
      kinds: [
        { kind: 'dowel', count: 1 },
        { kind: 'key', count: 1 },
      ],
      loose: [{ what: 'wooden dowel 6', length: 40, count: 1 }],
    });
  });
});

/** A chest without an opening round a block of 38 × 38 × 20 that lies on its floor. */
function closedRound(): IndexedMesh {
  const outer = box([0, 0, 0], [60, 60, 40]);
  const inner = box([10, 10, 10], [50, 50, 30]);
  return together(outer, { ...inner, triangles: inner.triangles.slice().reverse() });
}

it('closes what comes apart again as its joints do, and glues the rest, when nothing is said', () => {
  const seams = [20, 40, 60].map((x, i) => flat(`s${i + 1}`, [x, 0, 0], [1, 0, 0]));
  const at: [number, number] = [0, 0];
  const e = cutBy(box([0, -20, -20], [80, 20, 20]), seams, {
    joints: [
      { id: 'j1', kind: 'pin', seam: 's1', at, diameter: 6, depth: 6 },
      { id: 'j2', kind: 'snap', seam: 's2', at, diameter: 8, depth: 14 },
      { id: 'j3', kind: 'magnet', seam: 's3', at, diameter: 6, thickness: 2 },
    ],
  });
  const { steps } = checked(e, undefined);
  const by = new Map(steps.map((s) => [s.joints[0], s.closing]));
  expect([...by].sort()).toEqual([
    ['j1', 'glue'],
    ['j2', 'loose'],
    ['j3', 'magnet'],
  ]);
  const proposed = orderOf(e);
  expect(proposed.steps.map((s) => s.closing).sort()).toEqual(['glue', 'loose', 'magnet']);
});

import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { halvesIn } from '../../testing/joints.ts';
import { fallback, judge, kernel, thickness } from '../../testing/judges.ts';
import { runs } from '../../testing/runs.ts';
import { blob, box, together, torus } from '../../testing/shapes.ts';
import { type Body, bodiesOf } from '../body/bodies.ts';
import { applyChange } from '../document/change.ts';
import type { StepInput } from '../document/recipe-schema.ts';
import { type Plan, type PlanInput, parsePlan } from '../document/schema.ts';
import { toPrintable } from '../formats/printable.ts';
import { readStl, writeStlBinary } from '../formats/stl.ts';
import { uniformScale } from '../mesh/affine.ts';
import { volume } from '../mesh/measure.ts';
import { topology } from '../mesh/topology.ts';
import type { IndexedMesh } from '../mesh/types.ts';
import { toKernel } from '../solid/kernel.ts';
import { EvalCache } from './eval-cache.ts';
import { evaluate } from './evaluate.ts';
import type { Evaluation } from './model.ts';
import { pieceMesh } from './piece-mesh.ts';

const printer = { name: 'Desktop 220', size: [220, 220, 250] as [number, number, number] };

/** Bodies of a mesh by way of a file, as the maker brings them. */
function bodies(mesh: IndexedMesh): Body[] {
  return [...bodiesOf(readStl(writeStlBinary(mesh, 'x')), 'Test').bodies];
}

const planOf = (rest: Partial<PlanInput>): Plan => parsePlan({ version: 5, printer, ...rest });

const flat = (id: string, origin: [number, number, number], normal: [number, number, number]) => ({
  id,
  kind: 'flat' as const,
  origin,
  normal,
});

const pin = (id: string, seam: string, at: [number, number], more: object = {}) => ({
  id,
  kind: 'pin' as const,
  seam,
  at,
  diameter: 6,
  depth: 8,
  ...more,
});

const codes = (e: Evaluation): string[] => e.findings.map((f) => f.code).sort();

/** The same piece made by the kernel: splits, then booleans with extruded joints. */
function byKernel(body: Body, e: Evaluation, key: string) {
  const piece = e.pieces.find((p) => p.key === key)!;
  let solid = toKernel(kernel, body.mesh);
  for (const cap of piece.solid.caps) {
    const { normal, offset } = e.faces.find((f) => f.seam === cap.seam)!.frame;
    const n = normal.map((x) => x * cap.side) as [number, number, number];
    solid = solid.trimByPlane(n, offset * cap.side);
  }
  for (const joint of e.joints) {
    if (!joint.built || (joint.male !== key && joint.socket !== key)) continue;
    const { added, taken } = halvesIn(e, joint, key);
    for (const half of added) solid = solid.add(half);
    for (const half of taken) solid = solid.subtract(half);
  }
  return solid;
}

describe('evaluate', () => {
  const lantern = bodies(blob(40, 48, 300, (a, z) => 70 + 8 * Math.sin(5 * a) + 10 * z));
  const twoSeams = planOf({
    seams: [flat('s1', [0, 0, -40], [0, 0, 1]), flat('s2', [0, 0, 60], [0.1, 0.2, 1])],
    joints: [
      pin('j1', 's1', [20, 5]),
      pin('j2', 's1', [-25, 0], { shape: 'square', male: '+' }),
      pin('j3', 's2', [0, -20], { shape: 'hexagon', turn: 0.3, gap: 0.35 }),
    ],
  });

  it('gives the pieces the kernel gives for the same plan', () => {
    const e = evaluate(twoSeams, lantern, { fallback });
    expect(e.pieces.map((p) => p.key)).toEqual(['b1/s1-', 'b1/s1+.s2-', 'b1/s2+']);
    for (const piece of e.pieces) {
      const { mesh } = pieceMesh(piece);
      expect(topology(mesh).watertight).toBe(true);
      expect(volume(mesh)).toBeCloseTo(piece.volume, 6);
      const ours = toKernel(kernel, toPrintable(mesh).mesh);
      const theirs = byKernel(lantern[0], e, piece.key);
      expect(String(ours.status())).toBe('NoError');
      const difference = ours.subtract(theirs).volume() + theirs.subtract(ours).volume();
      // float32 coordinates round by 4e-6 mm on an area of some 50 000 mm²
      expect(difference).toBeLessThan(1e-6 * piece.volume + 0.3);
    }
  });

  it('pins of any size and place: pieces do not intersect, and the walls are the gap apart', () => {
    fc.assert(
      fc.property(
        fc.record({
          shape: fc.constantFrom('round', 'square', 'hexagon'),
          diameter: fc.double({ min: 3, max: 14, noNaN: true }),
          depth: fc.double({ min: 3, max: 20, noNaN: true }),
          turn: fc.double({ min: -3, max: 3, noNaN: true }),
          gap: fc.double({ min: 0.05, max: 0.6, noNaN: true }),
          at: fc.tuple(fc.double({ min: -30, max: 30, noNaN: true }), fc.double({ min: -30, max: 30, noNaN: true })),
          male: fc.constantFrom('+', '-'),
        }),
        fc.tuple(fc.double({ min: -0.4, max: 0.4, noNaN: true }), fc.double({ min: -0.4, max: 0.4, noNaN: true })),
        (shape, [nx, ny]) => {
          const plan = planOf({
            seams: [flat('s1', [0, 0, 12.5], [nx, ny, 1])],
            joints: [{ ...pin('j1', 's1', shape.at), ...shape, depthGap: 1 } as ReturnType<typeof pin>],
          });
          const e = evaluate(plan, lantern, { fallback });
          expect(e.joints[0].built).toBe(true);
          const [a, b] = [e.joints[0].male, e.joints[0].socket].map((key) => {
            const piece = e.pieces.find((p) => p.key === key)!;
            return toKernel(kernel, pieceMesh(piece).mesh);
          });
          expect(a.intersect(b).volume()).toBeLessThan(e.faces[0].area * 1e-6 * 300);
          // what stands above the face by half a millimetre is only the pin and the walls of its socket
          const { normal, offset } = e.faces[0].frame;
          const out = shape.male === '-' ? 1 : -1;
          const beyond = normal.map((x) => x * out) as [number, number, number];
          const tip = a.trimByPlane(beyond, offset * out + 0.5);
          expect(Math.abs(tip.minGap(b.trimByPlane(beyond, offset * out + 0.5), 5) - shape.gap)).toBeLessThan(0.005);
          for (const s of [a, b, tip]) s.delete();
        },
      ),
      { numRuns: runs(18) },
    );
  });

  it('accounts for every cubic millimetre: pieces, pins and sockets', () => {
    const e = evaluate(twoSeams, lantern, { fallback });
    let pins = 0;
    for (const joint of e.joints) {
      for (const key of [joint.male!, joint.socket!]) {
        const { added, taken } = halvesIn(e, joint, key);
        pins += added.reduce((sum, h) => sum + h.volume(), 0) - taken.reduce((sum, h) => sum + h.volume(), 0);
      }
    }
    const sum = e.pieces.reduce((s, p) => s + p.volume, 0);
    expect(sum - lantern[0].volume).toBeCloseTo(pins, 2);
  });

  it('incremental evaluation equals full evaluation', () => {
    const step = fc.oneof(
      fc.record({
        do: fc.constant('seam' as const),
        which: fc.nat(2),
        by: fc.double({ min: -40, max: 40, noNaN: true }),
      }),
      fc.record({
        do: fc.constant('joint' as const),
        which: fc.nat(2),
        by: fc.double({ min: -30, max: 30, noNaN: true }),
      }),
      fc.record({ do: fc.constant('toggle' as const), which: fc.nat(2), by: fc.constant(0) }),
    );
    const body = bodies(torus(60, 30, 16, (a) => 22 + 3 * Math.cos(4 * a)));
    fc.assert(
      fc.property(fc.array(step, { minLength: 1, maxLength: 6 }), (steps) => {
        let plan = planOf({
          seams: [
            flat('s1', [3, 0, 0], [1, 0, 0]),
            flat('s2', [0, 0, 2], [0, 0.2, 1]),
            flat('s3', [0, 4, 0], [0.1, 1, 0]),
          ],
          joints: [pin('j1', 's1', [60, 8], { depth: 5 }), pin('j2', 's2', [0, 0]), pin('j3', 's3', [-50, -6])],
        });
        const cache = new EvalCache();
        for (const s of steps) {
          const seam = plan.seams[s.which];
          if (s.do === 'joint') {
            plan = applyChange(plan, { do: 'setJoint', id: `j${s.which + 1}`, set: { at: [s.by, s.by / 2] } });
          } else {
            const set =
              s.do === 'toggle'
                ? { enabled: !seam.enabled }
                : { origin: [s.by, s.by / 2, s.by / 3] as [number, number, number] };
            plan = applyChange(plan, { do: 'setSeam', id: seam.id, set });
          }
          const live = evaluate(plan, body, { fallback, cache });
          const full = evaluate(plan, body, { fallback });
          expect(live.pieces.map((p) => [p.key, p.name, p.volume, p.size])).toEqual(
            full.pieces.map((p) => [p.key, p.name, p.volume, p.size]),
          );
          expect(live.findings).toEqual(full.findings);
          live.pieces.forEach((p, i) => {
            expect(pieceMesh(p).mesh).toEqual(pieceMesh(full.pieces[i]).mesh);
          });
        }
      }),
      { numRuns: runs(8) },
    );
  });

  it('any number of seams in any order: every piece is closed, their volumes add up, and files of them read back', () => {
    const component = fc.integer({ min: -100, max: 100 }).map((x) => x / 100);
    const seams = fc.array(
      fc.tuple(
        fc
          .oneof(fc.constantFrom([0, 0, 1], [1, 0, 0], [0, 1, 0]), fc.tuple(component, component, component))
          .filter((n) => Math.hypot(...n) > 0.1),
        fc.integer({ min: -4, max: 4 }),
      ),
      { minLength: 1, maxLength: 6 },
    );
    const meshes = [
      bodies(torus(60, 24, 12, () => 25)),
      bodies(box([-40, -40, -40], [40, 40, 40])),
      bodies(blob(12, 14, 150, (a) => 50 + 9 * Math.cos(3 * a))),
    ];
    fc.assert(
      fc.property(fc.nat(2), seams, (which, list) => {
        const plan = planOf({
          seams: list.map(([n, k], i) => flat(`s${i}`, [k * 10, k * 10, k * 10], n as [number, number, number])),
        });
        const [body] = meshes[which];
        const e = evaluate(plan, [body], { fallback });
        const films = e.findings.some((f) => f.code === 'seam.film');
        const sum = e.pieces.reduce((s, p) => s + p.volume, 0);
        expect(Math.abs(sum / body.volume - 1)).toBeLessThan(films ? 1e-5 : 1e-9);
        for (const p of e.pieces) {
          const { mesh } = pieceMesh(p);
          expect(topology(mesh).watertight).toBe(true);
          const printable = toPrintable(mesh);
          expect(printable.topology.watertight).toBe(true);
          for (const f of e.faces) expect(thickness(mesh, f.frame.normal)).toBeGreaterThan(1e-3);
          const said = judge(printable.mesh);
          expect(said.status).toBe('NoError');
          expect(Math.abs(said.volume - p.volume)).toBeLessThan(1e-5 * body.volume);
        }
        // planes that meet in one line leave slivers along it, which only touch a part of what is beside them
        for (const f of e.faces) if (f.area > 0.01) expect(f.caps[0].area).toBeCloseTo(f.caps[1].area, 9);
      }),
      { numRuns: runs(30) },
    );
  });

  it('scales the model and leaves the joint and its gap as they are', () => {
    const sized = (step: StepInput) => parsePlan({ ...twoSeams, recipe: [step] });
    const big = sized({ kind: 'scale', factor: 2 });
    const a = evaluate(twoSeams, lantern, { fallback });
    const b = evaluate(big, lantern, { fallback });
    expect(b.box.max[2]).toBeCloseTo(a.box.max[2] * 2, 9);
    expect([b.joints[0].u, b.joints[0].v]).toEqual([40, 10]);
    const sizes = ({ form, gap }: (typeof a.joints)[0]) => [form.depths, form.shear.toFixed(6), gap];
    expect(sizes(b.joints[0])).toEqual(sizes(a.joints[0]));
    const target = evaluate(sized({ kind: 'scale', axis: 'z', size: 450 }), lantern, { fallback });
    expect(uniformScale(target.map)).toBeCloseTo(1.5, 6);
  });

  it('keeps the keys of twins between the same seams by their anchors, however the order changes', () => {
    const legs = bodies(
      together(box([0, 0, 0], [100, 20, 20]), box([0, 0, 20], [20, 20, 60]), box([80, 0, 20], [100, 20, 60])),
    );
    const union = kernel.Manifold.union(legs.map((b) => toKernel(kernel, b.mesh)));
    const m = union.getMesh();
    const table = bodies({
      positions: Float64Array.from(m.vertProperties),
      triangles: m.triVerts,
      tags: new Uint32Array(m.triVerts.length / 3),
    });
    const plan = planOf({ seams: [flat('s1', [0, 0, 30], [0, 0, 1])] });
    const first = evaluate(plan, table, { fallback });
    expect(first.pieces.map((p) => p.key).sort()).toEqual(['b1/s1+', 'b1/s1+#2', 'b1/s1-']);
    const left = first.pieces.find((p) => p.key === 'b1/s1+')!;
    expect(left.box.min[0]).toBeCloseTo(0, 6);
    // the kept anchors name the right leg first now
    const swapped = first.anchors.map((a) => ({ ...a, key: a.key === 'b1/s1+' ? 'b1/s1+#2' : 'b1/s1+' }));
    const again = evaluate({ ...plan, anchors: swapped, seams: [{ ...plan.seams[0], origin: [0, 0, 35] }] }, table, {
      fallback,
    });
    expect(again.pieces.find((p) => p.key === 'b1/s1+')!.box.min[0]).toBeCloseTo(80, 6);
  });
});

describe('findings', () => {
  const block = bodies(box([0, 0, 0], [100, 60, 200]));
  const cut = (joints: object[], more: Partial<PlanInput> = {}) =>
    planOf({ seams: [flat('s1', [50, 30, 100], [0, 0, 1])], joints: joints as PlanInput['joints'], ...more });
  const run = (plan: Plan) => evaluate(plan, block, { fallback });
  /** Applies every mend on offer until none is left. */
  const mended = (start: Plan): Evaluation => {
    let plan = start;
    let e = run(plan);
    for (let i = 0; i < 8; i++) {
      const next = e.findings.find((f) => f.mend);
      if (!next?.mend) break;
      plan = applyChange(plan, next.mend.change);
      e = run(plan);
    }
    return e;
  };

  it('a bare face, and its mend', () => {
    const e = run(cut([]));
    expect(codes(e)).toEqual(['face.bare']);
    expect(mended(cut([])).findings).toEqual([]);
  });

  it('a lone round pin turns, an angular one does not', () => {
    expect(codes(run(cut([pin('j1', 's1', [0, 0])])))).toEqual(['joint.turns']);
    expect(mended(cut([pin('j1', 's1', [0, 0])])).findings).toEqual([]);
    expect(run(cut([pin('j1', 's1', [0, 0]), pin('j2', 's1', [20, 0])])).findings).toEqual([]);
  });

  // u runs along x here: the face reaches 50 mm from its middle, v along y: 30 mm
  it('a pin too near the edge, with the wall that is left, and one across it', () => {
    const near = run(cut([pin('j1', 's1', [46.5, 0], { shape: 'square' })]));
    expect(codes(near)).toEqual(['joint.edge']);
    expect(near.findings[0].value).toBeCloseTo(50 - 46.5 - 3.2, 4);
    expect(near.joints[0].built).toBe(false);
    expect(mended(cut([pin('j1', 's1', [46.5, 0], { shape: 'square' })])).joints[0].built).toBe(true);
    const across = run(cut([pin('j1', 's1', [49, 0])]));
    expect(across.findings[0].message).toMatch(/breaks through/);
    expect(run(cut([pin('j1', 's1', [80, 0])])).findings[0].code).toBe('joint.offFace');
    const off = mended(cut([pin('j1', 's1', [80, 0], { shape: 'hexagon' })]));
    expect(off.findings).toEqual([]);
  });

  it('a thin wall is measured beside the socket and under its floor', () => {
    const beside = run(cut([pin('j1', 's1', [46, 0], { shape: 'square' })]));
    expect(beside.findings[0]).toMatchObject({ code: 'joint.thin', severity: 'warn' });
    expect(beside.findings[0].value).toBeCloseTo(0.8, 4);
    const deep = run(cut([pin('j1', 's1', [0, 0], { shape: 'square', depth: 99.5, depthGap: 0.2 })]));
    expect(deep.findings[0].code).toBe('joint.wall');
    expect(deep.findings[0].value).toBeCloseTo(0.3, 4);
    const through = run(cut([pin('j1', 's1', [0, 0], { shape: 'square', depth: 105 })]));
    expect(through.findings[0].code).toBe('joint.through');
    expect(mended(cut([pin('j1', 's1', [0, 0], { shape: 'square', depth: 105 })])).joints[0].wall).toBeGreaterThan(1.2);
  });

  it('joints too near each other, on one face or round a corner', () => {
    const close = run(cut([pin('j1', 's1', [0, 0]), pin('j2', 's1', [6.6, 0])]));
    expect(close.findings[0]).toMatchObject({ code: 'joint.near', severity: 'stop', where: { joint: 'j2' } });
    expect(close.findings[0].value).toBeCloseTo(0.2, 2);
    const corner = evaluate(
      planOf({
        seams: [flat('s1', [50, 30, 100], [0, 0, 1]), flat('s2', [50, 30, 100], [1, 0, 0])],
        joints: [pin('j1', 's1', [5, 0]), pin('j2', 's2', [0, 5], { male: '-' })] as PlanInput['joints'],
      }),
      block,
      { fallback },
    );
    expect(codes(corner)).toContain('joint.near');
  });

  it('a seam that misses, and one flush with faces on both sides', () => {
    expect(codes(run(planOf({ seams: [flat('s1', [0, 0, 500], [0, 0, 1])] })))).toEqual(['seam.misses']);
    const flush = run(planOf({ seams: [flat('s1', [0, 0, 200], [0, 0, 1])] }));
    expect(flush.pieces).toHaveLength(1);
    expect(codes(flush)).toEqual(['seam.misses']);
  });

  it('a piece that does not fit says by how much, and a seam mends it', () => {
    const e = evaluate(planOf({}), bodies(box([0, 0, 0], [100, 60, 300])), { fallback });
    expect(e.findings).toMatchObject([{ code: 'piece.tooBig', severity: 'stop', value: 300, limit: 248 }]);
    const after = applyChange(planOf({}), e.findings[0].mend!.change);
    expect(
      evaluate(after, bodies(box([0, 0, 0], [100, 60, 300])), { fallback }).pieces.every((p) => p.build.within),
    ).toBe(true);
  });

  it('an open body stays whole and says how many edges are open', () => {
    const lid = box([0, 0, 0], [10, 10, 10]);
    const open = bodies({ ...lid, triangles: lid.triangles.slice(0, -6) });
    const e = evaluate(planOf({ seams: [flat('s1', [0, 0, 5], [0, 0, 1])] }), open, { fallback });
    expect(e.pieces).toHaveLength(1);
    expect(e.pieces[0].closed).toBe(false);
    expect(e.findings[0]).toMatchObject({ code: 'body.open', severity: 'stop', value: 4 });
  });

  it('bodies that reach into each other', () => {
    const two = bodies(together(box([0, 0, 0], [50, 50, 50]), box([25, 25, 25], [90, 90, 90])));
    expect(codes(evaluate(planOf({}), two, { fallback }))).toEqual(['bodies.overlap']);
  });

  it('models of a thousandth of a millimetre and of a hundred metres are cut alike', () => {
    for (const size of [1e-3, 1e5]) {
      const m = bodies(box([0, 0, 0], [size, size, size]));
      const e = evaluate(planOf({ seams: [flat('s1', [0, 0, size / 3], [0, 0, 1])] }), m, { fallback });
      expect(e.pieces).toHaveLength(2);
      expect(e.pieces[0].volume / size ** 3).toBeCloseTo(1 / 3, 6);
    }
  });
});

import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { halvesIn, rodInPlace } from '../../testing/joints.ts';
import { fallback, judge, kernel } from '../../testing/judges.ts';
import { flat, printer } from '../../testing/plans.ts';
import { runs } from '../../testing/runs.ts';
import { blob } from '../../testing/shapes.ts';
import { type Body, bodiesOf } from '../body/bodies.ts';
import { parsePlan } from '../document/schema.ts';
import { evaluate } from '../evaluate/evaluate.ts';
import type { Evaluation } from '../evaluate/model.ts';
import { pieceMesh } from '../evaluate/piece-mesh.ts';
import { toPrintable } from '../formats/printable.ts';
import { readStl, writeStlBinary } from '../formats/stl.ts';
import { topology } from '../mesh/topology.ts';
import type { IndexedMesh } from '../mesh/types.ts';
import { toKernel } from '../solid/kernel.ts';

const bodies = (mesh: IndexedMesh): Body[] => [...bodiesOf(readStl(writeStlBinary(mesh, 'x')), 'Test').bodies];
const horn = bodies(blob(30, 40, 300, (a, z) => 70 + 8 * Math.sin(5 * a) + 10 * z));

const evaluated = (body: readonly Body[], seams: object[], joints: object[], more: object = {}): Evaluation =>
  evaluate(parsePlan({ version: 5, printer, seams, joints, ...more }), body, { fallback });

const tenth = (low: number, high: number) => fc.integer({ min: low * 10, max: high * 10 }).map((x) => x / 10);
const degrees = (low: number, high: number) => fc.integer({ min: low, max: high }).map((d) => (d * Math.PI) / 180);
const common = {
  turn: degrees(-180, 180),
  gap: fc.integer({ min: 1, max: 10 }).map((x) => x / 20),
  depthGap: tenth(0.2, 1),
  mouth: fc.constantFrom(0, 0, 0.4),
  at: fc.tuple(fc.integer({ min: -25, max: 25 }), fc.integer({ min: -25, max: 25 })),
  male: fc.constantFrom('+', '-'),
};
const kinds = {
  pin: fc.record({
    ...common,
    kind: fc.constant('pin'),
    shape: fc.constantFrom('round', 'square', 'hexagon', 'octagon'),
    diameter: tenth(3, 14),
    depth: tenth(3, 16),
  }),
  key: fc.record({
    ...common,
    kind: fc.constant('key'),
    outline: fc.constantFrom('rectangle', 'square', 'hexagon', 'd', 'rounded'),
    width: tenth(8, 20),
    height: tenth(6, 12),
    depth: tenth(3, 10),
    taper: degrees(0, 10),
    corner: fc.constantFrom(0, 1, 2),
  }),
  cone: fc.record({
    ...common,
    kind: fc.constant('cone'),
    diameter: tenth(4, 16),
    slope: degrees(30, 60),
  }),
  dowel: fc.record({
    ...common,
    kind: fc.constant('dowel'),
    stock: fc.constantFrom('printed', 'printed', 'wood'),
    shape: fc.constantFrom('round', 'square', 'tapered'),
    diameter: tenth(3, 12),
    depths: fc.tuple(tenth(4, 14), tenth(4, 14)),
    depth: fc.constant(5),
    gapOn: fc.constantFrom('socket', 'rod'),
  }),
  snap: fc.record({
    ...common,
    kind: fc.constant('snap'),
    diameter: tenth(5, 12),
    depth: tenth(9, 20),
    slot: fc.constant(1.8),
    barb: tenth(0.3, 0.8),
  }),
  magnet: fc.record({
    ...common,
    kind: fc.constant('magnet'),
    shape: fc.constantFrom('disc', 'block'),
    diameter: tenth(3, 12),
    height: tenth(3, 8),
    thickness: tenth(1, 4),
    cover: fc.constantFrom(0, 0, 0.8),
  }),
};
type Any = { gap: number; kind: string; male: string; mouth: number; cover?: number; depthGap: number };

describe.each(Object.entries(kinds))('a %s of any size and place', (kind, sizes) => {
  const tilt = fc.tuple(tenth(-0.4, 0.4), tenth(-0.4, 0.4));
  const lean = fc.option(fc.tuple(tenth(-0.4, 0.4), tenth(-0.4, 0.4)), { nil: null });

  it('makes solids that the kernel accepts, of the volumes that its parts have, and no wall nearer than its gap', () => {
    fc.assert(
      fc.property(sizes as fc.Arbitrary<Any>, tilt, lean, (joint, [nx, ny], leaning) => {
        // a rod that gives up much of itself loses facets, too, and is a little thinner there
        fc.pre(
          !('gapOn' in joint && joint.gapOn === 'rod' && joint.gap * 18 > (joint as { diameter?: number }).diameter!),
        );
        const way = leaning ? { lean: [nx + leaning[0], ny + leaning[1], 1] } : {};
        const e = evaluated(
          horn,
          [flat('s1', [0, 0, 12.5], [nx, ny, 1])],
          [{ ...joint, ...way, id: 'j1', seam: 's1' }],
        );
        const [placed] = e.joints;
        const said = e.findings.filter((f) => f.severity === 'stop').map((f) => `${f.code} ${f.message}`);
        // strength is another matter: what is asked here is the form
        fc.pre(!said.some((s) => /slim|strain|slot/.test(s)));
        expect(said).toEqual([]);
        expect(placed.built).toBe(true);
        let sum = 0;
        const solids = [placed.male!, placed.socket!].map((key) => {
          const { mesh } = pieceMesh(e.pieces.find((p) => p.key === key)!);
          expect(topology(mesh).watertight).toBe(true);
          expect(judge(toPrintable(mesh).mesh).status).toBe('NoError');
          const { added, taken } = halvesIn(e, placed, key);
          for (const half of added) sum += half.volume();
          for (const half of taken) sum -= half.volume();
          return toKernel(kernel, mesh);
        });
        const all = e.pieces.reduce((s, p) => s + p.volume, 0) - horn[0].volume;
        expect(Math.abs(all - sum)).toBeLessThan(0.03 + 1e-4 * Math.abs(sum));
        expect(solids[0].intersect(solids[1]).volume()).toBeLessThan(e.faces[0].area * 1e-6 * 300);

        // leaning walls of many narrow facets need not face each other squarely anywhere, so they may be a little farther
        const near = (found: number, asked: number) => {
          expect(found).toBeGreaterThan(asked - 0.005);
          expect(found).toBeLessThan(asked + (leaning ? 0.012 : 0.005));
        };
        // what goes into each other, without the mating face itself and the mouth; no more, or nothing of a low cone would be left
        const from = joint.mouth + 0.1;
        const { normal, offset } = e.faces[0].frame;
        const beyond = (s: (typeof solids)[0], sign: number) =>
          s.trimByPlane(
            normal.map((x) => x * sign) as [number, number, number],
            offset * sign + (joint.cover ? 0 : from),
          );
        const rod = rodInPlace(placed, e.faces[0]);
        if (rod) {
          expect(topology(rod).watertight).toBe(true);
          const loose = toKernel(kernel, rod);
          expect(loose.volume()).toBeGreaterThan(0);
          for (const [i, sign] of [
            [placed.direction > 0 ? 0 : 1, -1],
            [placed.direction > 0 ? 1 : 0, 1],
          ]) {
            const side = beyond(solids[i], sign);
            expect(side.intersect(loose).volume()).toBeLessThan(1e-3);
            near(side.minGap(beyond(loose, sign), 5), Math.min(joint.gap, joint.depthGap));
          }
        } else if (kind !== 'magnet') {
          const tip = beyond(solids[0], placed.direction);
          const found = tip.minGap(beyond(solids[1], placed.direction), 5);
          const { own, depths } = placed.form;
          const floor = depths[1] - own[0].rings[own[0].rings.length - 1].height;
          expect(floor).toBeGreaterThan(0.1);
          near(found, Math.min(joint.gap, floor));
        }
      }),
      { numRuns: runs(8) },
    );
  });
});

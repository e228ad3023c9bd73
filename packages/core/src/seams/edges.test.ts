import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { judge, kernel } from '../../testing/judges.ts';
import { cutBy, fan, flat } from '../../testing/plans.ts';
import { blob, box } from '../../testing/shapes.ts';
import type { SeamInput } from '../document/index.ts';
import { type Evaluation, pieceMesh } from '../evaluate/index.ts';
import { topology } from '../mesh/index.ts';
import { seatJoints } from '../propose/seat/index.ts';
import { toKernel } from '../solid/index.ts';

const block = box([-50, -40, -60], [50, 40, 60]);
const edge = { width: 1, depth: 1 };
const keys = (e: Evaluation) => e.pieces.map((p) => p.key).sort();
const faceAreas = (e: Evaluation) => e.faces.map((f) => Math.round(f.area * 100) / 100).sort((a, b) => a - b);
const codes = (e: Evaluation) => e.findings.map((f) => f.code).filter((c) => c.startsWith('seam.'));

/** Length of the outlines of a plan's faces, mm. */
const around = (e: Evaluation): number =>
  e.faces.reduce((sum, { region: { outer2: l } }) => {
    for (let i = 0; i < l.length; i += 2) {
      const k = (i + 2) % l.length;
      sum += Math.hypot(l[k] - l[i], l[k + 1] - l[i + 1]);
    }
    return sum;
  }, 0);

describe('a groove along a seam', () => {
  it('takes a bevel off the rim of both pieces, to the last corner', () => {
    const e = cutBy(block, [flat('s1', [0, 0, 0], [0, 0, 1], { edge })]);
    expect(faceAreas(e)).toEqual([98 * 78]);
    // a prism half as large as its section round the rim, less what corners would count twice
    for (const p of e.pieces) expect(p.volume).toBeCloseTo(480_000 - (360 / 2 - 4 / 3), 1);
    const deep = cutBy(block, [flat('s1', [0, 0, 0], [0, 0, 1], { edge: { width: 0.4, depth: 3 } })]);
    expect(faceAreas(deep)).toEqual([Math.round(99.2 * 79.2 * 100) / 100]);
  });

  it('follows the skin only: where two faces meet nothing is taken, and openings inside stay unless they are wanted', () => {
    const cross = [flat('s1', [0, 0, 0], [0, 0, 1], { edge }), flat('s2', [0, 0, 0], [1, 0, 0])];
    const e = cutBy(block, cross);
    expect(keys(e)).toEqual(
      keys(
        cutBy(
          block,
          cross.map(({ edge: _, ...s }) => s as SeamInput),
        ),
      ),
    );
    expect(faceAreas(e)).toEqual([49 * 78, 49 * 78, 4799, 4799]);
    const tube = kernel.Manifold.cylinder(100, 30, 30, 64, true).subtract(
      kernel.Manifold.cylinder(120, 20, 20, 64, true),
    );
    const { vertProperties, triVerts } = tube.getMesh();
    const mesh = {
      positions: Float64Array.from(vertProperties),
      triangles: triVerts,
      tags: new Uint32Array(triVerts.length / 3),
    };
    const ring = (own: object): number =>
      cutBy(mesh, [flat('s1', [0, 0, 3], [0, 0, 1], { edge: { ...edge, ...own } })]).faces[0].area;
    const disc = (r: number): number => 32 * r * r * Math.sin(Math.PI / 32);
    // a mitred offset of a polygon of 64 sides
    const offset = (r: number, by: number): number => disc(r + by / Math.cos(Math.PI / 64));
    expect(ring({})).toBeCloseTo(offset(30, -1) - disc(20), 0);
    expect(ring({ all: true })).toBeCloseTo(offset(30, -1) - offset(20, 1), 0);
  });

  it('takes away only what is near the rim, leaves closed solids, and gives faces that still take joints, on any plane', () => {
    const mesh = blob(36, 40, 220, (a, z) => 70 + 8 * Math.sin(4 * a + 3 * z));
    const lean = fc.integer({ min: -4, max: 4 }).map((x) => x / 10);
    const size = fc.integer({ min: 3, max: 25 }).map((x) => x / 10);
    fc.assert(
      fc.property(lean, lean, fc.integer({ min: -50, max: 50 }), size, size, (x, y, z, width, depth) => {
        const seam = (own: object) => [flat('s1', [0, 0, z], [x, y, 1], own)];
        const plain = cutBy(mesh, seam({}));
        const e = cutBy(mesh, seam({ edge: { width, depth } }));
        expect(keys(e)).toEqual(keys(plain));
        const { frame } = plain.faces[0];
        for (const p of e.pieces) {
          const { mesh: own } = pieceMesh(p);
          expect(topology(own).watertight).toBe(true);
          expect(judge(own).status).toBe('NoError');
          const whole = toKernel(kernel, pieceMesh(plain.pieces.find((q) => q.key === p.key)!).mesh);
          const cut = toKernel(kernel, own);
          // nothing is added, and what went lies beside the seam
          expect(cut.subtract(whole).volume()).toBeLessThan(0.5);
          const gone = whole.subtract(cut);
          const beside = 1.3 * depth + 0.3 * width;
          const [nx, ny, nz] = frame.normal;
          const above = gone.trimByPlane([nx, ny, nz], frame.offset + beside).volume();
          const below = gone.trimByPlane([-nx, -ny, -nz], beside - frame.offset).volume();
          expect(above + below).toBeLessThan(0.5);
        }
        const taken = plain.faces[0].area - e.faces[0].area;
        expect(taken / (around(plain) * width)).toBeGreaterThan(0.85);
        expect(taken / (around(plain) * width)).toBeLessThan(1.1);
        const { joints } = seatJoints(e.context.plan, e);
        expect(joints.length).toBeGreaterThan(0);
        expect(
          cutBy(mesh, seam({ edge: { width, depth } }), { joints: [...joints] }).joints.every((j) => j.built),
        ).toBe(true);
      }),
      { numRuns: 5 },
    );
  });

  it('goes along with a fan, and says where it leaves too little to bond', () => {
    const e = cutBy(block, [fan('s1', [0, 0, 0], [0, 0, 1], 3, { edge })]);
    expect(e.pieces).toHaveLength(3);
    for (const p of e.pieces) expect(topology(pieceMesh(p).mesh).watertight).toBe(true);
    expect(codes(e)).toEqual([]);
    const thin = box([0, 0, 0], [100, 4, 60]);
    const wide = cutBy(thin, [flat('s1', [50, 2, 30], [0, 0, 1], { edge: { width: 1.2, depth: 1 } })]);
    expect(codes(wide)).toEqual(['seam.edge']);
    const { mend, value } = wide.findings.find((f) => f.code === 'seam.edge')!;
    expect(value).toBeCloseTo((1.6 * 97.6) / 400, 2);
    expect(mend!.change).toMatchObject({ set: { edge: { width: 0.6 } } });
    // a slice that the groove would take whole stays as it was
    const slices = [
      flat('s1', [50, 2, 30], [0, 0, 1], { edge: { width: 2.5, depth: 2.5 } }),
      flat('s2', [50, 2, 31], [0, 0, 1]),
    ];
    const gone = cutBy(thin, slices);
    expect(keys(gone)).toEqual(
      keys(
        cutBy(
          thin,
          slices.map(({ edge: _, ...s }) => s as SeamInput),
        ),
      ),
    );
    expect(gone.findings.find((f) => f.code === 'seam.edge')!.message).toMatch(
      /could not be carved out of every piece/,
    );
  });
});

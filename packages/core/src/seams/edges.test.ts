import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { judge, kernel } from '../../testing/judges.ts';
import { cutBy, fan, flat } from '../../testing/plans.ts';
import { runs } from '../../testing/runs.ts';
import { blob, box } from '../../testing/shapes.ts';
import type { SeamInput } from '../document/index.ts';
import { type Evaluation, pieceMesh } from '../evaluate/index.ts';
import { loopArea, topology } from '../mesh/index.ts';
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

  it('stays off faces that are to be seen, where that is wanted, and follows them when they change', () => {
    const seam = (clear: boolean) => [flat('s1', [0, 0, 0], [0, 0, 1], { edge: { ...edge, clear } })];
    const front = { show: [{ at: [0, -40, 10] as [number, number, number] }] };
    const e = cutBy(block, seam(true), front);
    // no bevel along y = -40: 99 long on the face's other two sides, with the corner's rest beyond
    expect(faceAreas(e)[0]).toBeGreaterThan(98 * 79 - 0.2);
    expect(faceAreas(e)[0]).toBeLessThan(98 * 79 + 1.2);
    for (const p of e.pieces) {
      expect(judge(pieceMesh(p).mesh)).toMatchObject({ status: 'NoError', closed: true });
      // three prisms instead of four, two of their corners in common
      expect(Math.abs(480_000 - p.volume - ((360 - 100) / 2 - 2 / 3))).toBeLessThan(1);
    }
    expect(faceAreas(cutBy(block, seam(false), front))).toEqual([98 * 78]);
    expect(faceAreas(cutBy(block, seam(true)))).toEqual([98 * 78]);
    const back = cutBy(block, seam(true), { show: [{ at: [0, 40, 10] }] });
    expect(back.faces[0].region.outer2).not.toEqual(e.faces[0].region.outer2);
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
      { numRuns: runs(5) },
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

describe('channels for glue', () => {
  const channel = { inset: 5, width: 2, depth: 1.5 };
  it('lie inside the outline of both pieces’ faces, which stay one each and still take joints', () => {
    const plain = cutBy(block, [flat('s1', [0, 0, 0], [0, 0, 1])]);
    const e = cutBy(block, [flat('s1', [0, 0, 0], [0, 0, 1], { channel })]);
    expect(e.faces).toHaveLength(1);
    const { region } = e.faces[0];
    expect(Math.abs(loopArea(region.outer2))).toBeCloseTo(8000, 3);
    expect(region.holes2).toHaveLength(5);
    const taken = plain.faces[0].area - e.faces[0].area;
    // along the middle of the channel, less what is left between stretches; with round ends, and less at corners what would count twice
    const along = 2 * (100 - 12) + 2 * (80 - 12) - 5 * 4;
    expect(Math.abs(taken - (2 * along + 5 * Math.PI - 4 * (1 - Math.PI / 4)))).toBeLessThan(0.5);
    for (const [i, p] of e.pieces.entries()) {
      expect(judge(pieceMesh(p).mesh)).toMatchObject({ status: 'NoError', closed: true });
      expect(plain.pieces[i].volume - p.volume).toBeCloseTo(1.5 * taken, 1);
    }
    const { joints } = seatJoints(e.context.plan, e);
    const jointed = cutBy(block, [flat('s1', [0, 0, 0], [0, 0, 1], { channel })], { joints: [...joints] });
    expect(jointed.joints.length).toBeGreaterThan(1);
    expect(jointed.findings.filter((f) => f.severity === 'stop' && f.where.joint)).toEqual([]);
  });

  it('on any plane and shape take nothing but their width and depth, and say so where there is no room', () => {
    const mesh = blob(36, 40, 220, (a, z) => 70 + 8 * Math.sin(4 * a + 3 * z));
    const lean = fc.integer({ min: -4, max: 4 }).map((x) => x / 10);
    fc.assert(
      fc.property(lean, lean, fc.integer({ min: -50, max: 50 }), (x, y, z) => {
        const seam = (own: object) => [flat('s1', [0, 0, z], [x, y, 1], own)];
        const plain = cutBy(mesh, seam({}));
        const e = cutBy(mesh, seam({ channel }));
        const taken = plain.faces[0].area - e.faces[0].area;
        expect(taken).toBeGreaterThan(0.8 * 2 * (around(plain) - 2 * Math.PI * 6) * 0.9);
        for (const [i, p] of e.pieces.entries()) {
          expect(judge(pieceMesh(p).mesh)).toMatchObject({ status: 'NoError', closed: true });
          expect((plain.pieces[i].volume - p.volume) / (1.5 * taken)).toBeCloseTo(1, 3);
        }
      }),
      { numRuns: runs(5) },
    );
    const narrow = cutBy(block, [flat('s1', [0, 0, 0], [0, 0, 1], { channel: { ...channel, inset: 45 } })]);
    expect(codes(narrow)).toContain('seam.edge');
    // so wide that little is left to bond: said, with a mend that makes it narrower
    const wide = cutBy(block, [flat('s1', [0, 0, 0], [0, 0, 1], { channel: { inset: 2, width: 20, depth: 1 } })]);
    const [little] = wide.findings.filter((f) => f.code === 'seam.edge');
    expect(little.mend!.change).toMatchObject({ set: { channel: { width: 10 } } });
  });
});

describe('relief of corners', () => {
  it('is taken off the edges in which faces of a piece meet, and off no skin', () => {
    const seams = (own: object) => [flat('s1', [0, 0, 0], [0, 0, 1], own), flat('s2', [0, 0, 0], [1, 0, 0])];
    const plain = cutBy(block, seams({}));
    const e = cutBy(block, seams({ relief: 1.2 }));
    expect(e.pieces).toHaveLength(4);
    for (const [i, p] of e.pieces.entries()) {
      expect(judge(pieceMesh(p).mesh)).toMatchObject({ status: 'NoError', closed: true });
      // a prism along the edge of 80 mm in which both faces meet
      expect(plain.pieces[i].volume - p.volume).toBeCloseTo((1.2 ** 2 / 2) * 80, 0);
      expect(p.size).toEqual(plain.pieces[i].size);
    }
    expect(faceAreas(e).every((a, i) => Math.abs(a - (faceAreas(plain)[i] - 80 * 1.2)) < 0.2)).toBe(true);
  });
});

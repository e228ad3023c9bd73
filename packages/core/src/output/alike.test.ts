import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { fallback, kernel } from '../../testing/judges.ts';
import { modelOfMeshes } from '../../testing/models.ts';
import { runs } from '../../testing/runs.ts';
import { blob, box, moved, torus } from '../../testing/shapes.ts';
import { bodiesOf } from '../body/bodies.ts';
import { type PlanInput, parsePlan } from '../document/schema.ts';
import { evaluate } from '../evaluate/evaluate.ts';
import type { Evaluation } from '../evaluate/model.ts';
import { readStl } from '../formats/stl.ts';
import { mapped, turning } from '../mesh/affine.ts';
import type { IndexedMesh } from '../mesh/types.ts';
import { alikePieces, pieceDeviation, sharedFiles } from './alike.ts';
import { exportPieces } from './export.ts';

const printer = { size: [220, 220, 250] as [number, number, number] };

const run = (meshes: readonly IndexedMesh[], plan: Partial<PlanInput> = {}): Evaluation =>
  evaluate(parsePlan({ version: 5, printer, ...plan }), bodiesOf(modelOfMeshes(meshes), 'Test').bodies, {
    fallback,
    kernel,
  });

/** A shape without any symmetry. */
const odd = blob(20, 24, 60, (a, z) => 20 + 4 * Math.cos(a + 0.4) + 3 * Math.cos(2 * a + 3 * z) + 5 * z);
const mirroredX = (m: IndexedMesh): IndexedMesh => {
  const flipped = moved(m, (x, y, z) => [-x, y, z]);
  return {
    ...flipped,
    triangles: flipped.triangles.map((_, i, t) => t[i % 3 === 0 ? i : i % 3 === 1 ? i + 1 : i - 1]),
  };
};
const away = (m: IndexedMesh, d: number): IndexedMesh => moved(m, (x, y, z) => [x + d, y, z]);

describe('alikePieces', () => {
  it('six segments of a hoop are one file six times', () => {
    const hoop = torus(100, 96, 24, (a) => 12 + Math.cos(6 * a));
    const fan = {
      id: 'f',
      kind: 'fan' as const,
      origin: [0, 0, 0] as [number, number, number],
      normal: [0, 0, 1] as [number, number, number],
      count: 6,
    };
    const [group, ...others] = alikePieces(run([hoop], { seams: [fan] }), 0.05);
    expect(group.same).toHaveLength(5);
    expect(group.mirrored).toEqual([]);
    // the fan is moved off the vertices by a ten-millionth of the size
    expect(group.deviation).toBeLessThan(1e-4);
    expect(others).toEqual([]);
  });

  it('knows a piece however it is turned, and a mirror twin from a copy', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: -30, max: 30 }),
        fc.tuple(fc.integer({ min: -9, max: 9 }), fc.integer({ min: 1, max: 9 })),
        fc.boolean(),
        (angle, [x, y], twin) => {
          const turned = mapped(odd, turning([x, y, 3], angle / 10, [0, 0, 0]));
          const e = run([odd, away(twin ? mirroredX(turned) : turned, 150)]);
          const [group] = alikePieces(e, 0.05);
          expect([group.same.length, group.mirrored.length]).toEqual(twin ? [0, 1] : [1, 0]);
          expect(group.deviation).toBeLessThan(1e-5);
        },
      ),
      { numRuns: runs(15) },
    );
  });

  it('tells apart what differs by more than the tolerance, and says by how much', () => {
    const a = box([0, 0, 0], [40, 30, 20]);
    const b = away(box([0, 0, 0], [40, 30, 20.3]), 100);
    expect(alikePieces(run([a, b]), 0.05)).toEqual([]);
    const [group] = alikePieces(run([a, b]), 0.5);
    expect(group.deviation).toBeGreaterThan(0.14);
    expect(group.deviation).toBeLessThan(0.31);
    const e = run([a, b]);
    expect(pieceDeviation(e.pieces[0], e.pieces[1], false)).toBeCloseTo(0.15, 2);
  });

  it('a joint makes a piece another file', () => {
    const bar = box([0, 0, 0], [30, 30, 120]);
    const seams = [40, 80].map((z, i) => ({
      id: `s${i}`,
      kind: 'flat' as const,
      origin: [0, 0, z] as [number, number, number],
      normal: [0, 0, 1] as [number, number, number],
    }));
    expect(alikePieces(run([bar], { seams }), 0.05)[0].same).toHaveLength(2);
    const joint = {
      id: 'j',
      kind: 'pin' as const,
      seam: 's0',
      at: [15, 15] as [number, number],
      diameter: 8,
      depth: 8,
    };
    const plain = run([bar], { seams, joints: [{ ...joint, at: [15, 15] }] });
    expect(plain.joints[0].built).toBe(true);
    expect(alikePieces(plain, 0.05)).toEqual([]);
  });

  it('pieces of other colours are no copies of each other', () => {
    const block = box([0, 0, 0], [40, 30, 20]);
    const painted = { ...away(block, 100), tags: new Uint32Array(12).fill(1) };
    expect(alikePieces(run([block, painted]), 0.05)).toEqual([]);
    expect(alikePieces(run([block, away(block, 100)]), 0.05)).toHaveLength(1);
  });
});

describe('sharedFiles', () => {
  const three = (plan: Partial<PlanInput> = {}) => {
    const meshes = [odd, away(odd, 150), away(mirroredX(odd), 300), box([500, 0, 0], [530, 20, 20])];
    const document = parsePlan({ version: 5, printer, ...plan });
    return { e: run(meshes, plan), document };
  };

  it('a copy and a mirror twin come from the first; files are written once each, by how often they are wanted', () => {
    const { e, document } = three();
    const shared = sharedFiles(e, alikePieces(e, document.alike), document.pieces);
    expect([...shared]).toEqual([
      ['b2', { of: 'b1', mirrored: false }],
      ['b3', { of: 'b1', mirrored: true }],
    ]);
    const { files, written } = exportPieces(e.pieces, 'Props', 'stl', { shared });
    expect(files.map((f) => f.name)).toEqual([
      'props-a1-whole-2x.stl',
      'props-a1-whole-mirrored.stl',
      'props-d1-whole.stl',
      'pieces.csv',
    ]);
    expect(written.map((w) => [w.piece.key, w.file])).toEqual([
      ['b1', 'props-a1-whole-2x.stl'],
      ['b2', 'props-a1-whole-2x.stl'],
      ['b3', 'props-a1-whole-mirrored.stl'],
      ['b4', 'props-d1-whole.stl'],
    ]);
    // the mirrored file is right side out, and laid on the twin it is the twin
    const [twin] = bodiesOf(readStl(files[1].bytes), 'x').bodies;
    expect(twin.volume).toBeCloseTo(e.pieces[2].volume, 2);
    const again = run([mirroredX(odd), twin.mesh]);
    expect(pieceDeviation(again.pieces[0], again.pieces[1], false)).toBeLessThan(1e-3);
  });

  it('what the maker declares a copy is one, however much it differs; a twin of a twin is mirrored twice', () => {
    const { e, document } = three({
      pieces: [
        { key: 'b4', copyOf: { key: 'b3', mirrored: true } },
        { key: 'b1', copyOf: { key: 'gone' } },
      ],
    });
    const shared = sharedFiles(e, alikePieces(e, document.alike), document.pieces);
    expect(shared.get('b4')).toEqual({ of: 'b1', mirrored: false });
    expect(shared.has('b1')).toBe(false);
    expect(pieceDeviation(e.pieces[2], e.pieces[3], true)).toBeGreaterThan(1);
  });

  it('copies declared in a ring are made each by itself, and a chain of copies comes from its end', () => {
    const ring = three({
      pieces: [
        { key: 'b1', copyOf: { key: 'b4' } },
        { key: 'b4', copyOf: { key: 'b1', mirrored: true } },
      ],
    });
    expect([...sharedFiles(ring.e, [], ring.document.pieces)]).toEqual([]);
    const chain = three({
      pieces: [
        { key: 'b1', copyOf: { key: 'b2', mirrored: true } },
        { key: 'b2', copyOf: { key: 'b4', mirrored: true } },
      ],
    });
    expect([...sharedFiles(chain.e, [], chain.document.pieces)]).toEqual([
      ['b1', { of: 'b4', mirrored: false }],
      ['b2', { of: 'b4', mirrored: true }],
    ]);
  });

  it('without its first piece chosen, a copy is written by itself', () => {
    const { e, document } = three();
    const chosen = e.pieces.filter((p) => p.key === 'b2' || p.key === 'b3');
    const { files } = exportPieces(chosen, 'Props', 'stl', {
      shared: sharedFiles(e, alikePieces(e, document.alike), document.pieces),
    });
    expect(files.map((f) => f.name)).toEqual(['props-b1-whole.stl', 'props-c1-whole.stl', 'pieces.csv']);
  });
});

describe('what the maker says of pieces and bodies', () => {
  it('own names and codes stay, and what is set aside is not told to be too big', () => {
    const bar = box([0, 0, 0], [30, 30, 700]);
    const seams = [
      {
        id: 's1',
        kind: 'flat' as const,
        origin: [0, 0, 100] as [number, number, number],
        normal: [0, 0, 1] as [number, number, number],
      },
    ];
    const plan = {
      seams,
      pieces: [
        { key: 'b1/s1-', name: 'Foot' },
        { key: 'b1/s1+', aside: true },
      ],
      bodies: [{ id: 'b1', code: 'MAST' }],
    };
    const e = run([bar], plan);
    expect(e.pieces.map((p) => [p.code, p.name, p.aside])).toEqual([
      ['MAST1', 'Foot', false],
      ['MAST2', 'main', true],
    ]);
    expect(e.findings.some((f) => f.code === 'piece.tooBig')).toBe(false);
    expect(run([bar], { seams }).findings.some((f) => f.code === 'piece.tooBig')).toBe(true);
  });
});

import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { judge } from '../../testing/judges.ts';
import { cutBy, flat, printer } from '../../testing/plans.ts';
import { runs } from '../../testing/runs.ts';
import { blob, box } from '../../testing/shapes.ts';
import { type Plan, type PlanInput, parsePlan, type SeamInput } from '../document/index.ts';
import { type Evaluation, type Piece, pieceMesh } from '../evaluate/index.ts';
import { toPrintable } from '../formats/index.ts';
import {
  cross,
  dot,
  type IndexedMesh,
  mapped,
  mirroring,
  topology,
  type Vec3,
  vertexAt,
  volume,
} from '../mesh/index.ts';
import { strokesOf, textWidth } from './glyphs.ts';
import { labelFindings, labelled } from './labelled.ts';

const LABELS = { height: 8, depth: 0.4 };
const planOf = (seams: readonly SeamInput[], more: Partial<PlanInput> = {}): Plan =>
  parsePlan({ version: 5, printer, seams: [...seams], labels: LABELS, ...more });
function cut(
  mesh: IndexedMesh,
  seams: readonly SeamInput[],
  more: Partial<PlanInput> = {},
): { plan: Plan; e: Evaluation } {
  return { plan: planOf(seams, more), e: cutBy(mesh, seams, { labels: LABELS, ...more }) };
}

const block = box([0, 0, 0], [60, 50, 80]);
const pin = (id: string, u: number, v: number) =>
  ({ id, seam: 's', kind: 'pin', at: [u, v], diameter: 8, depth: 6 }) as never;

/**
 * What stands on a face as a reader sees it who looks at it from outside with the model upright: for each place of a grid over
 * the text, whether the surface there is sunk. Rays, not our own outlines.
 */
function read(
  mesh: IndexedMesh,
  out: Vec3,
  level: number,
  up: Vec3,
): { ink: (x: number, y: number) => boolean; box: number[] } {
  const right = cross(up, out);
  const sunk: [number, number][][] = [];
  const { positions: p, triangles: t } = mesh;
  for (let i = 0; i < t.length; i += 3) {
    const corners = [t[i], t[i + 1], t[i + 2]].map((v) => vertexAt(p, v));
    // floors: level with the face, and as deep as the labels
    if (!corners.every((c) => Math.abs(dot(c, out) - (level - LABELS.depth)) < 1e-6)) continue;
    sunk.push(corners.map((c) => [dot(c, right), dot(c, up)]));
  }
  const all = sunk.flat();
  const bounds = [0, 1].flatMap((k) => [Math.min(...all.map((c) => c[k])), Math.max(...all.map((c) => c[k]))]);
  const inside = (tri: [number, number][], x: number, y: number): boolean => {
    const signs = tri.map(([ax, ay], k) => {
      const [bx, by] = tri[(k + 1) % 3];
      return (bx - ax) * (y - ay) - (by - ay) * (x - ax);
    });
    return signs.every((s) => s >= 0) || signs.every((s) => s <= 0);
  };
  return { ink: (x, y) => sunk.some((tri) => inside(tri, x, y)), box: bounds };
}

/** The share of places at which what is read and the strokes of a text agree. */
function agreement(mesh: IndexedMesh, out: Vec3, level: number, up: Vec3, text: string): number {
  const seen = read(mesh, out, level, up);
  const height = LABELS.height;
  const wanted = strokesOf(text, height);
  const right = seen.box[1];
  const at = (x: number, y: number): boolean =>
    wanted.some((loop) => {
      const n = loop.length / 2;
      return Array.from({ length: n }, (_, i) => {
        const k = (i + 1) % n;
        return (
          (loop[2 * k] - loop[2 * i]) * (y - loop[2 * i + 1]) -
            (loop[2 * k + 1] - loop[2 * i + 1]) * (x - loop[2 * i]) >=
          0
        );
      }).every(Boolean);
    });
  // a sign may not fill its width: held against the right end of its own strokes
  const end = Math.max(...wanted.flatMap((l) => [...l].filter((_, i) => i % 2 === 0)));
  // nor its height; an arrow does
  const arrow = seen.box[1] - seen.box[0] > textWidth(text, height) + 1;
  const low = arrow ? 0 : Math.min(...wanted.flatMap((l) => [...l].filter((_, i) => i % 2 === 1)));
  let [same, count] = [0, 0];
  for (let x = 0.2; x < textWidth(text, height); x += 0.35) {
    for (let y = 0.2; y < height; y += 0.35) {
      count++;
      if (seen.ink(right - end + x, seen.box[2] - low + y) === at(x, y)) same++;
    }
  }
  return same / count;
}

describe('codes on mating faces', () => {
  const across = [flat('s', [30, 0, 0], [1, 0, 0])];
  const level = [flat('s', [0, 0, 40], [0, 0, 1])];

  it('read the right way round from outside, upright on standing faces, with an arrow before them', () => {
    const { plan, e } = cut(block, across);
    for (const piece of e.pieces) {
      const { piece: done, engraved, faces } = labelled(plan, e, piece);
      expect([engraved, faces]).toEqual([1, 1]);
      const { mesh } = pieceMesh(done);
      const out: Vec3 = piece.box.max[0] > 45 ? [-1, 0, 0] : [1, 0, 0];
      const up: Vec3 = [0, 0, 1];
      const at = out[0] * 30;
      expect(agreement(mesh, out, at, up, piece.code)).toBeGreaterThan(0.97);
      // and not as the other piece's, nor upside down
      expect(agreement(mesh, out, at, up, piece.code === 'A1' ? 'A2' : 'A1')).toBeLessThan(0.95);
      expect(agreement(mesh, out, at, [0, 0, -1], piece.code)).toBeLessThan(0.9);
      const { box: b } = read(mesh, out, at, up);
      expect(b[1] - b[0]).toBeGreaterThan(textWidth(piece.code, 8) + 3);
    }
  });

  it('look to the model’s back on level faces, with no arrow', () => {
    const { plan, e } = cut(block, level);
    for (const piece of e.pieces) {
      const { mesh } = pieceMesh(labelled(plan, e, piece).piece);
      const out: Vec3 = piece.box.max[2] > 60 ? [0, 0, -1] : [0, 0, 1];
      expect(agreement(mesh, out, out[2] * 40, [0, 1, 0], piece.code)).toBeGreaterThan(0.97);
      const { box: b } = read(mesh, out, out[2] * 40, [0, 1, 0]);
      expect(b[1] - b[0]).toBeLessThan(textWidth(piece.code, 8) + 0.01);
    }
  });

  it('on a file that is mirrored read the right way round afterwards', () => {
    const { plan, e } = cut(block, across);
    const [piece] = e.pieces;
    const { mesh } = pieceMesh(labelled(plan, e, piece, 'B7', true).piece);
    const out: Vec3 = piece.box.max[0] > 45 ? [1, 0, 0] : [-1, 0, 0];
    const mirrored = mapped(mesh, mirroring([1, 0, 0], [0, 0, 0]));
    expect(agreement(mirrored, out, -out[0] * 30, [0, 0, 1], 'B7')).toBeGreaterThan(0.97);
    expect(volume(mirrored)).toBeGreaterThan(0);
  });

  it('leave solids that the kernel takes, shallower by what is engraved and no more, beside their joints', () => {
    const coordinate = fc.integer({ min: -15, max: 15 });
    fc.assert(
      fc.property(
        coordinate,
        coordinate,
        fc.constantFrom<Vec3>([1, 0, 0], [0, 1, 0], [0, 0, 1], [1, 0.3, 0.2], [0.2, -1, 0.4], [0.3, 0.3, 1]),
        fc.integer({ min: 4, max: 12 }),
        (u, v, normal, height) => {
          const seams = [flat('s', [30, 25, 40], normal)];
          const labels = { height, depth: 0.4 };
          const { plan, e } = cut(block, seams, { joints: [pin('j', 30 + u, 25 + v)], labels });
          for (const piece of e.pieces) {
            const { piece: done, engraved } = labelled(plan, e, piece);
            const { mesh } = pieceMesh(done);
            expect(topology(mesh).watertight).toBe(true);
            const said = judge(toPrintable(mesh).mesh);
            expect(said.status).toBe('NoError');
            expect(Math.abs(said.volume - volume(mesh))).toBeLessThan(1e-5 * piece.volume);
            const taken = piece.volume - volume(mesh);
            expect(taken > 0).toBe(engraved > 0);
            expect(taken).toBeLessThan(0.4 * 60 * height);
          }
        },
      ),
      { numRuns: runs(40) },
    );
  });

  it('get smaller letters where there is less room, and none where there is none: that is a finding', () => {
    const of = (width: number) => cut(box([0, 0, 0], [width, 40, 60]), [flat('s', [0, 0, 30], [0, 0, 1])]);
    const volumes = [60, 18, 11].map((width) => {
      const { plan, e } = of(width);
      const [piece] = e.pieces;
      return piece.volume - volume(pieceMesh(labelled(plan, e, piece).piece).mesh);
    });
    expect(volumes[0]).toBeGreaterThan(volumes[1]);
    expect(volumes[1]).toBeGreaterThan(0);
    const narrow = of(5);
    expect(labelled(narrow.plan, narrow.e, narrow.e.pieces[0]).engraved).toBe(0);
    const said = labelFindings(narrow.plan, narrow.e);
    expect(said.map((f) => f.where.piece)).toEqual(narrow.e.pieces.map((p) => p.key));
    expect(said[0].message).toContain('A1');
    const wide = of(60);
    expect(labelFindings(wide.plan, wide.e)).toEqual([]);
  });

  it('are not there when they are not wanted, on open pieces, pieces set aside, or without mating faces', () => {
    const { plan, e } = cut(block, across);
    const [piece] = e.pieces;
    expect(labelled({ ...plan, labels: undefined } as Plan, e, piece).piece).toBe(piece);
    expect(labelled(plan, e, { ...piece, aside: true } as Piece).engraved).toBe(0);
    expect(labelled(plan, e, { ...piece, closed: false } as Piece).engraved).toBe(0);
    const whole = cut(
      blob(12, 12, 60, () => 30),
      [],
    );
    expect(labelled(whole.plan, whole.e, whole.e.pieces[0])).toMatchObject({ engraved: 0, faces: 0 });
    expect(labelFindings(whole.plan, whole.e)).toEqual([]);
  });

  it('are made once for the same caps, and keep the piece’s own name', () => {
    const { plan, e } = cut(block, across);
    const [piece] = e.pieces;
    const first = labelled(plan, e, piece);
    const again = labelled(plan, e, { ...piece, name: 'Foot' });
    expect(again.piece.caps).toBe(first.piece.caps);
    expect(again.piece.name).toBe('Foot');
    expect(labelled(plan, e, piece, 'A9').piece.caps).not.toBe(first.piece.caps);
  });
});

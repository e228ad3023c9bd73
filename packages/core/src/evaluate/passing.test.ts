import { readFileSync } from 'node:fs';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { fallback, kernel } from '../../testing/judges.ts';
import { cutBy, flat } from '../../testing/plans.ts';
import { runs } from '../../testing/runs.ts';
import { box } from '../../testing/shapes.ts';
import { bodiesOf } from '../body/index.ts';
import { withCrossings } from '../crossing/index.ts';
import { parsePlan } from '../document/index.ts';
import { readModel, toPrintable } from '../formats/index.ts';
import { buildCap, cappedMesh, type Half } from '../joints/index.ts';
import { labelled } from '../labels/index.ts';
import type { Loop2 } from '../mesh/index.ts';
import { computeProject, shapeProject } from '../project.ts';
import { capFrame } from './cap-frame.ts';
import { passings } from './passing.ts';
import { pieceMesh } from './piece-mesh.ts';

const folder = new URL('../../testing/cases/', import.meta.url);
const saved = (model: string, plan: string) => {
  const found = bodiesOf(readModel(new Uint8Array(readFileSync(new URL(model, folder)))), 'Case');
  const parsed = parsePlan(JSON.parse(readFileSync(new URL(plan, folder), 'utf8')));
  return computeProject(parsed, shapeProject(parsed, found, kernel), { kernel, fallback });
};
/** Places at which the files of the pieces, codes included, pass through themselves, by looking at all triangles. */
const crossed = ({ plan, evaluation }: ReturnType<typeof saved>): number =>
  evaluation.pieces
    .map((p) => toPrintable(pieceMesh(labelled(plan, evaluation, p).piece).mesh).mesh)
    .reduce((n, mesh) => n + withCrossings([{ mesh }])[0].crossed!.count, 0);

const block = (u: number, v: number, half: number): Loop2 =>
  Float64Array.of(u - half, v - half, u + half, v - half, u + half, v + half, u - half, v + half);
const half = (joint: string, kind: Half['kind'], loop: Loop2, from: number, to: number): Half => ({
  joint,
  kind,
  rings: [
    { loop, height: from },
    { loop, height: to },
  ],
});

/** The lower half of a block of 40 × 40 × 40 mm with halves built into its cap whatever comes of it. */
function built(halves: readonly Half[]) {
  const e = cutBy(box([-20, -20, -40], [20, 20, 40]), [flat('s1', [0, 0, 0], [0, 0, 1])]);
  const { solid, caps } = e.pieces.find((p) => p.box.max[2] < 1)!;
  const frame = capFrame(e, solid.caps[0])!;
  const made = [buildCap(solid.caps[0], frame, halves, fallback), ...caps.slice(1)];
  const told = passings(solid, made);
  const mesh = toPrintable(cappedMesh(solid, made)).mesh;
  return { told, crosses: withCrossings([{ mesh }])[0].crossed!.count > 0 };
}

describe('joints whose outlines cross edge to edge', () => {
  it.each(['plan', 'diag', 'overlapcorner', 'same', 'tee', 'wide'])('are told, and one is not built: %s', (name) => {
    const project = saved('cross/box.stl', `cross/${name}.json`);
    expect(project.stops.map((f) => f.code)).toEqual(['joint.near']);
    expect(crossed(project)).toBe(0);
  });
});

describe('a code', () => {
  it('keeps off a joint whose edge it would cross', () => {
    const project = saved('label/torus.stl', 'label/plan.json');
    expect(project.evaluation.pieces.map((p) => labelled(project.plan, project.evaluation, p).engraved)).toEqual([
      1, 1,
    ]);
    expect(crossed(project)).toBe(0);
  });
});

describe('the pocket of a nut', () => {
  it('that comes out through a bent seam is told, and not built', () => {
    const project = saved('screw/sphere.stl', 'screw/plan.json');
    expect(project.stops.map((f) => f.code)).toEqual(['joint.through']);
    expect(crossed(project)).toBe(0);
  });
});

describe('what is built into a cap', () => {
  it('passes through a joint, the skin or a face just when the file’s triangles do', () => {
    const at = fc.integer({ min: -14, max: 14 });
    const some = fc.tuple(at, at, fc.integer({ min: 2, max: 5 }), fc.integer({ min: 3, max: 60 }), fc.boolean());
    let both = 0;
    fc.assert(
      fc.property(some, some, (a, whole) => {
        // walls that just touch are left to rounding
        const b = [whole[0] + 0.0731, whole[1] + 0.0417, ...whole.slice(2)] as unknown as typeof whole;
        // mouths lie apart, or the cap could not be triangulated
        fc.pre(Math.max(Math.abs(a[0] - b[0]), Math.abs(a[1] - b[1])) > a[2] + b[2] + 0.1);
        const halves = [a, b].map(([u, v, h, depth, male], i) => {
          const wide = half(`j${i}`, male ? 'male' : 'socket', block(u, v, h), 0, depth);
          // it widens below its mouth, and so may run into the other or out of the side
          return { ...wide, rings: [wide.rings[0], { loop: block(u, v, h + depth / 4), height: depth }] };
        });
        const { told, crosses } = built(halves);
        if (crosses) both++;
        expect(told.length > 0).toBe(crosses);
      }),
      { numRuns: runs(150) },
    );
    expect(both).toBeGreaterThan(20);
  });

  it('is told by the joint, and says what it passes through', () => {
    const near = built([
      half('j1', 'socket', block(0, 0, 4), 0, 10),
      {
        ...half('j2', 'socket', block(10, 0, 3), 0, 10),
        rings: [
          { loop: block(10, 0, 3), height: 0 },
          { loop: block(10, 0, 9), height: 10 },
        ],
      },
    ]);
    expect(near.told.map(({ joint, other }) => [joint, other])).toEqual([['j2', 'j1']]);
    const out = built([half('j1', 'socket', block(0, 0, 4), 0, 60)]);
    expect(out.told.map(({ joint, other }) => [joint, other])).toEqual([['j1', null]]);
  });

  it('a closed pocket in no material is told, though it passes through nothing', () => {
    expect(built([half('m', 'void', block(0, 0, 4), 2, 6)]).told).toEqual([]);
    const outside = built([half('m', 'void', block(0, 0, 4), 50, 56)]);
    expect(outside.crosses).toBe(false);
    expect(outside.told.map((t) => t.joint)).toEqual(['m']);
    const within = built([half('m', 'void', block(0, 0, 3), 4, 8), half('j', 'socket', block(0, 0, 5), 0, 12)]);
    expect(within.crosses).toBe(false);
    expect(within.told.map((t) => t.joint)).toEqual(['m']);
  });
});

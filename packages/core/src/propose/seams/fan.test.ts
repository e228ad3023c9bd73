import { beforeAll, describe, expect, it } from 'vitest';
import { kernel, meshOfSolid } from '../../../testing/judges.ts';
import { modelOfMesh, planOf, propose } from '../../../testing/proposing.ts';
import { box } from '../../../testing/shapes.ts';
import { mirrorIn, volume } from '../../mesh/index.ts';
import { alikePieces } from '../../output/index.ts';
import { loadSimplifier } from '../../solid/index.ts';
import type { Proposal } from './proposal.ts';
import { reasonWords } from './reasons.ts';

beforeAll(loadSimplifier);

const M = kernel.Manifold;
const ring = meshOfSolid(kernel.CrossSection.circle(18, 20).translate([150, 0]).revolve(48));

const isFan = ({ seams }: Proposal): boolean => seams.some((s) => s.kind === 'fan');

describe('sectors of what is round', () => {
  it('are equal, so one file makes all of a ring', () => {
    const model = modelOfMesh(ring);
    const { seams, figures, evaluation, plan } = propose(planOf(), model);
    expect(figures).toMatchObject({ pieces: 8, fits: 8, closed: 8, slivers: 0 });
    expect(seams).toHaveLength(1);
    expect(seams[0]).toMatchObject({ kind: 'fan', count: 8 });
    expect(seams[0].reasons!.map(reasonWords).join()).toMatch(/8 equal sectors/);
    expect(evaluation.pieces.reduce((sum, p) => sum + p.volume, 0) / volume(ring)).toBeCloseTo(1, 9);
    const [group, ...others] = alikePieces(evaluation, plan.alike);
    expect(others).toEqual([]);
    expect(group.same.length + group.mirrored.length).toBe(7);
  });

  it('lie turned on the bed where that takes it, in a pose that is written', () => {
    const hoop = M.cylinder(60, 190, 190, 60, true).subtract(M.cylinder(70, 170, 170, 60, true));
    const { figures, evaluation, plan, seams } = propose(planOf(), modelOfMesh(meshOfSolid(hoop.rotate([0, 30, 0]))));
    expect(seams[0].kind).toBe('fan');
    expect(figures.fits).toBe(figures.pieces);
    const posed = plan.pieces.filter((p) => p.pose);
    expect(posed.length).toBeGreaterThan(0);
    for (const { key } of posed)
      expect(evaluation.pieces.find((p) => p.key === key)!.build).toMatchObject({ within: true, posed: true });
  });

  it('are the same on both sides of a mirror plane, wherever that lies', () => {
    for (const normal of [
      [1, 0, 0],
      [0.6, 0.8, 0],
      [0, 0, 1],
    ] as const) {
      const mirror = mirrorIn({ at: [0, 0, 0], normal })!;
      const alike = propose(planOf(), modelOfMesh(ring), { mirror });
      expect(alike.unlike).toBe(0);
      expect(isFan(alike)).toBe(true);
      expect(alike.figures.fits).toBe(alike.figures.pieces);
      expect(alike.figures.pieces).toBeLessThan(10);
    }
  });

  it.each([
    ['something solid at its axis', meshOfSolid(M.cylinder(40, 150, 150, 64))],
    ['something round nowhere', box([0, 0, 0], [250, 180, 60])],
  ])('are not for %s', (_, mesh) => {
    expect(isFan(propose(planOf(), modelOfMesh(mesh)))).toBe(false);
  });

  it('give way to zones and seams that stay', () => {
    const model = modelOfMesh(ring);
    const zone = { id: 'z1', kind: 'sphere' as const, at: [150, 0, 0] as [number, number, number], radius: 20 };
    expect(isFan(propose(planOf({ zones: [zone] }), model))).toBe(false);
    const across = {
      id: 's1',
      kind: 'flat' as const,
      origin: [0, 0, 0] as [number, number, number],
      normal: [1, 0, 0] as [number, number, number],
    };
    expect(isFan(propose(planOf({ seams: [across] }), model))).toBe(false);
  });
});

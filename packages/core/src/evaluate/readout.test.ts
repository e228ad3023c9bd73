import { describe, expect, it } from 'vitest';
import { fallback, kernel, meshOfSolid } from '../../testing/judges.ts';
import { modelOfMeshes } from '../../testing/models.ts';
import { blob, box } from '../../testing/shapes.ts';
import { bodiesOf } from '../body/bodies.ts';
import { type PlanInput, parsePlan } from '../document/schema.ts';
import type { IndexedMesh } from '../mesh/types.ts';
import { sizedBody } from '../seams/parting-cache.ts';
import { placeZone, zoneSpan } from '../seams/zones.ts';
import { EvalCache } from './eval-cache.ts';
import { evaluate } from './evaluate.ts';
import { seamReadout, seamShowing } from './readout.ts';

const printer = { size: [220, 220, 250] as [number, number, number] };

function run(mesh: IndexedMesh, plan: Partial<PlanInput>) {
  const { bodies } = bodiesOf(modelOfMeshes([mesh]), 'Test');
  const e = evaluate(parsePlan({ version: 5, printer, ...plan }), bodies, { fallback, kernel });
  return { e, sized: sizedBody(bodies[0], new EvalCache()) };
}

const across = (id: string, z: number, more: object = {}) => ({
  id,
  kind: 'flat' as const,
  origin: [0, 0, z] as [number, number, number],
  normal: [0, 0, 1] as [number, number, number],
  ...more,
});
const fromKernel = (solid: InstanceType<typeof kernel.Manifold>): IndexedMesh => {
  const m = solid;
  return meshOfSolid(m);
};

describe('seamReadout', () => {
  it('a cone stands well on its wide cap, and badly on its narrow one', () => {
    // opens upwards by more than 45°
    const cone = fromKernel(kernel.Manifold.cylinder(40, 10, 80, 64));
    const { e } = run(cone, { seams: [across('s', 20)] });
    const [above, below] = seamReadout(e, 's');
    expect([above.side, below.side]).toEqual([1, -1]);
    expect(above.pieces[0].overhang).toBeGreaterThan(0.3);
    expect(below.pieces[0].overhang).toBe(0);
    expect(above.pieces[0].areas[0] / (Math.PI * 45 * 45)).toBeCloseTo(1, 2);
    expect(above.pieces[0].widest).toBeCloseTo(45, 0);
  });

  it('a shallow dome just under its top leaves a feather edge above the seam, none below', () => {
    const dome = fromKernel(kernel.Manifold.sphere(100, 128).trimByPlane([0, 0, 1], 0));
    const { e } = run(dome, { seams: [across('s', 97)] });
    const [above, below] = seamReadout(e, 's');
    expect(above.pieces[0].feather).toBeGreaterThan(0.9);
    expect(below.pieces[0].feather).toBe(0);
  });
});

describe('seamShowing', () => {
  const showing = (mesh: IndexedMesh, z: number) => {
    const { e, sized } = run(mesh, { seams: [across('s', z)] });
    return seamShowing(
      sized,
      e.faces[0].frame,
      e.faces.map((f) => f.region),
    );
  };

  it('is seen on a plain wall, and hidden in the crease where two parts meet', () => {
    const post = fromKernel(
      kernel.Manifold.cylinder(40, 40, 40, 64).add(kernel.Manifold.cylinder(60, 15, 15, 64).translate([0, 0, 40])),
    );
    expect(showing(post, 70).smooth).toBeGreaterThan(0.95);
    expect(showing(post, 40.2).crease).toBeGreaterThan(0.9);
  });

  it('the inner outline of a narrow tube is inside', () => {
    const tube = fromKernel(
      kernel.Manifold.cylinder(100, 10, 10, 48).subtract(kernel.Manifold.cylinder(102, 4, 4, 48).translate([0, 0, -1])),
    );
    const s = showing(tube, 50);
    expect(s.inside).toBeCloseTo(4 / 14, 1);
    expect(s.smooth).toBeCloseTo(10 / 14, 1);
  });
});

describe('findings of seams', () => {
  const tower = box([-20, -20, 0], [20, 20, 100]);
  const codes = (plan: Partial<PlanInput>): string[] =>
    run(tower, plan)
      .e.findings.map((f) => f.code)
      .filter((c) => /^(seam|piece|face\.small)/.test(c))
      .sort();

  it('a seam through a zone, by how much; not where its plane passes the zone outside the material', () => {
    const sphere = {
      id: 'z1',
      name: 'the face',
      kind: 'sphere' as const,
      at: [0, -20, 50] as [number, number, number],
      radius: 8,
    };
    const { e } = run(tower, { seams: [across('s', 53)], zones: [sphere] });
    const [finding] = e.findings.filter((f) => f.code === 'seam.zone');
    expect(finding.value).toBeCloseTo(5, 6);
    expect(finding.message).toContain('the face');
    expect(codes({ seams: [across('s', 53)], zones: [{ ...sphere, at: [0, -40, 50] }] })).toEqual([]);
    const boxed = {
      id: 'z2',
      kind: 'box' as const,
      at: [20, 0, 50] as [number, number, number],
      size: [4, 4, 4] as [number, number, number],
    };
    expect(codes({ seams: [across('s', 49)], zones: [boxed] })).toEqual(['seam.zone']);
    expect(codes({ seams: [across('s', 53)], zones: [boxed] })).toEqual([]);
  });

  it('two seams that nearly coincide leave a sliver', () => {
    expect(codes({ seams: [across('s1', 50), across('s2', 50.5)] })).toEqual(['piece.sliver', 'seam.coincident']);
    expect(codes({ seams: [across('s1', 50), across('s2', 55)] })).toEqual([]);
  });

  it('a face that is too small for any joint', () => {
    const needle = blob(30, 20, 100, () => 1.1);
    expect(run(needle, { seams: [across('s', 0)] }).e.findings.map((f) => f.code)).toContain('face.small');
  });

  it('zones grow, turn and move with the model', () => {
    const zone = placeZone(
      { id: 'z', name: '', kind: 'box', at: [1, 0, 0], size: [2, 4, 6] },
      [0, -2, 0, 5, 2, 0, 0, 0, 0, 0, 2, 0],
    );
    expect(zoneSpan(zone, [1, 0, 0])).toEqual([1, 9]);
    expect(zoneSpan(zone, [0, 1, 0])).toEqual([0, 4]);
  });
});

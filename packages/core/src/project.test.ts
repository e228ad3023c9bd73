import { describe, expect, it } from 'vitest';
import { fallback, kernel } from '../testing/judges.ts';
import { modelOfMeshes } from '../testing/models.ts';
import { box } from '../testing/shapes.ts';
import { bodiesOf } from './body/bodies.ts';
import { type PlanInput, parsePlan } from './document/schema.ts';
import { readStl } from './formats/index.ts';
import { computeProject, shapeProject, stopsOf, writeProject } from './project.ts';

const printer = { size: [100, 100, 100] as [number, number, number] };
const mast = box([0, 0, 0], [30, 30, 160]);
/** A box of 80 mm without its lid. */
const open = (() => {
  const b = box([200, 0, 0], [280, 80, 80]);
  return { ...b, triangles: b.triangles.slice(6), tags: b.tags.slice(2) };
})();

function computed(meshes: Parameters<typeof modelOfMeshes>[0], more: Partial<PlanInput> = {}) {
  const plan = parsePlan({ version: 5, printer, ...more });
  const found = bodiesOf(modelOfMeshes(meshes), 'Mast');
  const shaped = shapeProject(plan, found, kernel);
  return computeProject(plan, shaped, { fallback, kernel });
}

const middle = {
  id: 's1',
  kind: 'flat' as const,
  origin: [0, 0, 80] as [number, number, number],
  normal: [0, 0, 1] as [number, number, number],
};

describe('a project', () => {
  it('is sound when its pieces fit and their files are watertight', () => {
    const project = computed([mast], { seams: [middle] });
    const { pieces } = project.evaluation;
    const written = writeProject(project, pieces, 'Mast', 'stl');
    expect(project.stops).toEqual([]);
    expect(written.against).toEqual([]);
    expect(written.written.map((w) => w.watertight)).toEqual([true, true]);
  });

  it('shares files of equal pieces', () => {
    const project = computed([mast], { seams: [middle] });
    expect(project.alike).toMatchObject([{ first: 'b1/s1-', same: ['b1/s1+'] }]);
    const { files } = writeProject(project, project.evaluation.pieces, 'Mast', 'stl');
    expect(files.map((f) => f.name)).toEqual(['mast-a1-lower-2x.stl', 'pieces.csv']);
  });

  it('says what stops it and which piece: too large, or open', () => {
    const project = computed([mast, open]);
    const [whole, lidless] = project.evaluation.pieces;
    expect(stopsOf(whole, project.evaluation)).toEqual([expect.stringMatching(/does not fit/)]);
    expect(stopsOf(lidless, project.evaluation)).toEqual([expect.stringMatching(/open|not closed/)]);
    expect(project.stops).toHaveLength(2);
  });

  it('never calls a file checked that is not watertight', () => {
    const project = computed([open]);
    const { against, written } = writeProject(project, project.evaluation.pieces, 'Box', 'ply');
    expect(written[0].watertight).toBe(false);
    expect(against).toContainEqual('The file of A1 whole is not watertight.');
  });

  it('writes printed loose parts with the pieces that they join: a file each, or all beside each other in one', () => {
    const dowel = { kind: 'dowel' as const, seam: 's1', diameter: 6, depth: 8 };
    const joints = [
      { ...dowel, id: 'j1', at: [-7, -5] as [number, number] },
      { ...dowel, id: 'j2', at: [7, -5] as [number, number], diameter: 4 },
      { ...dowel, id: 'j3', at: [0, 8] as [number, number], diameter: 4, stock: 'rod' as const },
    ];
    const project = computed([mast], {
      seams: [{ ...middle, origin: [15, 15, 80] }],
      joints,
    });
    const { pieces, loose } = project.evaluation;
    expect(loose.filter((l) => l.mesh)).toHaveLength(2);
    const names = (list: typeof pieces, format: 'stl' | '3mf'): string[] =>
      writeProject(project, list, 'mast', format).files.map((f) => f.name);
    const stl = names(pieces, 'stl');
    expect(stl.filter((n) => n.includes('loose'))).toHaveLength(2);
    expect(stl.some((n) => /^mast-loose-printed-rod-with-a-flat-6/.test(n))).toBe(true);
    expect(names(pieces, '3mf').filter((n) => n.includes('loose'))).toEqual(['mast-loose-parts.3mf']);
    const lone = computed([mast], { seams: [], joints: [] });
    expect(writeProject(lone, lone.evaluation.pieces, 'mast', 'stl').files.some((f) => f.name.includes('loose'))).toBe(
      false,
    );
    const rods = writeProject(project, pieces, 'mast', 'stl').files.filter((f) => f.name.includes('loose'));
    for (const { bytes } of rods) {
      const { positions } = readStl(bytes).parts[0];
      const low = Math.min(...positions.filter((_, k) => k % 3 === 2));
      expect(low).toBeCloseTo(0, 5);
    }
  });

  it('does the steps of the recipe first, and leaves locked bodies as they are', () => {
    const scaled = (more: Partial<PlanInput>) =>
      computed([mast], { recipe: [{ kind: 'scale', factor: 0.5 }], ...more }).evaluation.pieces[0].size;
    expect(scaled({})).toEqual([15, 15, 80]);
  });
});

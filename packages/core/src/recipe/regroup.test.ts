import { describe, expect, it } from 'vitest';
import { modelOfMeshes } from '../../testing/models.ts';
import { box, moved, together } from '../../testing/shapes.ts';
import { bodiesOf } from '../body/bodies.ts';
import { concatenate, subset, turnedOver, volume } from '../mesh/index.ts';
import { inSolids, regrouped } from './regroup.ts';

const cube = box([0, 0, 0], [10, 10, 10]);
const at = (x: number) => moved(cube, (a, b, c) => [a + x, b, c]);
const painted = (mesh: typeof cube, paint: number) => ({ ...mesh, tags: mesh.tags.map(() => paint) });
const found = bodiesOf(
  modelOfMeshes(
    [painted(cube, 1), painted(at(20), 2)],
    [
      { name: '', colour: '' },
      { name: 'Ash wood', colour: '#b99a6b' },
      { name: 'Tide blue', colour: '#1f5673' },
    ],
  ),
  'Mast',
).bodies;

describe('bodies whose surfaces are changed together', () => {
  it('keep their ids, names and colours when they stay apart', () => {
    const out = regrouped(found, (mesh) => ({ ...mesh }));
    expect(out.map((b) => [b.id, b.name, [...new Set(b.mesh.tags)]])).toEqual(
      found.map((b) => [b.id, b.name, [...new Set(b.mesh.tags)]]),
    );
  });

  it('come back as they were when nothing is changed', () => {
    expect(regrouped(found, (mesh) => mesh)).toEqual(found);
  });

  it('become one of the name that most of its triangles come from, each triangle with its colour', () => {
    const welded = regrouped(found, (mesh) => {
      // a bridge of one triangle makes one shell of both; more of it is the second body's
      const most = subset(mesh, [...mesh.tags.keys()].slice(2));
      return { ...most, triangles: most.triangles.map((v, i) => (i === 0 ? most.triangles.at(-1)! : v)) };
    });
    expect(welded).toHaveLength(1);
    expect(welded[0].id).toBe(found[1].id);
    expect([...welded[0].mesh.tags].sort()).toEqual([...Array<number>(10).fill(1), ...Array<number>(12).fill(2)]);
  });

  it('that fall apart keep the id with the largest part, and number the rest', () => {
    const [body] = found;
    const parts = inSolids({ ...body, mesh: together(at(100), box([0, 0, 0], [40, 40, 40]), at(60)) });
    expect(parts.map((b) => [b.id, Math.round(b.volume)])).toEqual([
      ['b1', 64000],
      ['b1-2', 1000],
      ['b1-3', 1000],
    ]);
    expect(parts.map((b) => b.name)).toEqual([body.name, `${body.name} 2`, `${body.name} 3`]);
  });

  it('keep a hollow with the solid that is round it', () => {
    const [body] = found;
    const inner = turnedOver(box([2, 2, 2], [8, 8, 8]));
    const parts = inSolids({ ...body, mesh: concatenate([cube, inner, at(50)]) });
    expect(parts.map((b) => volume(b.mesh))).toEqual([expect.closeTo(1000 - 216, 9), expect.closeTo(1000, 9)]);
  });
});

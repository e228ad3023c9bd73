import { type IndexedMesh, loadKernel, type SeamInput } from '@gephyra/core';
import { describe, expect, it } from 'vitest';
import { checked, jointed, judged, orderOf } from '../packages/core/testing/orders.ts';
import { flat } from '../packages/core/testing/plans.ts';
import { herald } from './herald.ts';
import { anchorInOne, hoop, lantern, visor } from './models.ts';
import { flukePlan, hoopPlan, lanternPlan } from './seed.ts';

const kernel = await loadKernel();
const tagged = ({ positions, triangles }: Pick<IndexedMesh, 'positions' | 'triangles'>): IndexedMesh => ({
  positions,
  triangles: Uint32Array.from(triangles),
  tags: new Uint32Array(triangles.length / 3),
});

/** What each prop is parted by; joints are seated by themselves. */
const props: [string, () => IndexedMesh, readonly SeamInput[]][] = [
  ['lantern', () => tagged(lantern(kernel)), lanternPlan.seams],
  ['anchor', () => tagged(anchorInOne(kernel)), flukePlan.seams],
  ['hoop', () => tagged(hoop()), hoopPlan.seams],
  ['visor', () => tagged(visor()), [flat('s1', [0, 0, 0], [1, 0, 0]), flat('s2', [0, 0, 40], [0, 0, 1])]],
  [
    'herald',
    () => tagged(herald(kernel)),
    [flat('s1', [0, 0, 300], [0, 0, 1]), flat('s2', [0, 0, 500], [0, 0, 1]), flat('s3', [0, 0, 120], [0, 0, 1])],
  ],
];

describe('the order of joining that is proposed', () => {
  it.each(props)('has a free way for every step of the %s, joints included', (_, mesh, seams) => {
    const e = jointed(mesh(), seams);
    expect(e.pieces.length).toBeGreaterThan(2);
    const { steps, locked } = orderOf(e);
    expect(locked).toEqual([]);
    const assembly = checked(e, [...steps]);
    expect(assembly.findings).toEqual([]);
    expect(assembly.steps.at(-1)!.parts.flat().length).toBe(e.pieces.length);
    for (const { common, allowed } of judged(e, assembly)) expect(common).toBeLessThan(allowed);
  });
});

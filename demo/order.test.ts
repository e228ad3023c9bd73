import type { IndexedMesh, SeamInput } from '@gephyra/core';
import { describe, expect, it } from 'vitest';
import { kernel, lighter } from '../packages/core/testing/judges.ts';
import { checked, jointed, judged, orderOf } from '../packages/core/testing/orders.ts';
import { flat } from '../packages/core/testing/plans.ts';
import { herald } from './herald.ts';
import { anchorInOne, hoop, lantern, visor } from './models.ts';
import { flukePlan, hoopPlan, lanternPlan } from './seed.ts';

/** What each prop is parted by; joints are seated by themselves. */
const props: [string, () => IndexedMesh, readonly SeamInput[]][] = [
  ['lantern', () => lighter(lantern(kernel)), lanternPlan.seams],
  ['anchor', () => lighter(anchorInOne(kernel)), flukePlan.seams],
  ['hoop', () => lighter(hoop()), hoopPlan.seams],
  ['visor', () => lighter(visor()), [flat('s1', [0, 0, 0], [1, 0, 0]), flat('s2', [0, 0, 40], [0, 0, 1])]],
  [
    'herald',
    () => lighter(herald(kernel)),
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

import { FITS, type Fit, type IndexedMesh, type JointKind, seatJoints, startingFits } from '@gephyra/core';
import { afterAll, describe, expect, it } from 'vitest';
import { soundJoints } from '../packages/core/testing/joints.ts';
import { kernel, lighter } from '../packages/core/testing/judges.ts';
import { cutBy, flat, printer } from '../packages/core/testing/plans.ts';
import { anchorInOne, hoop, visor } from './models.ts';

const PROPS: Record<string, IndexedMesh> = {
  anchor: lighter(anchorInOne(kernel)),
  hoop: lighter(hoop()),
  visor: lighter(visor()),
};
const start = startingFits({ kind: 'filament', nozzle: 0.4 });
const seated = new Map<string, number>();

/** Which prop, cut at what height and how slanted, gets joints of which kind, in which fit. */
const CASES: [string, number, number, JointKind, Fit][] = [
  ['anchor', 40, 0.2, 'key', 'slip'],
  ['anchor', 90, 0, 'dowel', 'loose'],
  ['anchor', -40, 0.3, 'snap', 'snug'],
  ['anchor', 60, 0, 'magnet', 'press'],
  ['hoop', 0, 0.1, 'pin', 'slip'],
  ['hoop', 4, 0, 'cone', 'snug'],
  ['visor', 100, 0.1, 'lap', 'slip'],
];

describe('joints seated on the demo’s props', () => {
  it.each(CASES)('%s, cut at %d slanted by %d: %s, %s', (prop, height, slant, kind, fit) => {
    const mesh = PROPS[prop];
    const seams = [flat('s1', [0, 0, height], [slant, slant / 2, 1]), flat('s2', [7, 0, 0], [1, slant / 3, 0])];
    // whatever fit a joint names, it is this one
    const own = { ...printer, fits: { all: { snug: start[fit], slip: start[fit] } } };
    const bare = cutBy(mesh, seams, { printer: own });
    const { joints, notes } = seatJoints(bare.context.plan, bare, { kind });
    const e = cutBy(mesh, seams, { printer: own, joints: [...joints] });
    soundJoints(e, mesh, 0.4);
    expect(joints.length).toBeGreaterThan(0);
    expect(e.joints.map((j) => [j.id, j.built])).toEqual(joints.map((j) => [j.id, true]));
    // what would leave no common way in becomes a cone
    for (const j of joints) expect(['cone', kind]).toContain(j.kind);
    for (const note of notes) expect(note.joints.length > 0 || note.help).toBeTruthy();
    for (const j of joints) seated.set(j.kind, (seated.get(j.kind) ?? 0) + 1);
  });

  afterAll(() => {
    expect([...seated.keys()].sort()).toEqual(['cone', 'dowel', 'key', 'lap', 'magnet', 'pin', 'snap']);
    expect(new Set(CASES.map(([, , , , fit]) => fit)).size).toBe(FITS.length);
  });
});

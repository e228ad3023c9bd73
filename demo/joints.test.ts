import { FITS, loadKernel, loadSimplifier, seatJoints, startingFits } from '@gephyra/core';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { soundJoints } from '../packages/core/testing/joints.ts';
import { cutBy, flat, printer } from '../packages/core/testing/plans.ts';
import { anchorInOne, hoop, lantern, type Model, visor } from './models.ts';

const kernel = await loadKernel();
await loadSimplifier();
const props: [string, () => Model][] = [
  ['lantern', () => lantern(kernel)],
  ['anchor', () => anchorInOne(kernel)],
  ['hoop', hoop],
  ['visor', visor],
];
const whole = (low: number, high: number) => fc.integer({ min: low, max: high });
const start = startingFits({ kind: 'filament', nozzle: 0.4 });

describe.each(props)('joints seated on the %s, wherever it is cut', (_, make) => {
  it('of every kind and fit have no stop, keep their walls by the kernel’s distance, and stay out of each other', () => {
    const { positions, triangles } = make();
    const mesh = { positions, triangles, tags: new Uint32Array(triangles.length / 3) };
    fc.assert(
      fc.property(
        whole(-60, 120),
        whole(-4, 4),
        whole(-4, 4),
        fc.constantFrom('auto', 'auto', 'key', 'pin', 'cone', 'dowel', 'snap', 'magnet', 'lap'),
        fc.constantFrom(...FITS),
        (height, tilt, lean, kind, fit) => {
          const seams = [
            flat('s1', [0, 0, height], [tilt / 10, lean / 10, 1]),
            flat('s2', [7, 0, 0], [1, lean / 20, 0]),
          ];
          // whatever fit a joint names, it is this one
          const own = { ...printer, fits: { all: { snug: start[fit], slip: start[fit] } } };
          const bare = cutBy(mesh, seams, { printer: own });
          const { joints, notes } = seatJoints(bare.context.plan, bare, { kind: kind as 'auto' });
          const e = cutBy(mesh, seams, { printer: own, joints: [...joints] });
          soundJoints(e, mesh, 0.4);
          expect(e.joints.map((j) => j.id)).toEqual(joints.map((j) => j.id));
          if (kind !== 'auto') for (const j of joints) expect(['cone', kind]).toContain(j.kind);
          for (const note of notes) expect(note.joints.length > 0 || note.help).toBeTruthy();
        },
      ),
      { numRuns: 2 },
    );
  });
});

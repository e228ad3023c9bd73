import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { halvesIn } from '../../testing/joints.ts';
import { cutBy, flat } from '../../testing/plans.ts';
import { runs } from '../../testing/runs.ts';
import { box } from '../../testing/shapes.ts';

// What is above and below a face, in numbers: how deep sockets are, what covers a pocket, what lies under a root.

const block = box([-40, -40, -40], [40, 40, 40]);
const across = [flat('s1', [0, 0, 0], [0, 0, 1])];
const tenth = (low: number, high: number) => fc.integer({ min: low * 10, max: high * 10 }).map((x) => x / 10);

describe('a depth gap', () => {
  it('is whole under every cone and steep key, by the solids themselves', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(
          { kind: 'cone', diameter: 6, slope: Math.PI / 4 },
          { kind: 'cone', diameter: 10, slope: Math.PI / 3, tip: 0.9 },
          { kind: 'key', width: 8, height: 6, depth: 4.5, taper: 0.5, corner: 0, chamfer: 0 },
        ),
        tenth(0.2, 2),
        (joint, depthGap) => {
          const e = cutBy(block, across, {
            joints: [{ ...joint, id: 'j1', seam: 's1', at: [0, 0], depthGap } as never],
          });
          expect(e.findings.filter((f) => f.severity === 'stop')).toEqual([]);
          const [placed] = e.joints;
          const male = halvesIn(e, placed, placed.male!).added[0].boundingBox();
          const socket = halvesIn(e, placed, placed.socket!).taken[0].boundingBox();
          expect(socket.max[2] - male.max[2]).toBeCloseTo(depthGap, 4);
        },
      ),
      { numRuns: runs(30) },
    );
  });
});

describe('a covered magnet', () => {
  it.each([
    [0.8, 0.8, false],
    [0.2, 0.2, true],
  ])('with %f mm over it counts that as its least wall, and stops below what can be printed', (cover, least, stops) => {
    const magnet = { id: 'j1', kind: 'magnet', seam: 's1', at: [0, 0], diameter: 8, thickness: 3, cover };
    const e = cutBy(block, across, { joints: [magnet as never] });
    expect(e.joints[0].wall).toBeCloseTo(least, 6);
    const found = e.findings.filter((f) => f.code === 'joint.cover');
    expect(found.map((f) => f.value)).toEqual(stops ? [cover] : []);
  });
});

describe('a root', () => {
  it('stands on what the sockets of other faces leave under it', () => {
    const seams = [flat('s1', [0, 0, 0], [0, 0, 1]), flat('s2', [20, 0, 0], [1, 0, 0])];
    const { places } = cutBy(block, seams).context;
    /** (u, v) of a point of the block in a seam's plane. */
    const on = (seam: string, point: readonly number[]): number[] => {
      const { origin, u, v } = places.get(seam)!.frame;
      return [u, v].map((axis) => point.reduce((sum, x, k) => sum + (x - origin[k]) * axis[k], 0));
    };
    // a pin stands on the lower piece; the socket of another goes into that piece from its side, `deep` below it
    const root = (deep: number): number => {
      const side = {
        id: 'j1',
        kind: 'pin',
        seam: 's2',
        at: on('s2', [20, 0, -deep]),
        diameter: 6,
        depth: 14,
        male: '+',
      };
      const upright = { id: 'j2', kind: 'pin', seam: 's1', at: on('s1', [12, 0, 0]), diameter: 6, depth: 6, male: '-' };
      const e = cutBy(block, seams, { joints: [side, upright] as never });
      return e.joints.find((j) => j.id === 'j2')!.root!;
    };
    // walls and roots are measured up to 6 mm
    expect(root(25)).toBeCloseTo(6, 6);
    // the socket's radius is 3, and its gap
    expect(root(6)).toBeGreaterThan(2.5);
    expect(root(6)).toBeLessThan(3);
  });
});

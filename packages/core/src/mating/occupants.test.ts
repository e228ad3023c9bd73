import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { stackSolid } from '../../testing/joints.ts';
import { runs } from '../../testing/runs.ts';
import { type Frame, makeFrame } from '../cut/frame.ts';
import { movedLoop } from '../joints/outline.ts';
import type { Prism } from '../joints/wall.ts';
import { bothOf, nearestOccupant, type Occupancy, type Occupant, occupy } from './occupants.ts';

const square = (size: number): Float64Array => {
  const h = size / 2;
  return Float64Array.of(h, -h, h, h, -h, h, -h, -h);
};
const prism = (frame: Frame, u: number, v: number, size: number, depth: number): Prism => ({
  frame,
  outline: movedLoop(square(size), u, v),
  depth,
  direction: -1,
});
const solidOf = ({ frame, outline, depth }: Prism) =>
  stackSolid(
    {
      kind: 'socket',
      rings: [
        { loop: outline, height: 0 },
        { loop: outline, height: depth },
      ],
    },
    frame,
    -1,
  );
const one = (joint: string, face: string, ...prisms: Prism[]): Occupant => ({
  joint,
  piece: 'a',
  face,
  prisms,
  hollow: prisms,
});

describe('what takes up room in a piece', () => {
  // two faces of a block at a right angle: sockets go into it from the top and from the side
  const top = makeFrame([0, 0, 0], [0, 0, 1]);
  const side = makeFrame([0, 0, 0], [1, 0, 0]);
  const whole = (low: number, high: number) => fc.integer({ min: low, max: high });

  it('is as far apart as the kernel says, across an edge between two faces', () => {
    fc.assert(
      fc.property(
        fc.tuple(whole(-30, -6), whole(-20, 20), whole(2, 8), whole(2, 14)),
        fc.tuple(whole(-20, 20), whole(-30, -6), whole(2, 8), whole(2, 14)),
        ([u1, v1, s1, d1], [u2, v2, s2, d2]) => {
          // on the top (u, v) are (x, y); on the side v is z, and both stay inside the block
          const a = prism(top, u1, v1, s1, d1);
          const b = prism(side, u2, v2, s2, d2);
          const found = nearestOccupant([one('j1', 'top', a)], new Map([['a', [one('j2', 'side', b)]]]));
          const exact = solidOf(a).minGap(solidOf(b), 50);
          if (exact > 5.99) expect(found.distance).toBeGreaterThan(5.9);
          else expect(found.distance).toBeCloseTo(exact, 3);
          if (found.distance < Infinity) expect(found.joint).toBe('j2');
        },
      ),
      { numRuns: runs(80) },
    );
  });

  it('on one face is as far apart as the outlines; other pieces do not count; several together do', () => {
    const a = one('j1', 'top', prism(top, 0, 0, 4, 9));
    const b = one('j2', 'top', prism(top, 9, 0, 4, 2));
    const c = one('j3', 'top', prism(top, 0, -7, 4, 2));
    const first: Occupancy = new Map();
    occupy(first, [b]);
    const second: Occupancy = new Map();
    occupy(second, [c]);
    expect(nearestOccupant([a], first)).toEqual({ distance: 5, joint: 'j2' });
    expect(nearestOccupant([a], bothOf(first, second))).toEqual({ distance: 3, joint: 'j3' });
    expect(nearestOccupant([{ ...a, piece: 'b' }], first)).toEqual({ distance: Infinity, joint: '' });
    occupy(first, [c]);
    expect(first.get('a')).toEqual([b, c]);
  });
});

import { distance, makeFrame } from '@gephyra/core';
import { describe, expect, it } from 'vitest';
import type { EvaluationView, FaceView } from '../engine/types.ts';
import { selectedPlace } from './selected-place.ts';

const face = (id: string, seam: string, z: number): FaceView =>
  ({
    id,
    seam,
    plane: seam,
    contact: false,
    pieces: ['a', 'b'],
    area: 100,
    frame: makeFrame([10, 20, z], [0, 0, 1]),
    outer: Float64Array.of(-6, -8, 6, -8, 6, 8, -6, 8),
    holes: [],
    pole: { u: 0, v: 0, distance: 6 },
  }) as unknown as FaceView;
const view = {
  pieces: [
    { key: 'a', box: { min: [0, 0, 0], max: [20, 40, 50] }, apart: [0, 0, -1] },
    { key: 'b', box: { min: [0, 0, 50], max: [20, 40, 100] }, apart: [0, 0, 3] },
  ],
  bodies: [{ id: 'b1', box: { min: [0, 0, 0], max: [20, 40, 100] } }],
  faces: [face('f1', 's1', 50), face('f2', 's2', 80), face('f3', 's2', 90)],
  joints: [
    { id: 'j1', face: 'f1', u: 3, v: 0, depths: [8, 2], edge: 2 },
    { id: 'j2', face: null, u: 0, v: 0, depths: [8, 8], edge: null },
  ],
} as unknown as EvaluationView;
const nothing = { joint: null, face: null, piece: null, body: null, seam: null };

describe('the place of what is selected', () => {
  it('is the most particular thing’s: a joint before its face, a piece before its body', () => {
    const joint = selectedPlace(view, { joint: 'j1', face: 'f1', piece: 'a', body: 'b1', seam: 's1' }, 0)!;
    expect(joint.at[2]).toBe(50);
    expect(distance(joint.at, [10, 20, 50])).toBeCloseTo(3, 9);
    expect(joint.radius).toBe(24);
    // a joint that is off every face has no place; its face has
    expect(selectedPlace(view, { ...nothing, joint: 'j2', face: 'f1' }, 0)!.at).toEqual([10, 20, 50]);
    expect(selectedPlace(view, { ...nothing, piece: 'a', body: 'b1' }, 0)!.at).toEqual([10, 20, 25]);
    expect(selectedPlace(view, { ...nothing, body: 'b1' }, 0)!.at).toEqual([10, 20, 50]);
  });

  it('of a seam is that of all its faces', () => {
    const one = selectedPlace(view, { ...nothing, face: 'f2' }, 0)!;
    const both = selectedPlace(view, { ...nothing, seam: 's2' }, 0)!;
    expect([one.at[2], both.at[2]]).toEqual([80, 85]);
    expect(both.radius).toBeGreaterThan(one.radius);
    // 12 × 16: half its diagonal
    expect(one.radius).toBeCloseTo(10, 9);
  });

  it('is where it is drawn while the model is taken apart: with its piece, or between two', () => {
    expect(selectedPlace(view, { ...nothing, piece: 'b' }, 10)!.at).toEqual([10, 20, 90]);
    expect(selectedPlace(view, { ...nothing, face: 'f1' }, 10)!.at).toEqual([10, 20, 55]);
    expect(selectedPlace(view, { ...nothing, body: 'b1' }, 10)!.at).toEqual([10, 20, 50]);
  });

  it('of a joint deep inside reaches past the edge of its face', () => {
    const deep = { ...view, joints: [{ ...view.joints[0], edge: 40 }] };
    expect(selectedPlace(deep, { ...nothing, joint: 'j1' }, 0)!.radius).toBe(100);
  });

  it('is nowhere when nothing is selected, or what was is gone', () => {
    expect(selectedPlace(view, nothing, 0)).toBeNull();
    expect(selectedPlace(view, { ...nothing, piece: 'gone', seam: 's9', joint: 'j9' }, 0)).toBeNull();
  });
});

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
  pieces: [{ key: 'a', box: { min: [0, 0, 0], max: [20, 40, 50] } }],
  bodies: [{ id: 'b1', box: { min: [0, 0, 0], max: [20, 40, 100] } }],
  faces: [face('f1', 's1', 50), face('f2', 's2', 80), face('f3', 's2', 90)],
  joints: [
    { id: 'j1', face: 'f1', u: 3, v: 0, depths: [8, 2] },
    { id: 'j2', face: null, u: 0, v: 0, depths: [8, 8] },
  ],
} as unknown as EvaluationView;
const nothing = { joint: null, face: null, piece: null, body: null, seam: null };

describe('the place of what is selected', () => {
  it('is the most particular thing’s: a joint before its face, a piece before its body', () => {
    const joint = selectedPlace(view, { joint: 'j1', face: 'f1', piece: 'a', body: 'b1', seam: 's1' })!;
    expect(joint.at[2]).toBe(50);
    expect(distance(joint.at, [10, 20, 50])).toBeCloseTo(3, 9);
    expect(joint.radius).toBe(8);
    // a joint that is off every face has no place; its face has
    expect(selectedPlace(view, { ...nothing, joint: 'j2', face: 'f1' })!.at).toEqual([10, 20, 50]);
    expect(selectedPlace(view, { ...nothing, piece: 'a', body: 'b1' })!.at).toEqual([10, 20, 25]);
    expect(selectedPlace(view, { ...nothing, body: 'b1' })!.at).toEqual([10, 20, 50]);
  });

  it('of a seam is that of all its faces', () => {
    const one = selectedPlace(view, { ...nothing, face: 'f2' })!;
    const both = selectedPlace(view, { ...nothing, seam: 's2' })!;
    expect([one.at[2], both.at[2]]).toEqual([80, 85]);
    expect(both.radius).toBeGreaterThan(one.radius);
    // 12 × 16: half its diagonal is 10, of which a third fills the view
    expect(one.radius).toBeCloseTo(10 / 3, 9);
  });

  it('is nowhere when nothing is selected, or what was is gone', () => {
    expect(selectedPlace(view, nothing)).toBeNull();
    expect(selectedPlace(view, { ...nothing, piece: 'gone', seam: 's9', joint: 'j9' })).toBeNull();
  });
});

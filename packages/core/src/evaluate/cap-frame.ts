import type { CapRegion, Frame } from '../cut/index.ts';
import type { Evaluation } from './model.ts';

const frames = new WeakMap<Evaluation['faces'], Map<CapRegion, Frame>>();

/** Where a piece's cap lies, when it is a flat mating face; undefined when it is bent, or touches nothing. */
export function capFrame({ faces }: Pick<Evaluation, 'faces'>, cap: CapRegion): Frame | undefined {
  let map = frames.get(faces);
  if (!map) {
    map = new Map(faces.flatMap((f) => [0, 1].map((side) => [f.caps[side], f.frames[side]] as const)));
    frames.set(faces, map);
  }
  return map.get(cap);
}

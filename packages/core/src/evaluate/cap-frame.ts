import type { CapRegion, Frame } from '../cut/index.ts';
import type { Evaluation } from './model.ts';

const frames = new WeakMap<Evaluation['faces'], Map<CapRegion | string, Frame>>();

/**
 * Where a piece's cap lies, when it is a flat mating face; undefined when it is bent, or touches nothing. A cap of a solid that
 * was worked afterwards lies where others of its plane and side do.
 */
export function capFrame({ faces }: Pick<Evaluation, 'faces'>, cap: CapRegion): Frame | undefined {
  let map = frames.get(faces);
  if (!map) {
    map = new Map();
    for (const f of faces) {
      for (const [side, sign] of [-1, 1].entries()) {
        map.set(f.caps[side], f.frames[side]);
        map.set(`${f.plane} ${sign}`, f.frames[side]);
      }
    }
    frames.set(faces, map);
  }
  return map.get(cap) ?? map.get(`${cap.seam} ${cap.side}`);
}

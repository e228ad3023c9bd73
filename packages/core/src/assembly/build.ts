import type { Vec3 } from '../mesh/index.ts';
import type { AssemblyStep } from './model.ts';

/** Shares of the model's length that a part comes along in the view: at least, so that it is seen to, and at most. */
const REACH = [0.06, 0.15] as const;

/** How far a part stands off before it comes, where so much is seen, mm. */
export const standOff = (travel: number, length: number): number =>
  Math.max(REACH[0] * length, Math.min(travel, REACH[1] * length));

/**
 * How far each piece is from its place at a moment of the build: `moment` steps are done, and of the next as much as its fraction says.
 * A part of a step that is not done stands off along that step's way, and so does all that is joined to it before.
 */
export function offsetsAt(
  steps: readonly Pick<AssemblyStep, 'parts' | 'out' | 'travel'>[],
  keys: readonly string[],
  moment: number,
  length: number,
): Map<string, Vec3> {
  const out = new Map<string, Vec3>(keys.map((k) => [k, [0, 0, 0]]));
  steps.forEach(({ parts, out: way, travel }, i) => {
    const left = Math.max(0, Math.min(1, 1 - (moment - i)));
    if (left === 0) return;
    const far = left * standOff(travel, length);
    for (const key of parts[parts.length - 1]) {
      const [x, y, z] = out.get(key) ?? [0, 0, 0];
      out.set(key, [x + way[0] * far, y + way[1] * far, z + way[2] * far]);
    }
  });
  return out;
}

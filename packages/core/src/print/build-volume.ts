import type { Printer } from '../document/index.ts';
import type { Vec3 } from '../mesh/index.ts';

/** Whether a size fits a printer, and by how much it does not. */
export interface BuildCheck {
  readonly within: boolean;
  /** which side of the piece goes along the printer's x, y and z (0, 1, 2 for x, y, z) */
  readonly axes: readonly [number, number, number];
  /** the least sum by which the sides exceed the printer in the best of the six poses, per piece axis, mm */
  readonly over: Vec3;
}

const POSES = [
  [0, 1, 2],
  [1, 0, 2],
  [0, 2, 1],
  [2, 0, 1],
  [1, 2, 0],
  [2, 1, 0],
] as const;

/** What a printer can take: its volume less the margin on each side, in z at the top only. */
export const usableSize = (printer: Printer): Vec3 => [
  printer.size[0] - 2 * printer.margin,
  printer.size[1] - 2 * printer.margin,
  printer.size[2] - printer.margin,
];

/** Tries the six ways to lay a box along the printer's axes, upright first. A hair (1e-6 mm) over is not over. */
export function withinBuild(printer: Printer, size: Vec3): BuildCheck {
  const room = usableSize(printer);
  let best: BuildCheck | null = null;
  let least = Infinity;
  for (const pose of POSES) {
    const over: [number, number, number] = [0, 0, 0];
    pose.forEach((side, axis) => {
      const excess = size[side] - room[axis];
      over[side] = excess > 1e-6 ? excess : 0;
    });
    const sum = over[0] + over[1] + over[2];
    if (sum < least - 1e-9) {
      least = sum;
      best = { within: sum === 0, axes: [...pose], over };
    }
  }
  return best!;
}

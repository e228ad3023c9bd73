import type { Printer } from '../document/index.ts';
import { hull2, type Vec3 } from '../mesh/index.ts';
import { turnToFit } from './polygon.ts';
import { type Pose, poseTurn } from './pose.ts';

/** Whether a size fits a printer, and by how much it does not. */
export interface BuildCheck {
  readonly within: boolean;
  /** which side of the piece goes along the printer's x, y and z (0, 1, 2 for x, y, z) */
  readonly axes: readonly [number, number, number];
  /** the least sum by which the sides exceed the printer in the best of the six poses, per piece axis, mm */
  readonly over: Vec3;
  /** it was asked of one pose: `over` is along the printer's axes */
  readonly posed: boolean;
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
      best = { within: sum === 0, axes: [...pose], over, posed: false };
    }
  }
  return best!;
}

/** The check on the first printer that holds a piece, else the one that it exceeds least. */
export function bestBuild(printers: readonly Printer[], check: (printer: Printer) => BuildCheck): BuildCheck {
  let best: BuildCheck | null = null;
  for (const printer of printers) {
    const found = check(printer);
    if (found.within) return found;
    if (!best || sumOf(found.over) < sumOf(best.over)) best = found;
  }
  return best!;
}

const sumOf = ([x, y, z]: Vec3): number => x + y + z;

/** Whether points xyz xyz … in a pose, turned freely about z, are within what a printer can take. */
export function withinPosed(printer: Printer, parts: readonly Float64Array[], pose: Pose): BuildCheck {
  const m = poseTurn(pose);
  const outline: number[] = [];
  let low = Infinity;
  let high = -Infinity;
  for (const p of parts) {
    for (let i = 0; i < p.length; i += 3) {
      outline.push(m[0] * p[i] + m[1] * p[i + 1] + m[2] * p[i + 2], m[4] * p[i] + m[5] * p[i + 1] + m[6] * p[i + 2]);
      const z = m[8] * p[i] + m[9] * p[i + 1] + m[10] * p[i + 2];
      if (z < low) low = z;
      if (z > high) high = z;
    }
  }
  const room = usableSize(printer);
  const flat = turnToFit(hull2(outline), room[0], room[1]);
  const tall = Math.max(0, high - low - room[2]);
  const over: Vec3 = [...flat.over, tall > 1e-6 ? tall : 0];
  return { within: sumOf(over) === 0, axes: [0, 1, 2], over, posed: true };
}

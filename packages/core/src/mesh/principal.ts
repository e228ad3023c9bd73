import type { Vec3 } from './types.ts';
import { AXES, normalize, three } from './vec.ts';

/** The principal axes of a symmetric matrix. */
export interface Principal {
  /** unit vectors, by falling value */
  readonly axes: readonly [Vec3, Vec3, Vec3];
  readonly values: readonly [number, number, number];
}

/** Eigenvectors and eigenvalues of a symmetric 3 × 3 matrix (nine numbers, row by row), by Jacobi's rotations. */
export function principalAxes(matrix: ArrayLike<number>): Principal {
  const m = Float64Array.from(matrix);
  const q = Float64Array.of(1, 0, 0, 0, 1, 0, 0, 0, 1);
  for (let sweep = 0; sweep < 40; sweep++) {
    for (const [i, j] of [
      [0, 1],
      [0, 2],
      [1, 2],
    ]) {
      const off = m[i * 3 + j];
      if (Math.abs(off) <= 1e-14 * (Math.abs(m[i * 4]) + Math.abs(m[j * 4]))) continue;
      const angle = 0.5 * Math.atan2(2 * off, m[j * 4] - m[i * 4]);
      const [c, s] = [Math.cos(angle), Math.sin(angle)];
      for (let k = 0; k < 3; k++) turn(m, k * 3 + i, k * 3 + j, c, s);
      for (let k = 0; k < 3; k++) turn(m, i * 3 + k, j * 3 + k, c, s);
      for (let k = 0; k < 3; k++) turn(q, k * 3 + i, k * 3 + j, c, s);
    }
  }
  const order = [...AXES].sort((a, b) => m[b * 4] - m[a * 4]);
  return {
    axes: three((i) => normalize([q[order[i]], q[3 + order[i]], q[6 + order[i]]])),
    values: three((i) => m[order[i] * 4]),
  };
}

function turn(m: Float64Array, i: number, j: number, c: number, s: number): void {
  const [x, y] = [m[i], m[j]];
  m[i] = c * x - s * y;
  m[j] = s * x + c * y;
}

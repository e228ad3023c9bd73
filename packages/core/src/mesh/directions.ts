import type { Vec3 } from './types.ts';

const GOLDEN = Math.PI * (3 - Math.sqrt(5));

/** Directions spread evenly over the sphere, from +z to −z (Fibonacci spiral): the first half of them over the upper half. */
export function sphereDirections(count: number): Vec3[] {
  return Array.from({ length: count }, (_, i) => {
    const z = 1 - (2 * i + 1) / count;
    const r = Math.sqrt(1 - z * z);
    return [r * Math.cos(GOLDEN * i), r * Math.sin(GOLDEN * i), z];
  });
}

// The heron herald of Brackhythe: a figure grown from limbs.
import type { Kernel } from '@gephyra/core';
import { curve, type Model, meshOf, ring, type Solid, turned } from './models.ts';

type Place = readonly [number, number, number];
/** A limb from a to b, with its radius at either end, mm. */
type Limb = readonly [a: Place, b: Place, ra: number, rb: number];

/** How far inside each limb a point lies, mm, in place; gives the most. Asked for millions of points: nothing is made here. */
function depthsIn(x: number, y: number, z: number, limbs: readonly Limb[], depths: Float64Array): number {
  let most = -Infinity;
  for (let i = 0; i < limbs.length; i++) {
    const [a, b, ra, rb] = limbs[i];
    const [dx, dy, dz] = [b[0] - a[0], b[1] - a[1], b[2] - a[2]];
    const [px, py, pz] = [x - a[0], y - a[1], z - a[2]];
    const along = (px * dx + py * dy + pz * dz) / (dx * dx + dy * dy + dz * dz);
    const s = Math.max(0, Math.min(1, along));
    const [qx, qy, qz] = [px - dx * s, py - dy * s, pz - dz * s];
    depths[i] = ra + (rb - ra) * s - Math.sqrt(qx * qx + qy * qy + qz * qz);
    if (depths[i] > most) most = depths[i];
  }
  return most;
}

/** What lies so many times `soft` less deep rounds nothing. */
const FAR = 40;

/** Limbs grown together, their joins rounded by about `soft` mm; `edge` is the size of the mesh. */
function grown(kernel: Kernel, limbs: readonly Limb[], soft: number, edge: number): Solid {
  const reach = (axis: number, way: 1 | -1): number =>
    way * Math.max(...limbs.flatMap(([a, b, ra, rb]) => [way * a[axis] + ra, way * b[axis] + rb])) + way * soft;
  const bounds = {
    min: [reach(0, -1), reach(1, -1), reach(2, -1)] as [number, number, number],
    max: [reach(0, 1), reach(1, 1), reach(2, 1)] as [number, number, number],
  };
  const depths = new Float64Array(limbs.length);
  const depth = ([x, y, z]: readonly number[]): number => {
    const most = depthsIn(x, y, z, limbs, depths);
    let sum = 0;
    for (let i = 0; i < depths.length; i++)
      if (depths[i] > most - FAR * soft) sum += Math.exp((depths[i] - most) / soft);
    return most + soft * Math.log(sum);
  };
  return kernel.Manifold.levelSet(depth, bounds, edge);
}

/**
 * The heron herald: a figure with a heron's head that strides ahead of the Reeve, one arm up with the ebb bell, the other
 * back with a furled pennant, 900 mm tall. All limbs, and no flat side but its soles.
 */
export function herald(kernel: Kernel): Model {
  const body: Limb[] = [
    // legs, long and thin, the left one ahead
    [[-44, 8, 430], [-62, -52, 250], 44, 30],
    [[-62, -52, 250], [-66, -44, 40], 29, 20],
    [[-66, -40, 22], [-70, -122, 18], 21, 14],
    [[-66, -30, 22], [-60, 26, 16], 18, 11],
    [[46, 12, 430], [64, 70, 250], 44, 30],
    [[64, 70, 250], [66, 112, 44], 29, 20],
    [[66, 116, 24], [68, 34, 18], 21, 14],
    [[66, 126, 24], [64, 172, 18], 18, 11],
    // trunk, and a coat whose tails hang behind
    [[0, 8, 420], [0, 0, 560], 70, 66],
    [[0, -4, 560], [0, 2, 650], 68, 78],
    [[-58, 4, 664], [58, 4, 664], 44, 44],
    [[-34, 62, 470], [-50, 128, 300], 34, 16],
    [[34, 62, 470], [56, 140, 306], 34, 16],
    // neck in its curve, head and beak
    [[0, 6, 690], [0, 40, 752], 36, 28],
    [[0, 40, 752], [0, 22, 806], 27, 25],
    [[0, 22, 806], [0, -14, 836], 26, 34],
    [[0, -20, 840], [0, -70, 830], 30, 16],
    [[0, -64, 832], [0, -206, 806], 14, 4],
    [[0, 4, 856], [0, 92, 872], 14, 5],
    // the arm with the bell
    [[74, 0, 662], [168, -46, 700], 34, 25],
    [[168, -46, 700], [206, -112, 830], 25, 18],
    [[206, -112, 836], [208, -124, 866], 20, 14],
    // the arm with the pennant, furled round its pole
    [[-74, 8, 660], [-150, 66, 560], 34, 25],
    [[-150, 66, 560], [-168, -2, 462], 25, 18],
    [[-168, -6, 452], [-168, -8, 440], 20, 18],
    [[-170, 120, 372], [-166, -232, 612], 9, 9],
    [[-168, -86, 512], [-166, -216, 602], 24, 14],
  ];
  const figure = grown(kernel, body, 7, 6.5);
  const bell = turned(
    kernel,
    [
      [0, 0],
      ...curve(
        [
          [40, 0],
          [36, 8],
          [29, 26],
          [24, 46],
          [12, 58],
        ],
        6,
      ),
      [0, 60],
    ],
    48,
  );
  const belt = ring(kernel, 70, 9, 72).translate([0, 2, 540]);
  const ruff = ring(kernel, 40, 13, 64).rotate([-14, 0, 0]).translate([0, 14, 706]);
  const whole = kernel.Manifold.union([figure, belt, ruff, bell.translate([208, -128, 812])]).trimByPlane([0, 0, 1], 6);
  return meshOf(whole);
}

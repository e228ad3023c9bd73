// The sample world: props of the harbour pageant of Brackhythe, made by code.
import type { Kernel, toKernel } from '@gephyra/core';

type Solid = ReturnType<typeof toKernel>;
type Point = [number, number];

/** A closed mesh as the kernel gives it: float32 positions, mm. */
export interface Model {
  readonly positions: Float64Array;
  readonly triangles: Uint32Array;
}

const meshOf = (solid: Solid): Model => {
  const mesh = solid.getMesh();
  return { positions: Float64Array.from(mesh.vertProperties), triangles: mesh.triVerts };
};

/** A body of revolution about z from (radius, height) points. */
function turned(kernel: Kernel, profile: readonly Point[], segments: number): Solid {
  return kernel.Manifold.revolve([[...profile] as Point[]], segments);
}

/** Points of a smooth curve through the given ones (Catmull and Rom, 1974). */
function curve(points: readonly Point[], steps: number): Point[] {
  const at = (i: number): Point => points[Math.max(0, Math.min(points.length - 1, i))];
  const out: Point[] = [];
  for (let i = 0; i + 1 < points.length; i++) {
    for (let k = 0; k < steps; k++) {
      const t = k / steps;
      const [p0, p1, p2, p3] = [at(i - 1), at(i), at(i + 1), at(i + 2)];
      const blend = (a: 0 | 1): number =>
        0.5 *
        (2 * p1[a] +
          (p2[a] - p0[a]) * t +
          (2 * p0[a] - 5 * p1[a] + 4 * p2[a] - p3[a]) * t * t +
          (3 * p1[a] - p0[a] - 3 * p2[a] + p3[a]) * t * t * t);
      out.push([Math.max(0, blend(0)), blend(1)]);
    }
  }
  out.push(at(points.length - 1));
  return out;
}

function ring(kernel: Kernel, radius: number, thickness: number, segments: number): Solid {
  const outline: Point[] = Array.from({ length: 28 }, (_, i) => {
    const a = (i / 28) * 2 * Math.PI;
    return [radius + thickness * Math.cos(a), thickness * Math.sin(a)];
  });
  return kernel.Manifold.revolve([outline], segments);
}

/**
 * The ebb-bell lantern of the Reeve's staff: a bell with running waves, a neck, a lamp house with eight arched lights
 * round a hollow chamber, a roof and a ring. Solid below, 620 mm tall.
 */
export function lantern(kernel: Kernel): Model {
  const outline: Point[] = [
    [0, 0],
    ...curve(
      [
        [98, 0],
        [106, 10],
        [101, 30],
        [97, 62],
        [95, 120],
        [88, 190],
        [72, 248],
        [50, 288],
        [40, 306],
      ],
      9,
    ),
    [44, 312],
    [44, 320],
    ...curve(
      [
        [52, 330],
        [70, 346],
        [74, 356],
        [74, 364],
      ],
      5,
    ),
    [68, 368],
    [68, 470],
    [76, 474],
    [78, 482],
    ...curve(
      [
        [74, 488],
        [56, 520],
        [34, 540],
        [18, 552],
        [15, 562],
      ],
      8,
    ),
    [0, 566],
  ];
  let solid = turned(kernel, outline, 224);
  const chamber = kernel.Manifold.cylinder(92, 54, 54, 96).translate([0, 0, 374]);
  solid = solid.subtract(chamber);
  const arch: Point[] = [
    [-13, 0],
    [13, 0],
    [13, 52],
    ...Array.from({ length: 15 }, (_, i): Point => {
      const a = ((i + 1) / 16) * Math.PI;
      return [13 * Math.cos(a), 52 + 13 * Math.sin(a)];
    }),
    [-13, 52],
  ];
  const light = kernel.Manifold.extrude([arch], 90).rotate([90, 0, 0]).translate([0, -20, 386]);
  for (let i = 0; i < 8; i++) solid = solid.subtract(light.rotate([0, 0, i * 45 + 22.5]));
  const handle = ring(kernel, 25, 7, 96).rotate([90, 0, 0]).translate([0, 0, 588]);
  solid = solid.add(handle);
  const rivet = kernel.Manifold.sphere(3.4, 20);
  const rivets: Solid[] = [];
  for (const [radius, height, count] of [
    [101, 42, 40],
    [72.5, 352, 24],
    [76, 478, 32],
  ]) {
    for (let i = 0; i < count; i++) {
      const a = (i / count) * 2 * Math.PI;
      rivets.push(rivet.translate([radius * Math.cos(a), radius * Math.sin(a), height]));
    }
  }
  solid = kernel.Manifold.union([solid, ...rivets]);
  // running waves on the bell, fading out above and below
  const waved = solid.refineToLength(4.6).warp((v) => {
    const r = Math.hypot(v[0], v[1]);
    if (r < 60 || v[2] < 60 || v[2] > 236) return;
    const fade = Math.sin(((v[2] - 60) / 176) * Math.PI) ** 2;
    const a = Math.atan2(v[1], v[0]);
    const lift = 2.6 * fade * Math.sin(12 * a + 2.2 * Math.sin(v[2] / 13)) * Math.cos(v[2] / 17);
    v[0] += (v[0] / r) * lift;
    v[1] += (v[1] / r) * lift;
  });
  return meshOf(waved);
}

/** The ceremonial anchor, about 900 mm tall, cast in one piece: shank, stock, arms with flukes, and a ring. */
export function anchor(kernel: Kernel): Model {
  const { Manifold } = kernel;
  const shank = Manifold.cylinder(700, 34, 22, 64).translate([0, 0, 60]);
  const stock = Manifold.cylinder(420, 17, 17, 48, true).rotate([90, 0, 0]).translate([0, 0, 690]);
  const knob = Manifold.sphere(27, 48);
  const arc: Point[] = Array.from({ length: 32 }, (_, i) => {
    const a = (i / 32) * 2 * Math.PI;
    return [240 + 30 * Math.cos(a), 34 * Math.sin(a)];
  });
  const arms = Manifold.revolve([arc], 160, 140).rotate([90, 0, 0]).rotate([0, 160, 0]).translate([0, 0, 300]);
  const tip = (side: 1 | -1): Solid =>
    Manifold.hull([
      [side * 214, -64, 212],
      [side * 214, 64, 212],
      [side * 296, 0, 352],
      [side * 186, 0, 222],
      [side * 264, 0, 196],
    ]);
  const eye = ring(kernel, 44, 10, 80).rotate([90, 0, 0]).translate([0, 0, 796]);
  const solid = Manifold.union([
    shank,
    stock,
    knob.translate([0, 210, 690]),
    knob.translate([0, -210, 690]),
    arms,
    tip(1),
    tip(-1),
    eye,
    Manifold.sphere(46, 64).translate([0, 0, 60]),
  ]);
  return meshOf(solid.refineToLength(9));
}

// The heron puppet of Brackhythe: a body on a perch, and two heads that are swapped on one neck.
import type { Kernel, RawModel } from '@gephyra/core';
import { meshOf, type Solid } from './models.ts';

type Place = readonly [number, number, number];

/** A bead on a string: where, and how thick, mm. */
type Bead = readonly [at: Place, radius: number];

/** The height at which a head sits on the neck, and at which the neck is parted for its ball, mm. */
export const HEAD_AT = 196;
export const NECK_AT = 150;
/** In the middle of the tail, where it is parted for its hinge, mm. */
export const TAIL_AT: Place = [0, 58, 64.4];

/** Beads joined one to the next by what spans both, side by side. */
function strung(kernel: Kernel, beads: readonly Bead[]): Solid {
  const balls = beads.map(([at, radius]) => kernel.Manifold.sphere(radius, 64).translate([...at]));
  return balls.slice(1).reduce((sum, ball, i) => sum.add(kernel.Manifold.hull([balls[i], ball])), balls[0]);
}

/** The part above a height, or below it. */
const above = (solid: Solid, z: number): Solid => solid.trimByPlane([0, 0, 1], z);
const below = (solid: Solid, z: number): Solid => solid.trimByPlane([0, 0, -1], -z);

/**
 * The three parts: the body with its neck, flat on top, and two heads with flat feet in one place on it. The calm one
 * looks ahead with its beak closed and its crest laid back; the calling one has its beak open and the crest up.
 */
export function puppet(kernel: Kernel): RawModel {
  const perch = kernel.Manifold.cylinder(12, 46, 40, 96).add(kernel.Manifold.cylinder(86, 12, 9, 64));
  const trunk = strung(kernel, [
    [[0, 34, 74], 16],
    [[0, 16, 88], 30],
    [[0, -6, 104], 33],
    [[0, -10, 128], 24],
    [[0, -2, 152], 19],
    [[0, 0, 176], 19],
    [[0, 0, 210], 19],
  ]);
  const tail = kernel.Manifold.hull([
    kernel.Manifold.sphere(9, 48).translate([0, 40, 72]),
    kernel.Manifold.cube([26, 3, 4], true).translate([0, 92, 50]),
  ]);
  const wing = (side: 1 | -1): Solid =>
    kernel.Manifold.hull([
      kernel.Manifold.sphere(14, 48).translate([side * 26, -6, 112]),
      kernel.Manifold.sphere(6, 32).translate([side * 27, 40, 78]),
      kernel.Manifold.sphere(3, 32).translate([side * 18, 72, 60]),
    ]);
  const body = below(perch.add(trunk).add(tail).add(wing(1)).add(wing(-1)), HEAD_AT);

  const skull: Bead[] = [
    [[0, 0, 190], 19],
    [[0, -2, 214], 21],
    [[0, -10, 226], 20],
  ];
  const eyes = kernel.Manifold.union(
    [-1, 1].map((side) => kernel.Manifold.sphere(4.5, 40).translate([side * 17.5, -20, 232])),
  );
  const beak = (tip: Place, root: Place, radius: number): Solid =>
    kernel.Manifold.hull([
      kernel.Manifold.sphere(radius, 48).translate([...root]),
      kernel.Manifold.sphere(1.2, 24).translate([...tip]),
    ]);
  const crest = (tips: readonly Place[]): Solid =>
    tips
      .map((tip) =>
        kernel.Manifold.hull([
          kernel.Manifold.sphere(7, 40).translate([0, 2, 238]),
          kernel.Manifold.sphere(1.4, 24).translate([...tip]),
        ]),
      )
      .reduce((a, b) => a.add(b));
  const calm = strung(kernel, skull)
    .add(eyes)
    .add(beak([0, -98, 214], [0, -20, 224], 11))
    .add(
      crest([
        [0, 46, 240],
        [0, 40, 230],
      ]),
    );
  const calling = strung(kernel, skull)
    .add(eyes)
    .add(beak([0, -88, 252], [0, -20, 230], 9))
    .add(beak([0, -82, 204], [0, -18, 218], 8))
    .add(
      crest([
        [0, 22, 280],
        [0, 34, 264],
        [0, 40, 246],
      ]),
    );
  const parts: [string, Solid, number][] = [
    ['Body', body, 1],
    ['Calm head', above(calm, HEAD_AT), 2],
    ['Calling head', above(calling, HEAD_AT), 3],
  ];
  return {
    format: 'obj',
    notes: [],
    palette: [
      { name: '', colour: '' },
      { name: 'Slate feathers', colour: '#6f8794' },
      { name: 'Pale down', colour: '#d9d3c2' },
      { name: 'Marsh gold', colour: '#c79a45' },
    ],
    parts: parts.map(([name, solid, paint]) => {
      const { positions, triangles } = meshOf(solid);
      return { name, positions, triangles, paint: new Uint32Array(triangles.length / 3).fill(paint) };
    }),
  };
}

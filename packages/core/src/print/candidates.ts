import { dot, normalize, scale, sphereDirections, triangleCross, type Vec3 } from '../mesh/index.ts';
import { radians } from '../units.ts';
import { layDown, SAME_DIRECTION } from './pose.ts';
import type { PrintMesh } from './print-mesh.ts';

/** What speaks for trying a direction. */
export type PoseReason =
  /** on the mating face of a seam */
  | { readonly kind: 'cap'; readonly seam: string }
  /** along an axis of the model: 0, 1, 2 for x, y, z; −1 upside down */
  | { readonly kind: 'axis'; readonly axis: number; readonly sign: 1 | -1 }
  /** on flat places of its hull */
  | { readonly kind: 'rest' }
  /** any direction */
  | { readonly kind: 'free' }
  /** leaned from another, degrees */
  | { readonly kind: 'tilt'; readonly degrees: number };

export interface Candidate {
  /** unit; points away from the bed */
  readonly up: Vec3;
  readonly why: PoseReason;
}

const MOST_CAPS = 6;
const MOST_RESTS = 20;
const MOST_FACES = 4000;

/** Directions worth trying: the largest mating faces down, the model's axes, the largest flats of the hull. Equal ones once. */
export function candidatesOf(mesh: PrintMesh): Candidate[] {
  const caps = [...mesh.caps]
    .sort((a, b) => b.area - a.area)
    .slice(0, MOST_CAPS)
    .map((c): Candidate => ({ up: scale(c.normal, -1), why: { kind: 'cap', seam: c.seam } }));
  const axes = [2, 0, 1].flatMap((axis) =>
    ([1, -1] as const).map(
      (sign): Candidate => ({
        up: [axis === 0 ? sign : 0, axis === 1 ? sign : 0, axis === 2 ? sign : 0],
        why: { kind: 'axis', axis, sign },
      }),
    ),
  );
  return apart([...caps, ...axes, ...restsOf(mesh)], SAME_DIRECTION);
}

/** Candidates of which none is within an angle of an earlier one. */
export function apart(list: readonly Candidate[], angle: number): Candidate[] {
  const near = Math.cos(angle);
  const out: Candidate[] = [];
  for (const c of list) if (!out.some((o) => dot(o.up, c.up) >= near)) out.push(c);
  return out;
}

/** The largest flats of the hull: its triangles gathered while they look the same way within 2°, by area. */
function restsOf({ hull: { positions: p, triangles: t } }: PrintMesh): Candidate[] {
  const faces: { normal: Vec3; area: number }[] = [];
  for (let i = 0; i < t.length / 3; i++) {
    const n = triangleCross(p, t, i);
    const area = Math.hypot(...n) / 2;
    if (area > 1e-9) faces.push({ normal: normalize(n), area });
  }
  // of a smooth hull, small faces make no flat that is worth lying on
  faces.sort((a, b) => b.area - a.area).splice(MOST_FACES);
  const near = Math.cos(SAME_DIRECTION);
  const groups: { normal: Vec3; area: number }[] = [];
  for (const f of faces) {
    const home = groups.find((g) => dot(g.normal, f.normal) >= near);
    if (home) home.area += f.area;
    else groups.push({ ...f });
  }
  return groups
    .sort((a, b) => b.area - a.area)
    .slice(0, MOST_RESTS)
    .map(({ normal }) => ({ up: scale(normal, -1), why: { kind: 'rest' } }));
}

/** Directions spread evenly over the sphere. */
export function evenDirections(count: number): Candidate[] {
  return sphereDirections(count).map((up) => ({ up, why: { kind: 'free' } }));
}

/** Directions leaned by 15, 30 and 45° from one, to the four sides of how it lies: for resin, where large level layers stick. */
export function leaned(mesh: PrintMesh, from: Vec3): Candidate[] {
  const { map } = layDown(mesh.positions, { up: from, spin: 0 });
  const x: Vec3 = [map[0], map[1], map[2]];
  const y: Vec3 = [map[4], map[5], map[6]];
  return [15, 30, 45].flatMap((degrees) => {
    const [c, s] = [Math.cos(radians(degrees)), Math.sin(radians(degrees))];
    return [x, scale(x, -1), y, scale(y, -1)].map((side) => ({
      up: normalize([c * from[0] + s * side[0], c * from[1] + s * side[1], c * from[2] + s * side[2]]),
      why: { kind: 'tilt', degrees } as const,
    }));
  });
}

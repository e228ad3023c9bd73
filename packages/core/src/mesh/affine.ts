import { GephyraError } from '../errors.ts';
import { turnedOver } from './parts.ts';
import type { IndexedMesh, Vec3 } from './types.ts';
import { AXES, cross, dot, normalize, three, vecOf } from './vec.ts';

/**
 * An affine map of space: three rows of four numbers. The image of (x, y, z) is row · (x, y, z, 1).
 *
 *   m[0] m[1] m[2]  m[3]
 *   m[4] m[5] m[6]  m[7]
 *   m[8] m[9] m[10] m[11]
 */
export type Affine = readonly number[];

export const IDENTITY: Affine = [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0];

/** The map whose rows, of four numbers each, a function gives. */
export const affineOf = (row: (r: number) => readonly number[]): Affine => AXES.flatMap(row);

/** The image of a point. */
export const mapPoint = (m: Affine, [x, y, z]: Vec3): Vec3 => [
  m[0] * x + m[1] * y + m[2] * z + m[3],
  m[4] * x + m[5] * y + m[6] * z + m[7],
  m[8] * x + m[9] * y + m[10] * z + m[11],
];

/** The image of a vector: no shift. */
export const mapVector = (m: Affine, [x, y, z]: Vec3): Vec3 => [
  m[0] * x + m[1] * y + m[2] * z,
  m[4] * x + m[5] * y + m[6] * z,
  m[8] * x + m[9] * y + m[10] * z,
];

/** The unit normal of the image of a plane: by the inverse transpose. Outside stays outside also under a mirror. */
export function mapNormal(m: Affine, normal: Vec3): Vec3 {
  const [a, b, c] = three((i): Vec3 => [m[i], m[4 + i], m[8 + i]]);
  const sign = Math.sign(determinant(m)) || 1;
  // the rows of the inverse, times the determinant, are the cross products of the columns
  const rows = [cross(b, c), cross(c, a), cross(a, b)];
  return normalize(vecOf((k) => sign * rows.reduce((s, r, i) => s + r[k] * normal[i], 0)));
}

export const determinant = (m: Affine): number =>
  dot([m[0], m[1], m[2]], cross([m[4], m[5], m[6]], [m[8], m[9], m[10]]));

/** First `first`, then `then`. */
export function compose(then: Affine, first: Affine): Affine {
  const out: number[] = [];
  for (let r = 0; r < 12; r += 4) {
    for (let c = 0; c < 4; c++) {
      out.push(
        then[r] * first[c] + then[r + 1] * first[4 + c] + then[r + 2] * first[8 + c] + (c === 3 ? then[r + 3] : 0),
      );
    }
  }
  return out;
}

/** The map back. Throws GephyraError `map.flat` when space is flattened. */
export function inverse(m: Affine): Affine {
  const d = determinant(m);
  if (!(Math.abs(d) > 0)) throw new GephyraError('map.flat', 'A model cannot be scaled to nothing.');
  const [a, b, c] = three((i): Vec3 => [m[i], m[4 + i], m[8 + i]]);
  const rows = [cross(b, c), cross(c, a), cross(a, b)].map((r) => r.map((x) => x / d));
  const shift: Vec3 = [m[3], m[7], m[11]];
  return rows.flatMap((r) => [...r, -(r[0] * shift[0] + r[1] * shift[1] + r[2] * shift[2])]);
}

/** Scaling by three factors about a point that stays. */
export function scaling([x, y, z]: Vec3, about: Vec3 = [0, 0, 0]): Affine {
  return [x, 0, 0, about[0] * (1 - x), 0, y, 0, about[1] * (1 - y), 0, 0, z, about[2] * (1 - z)];
}

export const moving = ([x, y, z]: Vec3): Affine => [1, 0, 0, x, 0, 1, 0, y, 0, 0, 1, z];

/** Turning by `angle` (radians, right-handed) round an axis through a point (Rodrigues). */
export function turning(axis: Vec3, angle: number, about: Vec3): Affine {
  const [x, y, z] = normalize(axis);
  const c = Math.cos(angle);
  const s = Math.sin(angle);
  const k = 1 - c;
  const m = [
    c + x * x * k,
    x * y * k - z * s,
    x * z * k + y * s,
    0,
    y * x * k + z * s,
    c + y * y * k,
    y * z * k - x * s,
    0,
    z * x * k - y * s,
    z * y * k + x * s,
    c + z * z * k,
    0,
  ];
  return compose(compose(moving(about), m), moving([-about[0], -about[1], -about[2]]));
}

/** Turning direction `from` into direction `to` the shortest way, about a point. Opposite ones turn round x or y. */
export function turningTo(from: Vec3, to: Vec3, about: Vec3): Affine {
  const a = normalize(from);
  const b = normalize(to);
  const cosine = Math.min(1, Math.max(-1, dot(a, b)));
  let axis = cross(a, b);
  if (Math.hypot(...axis) < 1e-9) {
    if (cosine > 0) return IDENTITY;
    axis = Math.abs(a[0]) < 0.9 ? cross(a, [1, 0, 0]) : cross(a, [0, 1, 0]);
  }
  return turning(axis, Math.acos(cosine), about);
}

/** Mirroring at the plane through a point with the given normal. */
export function mirroring(normal: Vec3, at: Vec3): Affine {
  const n = normalize(normal);
  const twice = 2 * dot(n, at);
  return affineOf((r) => [...vecOf((c) => (r === c ? 1 : 0) - 2 * n[r] * n[c]), twice * n[r]]);
}

/** By what lengths grow: the same in every direction, or null. */
export function uniformScale(m: Affine): number | null {
  const s = [0, 4, 8].map((r) => Math.hypot(m[r], m[r + 1], m[r + 2]));
  const square =
    Math.abs(m[0] * m[4] + m[1] * m[5] + m[2] * m[6]) +
    Math.abs(m[0] * m[8] + m[1] * m[9] + m[2] * m[10]) +
    Math.abs(m[4] * m[8] + m[5] * m[9] + m[6] * m[10]);
  const even = Math.max(...s) - Math.min(...s) <= 1e-9 * s[0] && square <= 1e-9 * s[0] * s[0];
  return even ? s[0] : null;
}

/** The mesh under a map; a mirrored one has its triangles turned over. The identity gives the mesh itself. */
export function mapped(mesh: IndexedMesh, m: Affine): IndexedMesh {
  if (m.every((x, i) => x === IDENTITY[i])) return mesh;
  const positions = new Float64Array(mesh.positions.length);
  mapPositions(mesh.positions, m, positions);
  const out = { ...mesh, positions };
  return determinant(m) < 0 ? turnedOver(out) : out;
}

function mapPositions(p: Float64Array, m: Affine, out: Float64Array): void {
  const [a, b, c, d, e, f, g, h, i, j, k, l] = m;
  for (let q = 0; q < p.length; q += 3) {
    const x = p[q];
    const y = p[q + 1];
    const z = p[q + 2];
    out[q] = a * x + b * y + c * z + d;
    out[q + 1] = e * x + f * y + g * z + h;
    out[q + 2] = i * x + j * y + k * z + l;
  }
}

import { edgeOf, type IndexedMesh } from '../mesh/index.ts';

/**
 * Moves a closed surface outward so that every face lies `distance` mm farther out: each vertex goes where the moved planes
 * of its faces meet (least squares over them, weighted by angle), as the outline of a socket is the mitred offset of its
 * pin. For distances that are small against the details.
 */
export function offsetSurface(mesh: IndexedMesh, distance: number): IndexedMesh {
  const { positions: p, triangles: t } = mesh;
  const n = p.length / 3;
  // six entries of the symmetric sum of n nᵀ, and the sum of n, for each vertex
  const matrix = new Float64Array(n * 6);
  const sum = new Float64Array(p.length);
  for (let i = 0; i < t.length; i += 3) {
    for (let c = 0; c < 3; c++) addPlane(p, t[i + c], t[i + ((c + 1) % 3)], t[i + ((c + 2) % 3)], matrix, sum);
  }
  const positions = p.slice();
  for (let v = 0; v < n; v++) {
    const s = sum.subarray(v * 3, v * 3 + 3);
    const length = Math.hypot(s[0], s[1], s[2]);
    if (length === 0) continue;
    const d = solve(matrix, v * 6, s);
    // at very sharp points the mitre is cut short
    const reach = Math.hypot(d[0], d[1], d[2]);
    const k = reach > 4 ? 4 / reach : 1;
    for (let a = 0; a < 3; a++) positions[v * 3 + a] += d[a] * k * distance;
  }
  return { ...mesh, positions };
}

function addPlane(p: Float64Array, o: number, b: number, c: number, matrix: Float64Array, sum: Float64Array): void {
  const u = edgeOf(p, o, b);
  const v = edgeOf(p, o, c);
  const x = u[1] * v[2] - u[2] * v[1];
  const y = u[2] * v[0] - u[0] * v[2];
  const z = u[0] * v[1] - u[1] * v[0];
  const l = Math.hypot(x, y, z);
  if (l === 0) return;
  const angle = Math.atan2(l, u[0] * v[0] + u[1] * v[1] + u[2] * v[2]);
  const m = [x / l, y / l, z / l];
  const k = o * 6;
  matrix[k] += angle * m[0] * m[0];
  matrix[k + 1] += angle * m[0] * m[1];
  matrix[k + 2] += angle * m[0] * m[2];
  matrix[k + 3] += angle * m[1] * m[1];
  matrix[k + 4] += angle * m[1] * m[2];
  matrix[k + 5] += angle * m[2] * m[2];
  for (let a = 0; a < 3; a++) sum[o * 3 + a] += angle * m[a];
}

/** Solves (M + a little) d = s; the little keeps flat vertices along their normal. */
function solve(m: Float64Array, k: number, s: Float64Array): number[] {
  const little = 1e-3 * (m[k] + m[k + 3] + m[k + 5]);
  const [a, b, c, e, f, i] = [m[k] + little, m[k + 1], m[k + 2], m[k + 3] + little, m[k + 4], m[k + 5] + little];
  const A = e * i - f * f;
  const B = c * f - b * i;
  const C = b * f - c * e;
  const D = a * i - c * c;
  const E = b * c - a * f;
  const F = a * e - b * b;
  const det = a * A + b * B + c * C;
  // what the little takes away along the normal is given back
  const grow = 1 + 1e-3;
  return [
    ((A * s[0] + B * s[1] + C * s[2]) / det) * grow,
    ((B * s[0] + D * s[1] + E * s[2]) / det) * grow,
    ((C * s[0] + E * s[1] + F * s[2]) / det) * grow,
  ];
}

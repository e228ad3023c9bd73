/** Buffers to draw with: float32 positions and normals, three vertex indices a triangle. */
export interface Shaded {
  readonly positions: Float32Array;
  readonly normals: Float32Array;
  readonly index: Uint32Array;
}

/**
 * Normals that are smooth over gentle bends and sharp at creases: a vertex whose triangles differ by more than about
 * 40° is doubled, one copy for each group of triangles that agree.
 */
export function shaded(positions: Float64Array, triangles: Uint32Array): Shaded {
  const vertices = positions.length / 3;
  const count = triangles.length / 3;
  const faces = new Float32Array(triangles.length);
  const start = new Uint32Array(vertices + 1);
  for (let i = 0; i < triangles.length; i++) start[triangles[i] + 1]++;
  for (let v = 0; v < vertices; v++) start[v + 1] += start[v];
  const fill = start.slice();
  const corners = new Uint32Array(triangles.length);
  for (let i = 0; i < count; i++) {
    const a = triangles[i * 3] * 3;
    const b = triangles[i * 3 + 1] * 3;
    const c = triangles[i * 3 + 2] * 3;
    const ux = positions[b] - positions[a];
    const uy = positions[b + 1] - positions[a + 1];
    const uz = positions[b + 2] - positions[a + 2];
    const vx = positions[c] - positions[a];
    const vy = positions[c + 1] - positions[a + 1];
    const vz = positions[c + 2] - positions[a + 2];
    const nx = uy * vz - uz * vy;
    const ny = uz * vx - ux * vz;
    const nz = ux * vy - uy * vx;
    const l = Math.sqrt(nx * nx + ny * ny + nz * nz) || 1;
    faces[i * 3] = nx / l;
    faces[i * 3 + 1] = ny / l;
    faces[i * 3 + 2] = nz / l;
    for (let k = 0; k < 3; k++) corners[fill[triangles[i * 3 + k]]++] = i * 3 + k;
  }
  const index = new Uint32Array(triangles.length);
  let out = 0;
  let source = new Uint32Array(vertices + 1024);
  let sums = new Float32Array(source.length * 3);
  for (let v = 0; v < vertices; v++) {
    const first = out;
    for (let k = start[v]; k < start[v + 1]; k++) {
      const f = corners[k] - (corners[k] % 3);
      let copy = first;
      for (; copy < out; copy++) {
        const [x, y, z] = [sums[copy * 3], sums[copy * 3 + 1], sums[copy * 3 + 2]];
        const along = x * faces[f] + y * faces[f + 1] + z * faces[f + 2];
        if (along > 0.76 * Math.sqrt(x * x + y * y + z * z)) break;
      }
      if (copy === out) {
        if (out === source.length) {
          const more = new Uint32Array(source.length * 2);
          more.set(source);
          source = more;
          const moreSums = new Float32Array(sums.length * 2);
          moreSums.set(sums);
          sums = moreSums;
        }
        source[out++] = v;
      }
      sums[copy * 3] += faces[f];
      sums[copy * 3 + 1] += faces[f + 1];
      sums[copy * 3 + 2] += faces[f + 2];
      index[corners[k]] = copy;
    }
  }
  const drawn = new Float32Array(out * 3);
  const normals = new Float32Array(out * 3);
  for (let i = 0; i < out; i++) {
    const v = source[i] * 3;
    const l = Math.hypot(sums[i * 3], sums[i * 3 + 1], sums[i * 3 + 2]) || 1;
    for (let a = 0; a < 3; a++) {
      drawn[i * 3 + a] = positions[v + a];
      normals[i * 3 + a] = sums[i * 3 + a] / l;
    }
  }
  return { positions: drawn, normals, index };
}

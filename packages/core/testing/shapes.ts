import type { IndexedMesh } from '../src/mesh/index.ts';

/** A closed box with corners at `min` and `max`. */
export function box(min: readonly number[], max: readonly number[]): IndexedMesh {
  const positions = new Float64Array(24);
  for (let i = 0; i < 8; i++) {
    positions[i * 3] = i & 1 ? max[0] : min[0];
    positions[i * 3 + 1] = i & 2 ? max[1] : min[1];
    positions[i * 3 + 2] = i & 4 ? max[2] : min[2];
  }
  const quads = [
    [0, 2, 3, 1],
    [4, 5, 7, 6],
    [0, 1, 5, 4],
    [2, 6, 7, 3],
    [0, 4, 6, 2],
    [1, 3, 7, 5],
  ];
  const triangles = Uint32Array.from(quads.flatMap(([a, b, c, d]) => [a, b, c, a, c, d]));
  return { positions, triangles, tags: new Uint32Array(12) };
}

/**
 * A closed tube round the z axis: `rings` × `sides` quads. `radius(a, b)` is the tube's radius at angle a round the
 * axis and b round the tube.
 */
export function torus(
  major: number,
  rings: number,
  sides: number,
  radius: (a: number, b: number) => number,
): IndexedMesh {
  const positions = new Float64Array(rings * sides * 3);
  const triangles = new Uint32Array(rings * sides * 6);
  for (let i = 0; i < rings; i++) {
    const a = (i / rings) * 2 * Math.PI;
    for (let j = 0; j < sides; j++) {
      const b = (j / sides) * 2 * Math.PI;
      const r = radius(a, b);
      const k = (i * sides + j) * 3;
      positions[k] = Math.cos(a) * (major + r * Math.cos(b));
      positions[k + 1] = Math.sin(a) * (major + r * Math.cos(b));
      positions[k + 2] = r * Math.sin(b);
      const p = i * sides + j;
      const q = ((i + 1) % rings) * sides + j;
      const p1 = i * sides + ((j + 1) % sides);
      const q1 = ((i + 1) % rings) * sides + ((j + 1) % sides);
      triangles.set([p, q, q1, p, q1, p1], (i * sides + j) * 6);
    }
  }
  return { positions, triangles, tags: new Uint32Array(rings * sides * 2) };
}

/**
 * A closed, roughly round solid: a grid of `rings` × `sides` between two poles, about 2·rings·sides triangles.
 * `radius(a, z)` for angle a and height z in −1 … 1.
 */
export function blob(
  rings: number,
  sides: number,
  height: number,
  radius: (a: number, z: number) => number,
): IndexedMesh {
  const positions: number[] = [0, 0, -height / 2];
  for (let i = 1; i <= rings; i++) {
    const z = -Math.cos((i / (rings + 1)) * Math.PI);
    for (let j = 0; j < sides; j++) {
      const a = (j / sides) * 2 * Math.PI;
      const r = radius(a, z) * Math.sqrt(1 - z * z);
      positions.push(r * Math.cos(a), r * Math.sin(a), (z * height) / 2);
    }
  }
  positions.push(0, 0, height / 2);
  const top = positions.length / 3 - 1;
  const at = (i: number, j: number): number => 1 + (i - 1) * sides + (j % sides);
  const triangles: number[] = [];
  for (let j = 0; j < sides; j++) {
    triangles.push(0, at(1, j + 1), at(1, j), top, at(rings, j), at(rings, j + 1));
    for (let i = 1; i < rings; i++) {
      triangles.push(at(i, j), at(i, j + 1), at(i + 1, j + 1), at(i, j), at(i + 1, j + 1), at(i + 1, j));
    }
  }
  return {
    positions: Float64Array.from(positions),
    triangles: Uint32Array.from(triangles),
    tags: new Uint32Array(triangles.length / 3),
  };
}

/** Several meshes as one, untouched. */
export function together(...meshes: readonly IndexedMesh[]): IndexedMesh {
  const positions: number[] = [];
  const triangles: number[] = [];
  for (const m of meshes) {
    const shift = positions.length / 3;
    for (const x of m.positions) positions.push(x);
    for (const v of m.triangles) triangles.push(v + shift);
  }
  return {
    positions: Float64Array.from(positions),
    triangles: Uint32Array.from(triangles),
    tags: new Uint32Array(triangles.length / 3),
  };
}

/** Every point moved by a function. */
export function moved(mesh: IndexedMesh, f: (x: number, y: number, z: number) => readonly number[]): IndexedMesh {
  const positions = new Float64Array(mesh.positions.length);
  for (let k = 0; k < positions.length; k += 3) {
    positions.set(f(mesh.positions[k], mesh.positions[k + 1], mesh.positions[k + 2]), k);
  }
  return { ...mesh, positions };
}

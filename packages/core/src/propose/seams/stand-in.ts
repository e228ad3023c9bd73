import { halfEdges, type IndexedMesh, topology } from '../../mesh/index.ts';
import { simplified } from '../../solid/index.ts';

/** Triangles that a stand-in is brought down to, and how far it may be from the model, as a share of its size. */
const TRIANGLES = 3500;
const ERROR = 0.002;
/** Edges longer than this are halved, so that corners tell where the surface is, mm. */
const LONGEST = 70;

/**
 * A closed mesh that a search can look at thousands of times: the model with few triangles and no long edges. Tags stay. A
 * mesh that cannot be made lighter without tearing keeps its triangles.
 */
export function standIn(mesh: IndexedMesh, size: number): IndexedMesh {
  return refined(light(mesh, size), LONGEST);
}

function light(mesh: IndexedMesh, size: number): IndexedMesh {
  for (let error = size * ERROR; error > size * 2e-5; error /= 3) {
    const less = simplified(mesh, TRIANGLES, error);
    if (topology(less).watertight) return less;
  }
  return mesh;
}

/**
 * Halves the edges longer than `longest` until none is left; both triangles of an edge get the same new corner.
 *
 *        c              c              c              c
 *       / \            /|\            /|\            / \
 *      /   \          / | \          / | y          x---y
 *     /     \        /  |  \        /  |/ \        / \ / \
 *    a-------b      a---z---b      a---z---b      a---z---b
 */
function refined(mesh: IndexedMesh, longest: number): IndexedMesh {
  let { positions, triangles, tags } = mesh;
  for (let round = 0; round < 12; round++) {
    const { twin } = halfEdges({ triangles });
    const middle = new Int32Array(triangles.length).fill(-1);
    const added: number[] = [];
    const count = positions.length / 3;
    for (let h = 0; h < triangles.length; h++) {
      if (middle[h] >= 0) continue;
      const a = triangles[h] * 3;
      const b = triangles[h % 3 === 2 ? h - 2 : h + 1] * 3;
      const far = Math.hypot(
        positions[b] - positions[a],
        positions[b + 1] - positions[a + 1],
        positions[b + 2] - positions[a + 2],
      );
      if (far <= longest) continue;
      middle[h] = count + added.length / 3;
      if (twin[h] >= 0) middle[twin[h]] = middle[h];
      for (let k = 0; k < 3; k++) added.push((positions[a + k] + positions[b + k]) / 2);
    }
    if (added.length === 0) break;
    const corners: number[] = [];
    const kept: number[] = [];
    for (let i = 0; i < triangles.length; i += 3) {
      for (const part of parts(triangles, middle, i)) {
        corners.push(...part);
        kept.push(tags[i / 3]);
      }
    }
    const all = new Float64Array(positions.length + added.length);
    all.set(positions);
    all.set(added, positions.length);
    positions = all;
    triangles = Uint32Array.from(corners);
    tags = Uint32Array.from(kept);
  }
  return { positions, triangles, tags };
}

function parts(t: Uint32Array, middle: Int32Array, i: number): number[][] {
  const m = [middle[i], middle[i + 1], middle[i + 2]];
  const halved = m.filter((x) => x >= 0).length;
  // turned so that what is halved comes first, or the one edge that is not comes last
  const turn = halved === 1 ? m.findIndex((x) => x >= 0) : halved === 2 ? (m.findIndex((x) => x < 0) + 1) % 3 : 0;
  const [a, b, c] = [0, 1, 2].map((k) => t[i + ((turn + k) % 3)]);
  const [z, y, x] = [0, 1, 2].map((k) => m[(turn + k) % 3]);
  if (halved === 0) return [[a, b, c]];
  if (halved === 1)
    return [
      [a, z, c],
      [z, b, c],
    ];
  if (halved === 2)
    return [
      [z, b, y],
      [a, z, y],
      [a, y, c],
    ];
  return [
    [a, z, x],
    [z, b, y],
    [x, y, c],
    [x, z, y],
  ];
}

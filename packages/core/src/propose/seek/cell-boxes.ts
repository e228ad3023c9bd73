import { type Blocks, type Box, boxOf, clipped, rayHits } from '../../mesh/index.ts';

/** A cell of a grid, counted along x, y and z, and the box round what of a solid lies in it. */
export interface CellBox {
  readonly cell: readonly [number, number, number];
  readonly box: Box;
}

/**
 * The box round what of a closed solid lies in each cell of a grid of planes. Triangles are clipped to slabs axis by axis, so
 * the boxes are exact; where a cell's corner lies inside the solid it belongs to the box too (a face of the cell may be all
 * material, without any surface on it).
 */
export function cellBoxes(blocks: Blocks, planes: readonly (readonly number[])[]): CellBox[] {
  const { positions: p, triangles: t } = blocks.mesh;
  const counts = planes.map((list) => list.length + 1);
  const boxes = new Map<number, Float64Array>();
  const grow = (cell: number, points: readonly number[]): void => {
    const box = boxAt(boxes, cell);
    for (let i = 0; i < points.length; i++) {
      const a = i % 3;
      if (points[i] < box[a]) box[a] = points[i];
      if (points[i] > box[a + 3]) box[a + 3] = points[i];
    }
  };
  const into = (points: readonly number[], axis: number, cell: number): void => {
    if (axis === 3) {
      grow(cell, points);
      return;
    }
    let low = Infinity;
    let high = -Infinity;
    for (let i = axis; i < points.length; i += 3) {
      if (points[i] < low) low = points[i];
      if (points[i] > high) high = points[i];
    }
    const list = planes[axis];
    const first = slabOf(list, low);
    const last = slabOf(list, high);
    if (first === last) {
      into(points, axis + 1, cell * counts[axis] + first);
      return;
    }
    for (let s = first; s <= last; s++) {
      const from = s === 0 ? -Infinity : list[s - 1];
      const to = s === list.length ? Infinity : list[s];
      const part = clipped(clipped(points, axis, from, 1), axis, to, -1);
      if (part.length > 0) into(part, axis + 1, cell * counts[axis] + s);
    }
  };
  const corners = new Array<number>(9);
  for (let i = 0; i < t.length; i += 3) {
    for (let c = 0; c < 3; c++) {
      const v = t[i + c] * 3;
      corners[c * 3] = p[v];
      corners[c * 3 + 1] = p[v + 1];
      corners[c * 3 + 2] = p[v + 2];
    }
    into(corners, 0, 0);
  }
  for (const { at, corner } of insideCorners(blocks, planes)) {
    for (let i = 0; i < 8; i++) {
      const [x, y, z] = corner.map((c, a) => c + ((i >> a) & 1));
      grow((x * counts[1] + y) * counts[2] + z, at);
    }
  }
  return listOf(boxes, counts);
}

/** The box round the vertices that lie in each cell: no larger than that of what lies in it. */
export function vertexBoxes({ mesh: { positions: p } }: Blocks, planes: readonly (readonly number[])[]): CellBox[] {
  const counts = planes.map((list) => list.length + 1);
  const boxes = new Map<number, Float64Array>();
  for (let k = 0; k < p.length; k += 3) {
    const [x, y, z] = [slabOf(planes[0], p[k]), slabOf(planes[1], p[k + 1]), slabOf(planes[2], p[k + 2])];
    const box = boxAt(boxes, (x * counts[1] + y) * counts[2] + z);
    for (let a = 0; a < 3; a++) {
      if (p[k + a] < box[a]) box[a] = p[k + a];
      if (p[k + a] > box[a + 3]) box[a + 3] = p[k + a];
    }
  }
  return listOf(boxes, counts);
}

function boxAt(boxes: Map<number, Float64Array>, cell: number): Float64Array {
  let box = boxes.get(cell);
  if (!box) {
    box = Float64Array.of(Infinity, Infinity, Infinity, -Infinity, -Infinity, -Infinity);
    boxes.set(cell, box);
  }
  return box;
}

const listOf = (boxes: ReadonlyMap<number, Float64Array>, counts: readonly number[]): CellBox[] =>
  [...boxes].map(([id, b]) => ({
    cell: [Math.floor(id / counts[2] / counts[1]), Math.floor(id / counts[2]) % counts[1], id % counts[2]],
    box: { min: [b[0], b[1], b[2]], max: [b[3], b[4], b[5]] },
  }));

/** The crossings of three planes that lie inside the solid; `corner` counts the planes. */
function insideCorners(blocks: Blocks, [xs, ys, zs]: readonly (readonly number[])[]) {
  const { min, max } = boxOf(blocks.mesh.positions);
  const out: { at: [number, number, number]; corner: [number, number, number] }[] = [];
  if (zs.length === 0) return out;
  // a little beside the line, so that no ray runs along an edge
  const aside = (max[0] - min[0] + max[1] - min[1]) * 1.3e-7;
  xs.forEach((x, i) => {
    ys.forEach((y, j) => {
      const start = min[2] - 1;
      const hits = rayHits(blocks, [x + aside, y + aside * 0.618, start], [0, 0, 1]);
      zs.forEach((z, k) => {
        if (hits.filter((s) => start + s < z).length % 2 === 1) out.push({ at: [x, y, z], corner: [i, j, k] });
      });
    });
  });
  return out;
}

function slabOf(list: readonly number[], x: number): number {
  let s = 0;
  while (s < list.length && x >= list[s]) s++;
  return s;
}

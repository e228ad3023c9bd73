import { mortonOrder } from './blocks.ts';
import { halvedOrder } from './halves.ts';
import type { IndexedMesh, Vec3 } from './types.ts';

/**
 * A tree of boxes over triangles: sorted along a curve or by halves, `leaf` to a leaf, and pairs of boxes joined upwards.
 *
 * order  triangle numbers, leaf by leaf
 * leaves number of leaves; `width` is the next power of two
 * boxes  six numbers a node: min x, y, z, max x, y, z. Node 1 is the root, node i has the children 2i and 2i + 1, leaf l
 *        is node width + l. Nodes without triangles have min above max.
 */
export interface Tree {
  readonly mesh: Pick<IndexedMesh, 'positions' | 'triangles'>;
  readonly order: Uint32Array;
  readonly leaves: number;
  /** triangles to a leaf, at most MOST_LEAF */
  readonly leaf: number;
  readonly width: number;
  readonly boxes: Float64Array;
}

const MOST_LEAF = 4;
const FINE_LEAF = 2;

/** Builds the tree in linear time, along a Morton curve. */
export const buildTree = (mesh: Tree['mesh']): Tree => treeOver(mesh, mortonOrder(mesh), MOST_LEAF);

/**
 * Builds a tree that takes several times as long to build and half as long to ask: for surfaces of which more places are asked than
 * they have triangles.
 */
export const fineTree = (mesh: Tree['mesh']): Tree => treeOver(mesh, halvedOrder(mesh, FINE_LEAF), FINE_LEAF);

function treeOver(mesh: Tree['mesh'], order: Uint32Array, leaf: number): Tree {
  const leaves = Math.max(1, Math.ceil(order.length / leaf));
  let width = 1;
  while (width < leaves) width *= 2;
  const boxes = new Float64Array(width * 12);
  for (let k = 0; k < boxes.length; k += 6) {
    boxes[k] = boxes[k + 1] = boxes[k + 2] = Infinity;
    boxes[k + 3] = boxes[k + 4] = boxes[k + 5] = -Infinity;
  }
  fillLeaves(boxes, order, leaf, mesh.positions, mesh.triangles, width);
  for (let node = width - 1; node >= 1; node--) {
    const k = node * 6;
    const a = node * 12;
    for (let i = 0; i < 3; i++) {
      boxes[k + i] = Math.min(boxes[a + i], boxes[a + 6 + i]);
      boxes[k + 3 + i] = Math.max(boxes[a + 3 + i], boxes[a + 9 + i]);
    }
  }
  return { mesh, order, leaves, leaf, width, boxes };
}

const trees = new WeakMap<Tree['mesh'], Tree>();

/** The tree of a mesh, kept for as long as the mesh is. */
export function treeOf(mesh: Tree['mesh']): Tree {
  let tree = trees.get(mesh);
  if (!tree) {
    tree = buildTree(mesh);
    trees.set(mesh, tree);
  }
  return tree;
}

function fillLeaves(
  boxes: Float64Array,
  order: Uint32Array,
  leaf: number,
  p: Float64Array,
  t: Uint32Array,
  width: number,
): void {
  for (let i = 0; i < order.length; i++) {
    const k = (width + Math.floor(i / leaf)) * 6;
    for (let c = 0; c < 3; c++) {
      const v = t[order[i] * 3 + c] * 3;
      for (let a = 0; a < 3; a++) {
        const x = p[v + a];
        if (x < boxes[k + a]) boxes[k + a] = x;
        if (x > boxes[k + 3 + a]) boxes[k + 3 + a] = x;
      }
    }
  }
}

/** The place of a mesh that is nearest to a point. */
export interface Nearest {
  /** −1: nothing within the limit */
  triangle: number;
  /** squared, mm² */
  squared: number;
  x: number;
  y: number;
  z: number;
  /** what it lies on: 0 … 2 a corner, 3 … 5 the edge from corner n − 3 to the next, 6 the inside */
  feature: number;
}

const stack = new Int32Array(128);
const stackSquared = new Float64Array(128);

/**
 * Finds the nearest place within sqrt(limit) of a point; what was found is written into `out`. A triangle that is likely to
 * be near, given as `hint`, makes it quicker.
 */
export function nearest(tree: Tree, x: number, y: number, z: number, limit: number, out: Nearest, hint = -1): void {
  const { boxes, width, order, leaf, mesh } = tree;
  const { positions: p, triangles: t } = mesh;
  out.triangle = -1;
  out.squared = limit;
  if (hint >= 0) nearestOnTriangle(p, t, hint, x, y, z, out);
  let top = 0;
  stack[0] = 1;
  stackSquared[0] = boxSquared(boxes, 6, x, y, z);
  while (top >= 0) {
    const node = stack[top];
    const s = stackSquared[top--];
    if (s >= out.squared) continue;
    if (node >= width) {
      const from = (node - width) * leaf;
      const to = Math.min(order.length, from + leaf);
      for (let i = from; i < to; i++) nearestOnTriangle(p, t, order[i], x, y, z, out);
      continue;
    }
    const a = boxSquared(boxes, node * 12, x, y, z);
    const b = boxSquared(boxes, node * 12 + 6, x, y, z);
    const near = a <= b ? node * 2 : node * 2 + 1;
    const far = a <= b ? b : a;
    const close = a <= b ? a : b;
    if (far < out.squared) {
      stack[++top] = near ^ 1;
      stackSquared[top] = far;
    }
    if (close < out.squared) {
      stack[++top] = near;
      stackSquared[top] = close;
    }
  }
}

function boxSquared(boxes: Float64Array, k: number, x: number, y: number, z: number): number {
  const dx = Math.max(boxes[k] - x, x - boxes[k + 3], 0);
  const dy = Math.max(boxes[k + 1] - y, y - boxes[k + 4], 0);
  const dz = Math.max(boxes[k + 2] - z, z - boxes[k + 5], 0);
  return dx * dx + dy * dy + dz * dz;
}

/** Closest point of a triangle, by the regions of its corners and edges (Ericson, "Real-Time Collision Detection", 2005). */
function nearestOnTriangle(
  p: Float64Array,
  t: Uint32Array,
  triangle: number,
  x: number,
  y: number,
  z: number,
  out: Nearest,
): void {
  const a = t[triangle * 3] * 3;
  const b = t[triangle * 3 + 1] * 3;
  const c = t[triangle * 3 + 2] * 3;
  const ax = p[a];
  const ay = p[a + 1];
  const az = p[a + 2];
  const abx = p[b] - ax;
  const aby = p[b + 1] - ay;
  const abz = p[b + 2] - az;
  const acx = p[c] - ax;
  const acy = p[c + 1] - ay;
  const acz = p[c + 2] - az;
  const apx = x - ax;
  const apy = y - ay;
  const apz = z - az;
  const d1 = abx * apx + aby * apy + abz * apz;
  const d2 = acx * apx + acy * apy + acz * apz;
  let u = 0;
  let v = 0;
  let feature = 6;
  if (d1 <= 0 && d2 <= 0) feature = 0;
  else {
    const bpx = x - p[b];
    const bpy = y - p[b + 1];
    const bpz = z - p[b + 2];
    const d3 = abx * bpx + aby * bpy + abz * bpz;
    const d4 = acx * bpx + acy * bpy + acz * bpz;
    const vc = d1 * d4 - d3 * d2;
    if (d3 >= 0 && d4 <= d3) {
      feature = 1;
      u = 1;
    } else if (vc <= 0 && d1 >= 0 && d3 <= 0) {
      feature = 3;
      u = d1 === d3 ? 0 : d1 / (d1 - d3);
    } else {
      const cpx = x - p[c];
      const cpy = y - p[c + 1];
      const cpz = z - p[c + 2];
      const d5 = abx * cpx + aby * cpy + abz * cpz;
      const d6 = acx * cpx + acy * cpy + acz * cpz;
      const vb = d5 * d2 - d1 * d6;
      const va = d3 * d6 - d5 * d4;
      if (d6 >= 0 && d5 <= d6) {
        feature = 2;
        v = 1;
      } else if (vb <= 0 && d2 >= 0 && d6 <= 0) {
        feature = 5;
        v = d2 === d6 ? 0 : d2 / (d2 - d6);
      } else if (va <= 0 && d4 - d3 >= 0 && d5 - d6 >= 0) {
        feature = 4;
        v = (d4 - d3) / (d4 - d3 + (d5 - d6) || 1);
        u = 1 - v;
      } else {
        const sum = va + vb + vc;
        u = sum === 0 ? 0 : vb / sum;
        v = sum === 0 ? 0 : vc / sum;
      }
    }
  }
  const qx = ax + abx * u + acx * v;
  const qy = ay + aby * u + acy * v;
  const qz = az + abz * u + acz * v;
  const squared = (x - qx) * (x - qx) + (y - qy) * (y - qy) + (z - qz) * (z - qz);
  if (squared >= out.squared) return;
  out.squared = squared;
  out.triangle = triangle;
  out.x = qx;
  out.y = qy;
  out.z = qz;
  out.feature = feature;
}

export const noPlace = (): Nearest => ({ triangle: -1, squared: Infinity, x: 0, y: 0, z: 0, feature: 6 });

/** Distance from a point to the mesh of a tree, mm; `limit` when it is farther. */
export function distanceTo(tree: Tree, [x, y, z]: Vec3, limit = Infinity): number {
  const out = noPlace();
  nearest(tree, x, y, z, limit * limit, out);
  return Math.sqrt(out.squared);
}

/**
 * Calls back for every pair of triangles whose boxes meet: one of `a`, one of `b`. With `a` and `b` the same tree each
 * pair comes once. The walk ends when `visit` returns true, or after `most` pairs of leaves. Returns whether all were seen.
 */
export function boxPairs(a: Tree, b: Tree, visit: (i: number, j: number) => boolean, most = Infinity): boolean {
  const self = a === b;
  if (!boxesMeet(a.boxes, 6, b.boxes, 6)) return true;
  const [boxesA, boxesB] = [triangleBoxes(a), triangleBoxes(b)];
  // pairs of nodes still to be looked at, two numbers each
  let open = new Int32Array(1024);
  open[0] = 1;
  open[1] = 1;
  let top = 2;
  let looked = 0;
  while (top > 0) {
    const j = open[--top];
    const i = open[--top];
    if (!boxesMeet(a.boxes, i * 6, b.boxes, j * 6)) continue;
    const leafA = i >= a.width;
    const leafB = j >= b.width;
    if (leafA && leafB) {
      if (++looked > most || leafPairs(a, boxesA, b, boxesB, i - a.width, j - b.width, self && i === j, visit))
        return false;
      continue;
    }
    if (top + 6 > open.length) {
      const grown = new Int32Array(open.length * 2);
      grown.set(open);
      open = grown;
    }
    if (self && i === j) {
      top = push(open, top, i * 2, i * 2);
      top = push(open, top, i * 2, i * 2 + 1);
      top = push(open, top, i * 2 + 1, i * 2 + 1);
    } else if (leafB || (!leafA && i <= j)) {
      top = push(open, top, i * 2, j);
      top = push(open, top, i * 2 + 1, j);
    } else {
      top = push(open, top, i, j * 2);
      top = push(open, top, i, j * 2 + 1);
    }
  }
  return true;
}

function push(open: Int32Array, top: number, i: number, j: number): number {
  open[top] = i;
  open[top + 1] = j;
  return top + 2;
}

const boxesOf = new WeakMap<Tree, Float64Array>();

/** Boxes of all triangles of a tree, six numbers each, in its order; kept for as long as the tree is. */
function triangleBoxes(tree: Tree): Float64Array {
  let boxes = boxesOf.get(tree);
  if (!boxes) {
    boxes = new Float64Array(tree.order.length * 6);
    for (let i = 0; i < tree.order.length; i++) triangleBox(tree.mesh, tree.order[i], boxes, i * 6);
    boxesOf.set(tree, boxes);
  }
  return boxes;
}

/** Pairs of the triangles of two leaves; with `same` they are one leaf. */
function leafPairs(
  a: Tree,
  boxesA: Float64Array,
  b: Tree,
  boxesB: Float64Array,
  la: number,
  lb: number,
  same: boolean,
  visit: (i: number, j: number) => boolean,
): boolean {
  const fromA = la * a.leaf;
  const fromB = lb * b.leaf;
  const endA = Math.min(a.order.length, fromA + a.leaf);
  const endB = Math.min(b.order.length, fromB + b.leaf);
  const k = (b.width + lb) * 6;
  for (let i = fromA; i < endA; i++) {
    if (!boxesMeet(boxesA, i * 6, b.boxes, k)) continue;
    for (let j = same ? i + 1 : fromB; j < endB; j++) {
      if (boxesMeet(boxesA, i * 6, boxesB, j * 6) && visit(a.order[i], b.order[j])) return true;
    }
  }
  return false;
}

function triangleBox({ positions: p, triangles: t }: Tree['mesh'], i: number, out: Float64Array, at: number): void {
  const a = t[i * 3] * 3;
  const b = t[i * 3 + 1] * 3;
  const c = t[i * 3 + 2] * 3;
  for (let k = 0; k < 3; k++) {
    const x = p[a + k];
    const y = p[b + k];
    const z = p[c + k];
    out[at + k] = x < y ? (x < z ? x : z) : y < z ? y : z;
    out[at + 3 + k] = x > y ? (x > z ? x : z) : y > z ? y : z;
  }
}

function boxesMeet(a: Float64Array, i: number, b: Float64Array, j: number): boolean {
  return (
    a[i] <= b[j + 3] &&
    b[j] <= a[i + 3] &&
    a[i + 1] <= b[j + 4] &&
    b[j + 1] <= a[i + 4] &&
    a[i + 2] <= b[j + 5] &&
    b[j + 2] <= a[i + 5]
  );
}

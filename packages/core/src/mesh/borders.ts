import { halfEdges, nextHalf } from './halfedges.ts';
import type { IndexedMesh } from './types.ts';

/** A closed border of a region of one tag: half-edges one after the other, the region on their left. */
export interface Border {
  readonly halves: readonly number[];
  readonly tag: number;
}

/** The borders between triangles of different tags, each told from both its sides. What runs out at an open edge is left out. */
export function tagBorders(mesh: IndexedMesh): Border[] {
  const { triangles: t, tags } = mesh;
  const { twin } = halfEdges(mesh);
  const isBorder = (h: number): boolean => twin[h] >= 0 && tags[Math.floor(twin[h] / 3)] !== tags[Math.floor(h / 3)];
  const seen = new Uint8Array(t.length);
  const out: Border[] = [];
  for (let start = 0; start < t.length; start++) {
    if (seen[start] || !isBorder(start)) continue;
    const halves: number[] = [];
    let h = start;
    while (h >= 0 && !seen[h]) {
      seen[h] = 1;
      halves.push(h);
      // round the corner at its end, inside the same tag
      let next = nextHalf(h);
      while (!isBorder(next) && twin[next] >= 0) next = nextHalf(twin[next]);
      h = isBorder(next) ? next : -1;
    }
    if (h === start) out.push({ halves, tag: tags[Math.floor(start / 3)] });
  }
  return out;
}

/** The triangles that hang together with one, all of its tag. */
export function tagPatch(mesh: IndexedMesh, triangle: number): number[] {
  const { tags } = mesh;
  const { twin } = halfEdges(mesh);
  const seen = new Set([triangle]);
  const stack = [triangle];
  while (stack.length > 0) {
    const i = stack.pop()!;
    for (let h = i * 3; h < i * 3 + 3; h++) {
      const j = twin[h] < 0 ? -1 : Math.floor(twin[h] / 3);
      if (j < 0 || seen.has(j) || tags[j] !== tags[i]) continue;
      seen.add(j);
      stack.push(j);
    }
  }
  return [...seen];
}

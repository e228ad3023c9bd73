import type { IndexedMesh } from './types.ts';

/**
 * The triangles of a mesh without the pairs that lie back to back on the same three vertices: nothing is between them. A closed
 * mesh stays closed without them, since each pair uses its three edges once in either direction.
 */
export function unfolded(mesh: IndexedMesh): number[] {
  const { triangles: t } = mesh;
  const n = mesh.positions.length / 3;
  const count = t.length / 3;
  // the triangles of each vertex that is the least of their three
  const start = new Uint32Array(n + 1);
  const least = (i: number): number => Math.min(t[i * 3], t[i * 3 + 1], t[i * 3 + 2]);
  for (let i = 0; i < count; i++) start[least(i) + 1]++;
  for (let v = 0; v < n; v++) start[v + 1] += start[v];
  const fill = start.slice(0, n);
  const list = new Uint32Array(count);
  for (let i = 0; i < count; i++) list[fill[least(i)]++] = i;

  const gone = new Uint8Array(count);
  // behind the least vertex a triangle runs b, c; its mate c, b
  const open = new Map<number, number[]>();
  for (let v = 0; v < n; v++) {
    if (start[v + 1] - start[v] < 2) continue;
    open.clear();
    for (let k = start[v]; k < start[v + 1]; k++) {
      const i = list[k];
      const at = t[i * 3] === v ? 0 : t[i * 3 + 1] === v ? 1 : 2;
      const b = t[i * 3 + ((at + 1) % 3)];
      const c = t[i * 3 + ((at + 2) % 3)];
      const mate = open.get(c * n + b)?.pop();
      if (mate !== undefined) gone[i] = gone[mate] = 1;
      else {
        const same = open.get(b * n + c);
        if (same) same.push(i);
        else open.set(b * n + c, [i]);
      }
    }
  }
  const kept: number[] = [];
  for (let i = 0; i < count; i++) if (!gone[i]) kept.push(i);
  return kept;
}

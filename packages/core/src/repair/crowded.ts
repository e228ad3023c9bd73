import { pairEdges } from '../body/index.ts';
import { find, halfEdges, type IndexedMesh, triangleCross, unite } from '../mesh/index.ts';
import { without } from './clean.ts';
import { cornerFans, splitFans } from './fans.ts';

/**
 * Resolves edges of more than two triangles. Solids that touch there are taken apart; of sheets that end on a surface (fins,
 * inner walls) the smallest go until two are left; what remains is cut along the edge.
 */
export function resolveCrowded(mesh: IndexedMesh): { mesh: IndexedMesh; dropped: number; cut: number } {
  let current = mesh;
  let dropped = 0;
  for (let round = 0; round < 20; round++) {
    if (halfEdges(current).crowded.length === 0) return { mesh: current, dropped, cut: 0 };
    const paired = pairEdges(current).mesh;
    const half = halfEdges(paired);
    current = paired;
    if (half.crowded.length === 0) return { mesh: current, dropped, cut: 0 };
    const sheet = smallestSheet(paired);
    if (!sheet) break;
    const drop = new Uint8Array(paired.tags.length);
    for (const i of sheet) drop[i] = 1;
    dropped += sheet.length;
    current = without(paired, drop);
  }
  const half = halfEdges(current);
  if (half.crowded.length === 0) return { mesh: current, dropped, cut: 0 };
  return { mesh: splitFans(current, cornerFans(current, half)).mesh, dropped, cut: half.crowded.length };
}

/**
 * Of the sheets between crowded edges, the one with the least area that can go: at each of its crowded edges at least two
 * others stay, and it is not more than half of the whole.
 */
function smallestSheet(mesh: IndexedMesh): number[] | null {
  const { positions: p, triangles: t, tags } = mesh;
  const half = halfEdges(mesh);
  const parent = new Uint32Array(tags.length);
  for (let i = 0; i < parent.length; i++) parent[i] = i;
  for (let h = 0; h < t.length; h++)
    if (half.twin[h] > h) unite(parent, Math.floor(h / 3), Math.floor(half.twin[h] / 3));
  const area = new Map<number, number>();
  let whole = 0;
  for (let i = 0; i < tags.length; i++) {
    const a = Math.hypot(...triangleCross(p, t, i)) / 2;
    const r = find(parent, i);
    area.set(r, (area.get(r) ?? 0) + a);
    whole += a;
  }
  const allowed = new Map<number, boolean>();
  for (const list of half.crowded) {
    const times = new Map<number, number>();
    for (const h of list) {
      const s = find(parent, Math.floor(h / 3));
      times.set(s, (times.get(s) ?? 0) + 1);
    }
    for (const [s, own] of times) allowed.set(s, (allowed.get(s) ?? true) && list.length - own >= 2);
  }
  let best = -1;
  for (const [s, ok] of allowed) {
    if (ok && area.get(s)! < whole / 2 && (best < 0 || area.get(s)! < area.get(best)!)) best = s;
  }
  if (best < 0) return null;
  const out: number[] = [];
  for (let i = 0; i < tags.length; i++) if (find(parent, i) === best) out.push(i);
  return out;
}

import { cappedMesh } from '../joints/index.ts';
import type { IndexedMesh, Tag } from '../mesh/index.ts';
import { isWall } from '../seams/index.ts';
import type { Piece } from './model.ts';
/**
 * The piece as one closed mesh, and what its tags mean: skin by body and paint, caps by seam, joints by id. `paint` has the
 * entry of the model's palette for each tag; caps and joints take the one that most of the skin has.
 */
export function pieceMesh(piece: Piece): { mesh: IndexedMesh; tags: Tag[]; paint: number[] } {
  const { solid, caps } = piece;
  const paints = [...new Set(solid.tags)];
  const table: Tag[] = paints.map((p) => (isWall(p) ? { kind: 'cap', seam: '' } : { kind: 'skin', body: piece.body }));
  const skinTag = new Map(paints.map((p, i) => [p, i]));
  const mesh = cappedMesh(solid, caps);
  const { tags } = mesh;
  for (let i = 0; i < solid.tags.length; i++) tags[i] = skinTag.get(solid.tags[i])!;
  let at = solid.tags.length;
  caps.forEach((cap, c) => {
    const capTag = table.push({ kind: 'cap', seam: solid.caps[c].seam }) - 1;
    const jointTags = cap.halves.map(
      ({ kind, joint }) => table.push({ kind: kind === 'male' ? 'male' : 'socket', joint }) - 1,
    );
    for (let i = 0; i < cap.owners.length; i++) {
      tags[at + i] = cap.owners[i] < 0 ? capTag : jointTags[cap.owners[i]];
    }
    at += cap.owners.length;
  });
  const main = commonest(solid.tags);
  return {
    mesh,
    tags: table,
    paint: table.map((_, i) => (paints[i] === undefined || isWall(paints[i]) ? main : paints[i])),
  };
}

function commonest(tags: Uint32Array): number {
  const votes = new Map<number, number>();
  for (const t of tags) if (!isWall(t)) votes.set(t, (votes.get(t) ?? 0) + 1);
  return [...votes].sort((a, b) => b[1] - a[1])[0]?.[0] ?? 0;
}

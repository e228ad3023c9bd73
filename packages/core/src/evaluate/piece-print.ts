import { add, normalize, triangleCross, type Vec3 } from '../mesh/index.ts';
import { type Cap, type Peg, type PrintMesh, printMesh, SURFACE } from '../print/index.ts';
import { shownTriangles } from '../show/index.ts';
import type { Kernel } from '../solid/index.ts';
import type { Evaluation, Piece } from './model.ts';
import { pieceMesh } from './piece-mesh.ts';

/** A piece as it is looked at for printing. */
export function piecePrint(
  kernel: Kernel,
  piece: Piece,
  { joints, show }: Pick<Evaluation, 'joints' | 'show'>,
): PrintMesh {
  const { mesh, tags } = pieceMesh(piece);
  const kinds = tags.map(({ kind }) => (kind === 'skin' ? SURFACE.skin : kind === 'cap' ? SURFACE.cap : SURFACE.joint));
  const shown = show.bodies.get(piece.body);
  // the skin comes first in a piece's mesh
  const seen = shown && shownTriangles(shown, piece.solid);
  const surface = Uint8Array.from(mesh.tags, (tag, i) =>
    seen?.[i] && kinds[tag] === SURFACE.skin ? SURFACE.show : kinds[tag],
  );
  return printMesh(kernel, mesh, {
    surface,
    caps: piece.solid.caps.map((c) => capOf(piece, c)),
    pegs: pegsOf(piece, joints),
  });
}

function capOf({ solid }: Piece, { seam, triangles, area }: Piece['solid']['caps'][number]): Cap {
  let sum: Vec3 = [0, 0, 0];
  for (let i = 0; i < triangles.length / 3; i++) sum = add(sum, triangleCross(solid.positions, triangles, i));
  return { seam, normal: normalize(sum), area };
}

/** The male halves that stand on a piece. */
function pegsOf(piece: Piece, joints: Evaluation['joints']): Peg[] {
  return piece.caps.flatMap((cap) =>
    cap.halves
      .filter((h) => h.kind === 'male')
      .flatMap(({ joint }): Peg[] => {
        const axis = joints.find((j) => j.id === joint)?.axis;
        return axis ? [{ joint, axis: normalize(axis) }] : [];
      }),
  );
}

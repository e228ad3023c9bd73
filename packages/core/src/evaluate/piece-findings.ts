import { type Body, isClosed } from '../body/index.ts';
import { passingsWithin } from '../crossing/index.ts';
import { type Finding, freeId, type Plan } from '../document/index.ts';
import { toPrintable } from '../formats/index.ts';
import { faultyEdges } from '../joints/index.ts';
import { followsWall, type Joint } from '../joints/kinds/index.ts';
import { type Affine, axisVector, type Box, distance, scale, type Vec3 } from '../mesh/index.ts';
import { planeInSource, seamOfPlane } from '../seams/index.ts';
import { mm } from '../units.ts';
import { resolving } from './body-findings.ts';
import type { Evaluation, Piece } from './model.ts';
import { type Passing, passings } from './passing.ts';
import { pieceMesh } from './piece-mesh.ts';

/** What is to be said of each piece by itself: whether it fits the printer, and whether its file is a solid. */
export function pieceFindings(plan: Plan, pieces: readonly Piece[], bodies: readonly Body[], map: Affine): Finding[] {
  const whole = new Set(bodies.filter(isClosed).map((b) => b.id));
  return [
    ...pieces.filter((p) => !p.build.within && !p.aside).map((p) => tooBig(plan, p, map)),
    ...pieces.filter((p) => !p.closed && whole.has(p.body)).map(openPiece),
    ...bodies.flatMap((b) => crossedPieces(b, pieces)),
    ...pieces.filter((p) => !p.aside).flatMap((p) => passingJoints(plan, p)),
  ];
}

/** The joints of a piece that pass through another part of it. */
function passingJoints(plan: Plan, piece: Piece): Finding[] {
  const told = new Set<string>();
  const laps = plan.joints.filter((j) => piece.joints.includes(j.id) && followsWall(j));
  const found = [...passings(piece.solid, piece.caps), ...passingLaps(piece, laps)];
  return found.flatMap(({ joint, other, at }): Finding[] => {
    const own = plan.joints.find((j) => j.id === joint);
    if (!own || told.has(joint)) return [];
    told.add(joint);
    const place = at.map((x) => x.toFixed(1)).join(', ');
    return [
      {
        code: 'joint.passing',
        severity: 'stop',
        where: { joint, seam: own.seam, piece: piece.key },
        message:
          `This joint passes through ${other === null ? 'another face' : 'another joint'} of ${piece.code} at ${place} mm, ` +
          'so the file of the piece would cross itself. Move the joint, or make it smaller.',
        mend: { label: 'Remove this joint', change: { do: 'removeJoint', id: joint } },
      },
    ];
  });
}

/** Looked at before, by solids, which are the same for as long as nothing about them changes. */
const lapsKnown = new WeakMap<Piece['solid'], { readonly caps: Piece['caps']; readonly places: readonly Vec3[] }>();

/** What laps make of a piece is skin of it, in no cap: where that passes through anything, told of the lap whose face is nearest. */
function passingLaps(piece: Piece, laps: readonly Joint[]): Passing[] {
  if (laps.length === 0) return [];
  const { solid, caps } = piece;
  let known = lapsKnown.get(solid);
  if (known?.caps !== caps) {
    const { mesh, tags } = pieceMesh(piece);
    const isMade = (tag: number): boolean => {
      const kind = tags[tag];
      return kind.kind === 'cap' && kind.seam === '';
    };
    known = { caps, places: passingsWithin(toPrintable(mesh).mesh, isMade) };
    lapsKnown.set(solid, known);
  }
  return known.places.map((at) => {
    const far = (lap: Joint): number => {
      const own = solid.caps.filter((cap) => seamOfPlane(cap.seam).seam === lap.seam);
      return Math.min(...own.map((cap) => nearestOf(at, solid, cap.triangles)));
    };
    const nearest = laps.toSorted((a, b) => far(a) - far(b))[0];
    return { joint: nearest.id, other: null, at };
  });
}

/** How far the nearest of some corners of a solid is from a place, mm. */
function nearestOf(at: Vec3, { positions: p }: Piece['solid'], corners: Uint32Array): number {
  let least = Infinity;
  for (const v of corners) least = Math.min(least, distance(at, [p[3 * v], p[3 * v + 1], p[3 * v + 2]]));
  return least;
}

/** The pieces whose own files would pass through themselves. */
function crossedPieces({ id, crossed }: Body, pieces: readonly Piece[]): Finding[] {
  if (!crossed || crossed.count === 0) return [];
  return pieces
    .filter((p) => p.body === id && !p.aside && crossed.places.some((at) => inBox(p.box, at)))
    .map(
      (p): Finding => ({
        code: 'piece.crossed',
        severity: 'stop',
        where: { piece: p.key },
        message: `${p.code} passes through itself, as its body does: its file would, too, and printers make of that what they like.`,
        mend: resolving(id),
        mends: [{ label: `Set ${p.code} aside`, change: { do: 'setPiece', key: p.key, set: { aside: true } } }],
      }),
    );
}

const inBox = ({ min, max }: Box, at: Vec3): boolean => at.every((x, k) => x >= min[k] && x <= max[k]);

function openPiece(piece: Piece): Finding {
  const edges = faultyEdges(piece.solid, piece.caps);
  return {
    code: 'piece.open',
    severity: 'stop',
    where: { piece: piece.key },
    message:
      `${piece.code} did not come out closed: its faces do not meet at ${edges} ${edges === 1 ? 'edge' : 'edges'}, ` +
      'so it cannot be printed as a solid. Moving or turning one of its seams a little will help.',
    value: edges,
    limit: 0,
  };
}

function tooBig(plan: Plan, piece: Piece, map: Affine): Finding {
  const { over, posed } = piece.build;
  if (posed) return tooBigPosed(piece);
  const axis = over.indexOf(Math.max(...over));
  const middle = Number(((piece.box.min[axis] + piece.box.max[axis]) / 2).toFixed(3));
  const normal = axisVector(axis);
  const letter = 'xyz'[axis];
  return {
    code: 'piece.tooBig',
    severity: 'stop',
    where: { piece: piece.key },
    message: `${piece.code} does not fit the printer: it is ${mm(over[axis])} too long along ${letter}.`,
    value: piece.size[axis],
    limit: piece.size[axis] - over[axis],
    mend: {
      label: `Add a seam across ${letter} in its middle`,
      change: {
        do: 'addSeam',
        seam: {
          id: freeId('s', plan.seams),
          name: '',
          kind: 'flat',
          ...planeInSource({ origin: [...scale(normal, middle)], normal: [...normal] }, map),
          enabled: true,
        },
      },
    },
  };
}

function tooBigPosed(piece: Piece): Finding {
  const { over } = piece.build;
  const axis = over.indexOf(Math.max(...over));
  return {
    code: 'piece.tooBig',
    severity: 'stop',
    where: { piece: piece.key },
    message: `${piece.code} does not fit the printer in its pose: it is ${mm(over[axis])} too ${['wide', 'deep', 'tall'][axis]}, however it is turned on the bed.`,
    value: over[axis],
    limit: 0,
    mend: {
      label: 'Take the pose back',
      change: { do: 'setPiece', key: piece.key, set: { pose: undefined } },
    },
  };
}

/** What is said of a piece: of itself, of its body, and of the faces it has. */
export function findingsOf(
  piece: Pick<Piece, 'key' | 'body'>,
  { findings, faces }: Pick<Evaluation, 'findings' | 'faces'>,
): Finding[] {
  const own = new Set(faces.filter((f) => f.pieces.includes(piece.key)).map((f) => f.id));
  return findings.filter(
    ({ where }) =>
      where.piece === piece.key || where.body === piece.body || (where.face !== undefined && own.has(where.face)),
  );
}

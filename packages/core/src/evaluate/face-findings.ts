import { type Finding, freeId, type Plan, wallLimits } from '../document/index.ts';
import { poleOf } from '../joints/index.ts';
import type { PlacedJoint } from '../mating/index.ts';
import { type Affine, dot } from '../mesh/index.ts';
import { depthInZone, type MatingFace, placeZone, type SeamPlace } from '../seams/index.ts';
import { mm } from '../units.ts';
import type { Evaluation, Piece } from './model.ts';

/** Planes nearer to each other than this leave a slice that is no piece, mm. */
const COINCIDENT = 1;
/** The least radius of a face with room for the smallest cone, its gap, and walls that can just be printed, mm. */
const smallest = (plan: Plan): number => 0.8 + wallLimits(plan.printer).stop;

/** What is to be said of the seams' faces and of the pieces between them. */
export function faceFindings(
  plan: Plan,
  faces: readonly MatingFace[],
  pieces: readonly Piece[],
  map: Affine,
  placed: readonly PlacedJoint[],
): Finding[] {
  const furnished = new Set(placed.flatMap((j) => (j.built && j.face ? [j.face] : [])));
  const nameOf = (id: string): string => plan.seams.find((s) => s.id === id)?.name || `seam ${id}`;
  return [
    ...throughZones(plan, faces, map),
    ...coincident(faces, nameOf),
    ...tooSmall(
      plan,
      faces.filter((f) => !furnished.has(f.id)),
    ),
    ...slivers(plan, faces, pieces),
  ];
}

function throughZones(plan: Plan, faces: readonly MatingFace[], map: Affine): Finding[] {
  return plan.zones.flatMap((zone) => {
    const placed = placeZone(zone, map);
    const deepest = new Map<string, number>();
    for (const f of faces) {
      const depth = depthInZone(placed, f.frame, f.region);
      if (depth > (deepest.get(f.seam) ?? 0)) deepest.set(f.seam, depth);
    }
    return [...deepest].map(
      ([seam, depth]): Finding => ({
        code: 'seam.zone',
        severity: 'warn',
        where: { seam },
        message: `This seam runs ${mm(depth)} deep through ${zone.name || 'a zone'} that is to be kept clear.`,
        value: depth,
        limit: 0,
      }),
    );
  });
}

function coincident(faces: readonly MatingFace[], nameOf: (id: string) => string): Finding[] {
  const planes = new Map<string, MatingFace>();
  // faces on which bodies touch are nobody's to move
  for (const f of faces) if (!f.contact && !planes.has(f.plane)) planes.set(f.plane, f);
  const list = [...planes.values()];
  const out: Finding[] = [];
  list.forEach((a, i) => {
    for (const b of list.slice(i + 1)) {
      if (a.seam === b.seam) continue;
      const along = dot(a.frame.normal, b.frame.normal);
      const gap = Math.abs(a.frame.offset - b.frame.offset * Math.sign(along));
      if (Math.abs(along) < 1 - 1e-4 || gap >= COINCIDENT) continue;
      out.push({
        code: 'seam.coincident',
        severity: 'warn',
        where: { seam: b.seam },
        message: `This seam is only ${mm(gap)} from ${nameOf(a.seam)}.`,
        value: gap,
        limit: COINCIDENT,
        mend: { label: 'Switch it off', change: { do: 'setSeam', id: b.seam, set: { enabled: false } } },
      });
    }
  });
  return out;
}

function tooSmall(plan: Plan, faces: readonly MatingFace[]): Finding[] {
  const limit = smallest(plan);
  return faces.flatMap((f): Finding[] => {
    const { distance } = poleOf(f.region);
    if (distance >= limit) return [];
    return [
      {
        code: 'face.small',
        severity: 'note',
        where: { seam: f.seam, face: f.id },
        message: `This mating face is at most ${mm(2 * distance)} wide: ${distance >= wallLimits(plan.printer).stop + 0.1 ? 'only a lap may find room there' : 'too small for any joint'}.`,
        value: 2 * distance,
        limit: 2 * limit,
      },
    ];
  });
}

function slivers(plan: Plan, faces: readonly MatingFace[], pieces: readonly Piece[]): Finding[] {
  const least = 2 * plan.printer.nozzle;
  const facesOf = new Map<string, MatingFace[]>(pieces.map(({ key }) => [key, []]));
  for (const face of faces) for (const key of new Set(face.pieces)) facesOf.get(key)?.push(face);
  return pieces.flatMap((piece): Finding[] => {
    if (piece.aside) return [];
    const own = facesOf.get(piece.key)!;
    const value = Math.min(...piece.size, ...own.map((f) => thickness(piece, f.frame.normal, least)));
    if (value >= least) return [];
    return [
      {
        code: 'piece.sliver',
        severity: 'warn',
        where: { piece: piece.key, ...(own[0] && { seam: own[0].seam }) },
        message: `${piece.code} is a sliver, ${mm(value)} thick.`,
        value,
        limit: least,
        mend: { label: `Set ${piece.code} aside`, change: { do: 'setPiece', key: piece.key, set: { aside: true } } },
      },
    ];
  });
}

/** How thick a piece is along a direction, mm; no more of it is looked at once it is thicker than `enough`. */
function thickness(
  { solid: { positions: p } }: Piece,
  [x, y, z]: readonly [number, number, number],
  enough: number,
): number {
  let low = Infinity;
  let high = -Infinity;
  for (let k = 0; k < p.length; k += 3) {
    const d = x * p[k] + y * p[k + 1] + z * p[k + 2];
    if (d < low) low = d;
    if (d > high) high = d;
    if (high - low > enough) break;
  }
  return high - low;
}

/** Mating faces that nobody has joined yet, each with a pin that would fit in its roomiest place. */
export function bareFaces(
  plan: Plan,
  faces: readonly MatingFace[],
  placed: readonly PlacedJoint[],
  places: ReadonlyMap<string, SeamPlace>,
): Finding[] {
  const limits = wallLimits(plan.printer);
  const glued = new Set(plan.seams.filter((s) => s.glued).map((s) => s.id));
  return faces
    .filter((f) => f.alternate === undefined && places.has(f.plane) && !placed.some((j) => j.face === f.id))
    .filter((f) => !glued.has(f.seam))
    .map((f): Finding => {
      if (f.contact) {
        return {
          code: 'face.bare',
          severity: 'note',
          where: { seam: f.seam, face: f.id },
          message: 'Two bodies lie against each other here, without a joint.',
        };
      }
      const pole = poleOf(f.region);
      const diameter = Math.min(8, Math.floor((pole.distance - limits.warn - 0.2) * 1.6 * 2) / 2);
      const finding: Finding = {
        code: 'face.bare',
        severity: 'warn',
        where: { seam: f.seam, face: f.id },
        message: 'This mating face has no joint yet.',
      };
      if (diameter < 2) return finding;
      const joint = {
        id: freeId('j', plan.joints),
        kind: 'pin' as const,
        seam: f.seam,
        ...(f.part !== undefined && { part: f.part }),
        at: places.get(f.plane)!.toSource([rounded(pole.u), rounded(pole.v)]),
        shape: 'hexagon' as const,
        diameter,
        depth: diameter,
      };
      return { ...finding, mend: { label: `Add a ${mm(diameter)} pin`, change: { do: 'addJoint', joint } } };
    });
}

const rounded = (x: number): number => Number(x.toFixed(3));

/** A mating face by the codes of the pieces on both its sides: "A3 and A7". */
export function faceName({ faces, pieces }: Pick<Evaluation, 'faces' | 'pieces'>, id: string): string {
  const face = faces.find((f) => f.id === id);
  const codes = face?.pieces.map((key) => pieces.find((p) => p.key === key)?.code ?? 'a piece that is gone');
  return codes?.join(' and ') ?? 'a face that is gone';
}

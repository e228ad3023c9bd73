import type { Solid } from '../../cut/index.ts';
import { type Finding, type Plan, spareBodies } from '../../document/index.ts';
import {
  backingStrips,
  carvedPieces,
  type JointContext,
  joiningSteps,
  type LoosePart,
  lapPieces,
  looseParts,
  lostFinding,
  type MeasuredJoint,
  orderWithShown,
  type PlacedJoint,
  placeJoints,
  stockOfBores,
  type WayIn,
  waysIn,
} from '../../mating/index.ts';
import { type Affine, mapNormal, type Vec3 } from '../../mesh/index.ts';
import type { MatingFace } from '../../seams/index.ts';
import type { PassContext } from '../model.ts';
import type { Parted } from './parting.ts';

/** The joints on their faces, and what comes of them but the pieces' solids. */
export interface Joined {
  readonly placed: readonly PlacedJoint[];
  /** of those that are built */
  readonly measured: readonly MeasuredJoint[];
  readonly context: JointContext;
  readonly ways: readonly WayIn[];
  /** solids of pieces that have laps or rooms of joints, by their keys */
  readonly carved: ReadonlyMap<string, Solid>;
  readonly loose: readonly LoosePart[];
  readonly findings: readonly Finding[];
}

/** Places and measures the joints, takes out those without a common way in, builds laps into the solids, and makes the rooms of joints. */
export function joining(
  plan: Plan,
  map: Affine,
  { bodies, faces, places }: Parted,
  { cache, fallback, kernel, breath }: PassContext,
): Joined {
  const around = new Map(bodies.map((b) => [b.sized.body.id, b]));
  const upOf = printDirections(plan, faces, map);
  const context: JointContext = { plan, map, faces, around, places, cache, fallback, upOf };
  const placing = placeJoints(plan.joints, context);
  const spare = spareBodies(plan.alternates, [...around.keys()]);
  const keyed = bodies.flatMap((b) => b.keyed.map(({ key }) => ({ key, body: b.sized.body.id })));
  const order = plan.order && orderWithShown(plan.order, keyed, plan.alternates);
  const joined = faces.filter((f) => !f.bodies.some((b) => spare.has(b)));
  const { ways, findings, refused } = waysIn(joiningSteps(joined, plan.seams, order), placing.measured, context);
  const free = placing.placed.map((j) => (refused.has(j.id) ? { ...j, built: false } : j));
  const { lapped, failed } = lapPieces(plan, free, faces, around, cache, fallback);
  const rooms = carvedPieces(free, faces, around, lapped, {
    fallback,
    ...(kernel && { kernel }),
    ...(breath && { breath }),
  });
  const backing = backingStrips(plan, faces, around, fallback);
  const lost = new Set([...failed.keys(), ...rooms.failed.keys()]);
  const placed = free.map((j) => (lost.has(j.id) ? { ...j, built: false } : j));
  return {
    placed,
    measured: placing.measured.filter((m) => !refused.has(m.joint.id) && !lost.has(m.joint.id)),
    context,
    ways,
    carved: new Map([...lapped, ...rooms.carved]),
    loose: [...looseParts(plan.joints, placed, faces), ...stockOfBores(plan, map), ...backing.parts],
    findings: [
      ...placing.findings,
      ...findings,
      ...backing.findings,
      ...[...failed].map(([id, message]) => lostFinding(plan, 'joint.lap', id, message)),
      ...[...rooms.failed].map(([id, message]) => lostFinding(plan, 'joint.shaft', id, message)),
    ],
  };
}

/** What points up while each piece prints: what the plan says, else away from its largest mating face. */
function printDirections(plan: Plan, faces: readonly MatingFace[], map: Affine): (piece: string) => Vec3 | null {
  const largest = new Map<string, { area: number; up: Vec3 }>();
  for (const f of faces) {
    f.pieces.forEach((piece, side) => {
      if ((largest.get(piece)?.area ?? 0) >= f.area) return;
      const [x, y, z] = f.frames[side].normal;
      largest.set(piece, { area: f.area, up: side === 0 ? [-x, -y, -z] : [x, y, z] });
    });
  }
  for (const note of plan.pieces) {
    if (note.pose) largest.set(note.key, { area: Infinity, up: mapNormal(map, note.pose.up) });
  }
  return (piece) => largest.get(piece)?.up ?? null;
}

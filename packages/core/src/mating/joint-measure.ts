import { atOffset, type CapRegion, type Frame, inRegion, type Solid } from '../cut/index.ts';
import { ampleWall, wallLimits } from '../document/index.ts';
import {
  columnDepth,
  columnToTriangles,
  type Exit,
  edgeDistance,
  outlineRoom,
  type Prism,
  prismDistance,
  prismToTriangles,
  type Stack,
  slabsOf,
} from '../joints/index.ts';
import { followsWall, type Joint, type JointOf } from '../joints/kinds/index.ts';
import {
  type Blocks,
  buildBlocks,
  dot,
  type Loop2,
  newellNormal,
  normalize,
  type Vec3,
  vertexAt,
  winding,
} from '../mesh/index.ts';
import { isWall, type MatingFace, placeZone, planeOfJoint, type SeamPlace } from '../seams/index.ts';
import { formJoint } from './joint-form.ts';
import { findLap, stepPlates } from './laps.ts';
import type { MatingCache } from './mating-cache.ts';
import type { Around, FormedJoint, JointContext, MeasuredJoint, Measuring } from './model.ts';
import { nearestOccupant, type Occupant, type Occupied, rootToSockets } from './occupants.ts';
import { roomPlace } from './room-place.ts';

/** The plane of a joint: its contact's, or that of its seam or of a part of it. */
const planeFor = (joint: Pick<Joint, 'seam' | 'part'>, { plan }: Pick<JointContext, 'plan'>): string =>
  planeOfJoint(
    joint,
    plan.seams.find((s) => s.id === joint.seam),
  );

/**
 * Measures a joint beside those that take up room already; null when its seam does not cut. `within`: how near others must be
 * to matter, mm; without it as far as walls are measured. `alternate`: on the faces of that body, which takes the lead's place.
 */
export function measureJoint(
  joint: Joint,
  context: JointContext,
  occupancy: Occupied,
  within?: number,
  alternate?: string,
): Measuring | null {
  const plane = planeFor(joint, context);
  const place = context.places.get(plane);
  if (!place) return null;
  const formed = formJoint(joint, place, context.map, context.plan.printer);
  const onPlane = context.faces.filter((f) => f.plane === plane && f.alternate === alternate);
  const here = onPlane.filter((f) => inRegion(f.region, formed.u, formed.v));
  const measured = here.length === 0 ? null : measure(joint, formed, here, onPlane, place, context, occupancy, within);
  return { formed, place, onPlane, measured };
}

/** The bodies that take the place of one on a joint's plane. */
export function alternatesOf(joint: Joint, context: JointContext): string[] {
  const plane = planeFor(joint, context);
  return [...new Set(context.faces.flatMap((f) => (f.plane === plane && f.alternate ? [f.alternate] : [])))];
}

/** The numbers of a joint on its face: see `PlacedJoint`. */
function measure(
  joint: Joint,
  formed: FormedJoint,
  here: readonly MatingFace[],
  onPlane: readonly MatingFace[],
  place: SeamPlace,
  context: JointContext,
  occupancy: Occupied,
  within?: number,
): MeasuredJoint {
  const face = here[0];
  const { form, direction } = formed;
  const ownIndex = direction > 0 ? 0 : 1;
  const sides = [ownIndex, 1 - ownIndex] as const;
  const [own, other] = sides.map((i) => face.pieces[i]);
  const stacks = [form.own, form.other];
  if (followsWall(joint)) return measureLap(joint, formed, here, onPlane, place, context, occupancy);
  const rooms = form.rooms ?? [];
  const mouths = [...stacks.flat().map((s) => s.rings[0].loop), ...rooms.flatMap((r) => r.outlines.slice(0, 1))];
  const edge = Math.min(...mouths.map((loop) => outlineRoom(face.region, loop)));
  const ample = ampleWall(context.plan.printer);
  const print = `${printOf(joint, formed)}${ample}`;
  const walls: [number, number] = [Infinity, Infinity];
  const occupants: Occupant[] = [];
  let root = Infinity;
  let exit: Exit | null = null;
  for (const side of [0, 1] as const) {
    const piece = side === 0 ? own : other;
    const plane = face.frames[sides[side]];
    const env = context.around.get(face.bodies[sides[side]])!;
    // the other side's sockets go along the direction, the own side's against it; a male half's root looks into its piece
    const inward = (side === 0 ? -direction : direction) as 1 | -1;
    // the skin on which bodies touch is no wall
    const frame = face.contact ? atOffset(plane, plane.offset + inward * SKIN) : plane;
    const prisms: Prism[] = [];
    const hollow: Prism[] = [];
    for (const stack of stacks[side]) {
      if (stack.kind === 'male') {
        const footing = rootPrism(stack, frame, inward);
        prisms.push(footing);
        root = Math.min(root, materialUnder(footing, print, ample, env, piece, face, context.cache));
        root = Math.min(root, rootToSockets(footing, piece, occupancy, Math.min(root, ample)));
        continue;
      }
      for (const slab of slabsOf(stack, frame, inward)) {
        prisms.push(slab);
        hollow.push(slab);
        walls[side] = Math.min(walls[side], socketWall(slab, env, piece, face, print, ample, context.cache));
      }
    }
    for (const room of rooms) {
      if (room.side !== (side === 0 ? 'own' : 'other')) continue;
      const { place: at } = roomPlace(formed, face, room.side);
      exit = room.exit?.(at, env.solids.get(piece)!) ?? exit;
      const measured = { ...at, frame };
      for (const stretch of room.walled?.(measured, exit, wallLimits(context.plan.printer).warn) ?? [])
        walls[side] = Math.min(walls[side], socketWall(stretch, env, piece, face, print, ample, context.cache));
      const taken = room.prisms(measured, exit);
      prisms.push(...taken);
      hollow.push(...taken);
    }
    occupants.push({ joint: joint.id, piece, face: face.id, prisms, hollow });
  }
  const near = nearestOccupant(occupants, occupancy, within);
  return {
    joint,
    formed,
    face,
    place,
    own,
    other,
    edge,
    walls,
    root,
    cover: Math.min(...stacks.flat().map((s) => (s.kind === 'void' ? s.rings[0].height : Infinity))),
    apart: near.distance,
    next: near.joint,
    overlap: here.length > 1 || windingAt(onPlane, formed.u, formed.v) !== 1,
    lap: null,
    trouble: '',
    exit,
    occupants,
  };
}

/** The same of a lap, whose walls are those on both sides of its step. */
function measureLap(
  joint: JointOf<'lap'>,
  formed: FormedJoint,
  here: readonly MatingFace[],
  onPlane: readonly MatingFace[],
  place: SeamPlace,
  context: JointContext,
  occupancy: Occupied,
): MeasuredJoint {
  const face = here[0];
  const { direction, gap } = formed;
  const [own, other] = direction > 0 ? face.pieces : [face.pieces[1], face.pieces[0]];
  const env = context.around.get(face.bodies[0])!;
  const solids = [env.solids.get(face.pieces[0])!, env.solids.get(face.pieces[1])!] as const;
  const { line, trouble } = findLap(
    joint,
    [formed.u, formed.v],
    gap,
    face,
    solids,
    context.plan.zones.map((z) => placeZone(z, context.map)),
    context.cache,
    context.fallback,
  );
  const ample = ampleWall(context.plan.printer);
  const print = `${printOf(joint, formed)}${ample}`;
  const walls: [number, number] = [Infinity, Infinity];
  const occupants: Occupant[] = [];
  if (line) {
    const rebate = stepPlates(line, 'rebate', face.frame, direction, formed.form.depths[1]);
    for (const plate of rebate)
      walls[1] = Math.min(walls[1], socketWall(plate, env, other, face, print, ample, context.cache));
    occupants.push({ joint: joint.id, piece: other, face: face.id, prisms: rebate, hollow: rebate });
    const foot = stepPlates(line, 'lip', face.frame, -direction as 1 | -1, 0.4);
    occupants.push({ joint: joint.id, piece: own, face: face.id, prisms: foot, hollow: [] });
  }
  const near = nearestOccupant(occupants, occupancy);
  return {
    joint,
    formed: line ? { ...formed, form: { ...formed.form, turns: line.turns, shear: line.length * joint.lip } } : formed,
    face,
    place,
    own,
    other,
    edge: line ? Math.min(...line.rebate.step.map(([u, v]) => edgeDistance(face.region, u, v))) : joint.lip,
    walls,
    root: Infinity,
    cover: Infinity,
    apart: near.distance,
    next: near.joint,
    overlap: here.length > 1 || windingAt(onPlane, formed.u, formed.v) !== 1,
    lap: line,
    trouble,
    exit: null,
    occupants,
  };
}

/** Faces of bodies are flat within this, mm. */
const SKIN = 2e-3;

/** Tells the same shape at the same place again. */
function printOf(joint: Joint, { u, v, gap }: FormedJoint): string {
  const { id: _, seam: __, part: ___, at: ____, enabled: _____, fit: ______, ...rest } = joint;
  return `${JSON.stringify(rest)}${u}:${v}:${gap}`;
}

/** The material right under a root, as thin as what a male half needs to stand on. */
const rootPrism = (stack: Stack, frame: Frame, direction: 1 | -1): Prism => ({
  frame,
  outline: stack.rings[0].loop,
  depth: 0.4,
  direction,
});

function windingAt(faces: readonly MatingFace[], u: number, v: number): number {
  let sum = 0;
  for (const f of faces) {
    for (const loop of [f.region.outer2, ...f.region.holes2]) sum += winding(loop, u, v);
  }
  return sum;
}

const keyOf = (what: string, env: Around, { frame: f, depth, direction }: Prism, print: string): string =>
  `${what}|${env.sized.key}|${f.origin}|${f.normal}|${f.v}|${direction}|${depth}|${print}`;

const bents = new WeakMap<Solid, Blocks | null>();

/** The bent faces that seams left on a solid, which are no caps and no skin of its body; null where there are none. */
function bentWalls(solid: Solid): Blocks | null {
  let known = bents.get(solid);
  if (known === undefined) {
    const { positions, triangles: t, tags } = solid;
    const own = [...tags.keys()].filter((i) => isWall(tags[i]));
    known =
      own.length === 0
        ? null
        : buildBlocks({
            positions,
            triangles: Uint32Array.from(own.flatMap((i) => [t[3 * i], t[3 * i + 1], t[3 * i + 2]])),
            tags: Uint32Array.from(own, (i) => tags[i]),
          });
    bents.set(solid, known);
  }
  return known;
}

/** Wall from a socket to the skin of its piece and to the piece's other caps. */
function socketWall(
  slab: Prism,
  env: Around,
  piece: string,
  face: MatingFace,
  print: string,
  ample: number,
  cache: MatingCache,
): number {
  const skin = cache.walls.get(
    keyOf('wall', env, slab, `${ringPrint(slab.outline)}${print}`),
    () => prismDistance(slab, env.sized.blocks(), ample),
    () => 400,
  );
  const solid = env.solids.get(piece)!;
  const bent = bentWalls(solid);
  let best = bent
    ? cache.walls.get(
        keyOf(`bent ${cache.idOf(solid)}`, env, slab, `${ringPrint(slab.outline)}${print}`),
        () => prismDistance(slab, bent, skin),
        () => 400,
      )
    : skin;
  for (const cap of solid.caps) {
    if (isMouth(cap, face) || planeAway(slab, solid, cap) >= best) continue;
    best = Math.min(best, prismToTriangles(slab, solid.positions, cap.triangles, best));
  }
  return best;
}

const planes = new WeakMap<CapRegion, { readonly normal: Vec3; readonly offset: number }>();

/** No more than the distance of a slab to a cap: to the cap's whole plane, 0 where that goes through the slab. */
function planeAway({ frame, outline, depth, direction }: Prism, solid: Solid, cap: CapRegion): number {
  let plane = planes.get(cap);
  if (!plane) {
    plane = planeThrough(solid.positions, cap.outer);
    planes.set(cap, plane);
  }
  const { normal: n, offset } = plane;
  const [du, dv] = [dot(frame.u, n), dot(frame.v, n)];
  const dh = dot(frame.normal, n) * depth * direction;
  const start = dot(frame.origin, n) - offset;
  let [low, high] = [Infinity, -Infinity];
  for (let i = 0; i < outline.length; i += 2) {
    const d = start + du * outline[i] + dv * outline[i + 1];
    low = Math.min(low, d, d + dh);
    high = Math.max(high, d, d + dh);
  }
  return Math.max(0, low, -high);
}

/** The plane of a flat loop of vertices. */
function planeThrough(p: Float64Array, loop: Uint32Array): { normal: Vec3; offset: number } {
  const normal = normalize(newellNormal(loop.length, (i, axis) => p[3 * loop[i] + axis]));
  return { normal, offset: dot(normal, vertexAt(p, loop[0])) };
}

/** Whether a cap lies in the plane of a face. */
const isMouth = (cap: CapRegion, face: MatingFace): boolean => cap.seam === face.plane || face.caps.includes(cap);

const ringPrint = (l: Loop2): string => `${l.length},${l[0]},${l[1]};`;

/** Material under the root of a male half: the least height of its piece below the root's outline. */
function materialUnder(
  footing: Prism,
  print: string,
  ample: number,
  env: Around,
  piece: string,
  face: MatingFace,
  cache: MatingCache,
): number {
  const { frame, outline, direction } = footing;
  const skin = cache.walls.get(
    keyOf('root', env, footing, `${ringPrint(outline)}${print}`),
    () => columnDepth(frame, outline, direction, env.sized.blocks(), ample),
    () => 400,
  );
  const solid = env.solids.get(piece)!;
  const bent = bentWalls(solid);
  let best = bent ? columnDepth(frame, outline, direction, bent, skin) : skin;
  for (const cap of solid.caps) {
    if (isMouth(cap, face) || planeAway({ ...footing, depth: best }, solid, cap) > 0) continue;
    best = Math.min(best, columnToTriangles(frame, outline, direction, solid.positions, cap.triangles, best));
  }
  return best;
}

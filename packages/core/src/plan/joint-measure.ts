import { atOffset, type CapRegion, type Frame, inRegion, type Loop2, type Solid, winding } from '../cut/index.ts';
import {
  columnDepth,
  columnToTriangles,
  outlineRoom,
  type Prism,
  prismDistance,
  prismToTriangles,
  type Stack,
  slabsOf,
} from '../joints/index.ts';
import type { Affine, Vec3 } from '../mesh/index.ts';
import type { MatingFace } from './faces.ts';
import { type FormedJoint, formJoint } from './joint-form.ts';
import type { Joint } from './joint-schema.ts';
import { nearestOccupant, type Occupancy, type Occupant } from './occupants.ts';
import { planeOfJoint, type SeamPlace } from './place.ts';
import type { Plan } from './schema.ts';
import type { EvalCache, SizedBody } from './stages.ts';

/** What checking needs to know of the pieces of a body. */
export interface Around {
  readonly sized: SizedBody;
  readonly solids: ReadonlyMap<string, Solid>;
}

/** Everything that a joint is measured against. */
export interface JointContext {
  readonly plan: Plan;
  readonly map: Affine;
  readonly faces: readonly MatingFace[];
  readonly around: ReadonlyMap<string, Around>;
  readonly places: ReadonlyMap<string, SeamPlace>;
  readonly cache: EvalCache;
  /** what points up while a piece prints, unit, on the model; null where it is not known */
  readonly upOf: (piece: string) => Vec3 | null;
}

/** A joint with the face it lies on, formed and measured. */
export interface MeasuredJoint {
  readonly joint: Joint;
  readonly formed: FormedJoint;
  readonly face: MatingFace;
  readonly place: SeamPlace;
  /** pieces: the own one and its neighbour */
  readonly own: string;
  readonly other: string;
  readonly edge: number;
  readonly walls: readonly [number, number];
  readonly root: number;
  readonly apart: number;
  readonly next: string;
  /** more than one shell at its place */
  readonly overlap: boolean;
  readonly occupants: readonly Occupant[];
}

/** The plane of a joint: its contact's, or that of its seam or of a part of it. */
export const planeFor = (joint: Pick<Joint, 'seam' | 'part'>, { plan }: Pick<JointContext, 'plan'>): string =>
  planeOfJoint(
    joint,
    plan.seams.find((s) => s.id === joint.seam),
  );

/** A joint on its plane: where it is, the faces of that plane, and, when it lies on one, what was measured there. */
export interface Measuring {
  readonly formed: FormedJoint;
  readonly place: SeamPlace;
  readonly onPlane: readonly MatingFace[];
  readonly measured: MeasuredJoint | null;
}

/** Measures a joint beside those that take up room already; null when its seam does not cut. */
export function measureJoint(joint: Joint, context: JointContext, occupancy: Occupancy): Measuring | null {
  const plane = planeFor(joint, context);
  const place = context.places.get(plane);
  if (!place) return null;
  const formed = formJoint(joint, place, context.map, context.plan.printer);
  const onPlane = context.faces.filter((f) => f.plane === plane);
  const here = onPlane.filter((f) => inRegion(f.region, formed.u, formed.v));
  const measured = here.length === 0 ? null : measure(joint, formed, here, onPlane, place, context, occupancy);
  return { formed, place, onPlane, measured };
}

/** The numbers of a joint on its face: see `PlacedJoint`. */
function measure(
  joint: Joint,
  formed: FormedJoint,
  here: readonly MatingFace[],
  onPlane: readonly MatingFace[],
  place: SeamPlace,
  context: JointContext,
  occupancy: Occupancy,
): MeasuredJoint {
  const face = here[0];
  const { form, direction } = formed;
  const ownIndex = direction > 0 ? 0 : 1;
  const sides = [ownIndex, 1 - ownIndex] as const;
  const [own, other] = sides.map((i) => face.pieces[i]);
  const stacks = [form.own, form.other];
  const edge = Math.min(...stacks.flat().map((s) => outlineRoom(face.region, s.rings[0].loop)));
  const print = printOf(joint, formed);
  const walls: [number, number] = [Infinity, Infinity];
  const occupants: Occupant[] = [];
  let root = Infinity;
  for (const side of [0, 1] as const) {
    const piece = side === 0 ? own : other;
    const plane = face.frames[sides[side]];
    const env = context.around.get(face.bodies[sides[side]])!;
    // the other side's sockets go along the direction, the own side's against it; a male half's root looks into its piece
    const inward = (side === 0 ? -direction : direction) as 1 | -1;
    // the skin on which bodies touch is no wall
    const frame = face.contact ? atOffset(plane, plane.offset + inward * SKIN) : plane;
    const prisms: Prism[] = [];
    for (const stack of stacks[side]) {
      if (stack.kind === 'male') {
        const footing = rootPrism(stack, frame, inward);
        prisms.push(footing);
        root = Math.min(root, materialUnder(footing, print, env, piece, face, context.cache));
        continue;
      }
      for (const slab of slabsOf(stack, frame, inward)) {
        prisms.push(slab);
        walls[side] = Math.min(walls[side], socketWall(slab, env, piece, face, print, context.cache));
      }
    }
    occupants.push({ joint: joint.id, piece, face: face.id, prisms });
  }
  const near = nearestOccupant(occupants, occupancy);
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
    apart: near.distance,
    next: near.joint,
    overlap: here.length > 1 || windingAt(onPlane, formed.u, formed.v) !== 1,
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

/** Wall from a socket to the skin of its piece and to the piece's other caps. */
function socketWall(
  slab: Prism,
  env: Around,
  piece: string,
  face: MatingFace,
  print: string,
  cache: EvalCache,
): number {
  const skin = cache.walls.get(
    keyOf('wall', env, slab, `${ringPrint(slab.outline)}${print}`),
    () => prismDistance(slab, env.sized.blocks()),
    () => 400,
  );
  const solid = env.solids.get(piece)!;
  let best = skin;
  for (const cap of solid.caps) {
    if (!isMouth(cap, face)) best = Math.min(best, prismToTriangles(slab, solid.positions, cap.triangles, best));
  }
  return best;
}

/** Whether a cap lies in the plane of a face. */
const isMouth = (cap: CapRegion, face: MatingFace): boolean => cap.seam === face.plane || face.caps.includes(cap);

const ringPrint = (l: Loop2): string => `${l.length},${l[0]},${l[1]};`;

/** Material under the root of a male half: the least height of its piece below the root's outline. */
function materialUnder(
  footing: Prism,
  print: string,
  env: Around,
  piece: string,
  face: MatingFace,
  cache: EvalCache,
): number {
  const { frame, outline, direction } = footing;
  const skin = cache.walls.get(
    keyOf('root', env, footing, `${ringPrint(outline)}${print}`),
    () => columnDepth(frame, outline, direction, env.sized.blocks()),
    () => 400,
  );
  const solid = env.solids.get(piece)!;
  let best = skin;
  for (const cap of solid.caps) {
    if (isMouth(cap, face)) continue;
    best = Math.min(best, columnToTriangles(frame, outline, direction, solid.positions, cap.triangles));
  }
  return best;
}

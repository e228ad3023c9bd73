import { fromFrame, inRegion, type Solid, winding } from '../cut/index.ts';
import {
  convexGap,
  type JointForm,
  outlineRoom,
  type Pin,
  type Prism,
  pinForm,
  poleOf,
  prismDistance,
  prismToTriangles,
} from '../joints/index.ts';
import { rayHits } from '../mesh/index.ts';
import type { MatingFace } from './faces.ts';
import { type Finding, type Mend, mm } from './findings.ts';
import { planeOfJoint, type SeamPlace } from './place.ts';
import type { Joint, Printer, Seam } from './schema.ts';
import type { EvalCache, SizedBody } from './stages.ts';

/** A joint on its mating face, with what was measured of it. Lengths in mm, at the plan's size. */
export interface PlacedJoint {
  readonly id: string;
  readonly face: string | null;
  /** centre in the seam's effective frame */
  readonly u: number;
  readonly v: number;
  readonly pin: Pin;
  readonly form: JointForm;
  /** keys of the piece with the male half and of the one with the socket */
  readonly male: string | null;
  readonly socket: string | null;
  /** least distance from the socket's mouth to the edge of the face */
  readonly edge: number | null;
  /** least wall round the socket, its floor included */
  readonly wall: number | null;
  /** material under the male half's root */
  readonly root: number | null;
  /** least distance to another joint's socket or root */
  readonly apart: number | null;
  readonly built: boolean;
}

/** Walls under one line of the nozzle cannot be printed; under three they are weak. Resin: by its finest wall. */
export const wallLimits = (printer: Printer): { stop: number; warn: number } => ({
  stop: printer.nozzle,
  warn: 3 * printer.nozzle,
});

/** What checking needs to know of the piece a half goes into. */
interface Around {
  readonly sized: SizedBody;
  readonly solids: ReadonlyMap<string, Solid>;
}

/** The joint's sizes as the builder wants them. */
export function pinOf(joint: Joint): Pin {
  return {
    shape: joint.shape,
    diameter: joint.diameter,
    depth: joint.depth,
    socketDepth: joint.socketDepth ?? joint.depth + joint.depthGap,
    turn: joint.turn,
    chamfer: joint.chamfer,
    gap: joint.gap,
  };
}

/**
 * Puts the plan's joints on their mating faces and checks each in numbers, in the plan's order. A joint with a stop
 * finding is placed but not built.
 */
export function placeJoints(
  joints: readonly Joint[],
  seams: readonly Seam[],
  faces: readonly MatingFace[],
  around: ReadonlyMap<string, Around>,
  places: ReadonlyMap<string, SeamPlace>,
  printer: Printer,
  cache: EvalCache,
): { placed: PlacedJoint[]; findings: Finding[] } {
  const placed: PlacedJoint[] = [];
  const findings: Finding[] = [];
  const prisms: { joint: PlacedJoint; prism: Prism }[] = [];
  for (const joint of joints) {
    if (!joint.enabled) continue;
    const plane = planeOfJoint(
      joint,
      seams.find((s) => s.id === joint.seam),
    );
    const place = places.get(plane);
    if (!place) continue;
    const [u, v] = place.toModel(joint.at);
    const pin = pinOf(joint);
    const form = pinForm(pin, u, v);
    const own = faces.filter((f) => f.plane === plane);
    const here = own.filter((f) => inRegion(f.region, u, v));
    const blank: PlacedJoint = {
      id: joint.id,
      face: null,
      u,
      v,
      pin,
      form,
      male: null,
      socket: null,
      edge: null,
      wall: null,
      root: null,
      apart: null,
      built: false,
    };
    const where = { joint: joint.id, seam: joint.seam };
    if (here.length === 0) {
      placed.push(blank);
      if (own.length > 0 || faces.length > 0) {
        findings.push({
          code: 'joint.offFace',
          severity: 'stop',
          where,
          message: 'The pin lies off every mating face of its seam.',
          mend: nearestFaceMend(joint, own, place),
        });
      }
      continue;
    }
    const face = here[0];
    const limits = wallLimits(printer);
    const malePlus = joint.male === '+';
    const [male, socket] = malePlus ? [face.pieces[1], face.pieces[0]] : [face.pieces[0], face.pieces[1]];
    const env = around.get(face.body)!;
    const direction = malePlus ? -1 : 1;
    const mouth = form.socket[0].loop;
    const edge = outlineRoom(face.region, mouth);
    const prism: Prism = { frame: face.frame, outline: mouth, depth: pin.socketDepth, direction };
    const wallOf = (p: Prism, at: string): number => socketWall(p, at, env, socket, plane, cache);
    const shape = `${pin.shape}:${pin.diameter}:${pin.gap}:${pin.turn}:${u}:${v}`;
    const wall = Math.min(edge, wallOf(prism, `${shape}:${pin.socketDepth}`));
    const root = rootMaterial(form, face, direction, env, `${shape}:${direction}`, cache);
    let apart = Infinity;
    let nearest = '';
    for (const other of prisms) {
      const d = jointGap(prism, socket, face.id, other);
      if (d < apart) {
        apart = d;
        nearest = other.joint.id;
      }
    }
    const full = { ...where, face: face.id, piece: socket };
    const before = findings.length;
    const overlap = here.length > 1 || windingAt(faces, plane, u, v) !== 1;
    if (overlap) {
      findings.push({
        code: 'joint.overlap',
        severity: 'stop',
        where: full,
        message:
          'Several shells overlap here, so a socket would stay closed by the other shell. Join the shells first.',
      });
    } else if (edge < limits.stop) {
      findings.push({
        code: 'joint.edge',
        severity: 'stop',
        where: full,
        message:
          edge < 0
            ? 'The socket breaks through the edge of the mating face.'
            : `Only ${mm(edge)} stay between the socket and the edge of the mating face.`,
        value: edge,
        limit: limits.warn,
        ...mendOf(edgeMend(joint, pin, face, place, limits.warn)),
      });
    } else if (wall < limits.stop) {
      const through = wall <= 0;
      findings.push({
        code: through ? 'joint.through' : 'joint.wall',
        severity: 'stop',
        where: full,
        message: through
          ? `The socket, ${mm(pin.socketDepth)} deep, comes out through the piece.`
          : `Only ${mm(wall)} of wall stay round the socket.`,
        value: wall,
        limit: limits.warn,
        ...mendOf(depthMend(joint, pin, limits.warn, edge, prism, wallOf, shape)),
      });
    } else if (wall < limits.warn - 1e-6) {
      findings.push({
        code: 'joint.thin',
        severity: 'warn',
        where: full,
        message: `The wall round the socket is ${mm(wall)}; ${mm(limits.warn)} would hold.`,
        value: wall,
        limit: limits.warn,
        ...mendOf(
          edge < limits.warn
            ? edgeMend(joint, pin, face, place, limits.warn)
            : depthMend(joint, pin, limits.warn, edge, prism, wallOf, shape),
        ),
      });
    }
    if (!overlap && root < limits.warn) {
      findings.push({
        code: 'joint.root',
        severity: root < limits.stop ? 'stop' : 'warn',
        where: { ...full, piece: male },
        message: `Only ${mm(root)} of material lie under the foot of the pin.`,
        value: root,
        limit: limits.warn,
      });
    }
    if (apart < limits.warn) {
      findings.push({
        code: 'joint.near',
        severity: apart < limits.stop ? 'stop' : 'warn',
        where: full,
        message:
          apart > 0 ? `Only ${mm(apart)} stay between this joint and ${nearest}.` : `This joint runs into ${nearest}.`,
        value: apart,
        limit: limits.warn,
        mend: { label: 'Remove this joint', change: { do: 'removeJoint', id: joint.id } },
      });
    }
    const built = !findings.slice(before).some((f) => f.severity === 'stop');
    const done: PlacedJoint = {
      ...blank,
      face: face.id,
      male,
      socket,
      edge,
      wall,
      root: Number.isFinite(root) ? root : null,
      apart: Number.isFinite(apart) ? apart : null,
      built,
    };
    placed.push(done);
    if (built) prisms.push({ joint: done, prism });
  }
  return { placed, findings: [...findings, ...turning(placed, faces)] };
}

/** Pairs of pieces held by a single round pin can turn against each other. */
function turning(placed: readonly PlacedJoint[], faces: readonly MatingFace[]): Finding[] {
  const pairs = new Map<string, PlacedJoint[]>();
  for (const f of faces) {
    const pair = f.pieces.join('~');
    const joints = placed.filter((j) => j.built && j.face === f.id);
    pairs.set(pair, [...(pairs.get(pair) ?? []), ...joints]);
  }
  const findings: Finding[] = [];
  for (const [pair, joints] of pairs) {
    if (joints.length !== 1 || joints[0].pin.shape !== 'round') continue;
    const [joint] = joints;
    findings.push({
      code: 'joint.turns',
      severity: 'warn',
      where: { joint: joint.id, face: joint.face!, piece: pair.split('~')[0] },
      message: 'A single round pin lets the two pieces turn. Make it angular or add a second one.',
      mend: { label: 'Make it hexagonal', change: { do: 'setJoint', id: joint.id, set: { shape: 'hexagon' } } },
    });
  }
  return findings;
}

function windingAt(faces: readonly MatingFace[], plane: string, u: number, v: number): number {
  let sum = 0;
  for (const f of faces) {
    if (f.plane !== plane) continue;
    for (const loop of [f.region.outer2, ...f.region.holes2]) sum += winding(loop, u, v);
  }
  return sum;
}

/** Wall from a socket to the skin of its piece and to the piece's other caps. */
function socketWall(prism: Prism, shape: string, env: Around, piece: string, plane: string, cache: EvalCache): number {
  const f = prism.frame;
  const key = `wall|${env.sized.key}|${f.origin}|${f.normal}|${f.v}|${prism.direction}|${shape}`;
  const skin = cache.walls.get(
    key,
    () => prismDistance(prism, env.sized.blocks()),
    () => 300,
  );
  const solid = env.solids.get(piece)!;
  let best = skin;
  for (const cap of solid.caps) {
    if (cap.seam !== plane) best = Math.min(best, prismToTriangles(prism, solid.positions, cap.triangles, best));
  }
  return best;
}

/** Material under the root of the male half: the least of rays from its outline and middle into its piece. */
function rootMaterial(
  form: JointForm,
  face: MatingFace,
  direction: 1 | -1,
  env: Around,
  shape: string,
  cache: EvalCache,
): number {
  const { frame } = face;
  const key = `root|${env.sized.key}|${frame.origin}|${frame.normal}|${frame.v}|${shape}`;
  return cache.walls.get(
    key,
    () => {
      const loop = form.male[0].loop;
      const n = loop.length / 2;
      const inward = frame.normal.map((x) => -x * direction) as [number, number, number];
      let best = Infinity;
      for (let k = 0; k < 8; k++) {
        const i = Math.floor((k * n) / 8) * 2;
        const hits = rayHits(env.sized.blocks(), fromFrame(frame, loop[i], loop[i + 1]), inward);
        for (const s of hits) if (s > 1e-6) best = Math.min(best, s);
      }
      return best;
    },
    () => 300,
  );
}

/** Distance of a socket to another joint on its face, or to another socket in its piece; else infinite. */
function jointGap(prism: Prism, socket: string, face: string, other: { joint: PlacedJoint; prism: Prism }): number {
  if (other.joint.face === face) return convexGap(prism.outline, other.prism.outline);
  if (socket !== other.joint.socket) return Infinity;
  const a = middle(prism);
  const b = middle(other.prism);
  const far = Math.hypot(a.at[0] - b.at[0], a.at[1] - b.at[1], a.at[2] - b.at[2]) - a.radius - b.radius;
  if (far > 20) return far;
  const { positions, triangles } = prismMesh(other.prism);
  return prismToTriangles(prism, positions, triangles);
}

function middle({ frame, outline, depth, direction }: Prism): { at: readonly number[]; radius: number } {
  let u = 0;
  let v = 0;
  for (let i = 0; i < outline.length; i += 2) {
    u += outline[i];
    v += outline[i + 1];
  }
  u /= outline.length / 2;
  v /= outline.length / 2;
  let r = 0;
  for (let i = 0; i < outline.length; i += 2) r = Math.max(r, Math.hypot(outline[i] - u, outline[i + 1] - v));
  return { at: fromFrame(frame, u, v, (depth / 2) * direction), radius: Math.hypot(r, depth / 2) };
}

function prismMesh({ frame, outline, depth, direction }: Prism): { positions: Float64Array; triangles: Uint32Array } {
  const n = outline.length / 2;
  const positions = new Float64Array(n * 6);
  const triangles: number[] = [];
  for (let i = 0; i < n; i++) {
    positions.set(fromFrame(frame, outline[i * 2], outline[i * 2 + 1]), i * 3);
    positions.set(fromFrame(frame, outline[i * 2], outline[i * 2 + 1], depth * direction), (n + i) * 3);
    const k = (i + 1) % n;
    triangles.push(i, k, n + k, i, n + k, n + i);
    if (i > 0 && i + 1 < n) triangles.push(0, i, i + 1, n, n + i, n + i + 1);
  }
  return { positions, triangles: Uint32Array.from(triangles) };
}

const mendOf = (mend: Mend | undefined): { mend?: Mend } => (mend ? { mend } : {});

const rounded = (x: number): number => Number(x.toFixed(2));

function moveTo(joint: Joint, u: number, v: number, place: SeamPlace, label: string): Mend {
  return { label, change: { do: 'setJoint', id: joint.id, set: { at: place.toSource([rounded(u), rounded(v)]) } } };
}

function nearestFaceMend(joint: Joint, faces: readonly MatingFace[], place: SeamPlace): Mend {
  const [u, v] = place.toModel(joint.at);
  let best: MatingFace | undefined;
  let least = Infinity;
  for (const f of faces) {
    const pole = poleOf(f.region);
    const d = Math.hypot(pole.u - u, pole.v - v);
    if (d < least) {
      least = d;
      best = f;
    }
  }
  if (!best) return { label: 'Remove this joint', change: { do: 'removeJoint', id: joint.id } };
  const pole = poleOf(best.region);
  return moveTo(joint, pole.u, pole.v, place, `Move it ${mm(least)} onto the face`);
}

/** Moves the joint towards the roomiest place of its face until the wall holds; else makes it thinner there. */
function edgeMend(joint: Joint, pin: Pin, face: MatingFace, place: SeamPlace, wanted: number): Mend | undefined {
  const pole = poleOf(face.region);
  const [u, v] = place.toModel(joint.at);
  for (let k = 1; k <= 40; k++) {
    const s = k / 40;
    const nu = u + (pole.u - u) * s;
    const nv = v + (pole.v - v) * s;
    const loop = pinForm(pin, rounded(nu), rounded(nv)).socket[0].loop;
    if (outlineRoom(face.region, loop) >= wanted) {
      return moveTo(joint, nu, nv, place, `Move it ${mm(Math.hypot(nu - u, nv - v))} inward`);
    }
  }
  const diameter = Math.floor((pole.distance - wanted - pin.gap) * 2 * 0.86 * 10) / 10;
  if (diameter < 2) return undefined;
  const set = {
    at: place.toSource([rounded(pole.u), rounded(pole.v)]),
    diameter,
    chamfer: Math.min(joint.chamfer, diameter / 4),
  };
  return { label: `Make it ${mm(diameter)} thick, in the middle`, change: { do: 'setJoint', id: joint.id, set } };
}

/** The greatest depth, in steps of half a millimetre, at which the wall holds; nothing when even a short pin does not. */
function depthMend(
  joint: Joint,
  pin: Pin,
  wanted: number,
  edge: number,
  prism: Prism,
  wallOf: (p: Prism, shape: string) => number,
  shape: string,
): Mend | undefined {
  if (edge < wanted) return undefined;
  const spare = pin.socketDepth - pin.depth;
  let low = 1;
  let high = Math.floor(pin.depth * 2) / 2;
  let found = 0;
  while (high - low > -0.25) {
    const depth = Math.round(low + high) / 2;
    const socketDepth = depth + spare;
    if (wallOf({ ...prism, depth: socketDepth }, `${shape}:${socketDepth}`) >= wanted) {
      found = depth;
      low = depth + 0.5;
    } else high = depth - 0.5;
  }
  if (found < 1.5) return undefined;
  const set = {
    depth: found,
    chamfer: Math.min(joint.chamfer, found / 3),
    ...(joint.socketDepth === undefined ? {} : { socketDepth: found + spare }),
  };
  return { label: `Make it ${mm(found)} deep`, change: { do: 'setJoint', id: joint.id, set } };
}

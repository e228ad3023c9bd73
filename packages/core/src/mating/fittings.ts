import { type Frame, fromFrame } from '../cut/index.ts';
import type { Plan, StepOf } from '../document/index.ts';
import type { Ring } from '../joints/index.ts';
import { type Joint, kindOf, type Tone } from '../joints/kinds/index.ts';
import { type Affine, concatenate, dot, type IndexedMesh, ringMesh, type Vec3 } from '../mesh/index.ts';
import { ByteCache, type MatingFace } from '../seams/index.ts';
import { framesAlong } from '../solid/index.ts';
import { boreRoute } from './bores.ts';
import type { LoosePart } from './loose.ts';
import { everywhere, type PlacedJoint } from './model.ts';

/** Loose parts where they belong on the model: all of one tone that stay with one piece. */
export interface Fitting {
  /** key of the piece that they stay in when pieces come apart; null: they stay where they are */
  readonly piece: string | null;
  readonly tone: Tone;
  /** closed solids; the same one as long as nothing about it changes */
  readonly mesh: IndexedMesh;
}

interface Joined {
  readonly map: Affine;
  readonly joints: readonly PlacedJoint[];
  readonly faces: readonly MatingFace[];
  readonly loose: readonly LoosePart[];
}

type Rings = readonly (readonly Vec3[])[];

/** Corners of a tube's section. */
const ROUND = 20;

/** All that is put into joints, runs through bores or backs a seam, where it belongs. */
export function fittingsOf(plan: Pick<Plan, 'joints' | 'recipe'>, { map, joints, faces, loose }: Joined): Fitting[] {
  const faceOf = new Map(faces.map((f) => [f.id, f]));
  const byId = new Map(plan.joints.map((j) => [j.id, j]));
  const groups = new Map<string, Omit<Fitting, 'mesh'> & { meshes: IndexedMesh[]; keys: string[] }>();
  const put = (key: string, parts: readonly Fitting[]): void => {
    for (const { mesh, piece, tone } of parts) {
      const name = `${tone} ${piece}`;
      const own = groups.get(name) ?? { piece, tone, meshes: [], keys: [] };
      groups.set(name, own);
      own.meshes.push(mesh);
      own.keys.push(key);
    }
  };
  for (const p of joints.flatMap(everywhere)) {
    const joint = byId.get(p.id);
    const face = p.face === null ? undefined : faceOf.get(p.face);
    if (!p.built || !joint || !face) continue;
    const { origin, u, v } = face.frame;
    const key = JSON.stringify([joint, p.gap, p.u, p.v, p.axis, p.direction, p.male, p.socket, origin, u, v]);
    put(
      key,
      parts.get(key, () => partsOf(joint, p, face.frame), bytesOf),
    );
  }
  for (const step of plan.recipe) {
    if (step.kind !== 'bore' || !step.enabled || !step.stock) continue;
    const key = JSON.stringify([step, map]);
    put(
      key,
      parts.get(key, () => stockIn(step, map), bytesOf),
    );
  }
  const strips = loose.flatMap((part): Fitting[] => {
    const face = part.face === undefined ? undefined : faceOf.get(part.face);
    if (!face || !part.mesh) return [];
    return [{ piece: face.pieces[0], tone: 'printed', mesh: bridging(part.mesh, face.frame) }];
  });
  const joined = [...groups.values()].map(({ piece, tone, meshes, keys }): Fitting => {
    const all = `${tone} ${piece} ${keys.join()}`;
    return wholes.get(all, () => [{ piece, tone, mesh: concatenate(meshes) }], bytesOf)[0];
  });
  return [...joined, ...strips];
}

/** What was made lately, by all that it depends on: of a joint or a bore, and all of one tone in one piece. */
const parts = new ByteCache<readonly Fitting[]>(1 << 26);
const wholes = new ByteCache<readonly Fitting[]>(1 << 26);
const bytesOf = (list: readonly Fitting[]): number =>
  list.reduce((sum, { mesh }) => sum + mesh.positions.byteLength + mesh.triangles.byteLength, 0);

function partsOf(joint: Joint, p: PlacedJoint, frame: Frame): Fitting[] {
  const rise = Math.abs(dot(p.axis, frame.normal));
  const lean = [dot(p.axis, frame.u) / rise, dot(p.axis, frame.v) / rise] as const;
  const at = { u: p.u, v: p.v, turn: joint.turn, lean };
  return kindOf(joint)
    .inPlace(joint, p.form, at)
    .map(({ tone, side, axis, rings }) => ({
      piece: side === 'own' ? p.male : p.socket,
      tone,
      mesh: ringMesh(axis ? aboutAxis(axis, p, frame, rings) : overFace(p, frame, rings)),
    }));
}

function stockIn(step: StepOf<'bore'>, map: Affine): Fitting[] {
  const route = boreRoute(step, map);
  return route ? [{ piece: null, tone: 'bought', mesh: ringMesh(tube(route.line, step.diameter / 2)) }] : [];
}

const corners = ({ loop }: Ring, at: (x: number, y: number) => Vec3): Vec3[] =>
  Array.from({ length: loop.length / 2 }, (_, i) => at(loop[2 * i], loop[2 * i + 1]));

/** Rings over a face, the first that its normal meets first. */
function overFace({ direction }: PlacedJoint, frame: Frame, rings: readonly Ring[]): Rings {
  const out = rings.map((r) => corners(r, (u, v) => fromFrame(frame, u, v, r.height * direction)));
  return direction > 0 ? out : out.reverse();
}

/** Rings square to an axis in the face. */
function aboutAxis(
  [c, s]: readonly [number, number],
  { u, v, direction }: PlacedJoint,
  frame: Frame,
  rings: readonly Ring[],
): Rings {
  // across, the height and the axis are a right-handed set where the neighbour lies along the normal
  const out = rings.map((r) =>
    corners(r, (across, height) =>
      fromFrame(frame, u + r.height * c - across * s, v + r.height * s + across * c, direction * height),
    ),
  );
  return direction > 0 ? out : out.reverse();
}

function tube(line: readonly { readonly at: Vec3; readonly way: Vec3 }[], radius: number): Rings {
  const frames = framesAlong(line);
  return line.map(({ at }, i) => {
    const [u, v] = frames[i];
    return Array.from({ length: ROUND }, (_, k): Vec3 => {
      const [c, s] = [radius * Math.cos((2 * Math.PI * k) / ROUND), radius * Math.sin((2 * Math.PI * k) / ROUND)];
      return [at[0] + c * u[0] + s * v[0], at[1] + c * u[1] + s * v[1], at[2] + c * u[2] + s * v[2]];
    });
  });
}

/** By the strip as it is printed: where it was put last. */
const bridged = new WeakMap<IndexedMesh, { readonly frame: Frame; readonly mesh: IndexedMesh }>();

/** A strip that lies on the bed, its width upright, put half on either side of a plane. */
function bridging(strip: IndexedMesh, frame: Frame): IndexedMesh {
  const known = bridged.get(strip);
  if (known?.frame === frame) return known.mesh;
  const { positions: p } = strip;
  let high = 0;
  for (let i = 2; i < p.length; i += 3) high = Math.max(high, p[i]);
  const positions = new Float64Array(p.length);
  for (let i = 0; i < p.length; i += 3) positions.set(fromFrame(frame, p[i], p[i + 1], p[i + 2] - high / 2), i);
  const mesh = { ...strip, positions };
  bridged.set(strip, { frame, mesh });
  return mesh;
}

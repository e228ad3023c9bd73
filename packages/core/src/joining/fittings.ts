import { type Frame, fromFrame } from '../cut/index.ts';
import type { Plan } from '../document/index.ts';
import type { Ring } from '../joints/index.ts';
import { kindOf, type Tone } from '../joints/kinds/index.ts';
import { type Affine, concatenate, dot, type IndexedMesh, type Vec3 } from '../mesh/index.ts';
import type { MatingFace } from '../seams/index.ts';
import { framesAlong } from '../solid/index.ts';
import { boreRoute } from './bores.ts';
import type { LoosePart } from './loose.ts';
import { everywhere, type PlacedJoint } from './model.ts';
import { ringMesh } from './rings.ts';

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
  const bars = new Map<string, { piece: string | null; tone: Tone; rings: Rings[] }>();
  const put = (piece: string | null, tone: Tone, rings: Rings): void => {
    const key = `${tone} ${piece}`;
    const own = bars.get(key) ?? { piece, tone, rings: [] };
    bars.set(key, own);
    own.rings.push(rings);
  };
  for (const p of joints.flatMap(everywhere)) {
    const joint = byId.get(p.id);
    const face = p.face === null ? undefined : faceOf.get(p.face);
    if (!p.built || !joint || !face) continue;
    const { frame } = face;
    const rise = Math.abs(dot(p.axis, frame.normal));
    const lean = [dot(p.axis, frame.u) / rise, dot(p.axis, frame.v) / rise] as const;
    for (const part of kindOf(joint).inPlace(joint, p.form, { u: p.u, v: p.v, turn: joint.turn, lean })) {
      const rings = part.about === 'hinge' ? aboutHinge(p, frame, part.rings) : overFace(p, frame, part.rings);
      put(part.side === 'own' ? p.male : p.socket, part.tone, rings);
    }
  }
  for (const step of plan.recipe) {
    if (step.kind !== 'bore' || !step.enabled || !step.stock) continue;
    const route = boreRoute(step, map);
    if (route) put(null, 'bought', tube(route.line, step.diameter / 2));
  }
  const strips = loose.flatMap((part): Fitting[] => {
    const face = part.face === undefined ? undefined : faceOf.get(part.face);
    if (!face || !part.mesh) return [];
    return [{ piece: face.pieces[0], tone: 'printed', mesh: bridging(part.mesh, face.frame) }];
  });
  return [...[...bars.values()].map(({ rings, ...f }): Fitting => ({ ...f, mesh: solidsOf(rings) })), ...strips];
}

const corners = ({ loop }: Ring, at: (x: number, y: number) => Vec3): Vec3[] =>
  Array.from({ length: loop.length / 2 }, (_, i) => at(loop[2 * i], loop[2 * i + 1]));

/** Rings over a face, the first that its normal meets first. */
function overFace({ direction }: PlacedJoint, frame: Frame, rings: readonly Ring[]): Rings {
  const out = rings.map((r) => corners(r, (u, v) => fromFrame(frame, u, v, r.height * direction)));
  return direction > 0 ? out : out.reverse();
}

function aboutHinge({ u, v, direction, form }: PlacedJoint, frame: Frame, rings: readonly Ring[]): Rings {
  const [c, s] = form.hinge!.axis;
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

/** By the places of their corners: what was made last. */
const MOST_KNOWN = 200;
const made = new Map<string, IndexedMesh>();

function solidsOf(list: readonly Rings[]): IndexedMesh {
  const key = list.flat(3).join();
  const mesh = made.get(key) ?? concatenate(list.map(ringMesh));
  made.delete(key);
  made.set(key, mesh);
  if (made.size > MOST_KNOWN) made.delete(made.keys().next().value!);
  return mesh;
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

// What the worker does for the Joints station, on an evaluation it has.
import {
  type AxisLine,
  alongWall,
  type Coupon,
  type CouponWish,
  couponOf,
  type Evaluation,
  emptyPlacing,
  type Finding,
  type Joint,
  type JointInput,
  lapOutline,
  type MatingFace,
  type Mirror,
  midWall,
  occupy,
  type PlacedJoint,
  type Plan,
  placeJoint,
  type RoomField,
  rehearse,
  roomField,
  type Seating,
  type SeatWish,
  seatJoints,
  stripOf,
  symmetryAxis,
  type Triangulator,
  writeModel,
} from '@gephyra/core';
import { zipSync } from 'fflate';
import type { Tell } from './tell.ts';
import type { JointView } from './types.ts';

export function jointView(j: PlacedJoint): JointView {
  const outlines = (stacks: PlacedJoint['form']['own']) => stacks.map((s) => ({ kind: s.kind, loop: s.rings[0].loop }));
  const strip = (kind: 'male' | 'socket', side: 'lip' | 'rebate') =>
    j.lap ? [{ kind, loop: lapOutline(j.lap, side) }] : null;
  // what opens on the face, and what it widens to behind it
  const rooms = (side: 'own' | 'other'): JointView['own'] =>
    (j.form.rooms ?? [])
      .filter((r) => r.side === side)
      .flatMap((r) => r.outlines.map((loop, i) => ({ kind: i === 0 ? 'socket' : 'void', loop }) as const));
  return {
    id: j.id,
    kind: j.kind,
    face: j.face,
    u: j.u,
    v: j.v,
    gap: j.gap,
    male: j.male,
    socket: j.socket,
    edge: j.edge,
    walls: j.walls,
    wall: j.wall,
    root: j.root,
    apart: j.apart,
    built: j.built,
    depths: j.form.depths,
    shear: j.form.shear,
    own: strip('male', 'lip') ?? [...outlines(j.form.own), ...rooms('own')],
    other: strip('socket', 'rebate') ?? [...outlines(j.form.other), ...rooms('other')],
  };
}

/** A joint at a new place or size, measured beside the others; its findings say what would be wrong. */
export function checkJoint(e: Evaluation, joint: Joint): { view: JointView | null; findings: Finding[] } {
  const placing = emptyPlacing();
  for (const m of e.measured) if (m.joint.id !== joint.id) occupy(placing.occupancy, m.occupants);
  const findings = placeJoint(joint, e.context, placing);
  const [placed] = placing.placed;
  return { view: placed ? jointView(placed) : null, findings };
}

/** What helps to place joints on a face. */
export interface FaceHelp {
  readonly room: RoomField;
  readonly axis: AxisLine | null;
  /** places in the middle of a thin wall, u v u v …; empty where the face is solid */
  readonly middle: Float64Array;
  readonly thickness: number;
}

const THIN = 7;

export function helpFor(face: MatingFace): FaceHelp {
  const { thickness } = stripOf(face.region);
  const thin = thickness < THIN;
  return {
    room: roomField(face.region, 0.25, thin ? 420 : 130),
    axis: symmetryAxis(face.region),
    middle: thin ? Float64Array.from(midWall(face.region, 1).flatMap((p) => [...p.at])) : new Float64Array(0),
    thickness,
  };
}

/** Places along the wall of a face that leave room for a joint like this one. */
export function wallPlaces(e: Evaluation, faceId: string, n: number, joint: Joint): [number, number][] {
  const face = e.faces.find((f) => f.id === faceId);
  if (!face) return [];
  const placed = e.joints.find((j) => j.id === joint.id);
  const loops = placed ? [...placed.form.own, ...placed.form.other].map((s) => s.rings[0].loop) : [];
  let room = 0.5;
  for (const l of loops) {
    for (let i = 0; i < l.length; i += 2) room = Math.max(room, Math.hypot(l[i] - placed!.u, l[i + 1] - placed!.v));
  }
  return alongWall(face.region, n, room);
}

export interface SeatRequest {
  readonly faces: readonly string[] | null;
  readonly kind: JointInput['kind'] | 'auto';
  readonly spacing: number;
  readonly keep: NonNullable<SeatWish['keep']>;
}

export const seatOn = (plan: Plan, e: Evaluation, wish: SeatRequest, mirror: Mirror | null, tell?: Tell): Seating =>
  seatJoints(
    plan,
    e,
    { ...(wish.faces && { faces: wish.faces }), kind: wish.kind, keep: wish.keep, spacing: wish.spacing, mirror },
    tell,
  );

/** A finished file. */
export interface MadeFile {
  readonly name: string;
  readonly bytes: Uint8Array;
}

export function couponFile(
  wish: CouponWish,
  name: string,
  fallback: Triangulator,
): MadeFile & Pick<Coupon, 'gaps' | 'minutes'> {
  const coupon = couponOf(wish, fallback);
  const parts = coupon.parts.map((p) => ({ name: p.name, positions: p.mesh.positions, triangles: p.mesh.triangles }));
  const [file] = writeModel(
    { format: 'stl-binary', parts, palette: [{ name: '', colour: '' }], notes: [] },
    '3mf',
    name,
  );
  return { ...file, gaps: coupon.gaps, minutes: coupon.minutes };
}

/** Both slices of a seam as STL files in one archive. */
export function rehearsalFile(
  e: Evaluation,
  faceId: string,
  thickness: number,
  joint: string | null,
  fallback: Triangulator,
): MadeFile {
  const face = e.faces.find((f) => f.id === faceId);
  if (!face) throw new Error('The face is no longer there.');
  const entries: Record<string, Uint8Array> = {};
  for (const slice of rehearse(e, face, thickness, fallback, joint)) {
    const code = e.pieces.find((p) => p.key === slice.piece)?.code ?? 'piece';
    const part = { name: code, positions: slice.mesh.positions, triangles: slice.mesh.triangles };
    const model = { format: 'stl-binary' as const, parts: [part], palette: [{ name: '', colour: '' }], notes: [] };
    entries[`rehearsal-${code}.stl`] = writeModel(model, 'stl', `rehearsal-${code}`)[0].bytes;
  }
  const codes = face.pieces.map((key) => e.pieces.find((p) => p.key === key)?.code ?? '').join('-');
  return { name: `rehearsal-${codes}.zip`, bytes: zipSync(entries) };
}

import { fromFrame } from '../cut/index.ts';
import { type Fit, stripOf } from '../joints/index.ts';
import type { Vec3 } from '../mesh/index.ts';
import {
  bothOf,
  type Evaluation,
  freeId,
  inZone,
  type Joint,
  type JointInput,
  joiningSteps,
  jointSchema,
  type MatingFace,
  type MeasuredJoint,
  measureJoint,
  mm,
  type Occupancy,
  type Occupied,
  occupy,
  type Plan,
  placeZone,
  stopsByItself,
  wallLimits,
  waysIn,
} from '../plan/index.ts';
import { type Group, groupsOf, liesIn, type Mirror, onSibling } from './group.ts';
import { midWall } from './mid-wall.ts';
import { distance, farthest, free, fromAxis, meanOf, onLine, pairOf, thinned } from './places.ts';
import { roomField } from './room-field.ts';
import { type FaceShape, lapSpecs, type Spec, shapeOf, specsFor, whyNone } from './specs.ts';
import { type AxisLine, symmetryAxis } from './symmetry.ts';

const round = (x: number): number => Number(x.toFixed(3));

export interface SeatWish {
  /** ids of the faces; without them all that have no joint */
  readonly faces?: readonly string[];
  readonly kind?: JointInput['kind'] | 'auto';
  /** between joints along a wall, mm */
  readonly spacing?: number;
  /** the model's mirror plane, where it has one */
  readonly mirror?: Mirror | null;
  /** by face: the fit or own gap that its joints are to have, mm; else that of their kind */
  readonly keep?: Readonly<Record<string, { readonly fit: Fit; readonly gap?: number | undefined }>>;
}

/** What was done on a face, in a line, or why nothing could be. */
export interface SeatNote {
  readonly face: string;
  readonly joints: readonly string[];
  readonly why: string;
  readonly help?: string;
}

export interface Seating {
  readonly joints: readonly Joint[];
  readonly notes: readonly SeatNote[];
}

const SPACING = 40;
/** Between joints on walls too wide for a row of small ones, mm. */
const ALONG = 110;
/** Pieces heavier than this are held by rods, mm³. */
const HEAVY = 900_000;
/** Places that are measured before a size is given up. */
const TRIES = 14;

/**
 * Seats joints on mating faces: their kind by the room there is, their size from the largest circle and the depth on both
 * sides, as many as the face wants and as far apart as it lets them, mirrored where it is symmetric. Nothing is placed that
 * would have a stop finding. Deterministic.
 *
 * Each size is tried with good walls first, then with thinner ones down to what can be printed. Faces of a pattern (round
 * a fan, across the mirror plane) get the same joints, which must hold on all of them.
 */
export function seatJoints(plan: Plan, e: Evaluation, wish: SeatWish = {}): Seating {
  return new Seater(plan, e, wish).run();
}

/** Where joints of a size may go on a face, the most wanted first. */
interface Ground {
  readonly points: readonly (readonly [number, number])[];
  readonly count: number;
  /** places in their order along a wall */
  readonly inOrder: boolean;
  /** of the wall, mm */
  readonly length: number;
}

class Seater {
  private readonly joints: Joint[] = [];
  private readonly measured: MeasuredJoint[];
  private readonly occupancy: Occupancy = new Map();
  private readonly notes = new Map<string, SeatNote>();
  private readonly groupOf = new Map<string, Group>();
  private readonly limits;
  private readonly zones;
  private readonly bedFace = new Map<string, MatingFace>();

  constructor(
    private readonly plan: Plan,
    private readonly e: Evaluation,
    private readonly wish: SeatWish,
  ) {
    this.limits = wallLimits(plan.printer);
    this.measured = [...e.measured];
    for (const m of e.measured) occupy(this.occupancy, m.occupants);
    this.zones = plan.zones.map((z) => placeZone(z, e.map));
    for (const f of e.faces) {
      for (const key of f.pieces) {
        if ((this.bedFace.get(key)?.area ?? 0) < f.area) this.bedFace.set(key, f);
      }
    }
  }

  run(): Seating {
    const furnished = new Set(this.e.joints.map((j) => j.face));
    const wanted = this.e.faces.filter((f) =>
      this.wish.faces ? this.wish.faces.includes(f.id) : !furnished.has(f.id),
    );
    const groups = groupsOf(wanted, this.plan, this.wish.mirror ?? null);
    for (const group of groups) this.furnish(group);
    this.freeTheWay();
    return { joints: this.joints, notes: wanted.map((f) => this.notes.get(f.id)!) };
  }

  private furnish(group: Group): void {
    const [{ face }] = group;
    for (const { face: f } of group) this.groupOf.set(f.id, group);
    const shape = shapeOf(face);
    const twins = liesIn(face, this.wish.mirror ?? null);
    const volumes = face.pieces.map((key) => this.e.pieces.find((p) => p.key === key)?.volume ?? 0);
    const heavy = Math.min(...volumes) > HEAVY;
    const { stop, warn } = this.limits;
    const axis = symmetryAxis(face.region);
    const lone: { joints: Joint[]; spec: Spec; wall: number }[] = [];
    for (const wall of [...new Set([warn, (warn + stop) / 2, stop + 0.05])]) {
      for (const spec of specsFor(shape, wall, this.plan, { kind: this.wish.kind ?? 'auto', twins, heavy })) {
        const ground = this.groundFor(face, shape, spec, wall, axis);
        for (const deep of spec.depth > 0 ? [1, 0.7, 0.5, 0.35] : [1]) {
          const placed = this.tryOut(group, spec, spec.depth * deep, ground, wall, axis);
          if (placed.length >= Math.min(2, ground.count)) {
            const all = this.keep(group, placed);
            this.say(group, spec, all, wall, shape, twins);
            return;
          }
          if (placed.length === 1 && spec.locks && lone.length === 0) {
            const middle = this.one(group, spec, spec.depth * deep, shape, wall);
            if (middle) lone.push({ joints: middle, spec, wall });
          }
        }
      }
      for (const single of lone) {
        const all = this.keep(group, single.joints);
        this.say(group, single.spec, all, single.wall, shape, twins);
        return;
      }
    }
    if (this.lapped(group, shape, twins)) return;
    const { why, help } = whyNone(shape, stop);
    for (const { face: f } of group) this.notes.set(f.id, { face: f.id, joints: [], why, help });
  }

  /** A lap along the wall, where that is wanted or nothing else has room; what breaks the likeness of twins is not. */
  private lapped(group: Group, shape: FaceShape, twins: boolean): boolean {
    const kind = this.wish.kind ?? 'auto';
    if (!shape.strip || !(kind === 'lap' || (kind === 'auto' && !twins))) return false;
    const { stop, warn } = this.limits;
    for (const wall of [warn, (warn + stop) / 2, stop + 0.05]) {
      for (const spec of lapSpecs(shape, wall, this.plan)) {
        const placed = this.one(group, spec, spec.depth, shape, wall);
        if (!placed) continue;
        this.say(group, spec, this.keep(group, placed), wall, shape, twins);
        return true;
      }
    }
    return false;
  }

  private groundFor(face: MatingFace, shape: FaceShape, spec: Spec, wall: number, axis: AxisLine | null): Ground {
    const need = spec.reach + wall;
    const spacing = this.wish.spacing ?? SPACING;
    if (shape.strip) {
      const places = midWall(face.region, Math.max(0.5, Math.min(2, spacing / 20))).filter(
        (p) => p.thickness / 2 >= need - 1e-6,
      );
      const count = Math.max(2, Math.min(60, Math.round(shape.strip.length / spacing)));
      return { points: places.map((p) => p.at), count, inOrder: true, length: shape.strip.length };
    }
    const field = roomField(face.region, Math.max(shape.pole.distance / 12, 0.2), 160);
    // with a little to spare where there is plenty
    const roomy = Math.min(need + 0.15 * shape.pole.distance, Math.max(need, 0.95 * shape.pole.distance));
    const points: [number, number][] = [];
    for (let j = 0; j < field.height; j++) {
      for (let i = 0; i < field.width; i++) {
        if (field.room[j * field.width + i] < roomy) continue;
        points.push([field.u0 + (i + 0.5) * field.cell, field.v0 + (j + 0.5) * field.cell]);
      }
    }
    points.push([shape.pole.u, shape.pole.v]);
    if (axis) for (const p of [...points]) points.push(onLine(axis, p, field.cell));
    const { thickness, length } = stripOf(face.region);
    // a wide wall is held all along it, a plain face by its size
    const wanted = length > 8 * thickness ? length / ALONG : Math.sqrt(face.area / 100) / 3.2;
    const count = Math.max(2, Math.min(6, Math.round(wanted)));
    return { points: thinned(points, 500), count, inOrder: false, length: 0 };
  }

  /** Tries to place as many joints of a size as the ground wants; nothing is kept yet. */
  private tryOut(
    group: Group,
    spec: Spec,
    depth: number,
    ground: Ground,
    wall: number,
    axis: AxisLine | null,
  ): Joint[] {
    const trial: Occupancy = new Map();
    const placed: Joint[] = [];
    const at: (readonly [number, number])[] = [];
    let tries = 0;
    const apart = 2 * spec.reach + Math.max(wall, this.limits.warn);
    const put = (p: readonly [number, number]): boolean => {
      const both = axis ? pairOf(axis, p, apart) : [p];
      const made = both.flatMap((q) => this.template(group[0].face, spec, depth, q) ?? []);
      if (made.length < both.length) return false;
      const measured: MeasuredJoint[] = [];
      const pair: Occupancy = new Map();
      const beside = bothOf(bothOf(this.occupancy, trial), pair);
      for (const joint of made) {
        const m = this.holdsOnAll(group, joint, beside, wall);
        if (!m) return false;
        for (const one of m) occupy(pair, one.occupants);
        measured.push(...m);
      }
      for (const one of measured) occupy(trial, one.occupants);
      placed.push(...made);
      at.push(...both);
      return true;
    };
    if (ground.inOrder) {
      const n = ground.count;
      const points = axis ? fromAxis(axis, ground.points) : ground.points;
      const clear = Math.max(apart, (0.6 * ground.length) / n);
      for (let k = 0; k < n; k++) {
        // evenly along the wall; beside its place when it does not hold there, unless its mirror image has it already
        const middle = Math.floor(((k + 0.5) * points.length) / n);
        if (points[middle] && !free(points[middle], at, clear)) continue;
        const most = Math.floor(points.length / n / 3);
        for (let s = 0; s <= most; s = Math.max(s + 1, Math.floor(s * 1.6))) {
          const near = [middle + s, middle - s].map((i) => points[i]).find((p) => p && free(p, at, clear) && put(p));
          if (near) break;
        }
      }
      return placed;
    }
    let rest = ground.points;
    const centre = meanOf(rest);
    while (placed.length < ground.count && rest.length > 0 && tries < TRIES) {
      const best = farthest(rest, at, centre, axis, apart);
      if (at.length > 0 && Math.min(...at.map((q) => distance(q, best))) < apart) break;
      tries++;
      const held = put(best);
      rest = rest.filter((p) => distance(p, best) > (held ? apart : Math.max(1, spec.reach / 2)));
    }
    return placed;
  }

  /** One joint in the roomiest place. */
  private one(group: Group, spec: Spec, depth: number, shape: FaceShape, wall: number): Joint[] | null {
    const joint = this.template(group[0].face, spec, depth, [shape.pole.u, shape.pole.v]);
    return joint && this.holdsOnAll(group, joint, this.occupancy, wall) ? [joint] : null;
  }

  private template(face: MatingFace, spec: Spec, depth: number, at: readonly [number, number]): Joint | null {
    const place = this.e.context.places.get(face.plane)!;
    const { joint } = spec;
    const deep = Math.max(1.5, Math.floor(depth * 2) / 2);
    // a depth that its kind does not come in is one that has no room
    const made = jointSchema.safeParse({
      ...joint,
      ...(spec.depth > 0 && { depth: deep }),
      ...((joint.kind === 'pin' || joint.kind === 'key') && { chamfer: Math.min(0.5, deep / 4) }),
      ...this.wish.keep?.[face.id],
      id: 'seat',
      seam: face.seam,
      ...(face.part !== undefined && { part: face.part }),
      at: place.toSource([round(at[0]), round(at[1])]),
      male: this.maleSide(face),
    });
    return made.success ? made.data : null;
  }

  /** The half that stands out goes where the face does not lie on the bed. Round a fan it is on the same end everywhere. */
  private maleSide(face: MatingFace): '+' | '-' {
    if (this.plan.seams.some((s) => s.id === face.seam && s.kind === 'fan')) return '-';
    const [minus, plus] = face.pieces.map((key) => this.bedFace.get(key) === face);
    return minus && !plus ? '+' : '-';
  }

  /** What is measured of a joint on all faces of its group, if its walls hold on every one. */
  private holdsOnAll(group: Group, joint: Joint, beside: Occupied, wall: number): MeasuredJoint[] | null {
    const all: MeasuredJoint[] = [];
    const own: Occupancy = new Map();
    const taken = group.length > 1 ? bothOf(beside, own) : beside;
    for (const sibling of group) {
      const m = measureJoint(
        onSibling(joint, group[0].face, sibling, this.e.context.places),
        this.e.context,
        taken,
      )?.measured;
      if (!m || m.face !== sibling.face || m.overlap || m.trouble !== '') return null;
      if (Math.min(m.edge, m.root, ...m.walls) < wall - 1e-6) return null;
      if (m.apart < Math.max(wall, this.limits.warn) - 1e-6 || stopsByItself(m, this.e.context)) return null;
      const { u, v } = m.formed;
      const at: Vec3 = fromFrame(sibling.face.frame, u, v);
      if (this.zones.some((z) => inZone(z, at))) return null;
      if (group.length > 1) occupy(own, m.occupants);
      all.push(m);
    }
    return all;
  }

  /** Puts joints on all faces of a group for good. */
  private keep(group: Group, list: readonly Joint[]): Joint[] {
    const out: Joint[] = [];
    for (const sibling of group) {
      for (const joint of list) {
        const own = onSibling(joint, group[0].face, sibling, this.e.context.places);
        const named = { ...own, id: freeId('j', [...this.plan.joints, ...this.joints]) };
        const m = measureJoint(named, this.e.context, this.occupancy)?.measured;
        if (!m) continue;
        occupy(this.occupancy, m.occupants);
        this.measured.push(m);
        this.joints.push(named);
        out.push(named);
      }
    }
    return out;
  }

  private say(group: Group, spec: Spec, all: readonly Joint[], wall: number, shape: FaceShape, twins: boolean): void {
    const each = all.length / group.length;
    const [first] = all;
    const depth = first && 'depth' in first ? `, ${mm(first.depth)} deep` : '';
    const what = each === 1 ? spec.says.replace(/s( |$)/, '$1') : spec.says;
    const because =
      twins && spec.joint.kind === 'dowel'
        ? 'twins, so loose on both sides'
        : shape.strip
          ? `a wall of ${mm(shape.strip.thickness)}`
          : `solid, ${mm(2 * shape.pole.distance)} of room`;
    const why = `${each} ${what}${depth}: ${because}; at least ${mm(wall)} of wall kept${group.length > 1 ? `; the same on ${group.length} faces` : ''}.`;
    for (const { face } of group) {
      const own = all.filter((j) => this.measured.some((m) => m.joint.id === j.id && m.face === face));
      this.notes.set(face.id, { face: face.id, joints: own.map((j) => j.id), why });
    }
  }

  /** Joints without a common way in become cones, which leave more directions; what still bars it goes. */
  private freeTheWay(): void {
    const steps = joiningSteps(this.e.faces, this.plan.seams);
    for (const attempt of ['cone', 'remove'] as const) {
      const { refused } = waysIn(steps, this.measured, this.e.context);
      const own = this.joints.filter((j) => refused.has(j.id));
      if (own.length === 0) return;
      for (const joint of own) {
        const at = this.measured.findIndex((m) => m.joint.id === joint.id);
        const { face } = this.measured[at];
        const cone = attempt === 'cone' ? this.asCone(joint) : null;
        const m = cone && measureJoint(cone, this.e.context, this.occupancyWithout(joint.id))?.measured;
        const holds = m && Math.min(m.edge, m.root, ...m.walls) >= this.limits.stop;
        if (cone && m && holds) {
          this.joints[this.joints.indexOf(joint)] = cone;
          this.measured[at] = m;
        } else {
          this.joints.splice(this.joints.indexOf(joint), 1);
          this.measured.splice(at, 1);
        }
        this.retell(face, attempt === 'cone' && cone !== null && !!holds);
      }
    }
  }

  private asCone(joint: Joint): Joint | null {
    const across =
      joint.kind === 'key'
        ? Math.min(joint.width, joint.height ?? joint.width)
        : joint.kind === 'pin'
          ? joint.diameter
          : 0;
    if (across < 1.6) return null;
    const { id, seam, part, at, male } = joint;
    return jointSchema.parse({
      id,
      seam,
      ...(part !== undefined && { part }),
      at,
      male,
      kind: 'cone',
      diameter: across,
      fit: 'snug',
    });
  }

  private occupancyWithout(id: string): Occupancy {
    return new Map([...this.occupancy].map(([k, list]) => [k, list.filter((o) => o.joint !== id)]));
  }

  private retell(face: MatingFace, cones: boolean): void {
    const note = this.notes.get(face.id);
    if (!note) return;
    const joints = note.joints.filter((id) => this.joints.some((j) => j.id === id));
    this.notes.set(face.id, {
      ...note,
      joints,
      why: cones
        ? `${joints.length} cones: straight joints would leave no common way in with the faces that close at the same time.`
        : joints.length > 0
          ? `${note.why} One was left out: there is no common way in.`
          : 'No joint leaves a common way in with the faces that close at the same time.',
      ...(joints.length === 0 && { help: 'Another order of seams, or glue on this face, would help.' }),
    });
  }
}

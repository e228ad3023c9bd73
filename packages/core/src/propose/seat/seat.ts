import { fromFrame, type Solid } from '../../cut/index.ts';
import { freeId, type Plan, wallLimits } from '../../document/index.ts';
import type { Evaluation, Piece } from '../../evaluate/index.ts';
import type { Fit } from '../../joints/index.ts';
import { type Joint, type JointInput, jointSchema, kindOf } from '../../joints/kinds/index.ts';
import {
  bothOf,
  formJoint,
  joiningSteps,
  type MeasuredJoint,
  MOST_LEAN,
  measureJoint,
  type Occupancy,
  type Occupied,
  occupy,
  stopsByItself,
  waysIn,
} from '../../mating/index.ts';
import {
  type Box,
  dot,
  inverse,
  type Mirror,
  mapVector,
  pointAlong,
  sizeOf,
  uniteBoxes,
  type Vec3,
} from '../../mesh/index.ts';
import { withinBuild } from '../../print/index.ts';
import { inZone, type MatingFace, placeZone, seamKind } from '../../seams/index.ts';
import { mm } from '../../units.ts';
import { waysOfFlats } from './flat-ways.ts';
import { type Ground, groundOf, roomyGround } from './ground.ts';
import { type Group, groupsOf, liesIn, onSibling } from './group.ts';
import { distance, farthest, free, fromAxis, pairOf } from './places.ts';
import { type FaceShape, lapSpecs, type Spec, shapeOf, smallCones, specsFor, whyNone } from './specs.ts';
import { StandingRoom } from './standing-room.ts';
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

/** How far seating is, 0 to 1, with a word or two; false ends it with the faces that are done. */
export type SeatTell = (share: number, what: string) => unknown;

const NOT_REACHED = 'The search was ended before it came to this face.';

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

/** Pieces heavier than this are held by rods, mm³. */
const HEAVY = 900_000;
/** Places that do not hold, though the map has room there, before a size is given up. */
const FAILS = 8;
/** Share of the joints that a face wants which is enough of them. */
const ENOUGH = 0.85;
/** What stands out of a piece does so by about this much, mm. */
const USUAL_DEPTH = 8;
/** Depths that are tried, as shares of the one that a kind would have. */
const SHALLOWER = [1, 0.7, 0.5, 0.35];
/** On walls thinner than this, mm, a lap comes before all others where its lip prints standing: cosine of how far it may lean. */
const THIN = 4;
const STANDING = 0.7;
/** Material deeper than this needs no telling apart, mm. */
const DEEP = 60;

/**
 * Seats joints on mating faces: their kind by the room there is, their size from the largest circle and the depth on both
 * sides, as many as the face wants and as far apart as it lets them, mirrored where it is symmetric. Nothing is placed that
 * would have a stop finding. Deterministic.
 *
 * Every joint keeps the wall that holds, on all sides: what is seated by itself has no warning about its walls; only a kind
 * that is asked for by name gets thinner ones, down to what can be printed, where it must. Faces of a pattern (round a fan,
 * across the mirror plane) get the same joints, which must hold on all of them.
 */
export function seatJoints(plan: Plan, e: Evaluation, wish: SeatWish = {}, tell?: SeatTell): Seating {
  return new Seater(plan, e, wish).run(tell);
}

/** A kind, size and depth of joint that may suit a face, and where. */
interface Choice {
  readonly spec: Spec;
  readonly depth: number;
  readonly ground: Ground;
}

/** What was measured of one joint on all faces of its group, where it holds on every one. */
type Held = readonly MeasuredJoint[];

/** Share of the wanted joints that a try placed. */
const shareOf = (tried: { readonly share: number } | null): number => tried?.share ?? 0;

/** How far what stands out of a piece reaches, in its middle; null where nothing does. */
function tipOf({ joint, formed: { u, v, form, axis }, face }: MeasuredJoint): Vec3 | null {
  const kind = kindOf(joint);
  if (!kind.stands || kind.follows !== 'place') return null;
  return pointAlong(fromFrame(face.frame, u, v), axis, form.depths[1]);
}

class Seater {
  private readonly joints: Joint[] = [];
  private readonly measured: MeasuredJoint[];
  private readonly occupancy: Occupancy = new Map();
  private readonly notes = new Map<string, SeatNote>();
  /** what is kept round every joint, mm */
  private wall: number;
  private readonly zones;
  private readonly bedFace = new Map<string, MatingFace>();
  /** by plane of a flat: the mean way out of all flats of its seam */
  private readonly ways: ReadonlyMap<string, Vec3>;
  private readonly pieces: ReadonlyMap<string, Piece>;
  /** boxes of pieces with all that stands out of them by now */
  private readonly boxes = new Map<string, Box>();

  constructor(
    private readonly plan: Plan,
    private readonly e: Evaluation,
    private readonly wish: SeatWish,
  ) {
    this.wall = wallLimits(plan.printer).warn;
    this.measured = [...e.measured];
    for (const m of e.measured) occupy(this.occupancy, m.occupants);
    this.zones = plan.zones.map((z) => placeZone(z, e.map));
    this.pieces = new Map(e.pieces.map((p) => [p.key, p]));
    this.ways = waysOfFlats(plan, e.faces);
    for (const m of e.measured) this.grow(m);
    for (const f of e.faces) {
      for (const key of f.pieces) {
        if ((this.bedFace.get(key)?.area ?? 0) < f.area) this.bedFace.set(key, f);
      }
    }
  }

  run(tell?: SeatTell): Seating {
    const furnished = new Set(this.e.joints.map((j) => j.face));
    // alternates have the joints of their lead
    const wanted = this.e.faces.filter(
      (f) => f.alternate === undefined && (this.wish.faces ? this.wish.faces.includes(f.id) : !furnished.has(f.id)),
    );
    const groups = groupsOf(wanted, this.plan, this.wish.mirror ?? null);
    const { stop, warn } = wallLimits(this.plan.printer);
    // a kind that is asked for by name is seated with weaker walls, too, where it cannot have those that hold
    const asked = (this.wish.kind ?? 'auto') !== 'auto';
    const walls = asked ? [...new Set([warn, (warn + stop) / 2, stop + 0.05])] : [warn];
    let done = 0;
    for (const group of groups) {
      if (tell?.(done / wanted.length, `${done} of ${wanted.length} faces seated`) === false) break;
      done += group.length;
      for (const wall of walls) {
        this.wall = wall;
        if (this.furnish(group)) break;
      }
    }
    this.wall = walls[walls.length - 1];
    this.freeTheWay();
    return {
      joints: this.joints,
      notes: wanted.map((f) => this.notes.get(f.id) ?? { face: f.id, joints: [], why: NOT_REACHED }),
    };
  }

  /** Furnishes the faces of a group; whether anything holds there. */
  private furnish(group: Group): boolean {
    const [{ face }] = group;
    const shape = shapeOf(face);
    const twins = liesIn(face, this.wish.mirror ?? null);
    const volumes = face.pieces.map((key) => this.pieces.get(key)?.volume ?? 0);
    const heavy = Math.min(...volumes) > HEAVY;
    const axis = symmetryAxis(face.region);
    const rooms = shape.strip ? null : group.map((sibling) => this.standingRoom(sibling.face, shape));
    const kind = this.wish.kind ?? 'auto';
    if (kind === 'auto' && !twins && this.standsThin(face, shape) && this.lapped(group, shape, twins)) return true;
    const wanted = specsFor(shape, this.wall, this.plan, { kind, twins, heavy });
    let best: { spec: Spec; placed: Held[]; share: number } | null = null;
    let lone: { spec: Spec; placed: Held[] } | null = null;
    const attempt = ({ spec, depth, ground }: Choice): void => {
      const placed = this.tryOut(group, spec, depth, ground, axis);
      const share = placed.length / ground.count;
      if (placed.length >= Math.min(2, ground.count) && share > (best?.share ?? 0)) best = { spec, placed, share };
      else if (placed.length === 1 && spec.locks && !best) {
        lone ??= { spec, placed: this.one(group, spec, depth, shape) ?? placed };
      }
    };
    // the first kind, size and depth of which as many find room as the face wants; else that of which most do
    const rest: Choice[] = [];
    // a flat has one joint, as the others of its seam hold the turn: a cone where nothing else has room
    const onFlat = this.ways.has(face.plane);
    const guides =
      onFlat && kind === 'auto' ? specsFor(shape, this.wall, this.plan, { kind: 'cone', twins, heavy }) : [];
    const alone = [...wanted, ...guides].flatMap((spec) =>
      SHALLOWER.map((deep) => ({ spec, depth: spec.depth * deep })),
    );
    for (const spec of onFlat ? [] : wanted) {
      const ground = groundOf(face, shape, spec.reach + this.wall, this.wish.spacing);
      for (const deep of spec.depth > 0 ? SHALLOWER : [1]) {
        const depth = spec.depth * deep;
        const choice = { spec, depth, ground: rooms ? this.mapped(ground, group, rooms, spec, depth, axis) : ground };
        if (choice.ground.slots < ENOUGH * ground.count) rest.push(choice);
        else if (shareOf(best) < ENOUGH) attempt(choice);
      }
      if (shareOf(best) >= ENOUGH) break;
    }
    for (const choice of rest.toSorted((x, y) => y.ground.slots - x.ground.slots)) {
      if (choice.ground.slots > 0 && choice.ground.slots / choice.ground.count > shareOf(best)) attempt(choice);
    }
    for (const { spec, depth } of onFlat ? alone : []) {
      if (best) break;
      const placed = this.one(group, spec, depth, shape);
      if (placed) best = { spec, placed, share: 1 };
    }
    // a cone at the least, in the roomiest place: it guides, and glue holds
    const small =
      best || lone || shape.strip || twins || kind !== 'auto' ? [] : smallCones(shape, this.wall, this.plan);
    for (const spec of small) {
      const placed = this.one(group, spec, spec.depth, shape);
      if (!placed) continue;
      best = { spec, placed, share: 1 };
      break;
    }
    const chosen = (best ?? lone) as { spec: Spec; placed: Held[] } | null;
    if (chosen) {
      this.say(group, chosen.spec, this.keep(chosen.placed), shape, twins);
      return true;
    }
    if (this.lapped(group, shape, twins)) return true;
    const { why, help } = whyNone(shape, this.wall, rooms?.[0] ?? null, kind === 'auto');
    for (const { face: f } of group) this.notes.set(f.id, { face: f.id, joints: [], why, help });
    return false;
  }

  /** The map of where joints can stand on a face, with what stands there by now. */
  private standingRoom(face: MatingFace, shape: FaceShape): StandingRoom {
    const solids = face.pieces.map((key, i) => this.e.context.around.get(face.bodies[i])!.solids.get(key)!);
    const cell = Math.max(shape.pole.distance / 12, 0.2);
    return new StandingRoom(face, solids as [Solid, Solid], this.occupancy, this.zones, cell, DEEP);
  }

  /** The ground with the places at which a joint of this size and depth has room below the face too. */
  private mapped(
    ground: Ground,
    group: Group,
    rooms: readonly StandingRoom[],
    spec: Spec,
    depth: number,
    axis: AxisLine | null,
  ): Ground {
    const [{ face }] = group;
    const joint = this.template(face, spec, depth, [0, 0]);
    if (!joint) return ground;
    const { form, direction } = formJoint(joint, this.e.context.places.get(face.plane)!, this.e.map, this.plan.printer);
    const [own, other] = form.depths;
    const depths = direction > 0 ? ([own, other] as const) : ([other, own] as const);
    return roomyGround(ground, group, rooms, { reach: spec.reach, depths, wall: this.wall }, axis);
  }

  /** Whether a face is that of a thin wall whose lip would stand up as its piece prints. */
  private standsThin({ pieces, frame }: MatingFace, { strip }: FaceShape): boolean {
    if (!strip || strip.thickness >= THIN) return false;
    const up = this.e.context.upOf(pieces[0]);
    return up === null || Math.abs(dot(up, frame.normal)) > STANDING;
  }

  /** A lap along the wall, where that is wanted or nothing else holds. */
  private lapped(group: Group, shape: FaceShape, twins: boolean): boolean {
    const kind = this.wish.kind ?? 'auto';
    if (!shape.strip || !(kind === 'auto' || kindOf({ kind }).follows === 'wall')) return false;
    for (const spec of lapSpecs(shape, this.wall, this.plan)) {
      const placed = this.one(group, spec, spec.depth, shape);
      if (!placed) continue;
      this.say(group, spec, this.keep(placed), shape, twins);
      return true;
    }
    return false;
  }

  /** Tries to place as many joints of a size as the ground wants; nothing is kept yet. */
  private tryOut(group: Group, spec: Spec, depth: number, ground: Ground, axis: AxisLine | null): Held[] {
    const trial: Occupancy = new Map();
    const placed: Held[] = [];
    const at: (readonly [number, number])[] = [];
    const apart = 2 * spec.reach + this.wall;
    const put = (p: readonly [number, number]): boolean => {
      const both = axis ? pairOf(axis, p, apart) : [p];
      const made = both.flatMap((q) => this.template(group[0].face, spec, depth, q) ?? []);
      if (made.length < both.length) return false;
      const held: Held[] = [];
      const pair: Occupancy = new Map();
      const beside = bothOf(bothOf(this.occupancy, trial), pair);
      for (const joint of made) {
        const measured = this.holdsOnAll(group, joint, beside);
        if (!measured) return false;
        for (const one of measured) occupy(pair, one.occupants);
        held.push(measured);
      }
      for (const one of held.flat()) occupy(trial, one.occupants);
      placed.push(...held);
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
    // the map is a little too careful at worst, so few of its places fail; each that does takes its surroundings along
    let fails = 0;
    while (placed.length < ground.count && fails < FAILS) {
      const next = farthest(rest, at, axis, apart);
      if (!next) break;
      const held = put(next);
      if (!held) fails++;
      rest = rest.filter((p) => distance(p, next) > (held ? apart : Math.max(1, spec.reach / 2)));
    }
    return placed;
  }

  /** One joint in the roomiest place. */
  private one(group: Group, spec: Spec, depth: number, shape: FaceShape): Held[] | null {
    const joint = this.template(group[0].face, spec, depth, [shape.pole.u, shape.pole.v]);
    const held = joint && this.holdsOnAll(group, joint, this.occupancy);
    return held ? [held] : null;
  }

  private template(face: MatingFace, spec: Spec, depth: number, at: readonly [number, number]): Joint | null {
    const place = this.e.context.places.get(face.plane)!;
    const { joint } = spec;
    const deep = kindOf(joint).follows === 'wall' ? depth : Math.max(1.5, Math.floor(depth * 2) / 2);
    // a depth that its kind does not come in is one that has no room
    const made = jointSchema.safeParse({
      ...joint,
      ...(spec.depth > 0 && { depth: deep }),
      ...(spec.chamfered && { chamfer: Math.min(0.5, deep / 4) }),
      ...this.wish.keep?.[face.id],
      id: 'seat',
      seam: face.seam,
      ...(face.part !== undefined && { part: face.part }),
      at: place.toSource([round(at[0]), round(at[1])]),
      male: this.maleSide(face),
      ...this.leaning(face),
    });
    return made.success ? made.data : null;
  }

  /** On flats of a bent face joints stand along the way that all of them leave together, not square to each. */
  private leaning(face: MatingFace): { lean?: [number, number, number] } {
    const way = this.ways.get(face.plane);
    if (!way || Math.abs(dot(way, face.frame.normal)) < Math.cos(MOST_LEAN)) return {};
    return { lean: mapVector(inverse(this.e.map), way).map(round) as [number, number, number] };
  }

  /** The half that stands out goes where the face does not lie on the bed. Round a fan it is on the same end everywhere. */
  private maleSide(face: MatingFace): '+' | '-' {
    if (this.plan.seams.some((s) => s.id === face.seam && seamKind(s).round)) return '-';
    const [minus, plus] = face.pieces.map((key) => this.bedFace.get(key) === face);
    const wanted = minus && !plus ? 1 : 0;
    // the printer may have no room for it on one of the two
    const { normal, origin } = face.frame;
    const room = face.pieces.map((key, side) =>
      this.fitsWith(key, pointAlong(origin, normal, side === 0 ? USUAL_DEPTH : -USUAL_DEPTH)),
    );
    return (room[wanted] || !room[1 - wanted] ? wanted : 1 - wanted) === 1 ? '+' : '-';
  }

  /** Whether a piece that fits a printer still does when it reaches as far as a point. */
  private fitsWith(key: string, tip: Vec3): boolean {
    const piece = this.pieces.get(key);
    if (!piece?.build.within || piece.build.posed) return true;
    const size = sizeOf(uniteBoxes(this.boxes.get(key) ?? piece.box, { min: tip, max: tip }));
    return [this.plan.printer, ...this.plan.printers].some((printer) => withinBuild(printer, size).within);
  }

  private grow(m: MeasuredJoint): void {
    const tip = tipOf(m);
    const box = tip && (this.boxes.get(m.own) ?? this.pieces.get(m.own)?.box);
    if (tip && box) this.boxes.set(m.own, uniteBoxes(box, { min: tip, max: tip }));
  }

  /** What is measured of a joint on all faces of its group, if its walls hold on every one. */
  private holdsOnAll(group: Group, joint: Joint, beside: Occupied): Held | null {
    const all: MeasuredJoint[] = [];
    const own: Occupancy = new Map();
    const taken = group.length > 1 ? bothOf(beside, own) : beside;
    for (const sibling of group) {
      const m = measureJoint(
        onSibling(joint, group[0].face, sibling, this.e.context.places),
        this.e.context,
        taken,
        this.wall,
      )?.measured;
      if (!m || m.face !== sibling.face || m.overlap || m.trouble !== '') return null;
      if (Math.min(m.edge, m.root, m.apart, ...m.walls) < this.wall - 1e-6) return null;
      if (stopsByItself(m, this.e.context)) return null;
      const { u, v } = m.formed;
      const at: Vec3 = fromFrame(sibling.face.frame, u, v);
      const tip = tipOf(m);
      if (tip && !this.fitsWith(m.own, tip)) return null;
      if (!m.lap && this.zones.some((z) => inZone(z, at))) return null;
      if (group.length > 1) occupy(own, m.occupants);
      all.push(m);
    }
    return all;
  }

  /** Keeps the joints of a try, on all faces of a group, under names of their own. */
  private keep(list: readonly Held[]): Joint[] {
    const out: Joint[] = [];
    for (const measured of list) {
      for (const m of measured) {
        const joint = { ...m.joint, id: freeId('j', [...this.plan.joints, ...this.joints]) };
        const occupants = m.occupants.map((o) => ({ ...o, joint: joint.id }));
        this.measured.push({ ...m, joint, occupants });
        this.grow(m);
        occupy(this.occupancy, occupants);
        this.joints.push(joint);
        out.push(joint);
      }
    }
    return out;
  }

  private say(group: Group, spec: Spec, all: readonly Joint[], shape: FaceShape, twins: boolean): void {
    const each = all.length / group.length;
    const [first] = all;
    const depth = first && 'depth' in first ? `, ${mm(first.depth)} deep` : '';
    const what = each === 1 ? spec.says.replace(/s( |$)/, '$1') : spec.says;
    const because =
      twins && !kindOf(spec.joint).stands
        ? 'twins, so loose on both sides'
        : shape.strip
          ? `a wall of ${mm(shape.strip.thickness)}`
          : `solid, ${mm(2 * shape.pole.distance)} of room`;
    const why = `${each} ${what}${depth}: ${because}; at least ${mm(this.wall)} of wall kept${group.length > 1 ? `; the same on ${group.length} faces` : ''}.`;
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
        const holds = m && Math.min(m.edge, m.root, m.apart, ...m.walls) >= this.wall - 1e-6;
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
    const across = kindOf(joint).slides(joint) ?? 0;
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

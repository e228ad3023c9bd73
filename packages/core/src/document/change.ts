import type { JointFields, JointInput } from '../joints/kinds/index.ts';
import type { Seam, SeamInput } from '../seams/kinds/index.ts';
import type { Step, StepInput } from './recipe-schema.ts';
import {
  type Bed,
  type BodyNote,
  type Contact,
  type PieceNote,
  type PlacedPiece,
  type Plan,
  parsePlan,
  type Zone,
} from './schema.ts';
import type { ShowMark } from './show-mark.ts';

/** One change of a plan, as data, so that it can be offered, sent and undone. */
export type PlanChange =
  | { readonly do: 'addSeam'; readonly seam: SeamInput; readonly at?: number }
  | { readonly do: 'addSeams'; readonly seams: readonly SeamInput[] }
  | { readonly do: 'setSeam'; readonly id: string; readonly set: SeamFields }
  | { readonly do: 'removeSeam'; readonly id: string }
  | { readonly do: 'moveSeam'; readonly id: string; readonly to: number }
  | { readonly do: 'addJoint'; readonly joint: JointInput }
  | { readonly do: 'addJoints'; readonly joints: readonly JointInput[] }
  | { readonly do: 'setJoint'; readonly id: string; readonly set: JointFields }
  /** another joint in the place of the one with its id, also of another kind */
  | { readonly do: 'putJoint'; readonly joint: JointInput }
  | { readonly do: 'removeJoint'; readonly id: string }
  | { readonly do: 'removeJoints'; readonly ids: readonly string[] }
  /** several changes as one */
  | { readonly do: 'all'; readonly changes: readonly PlanChange[] }
  /** adds a step to the recipe; a size goes before the steps that carry millimetres, so that these stay as they are */
  | { readonly do: 'addStep'; readonly step: StepInput; readonly at?: number }
  | { readonly do: 'setStep'; readonly id: string; readonly set: Record<string, unknown> }
  | { readonly do: 'removeStep'; readonly id: string }
  | { readonly do: 'moveStep'; readonly id: string; readonly to: number }
  | { readonly do: 'setBody'; readonly id: string; readonly set: Partial<Omit<BodyNote, 'id'>> }
  | { readonly do: 'addZone'; readonly zone: Zone }
  | {
      readonly do: 'setZone';
      readonly id: string;
      readonly set: Partial<Omit<Zone, 'id' | 'kind'>> & { size?: unknown; radius?: number };
    }
  | { readonly do: 'removeZone'; readonly id: string }
  /** marks more faces as seen, or takes some out again */
  | { readonly do: 'addShow'; readonly marks: readonly (Partial<ShowMark> & Pick<ShowMark, 'at'>)[] }
  | { readonly do: 'setPiece'; readonly key: string; readonly set: Partial<Omit<PieceNote, 'key'>> }
  /** the same said of many pieces */
  | { readonly do: 'setPieces'; readonly keys: readonly string[]; readonly set: Partial<Omit<PieceNote, 'key'>> }
  | { readonly do: 'addBed'; readonly bed: Partial<Bed> & Pick<Bed, 'id' | 'printer'> }
  | { readonly do: 'setBed'; readonly id: string; readonly set: Partial<Omit<Bed, 'id' | 'pieces'>> }
  | { readonly do: 'removeBed'; readonly id: string }
  /** puts a copy of a piece on a bed, moves it there, or takes it off (null) */
  | {
      readonly do: 'placePiece';
      readonly piece: string;
      readonly copy: number;
      readonly bed: string | null;
      readonly set?: Partial<Omit<PlacedPiece, 'piece' | 'copy'>>;
    }
  /** keeps faces on which bodies lie against each other; those that the plan has stay as they are */
  | { readonly do: 'addContacts'; readonly contacts: readonly Contact[] }
  | {
      readonly do: 'set';
      readonly set: Partial<
        Pick<
          Plan,
          | 'printer'
          | 'printers'
          | 'recipe'
          | 'anchors'
          | 'codes'
          | 'bodies'
          | 'alternates'
          | 'measures'
          | 'alike'
          | 'contacts'
          | 'reach'
          | 'show'
          | 'labels'
          | 'wish'
          | 'bedding'
          | 'beds'
          | 'order'
          | 'log'
        >
      >;
    };

/** Fields of any kind of seam; those that its kind does not have are refused. */
export type SeamFields = Partial<Omit<Seam, 'id' | 'kind'>> & Record<string, unknown>;

/**
 * The plan after a change; the plan given stays as it is. Removing a seam removes its joints.
 * Throws GephyraError `plan.invalid` when the change would break the plan.
 */
export function applyChange(plan: Plan, change: PlanChange): Plan {
  switch (change.do) {
    case 'addSeam':
      return parsePlan({
        ...plan,
        seams: plan.seams.toSpliced(change.at ?? plan.seams.length, 0, change.seam as Seam),
      });
    case 'addSeams':
      return parsePlan({ ...plan, seams: [...plan.seams, ...change.seams] });
    case 'setSeam':
      return parsePlan({ ...plan, seams: plan.seams.map((s) => (s.id === change.id ? { ...s, ...change.set } : s)) });
    case 'removeSeam':
      return {
        ...plan,
        seams: plan.seams.filter((s) => s.id !== change.id),
        joints: plan.joints.filter((j) => j.seam !== change.id),
      };
    case 'moveSeam': {
      const seam = plan.seams.find((s) => s.id === change.id);
      if (!seam) return plan;
      const others = plan.seams.filter((s) => s !== seam);
      return { ...plan, seams: [...others.slice(0, change.to), seam, ...others.slice(change.to)] };
    }
    case 'addJoint':
      return parsePlan({ ...plan, joints: [...plan.joints, change.joint] });
    case 'addJoints':
      return parsePlan({ ...plan, joints: [...plan.joints, ...change.joints] });
    case 'putJoint':
      return parsePlan({ ...plan, joints: plan.joints.map((j) => (j.id === change.joint.id ? change.joint : j)) });
    case 'removeJoints':
      return { ...plan, joints: plan.joints.filter((j) => !change.ids.includes(j.id)) };
    case 'all':
      return change.changes.reduce(applyChange, plan);
    case 'setJoint':
      return parsePlan({
        ...plan,
        joints: plan.joints.map((j) => (j.id === change.id ? { ...j, ...change.set } : j)),
      });
    case 'removeJoint':
      return { ...plan, joints: plan.joints.filter((j) => j.id !== change.id) };
    case 'addStep': {
      const id = change.step.id ?? freeId('r', withIds(plan).recipe as { id: string }[]);
      const { recipe } = withIds(plan);
      const at = change.at ?? (isSizing(change.step) ? firstOfMillimetres(recipe) : recipe.length);
      return parsePlan({ ...plan, recipe: [...recipe.slice(0, at), { ...change.step, id }, ...recipe.slice(at)] });
    }
    case 'setStep':
      return parsePlan({
        ...plan,
        recipe: withIds(plan).recipe.map((s) => (s.id === change.id ? { ...s, ...change.set } : s)),
      });
    case 'removeStep':
      return parsePlan({ ...plan, recipe: withIds(plan).recipe.filter((s) => s.id !== change.id) });
    case 'moveStep': {
      const { recipe } = withIds(plan);
      const step = recipe.find((s) => s.id === change.id);
      if (!step) return plan;
      const others = recipe.filter((s) => s !== step);
      return parsePlan({ ...plan, recipe: [...others.slice(0, change.to), step, ...others.slice(change.to)] });
    }
    case 'setBody': {
      const known = plan.bodies.find((b) => b.id === change.id) ?? { id: change.id };
      const next = { ...known, ...change.set };
      return parsePlan({ ...plan, bodies: [...plan.bodies.filter((b) => b.id !== change.id), next] });
    }
    case 'addZone':
      return parsePlan({ ...plan, zones: [...plan.zones, change.zone] });
    case 'setZone':
      return parsePlan({ ...plan, zones: plan.zones.map((z) => (z.id === change.id ? { ...z, ...change.set } : z)) });
    case 'removeZone':
      return { ...plan, zones: plan.zones.filter((z) => z.id !== change.id) };
    case 'addShow':
      return parsePlan({ ...plan, show: [...plan.show, ...change.marks] });
    case 'setPiece': {
      const known = plan.pieces.find((p) => p.key === change.key) ?? { key: change.key };
      const next = { ...known, ...change.set };
      return parsePlan({ ...plan, pieces: [...plan.pieces.filter((p) => p.key !== change.key), next] });
    }
    case 'setPieces': {
      const keys = new Set(change.keys);
      const known = new Map(plan.pieces.map((p) => [p.key, p]));
      const next = change.keys.map((key) => ({ ...(known.get(key) ?? { key }), ...change.set }));
      return parsePlan({ ...plan, pieces: [...plan.pieces.filter((p) => !keys.has(p.key)), ...next] });
    }
    case 'addBed':
      return parsePlan({ ...plan, beds: [...plan.beds, change.bed] });
    case 'setBed':
      return parsePlan({ ...plan, beds: plan.beds.map((b) => (b.id === change.id ? { ...b, ...change.set } : b)) });
    case 'removeBed':
      return { ...plan, beds: plan.beds.filter((b) => b.id !== change.id) };
    case 'placePiece': {
      const { piece, copy, bed, set } = change;
      const same = (p: PlacedPiece): boolean => p.piece === piece && p.copy === copy;
      const known = plan.beds.flatMap((b) => b.pieces).find(same);
      const next = { piece, copy, x: 0, y: 0, ...known, ...set };
      return parsePlan({
        ...plan,
        beds: plan.beds.map((b) => {
          const at = b.pieces.findIndex(same);
          if (b.id !== bed) return at < 0 ? b : { ...b, pieces: b.pieces.filter((p) => !same(p)) };
          return { ...b, pieces: at < 0 ? [...b.pieces, next] : b.pieces.with(at, next as PlacedPiece) };
        }),
      });
    }
    case 'addContacts': {
      const known = new Set(plan.contacts.map((c) => c.id));
      return parsePlan({ ...plan, contacts: [...plan.contacts, ...change.contacts.filter((c) => !known.has(c.id))] });
    }
    case 'set':
      return parsePlan({ ...plan, ...change.set });
  }
}

/**
 * A change with ids that are still free: whatever it adds under an id that the plan has by now gets another. `ids` tells the
 * new ids by those that were asked for. Joints that are added with a seam go by that seam's new id.
 */
export function settled(plan: Plan, change: PlanChange): { change: PlanChange; ids: ReadonlyMap<string, string> } {
  const ids = new Map<string, string>();
  const taken = new Set(
    [plan.seams, plan.joints, plan.zones, plan.contacts, plan.beds].flatMap((list) =>
      list.map((x: { id: string }) => x.id),
    ),
  );
  const fresh = <T extends { readonly id: string }>(item: T): T => {
    let { id } = item;
    if (taken.has(id))
      id = freeId(
        /^[A-Za-z]+/.exec(id)?.[0] ?? 'x',
        [...taken].map((x) => ({ id: x })),
      );
    taken.add(id);
    if (id !== item.id) ids.set(item.id, id);
    return id === item.id ? item : { ...item, id };
  };
  const onSeam = (joint: JointInput): JointInput => {
    const own = fresh(joint);
    return ids.has(own.seam) ? { ...own, seam: ids.get(own.seam)! } : own;
  };
  const settle = (one: PlanChange): PlanChange => {
    switch (one.do) {
      case 'addSeam':
        return { ...one, seam: fresh(one.seam) };
      case 'addSeams':
        return { ...one, seams: one.seams.map(fresh) };
      case 'addJoint':
        return { ...one, joint: onSeam(one.joint) };
      case 'addJoints':
        return { ...one, joints: one.joints.map(onSeam) };
      case 'addZone':
        return { ...one, zone: fresh(one.zone) };
      case 'addBed':
        return { ...one, bed: fresh(one.bed) };
      case 'all':
        return { ...one, changes: one.changes.map(settle) };
      case 'removeSeam':
      case 'removeJoint':
      case 'removeZone':
      case 'removeBed':
        taken.delete(one.id);
        return one;
      default:
        return one;
    }
  };
  return { change: settle(change), ids };
}

/** The first id of the form s1, s2 … (or with another letter) that the list does not use. */
export function freeId(letter: string, list: readonly { readonly id: string }[]): string {
  const used = new Set(list.map((x) => x.id));
  for (let n = 1; ; n++) if (!used.has(`${letter}${n}`)) return `${letter}${n}`;
}

/** The plan with an id for every step: r1, r2 … where a document gave none. */
export function withIds(plan: Plan): Omit<Plan, 'recipe'> & { recipe: (Step & { id: string })[] } {
  const recipe: (Step & { id: string })[] = [];
  for (const step of plan.recipe) {
    const named = plan.recipe.filter((s): s is Step & { id: string } => s.id !== undefined);
    recipe.push({ ...step, id: step.id ?? freeId('r', [...named, ...recipe]) });
  }
  return { ...plan, recipe };
}

const isSizing = (step: StepInput): boolean => step.kind === 'scale' || step.kind === 'tailor' || step.kind === 'unit';

const MILLIMETRES: ReadonlySet<string> = new Set(['wall', 'hollow', 'takeOut', 'bore']);

/** Where a size belongs: before the first step whose millimetres it must not stretch. */
function firstOfMillimetres(recipe: readonly Step[]): number {
  const at = recipe.findIndex((s) => MILLIMETRES.has(s.kind));
  return at < 0 ? recipe.length : at;
}

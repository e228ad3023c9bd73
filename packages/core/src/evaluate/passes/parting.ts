import type { Triangulator } from '../../cut/index.ts';
import type { Contact, Finding, Plan } from '../../document/index.ts';
import type { Affine } from '../../mesh/index.ts';
import type { Model } from '../../recipe/index.ts';
import {
  type Anchor,
  type Contacts,
  findContacts,
  type MatingFace,
  type PartedBody,
  type PartedModel,
  type PartingCache,
  partModel,
  type SeamPlace,
} from '../../seams/index.ts';
import type { PassContext } from '../model.ts';

/** The model in its pieces, before anything joins them. */
export interface Parted {
  readonly bodies: readonly PartedBody[];
  /** at seams, and where bodies touch */
  readonly faces: readonly MatingFace[];
  /** of all planes that faces lie in, by their ids */
  readonly places: ReadonlyMap<string, SeamPlace>;
  readonly anchors: readonly Anchor[];
  readonly contacts: readonly Contact[];
  readonly findings: readonly Finding[];
}

/** Parts the bodies by the seams, and finds where bodies touch. */
export function parting(plan: Plan, model: Model, context: PassContext): Parted {
  const cut = partModel(plan, model, context);
  const touching = contactsOf(plan, cut, model.map, context.cache, context.fallback);
  return {
    bodies: touching.bodies,
    faces: [...cut.faces, ...touching.faces],
    places: new Map([...cut.places, ...touching.places]),
    anchors: cut.anchors,
    contacts: touching.contacts,
    findings: cut.findings,
  };
}

/** The faces on which bodies touch, kept for as long as nothing about them changes. */
function contactsOf(plan: Plan, cut: PartedModel, map: Affine, cache: PartingCache, fallback: Triangulator): Contacts {
  if (cut.bodies.length < 2) return { bodies: cut.bodies, faces: [], places: new Map(), contacts: [] };
  const ids = new Set(plan.contacts.map((c) => c.id));
  const jointed = new Set(plan.joints.map((j) => j.seam).filter((s) => ids.has(s)));
  const solids = cut.bodies.flatMap((b) => b.keyed.map((k) => `${k.key}=${cache.idOf(k.solid)}`));
  const key = JSON.stringify([
    plan.reach,
    plan.contacts,
    plan.alternates.map((a) => a.bodies),
    [...jointed],
    plan.seams.map((s) => s.id),
    map,
    solids,
  ]);
  return cache.contacts.get(
    key,
    () => findContacts(plan, cut.bodies, map, fallback),
    (c) => 1000 + c.bodies.reduce((n, b) => n + b.keyed.reduce((m, k) => m + k.solid.triangles.byteLength, 0), 0),
  );
}

import {
  type CapRegion,
  closeRegion,
  commonRegions,
  type Frame,
  makeFrame,
  regionsOf,
  type Solid,
  type Triangulator,
} from '../cut/index.ts';
import { type AlternateBody, alternateBodies, type Contact, freeId, type Plan } from '../document/index.ts';
import {
  type Affine,
  type Box,
  dot,
  inverse,
  mapNormal,
  mapPoint,
  uniteBoxes,
  type Vec3,
  vecOf,
} from '../mesh/index.ts';
import { radians } from '../units.ts';
import { rims } from './carve-cell.ts';
import { numbered } from './faces.ts';
import { type Facet, facetsIn } from './facets.ts';
import { type SeamPlace, seamPlace } from './kinds/index.ts';
import type { Contacts, KeyedSolid, MatingFace, PartedBody } from './model.ts';

/** Faces smaller than this are not worth a joint, mm². */
const LEAST = 12;
/** Faces up to this far from parallel lie against each other. */
const PARALLEL = Math.cos(radians(1.5));
/** Two facets in one plane, mm. */
const SAME_PLANE = 0.02;

/**
 * Finds where flat faces of different bodies' pieces lie against each other, or within the plan's reach and nearly
 * parallel, and makes mating faces of them. A face found becomes a cap of its piece, so that joints are built there as
 * they are at a seam. Alternates do not touch each other; what one of them touches takes up the contact of the first.
 *
 *    ______
 *   |  B   |        cap of B, + side
 *   |______|__      contact: normal from A to B
 *   |    A    |     cap of A, − side
 *   |_________|
 */
export function findContacts(plan: Plan, parted: readonly PartedBody[], map: Affine, fallback: Triangulator): Contacts {
  const alternates = alternateBodies(
    plan.alternates,
    parted.map((b) => b.sized.body.id),
  );
  const leadOf = (b: PartedBody): string => alternates.get(b.sized.body.id)?.lead ?? b.sized.body.id;
  const place = new Map(parted.map((b, i) => [b.sized.body.id, i]));
  const pairs: [PartedBody, PartedBody][] = [];
  const near = new Map<PartedBody, Box>();
  for (let i = 0; i < parted.length; i++) {
    for (let j = i + 1; j < parted.length; j++) {
      const leads = [leadOf(parted[i]), leadOf(parted[j])];
      if (leads[0] === leads[1]) continue;
      // every alternate comes in the order that the lead comes in
      const swapped = place.get(leads[0])! > place.get(leads[1])!;
      const pair: [PartedBody, PartedBody] = swapped ? [parted[j], parted[i]] : [parted[i], parted[j]];
      const within = common(pair[0].sized.box, pair[1].sized.box, plan.reach);
      if (!within || !pair.every((b) => b.closed)) continue;
      pairs.push(pair);
      for (const b of pair) near.set(b, near.has(b) ? uniteBoxes(near.get(b)!, within) : within);
    }
  }
  const finder = new Finder(plan, map, fallback, alternates);
  for (const [a, b] of pairs) finder.pair(a, b, near.get(a)!, near.get(b)!);
  return finder.result(parted);
}

interface Own {
  /** the facet's frame, its normal that of the contact */
  readonly frame: Frame;
  readonly caps: readonly CapRegion[];
}

class Finder {
  private readonly known: Contact[];
  private readonly places = new Map<string, SeamPlace>();
  private readonly faces: MatingFace[] = [];
  private readonly facets = new Map<Solid, Facet[]>();
  private readonly caps = new Map<Facet, Own>();
  private readonly taken = new Map<Solid, Facet[]>();

  constructor(
    private readonly plan: Plan,
    private readonly map: Affine,
    private readonly fallback: Triangulator,
    private readonly alternates: ReadonlyMap<string, AlternateBody>,
  ) {
    this.known = [...plan.contacts];
    for (const contact of this.known) this.places.set(contact.id, seamPlace(contact, map));
  }

  pair(a: PartedBody, b: PartedBody, nearA: Box, nearB: Box): void {
    for (const one of a.keyed) {
      for (const two of b.keyed) {
        if (!common(one.box, two.box, this.plan.reach)) continue;
        for (const f of this.facetsOf(one.solid, nearA)) {
          for (const g of this.facetsOf(two.solid, nearB)) this.meet(a, b, one, two, f, g);
        }
      }
    }
  }

  private facetsOf(solid: Solid, within: Box): Facet[] {
    let list = this.facets.get(solid);
    if (!list) {
      list = facetsIn(solid, within, LEAST);
      this.facets.set(solid, list);
    }
    return list;
  }

  private meet(a: PartedBody, b: PartedBody, one: KeyedSolid, two: KeyedSolid, f: Facet, g: Facet): void {
    if (dot(f.normal, g.normal) > -PARALLEL) return;
    const away = dot(g.middle, f.normal) - f.offset;
    if (away < -SAME_PLANE || away > this.plan.reach || !common(f.box, g.box, this.plan.reach)) return;
    const bodies: [string, string] = [a.sized.body.id, b.sized.body.id];
    const contact = this.contactFor(...bodies, f);
    const alternate = bodies.find((id) => this.alternates.has(id) && this.leadOf(id) !== id);
    const near = this.capsOf(one.solid, f, f.normal, contact, -1);
    const far = this.capsOf(two.solid, g, [-g.normal[0], -g.normal[1], -g.normal[2]], contact, 1);
    for (const cap of near.caps) {
      for (const mate of far.caps) {
        for (const region of commonRegions(cap, mate)) {
          if (region.area < LEAST) continue;
          this.faces.push({
            id: `${contact.id}@${one.key}~${two.key}`,
            seam: contact.id,
            plane: contact.id,
            contact: true,
            ...(alternate !== undefined && { alternate }),
            bodies,
            pieces: [one.key, two.key],
            caps: [cap, mate],
            region,
            frame: near.frame,
            frames: [near.frame, far.frame],
            area: region.area,
          });
        }
      }
    }
  }

  private leadOf(body: string): string {
    return this.alternates.get(body)?.lead ?? body;
  }

  /** The contact in the plane of a facet, from the plan or new; alternates share theirs. */
  private contactFor(first: string, second: string, facet: Facet): Contact {
    const found = this.known.find((c) => {
      const [a, b] = c.bodies;
      if (this.leadOf(a) !== this.leadOf(first) || this.leadOf(b) !== this.leadOf(second)) return false;
      const { frame } = this.places.get(c.id)!;
      return (
        dot(frame.normal, facet.normal) > PARALLEL &&
        Math.abs(dot(facet.middle, frame.normal) - frame.offset) < this.slack
      );
    });
    if (found) return found;
    const back = inverse(this.map);
    const contact: Contact = {
      id: freeId('c', [...this.known, ...this.plan.seams]),
      bodies: [this.leadOf(first), this.leadOf(second)],
      origin: [...mapPoint(back, facet.middle)] as Contact['origin'],
      normal: [...mapNormal(back, facet.normal)] as Contact['normal'],
    };
    this.known.push(contact);
    this.places.set(contact.id, seamPlace(contact, this.map));
    return contact;
  }

  private get slack(): number {
    return Math.max(SAME_PLANE, this.plan.reach);
  }

  /** The facet as caps of its piece, in its own plane with the contact's directions. */
  private capsOf(solid: Solid, facet: Facet, normal: Vec3, contact: Contact, side: 1 | -1): Own {
    const known = this.caps.get(facet);
    if (known) return known;
    const { frame: plane } = this.places.get(contact.id)!;
    const away = dot(facet.middle, normal) - dot(plane.origin, normal);
    const origin: Vec3 = [
      plane.origin[0] + normal[0] * away,
      plane.origin[1] + normal[1] * away,
      plane.origin[2] + normal[2] * away,
    ];
    const frame = makeFrame(origin, normal, plane.v);
    const loops = rims(solid.triangles, facet.triangles).map((l) => Uint32Array.from(l));
    const regions = regionsOf(solid, { seam: contact.id, side, loops }, frame);
    const own = { frame, caps: regions.map((r) => closeRegion(r, this.fallback)) };
    this.caps.set(facet, own);
    this.taken.set(solid, [...(this.taken.get(solid) ?? []), facet]);
    return own;
  }

  result(parted: readonly PartedBody[]): Contacts {
    const led = new Set(this.faces.filter((f) => f.alternate === undefined).map((f) => f.plane));
    // where the lead has no face, its alternate is a body like any other
    const faces = this.faces.map(({ alternate, ...f }) =>
      alternate !== undefined && led.has(f.plane) ? { ...f, alternate } : f,
    );
    const used = new Set(faces.flatMap((f) => f.caps));
    const bodies = parted.map((body): PartedBody => {
      if (!body.keyed.some((k) => this.taken.has(k.solid))) return body;
      const keyed = body.keyed.map((k): KeyedSolid => {
        const facets = (this.taken.get(k.solid) ?? []).filter((f) => this.caps.get(f)!.caps.some((c) => used.has(c)));
        return facets.length === 0 ? k : { ...k, solid: this.withoutFacets(k.solid, facets) };
      });
      return { ...body, keyed, solids: new Map(keyed.map((k) => [k.key, k.solid])) };
    });
    const held = new Set([...this.plan.joints.map((j) => j.seam), ...faces.map((f) => f.seam)]);
    const contacts = this.known.filter((c) => held.has(c.id));
    return {
      bodies,
      faces: numbered(faces),
      places: new Map(contacts.map((c) => [c.id, this.places.get(c.id)!])),
      contacts,
    };
  }

  private withoutFacets(solid: Solid, facets: readonly Facet[]): Solid {
    const gone = new Set(facets.flatMap((f) => f.triangles));
    const kept = [...solid.tags.keys()].filter((i) => !gone.has(i));
    const triangles = new Uint32Array(kept.length * 3);
    kept.forEach((i, k) => {
      triangles.set(solid.triangles.subarray(i * 3, i * 3 + 3), k * 3);
    });
    return {
      ...solid,
      triangles,
      tags: Uint32Array.from(kept, (i) => solid.tags[i]),
      caps: [...solid.caps, ...facets.flatMap((f) => this.caps.get(f)!.caps)],
    };
  }
}

/** What two boxes have in common when each is grown by `reach`; null when nothing. */
function common(a: Box, b: Box, reach: number): Box | null {
  const min = vecOf((k) => Math.max(a.min[k], b.min[k]) - reach - SAME_PLANE);
  const max = vecOf((k) => Math.min(a.max[k], b.max[k]) + reach + SAME_PLANE);
  return min.every((x, k) => x <= max[k]) ? { min, max } : null;
}

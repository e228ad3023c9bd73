import { cellOf, closeCell, closedMesh, type FlatRegion, type Frame, fromFrame, insidePoint } from '../../cut/index.ts';
import { applyChange, freeId, type Plan, type Printer, type Seam, type SeamReason } from '../../document/index.ts';
import { type EvalCache, type EvalContext, evaluateModel } from '../../evaluate/index.ts';
import {
  type Box,
  dot,
  type IndexedMesh,
  perAxis,
  sizeOf,
  sub,
  uniteBoxes,
  type Vec3,
  volume as volumeOf,
} from '../../mesh/index.ts';
import { type Pose, upInSource, usableSize, withinBuild } from '../../print/index.ts';
import type { Model } from '../../recipe/index.ts';
import {
  depthInZone,
  piecesOfBody,
  placeSeam,
  placeZone,
  planeInSource,
  type SizedBody,
  seamPlace,
  sizedBody,
} from '../../seams/index.ts';
import { type ShowFaces, showFaces, shownTriangles } from '../../show/index.ts';
import { CAP, type Chunk, chunkOf, SHOWN, SKIN } from './chunk.ts';
import type { MoveContext } from './cuts.ts';
import { figuresOf } from './figures.ts';
import type { Needs } from './need.ts';
import type { Proposal, ProposeWish } from './proposal.ts';
import { reasonsOf } from './reasons.ts';
import { standIn } from './stand-in.ts';
import { areMirrored, boxesApart, matched, seamsOfKey, type Target } from './targets.ts';
import type { Parting } from './tree.ts';
import { fittingPose } from './turned.ts';
import { mirroredCut, mirroredRegion } from './twins.ts';

/** Stand-ins are this much off the model at the most, so the search keeps it free, mm. */
export const SPARE = 1;

/** A plan has no more seams than this. */
const MOST_SEAMS = 200;

/** A cut to be made on the model. */
export interface NewCut {
  readonly frame: Frame;
  /** a place in each region that it cuts */
  readonly seeds: readonly Vec3[];
  readonly reasons: readonly SeamReason[];
  /** boxes of the pieces that it is meant for, as they stand before it */
  readonly on: readonly Box[];
}

/** A cut as it was made. */
export interface Cut extends NewCut {
  readonly seam: string;
  /** the cuts that left these pieces, as places in the list of all */
  readonly after: readonly number[];
}

/** Two pieces whose boxes differ by no more than that, mm, are taken to be the same piece of two ways to cut. */
const SAME_APART = 40;

/** Cuts the model itself, one seam after the other. */
export class Driver {
  readonly seams: Seam[] = [];
  readonly cuts: Cut[] = [];
  /** by key of a piece the cut that left it */
  private readonly leftBy = new Map<string, number>();
  private plan: Plan;
  private readonly sized: readonly SizedBody[];
  private readonly box: Box;
  private pieces: Target[];
  private readonly shown: ShowFaces;
  private readonly given: ReadonlySet<string>;
  /** the printers with what stand-ins need kept free */
  readonly spared: readonly Printer[];

  constructor(
    plan: Plan,
    private readonly model: Model,
    private readonly wish: ProposeWish,
    private readonly context: EvalContext & { readonly cache: EvalCache },
  ) {
    const round = new Set((wish.still ?? []).flatMap(seamsOfKey));
    const seams = plan.seams.filter((s) => wish.keep === 'all' || s.locked || round.has(s.id));
    this.spared = wish.printers.map((p) => ({ ...p, margin: p.margin + SPARE / 2 }));
    const ids = new Set([...seams, ...plan.contacts].map((s) => s.id));
    this.plan = { ...plan, seams, joints: plan.joints.filter((j) => ids.has(j.seam)) };
    this.sized = model.bodies.map((b) => sizedBody(b, this.context.cache));
    this.box = this.sized.map((s) => s.box).reduce(uniteBoxes);
    const bodies = this.sized.map((s) => ({ id: s.body.id, mesh: s.mesh }));
    this.shown = showFaces(plan.show, model.map, bodies);
    this.pieces = this.cut();
    this.given = new Set(this.pieces.map((p) => p.key));
  }

  private cut(): Target[] {
    const { plan, model, context } = this;
    const on = plan.seams.filter((s) => s.enabled);
    const placed = on.map((s) => placeSeam(s, model.map, this.box, [], context.fallback));
    const anchors = new Map(plan.anchors.map((a) => [a.key, a]));
    const pieces = this.sized.flatMap((one) => {
      const found = piecesOfBody(one, placed, { ...context, plan, map: model.map });
      for (const anchor of found.anchors) anchors.set(anchor.key, anchor);
      return found.keyed.map((k): Target => ({ ...k, body: one.body.id }));
    });
    this.plan = { ...plan, anchors: [...anchors.values()] };
    return pieces;
  }

  isFull(): boolean {
    return this.plan.seams.length >= MOST_SEAMS;
  }

  count(): number {
    return this.pieces.length;
  }

  /** Set aside, printed, of a body that stays whole, or none of those that it was asked for. */
  private isLeft({ key, body }: Target): boolean {
    const { only, whole, still } = this.wish;
    return (
      this.plan.pieces.some((p) => p.key === key && p.aside) ||
      !!whole?.includes(body) ||
      !!still?.includes(key) ||
      (!!only && this.given.has(key) && !only.includes(key))
    );
  }

  private isWithin(size: Vec3): boolean {
    return this.wish.printers.some((p) => withinBuild(p, size).within);
  }

  /** The pose in which a piece fits with its joints though its box does not; null when it has to be parted. */
  private turned(target: Target): Pose | null {
    const long = Math.max(...sizeOf(target.box));
    // what is longer than a printer is in any direction is not looked at
    if (!this.wish.turned || this.wish.printers.every((p) => long > Math.hypot(...usableSize(p)))) return null;
    const chunk = this.chunkOf(target);
    const [x, y, z, X, Y, Z] = chunk.box;
    return this.isWithin([X - x, Y - y, Z - z]) ? null : fittingPose(chunk, 0, this.spared);
  }

  private fits(target: Target): boolean {
    return this.isWithin(sizeOf(target.box)) || this.turned(target) !== null;
  }

  /** What still fits no printer, of what may be parted. */
  tooLarge(first: boolean): Target[] {
    return this.pieces.filter((p) => !this.isLeft(p) && ((first && this.wish.only) || !this.fits(p)));
  }

  /** The key of the other piece that is a piece's mirror image and may be parted; null when there is none. */
  twinOf(target: Target): string | null {
    const { mirror } = this.wish;
    if (!mirror) return null;
    const twin = this.pieces.find((p) => p !== target && areMirrored(p, target, mirror));
    return twin && !this.isLeft(twin) ? twin.key : null;
  }

  /** What a piece of the whole model has on average, when all of it is parted, mm³. */
  meanVolume(needs: Needs): number {
    let volume = 0;
    let count = 0;
    for (const p of this.pieces) {
      const mesh = closedMesh(p.solid, () => 0);
      const own = volumeOf(mesh);
      const sample = Uint32Array.from({ length: mesh.positions.length / 3 }, (_, i) => i);
      const places = { points: mesh.positions, sample, part: -1, parts: [], sideOf: new Int32Array(0) };
      volume += own;
      count += needs.of(places, boxNumbers(p.box), own, false);
    }
    return volume / Math.max(1, count);
  }

  /** A piece's stand-in: its faces of earlier seams are told from its skin, and what of that is to be seen. */
  chunkOf({ body, solid, box }: Target): Chunk {
    const order = new Map<string, number>();
    const skin = closedMesh(solid, (seam, side) => {
      const id = `${seam} ${side}`;
      if (!order.has(id)) order.set(id, CAP + order.size);
      return order.get(id)!;
    });
    const tags = skin.tags.slice();
    tags.fill(SKIN, 0, solid.tags.length);
    const own = this.shown.bodies.get(body);
    if (own)
      shownTriangles(own, solid).forEach((on, i) => {
        if (on) tags[i] = SHOWN;
      });
    const light: IndexedMesh = standIn({ ...skin, tags }, Math.max(...sizeOf(box)));
    return chunkOf(closeCell(cellOf(light), new Map(), this.context.fallback), new Map(), this.wish.jointRoom);
  }

  /** Cuts through zones are not made, nor those whose mirror image would run through one. */
  forbidden(): Pick<MoveContext, 'forbidden'> {
    const zones = this.plan.zones.map((z) => placeZone(z, this.model.map));
    if (zones.length === 0) return {};
    const { mirror } = this.wish;
    const hit = (frame: Frame, region: FlatRegion): boolean => zones.some((z) => depthInZone(z, frame, region) > 0);
    return {
      forbidden: ({ frame }, cut) => {
        if (cut.some((r) => hit(frame, r.flat))) return true;
        if (!mirror) return false;
        const image = mirroredCut({ frame, cut: [] }, mirror).frame;
        return cut.some((r) => hit(image, mirroredRegion(r.flat, frame, image, mirror)));
      },
    };
  }

  /**
   * Makes the seams of a parting, each on the piece that it is meant for; `flipped`: of its mirror image. What it tells once of
   * twins is made on both sides.
   */
  take(key: string, parting: Parting, move: MoveContext, flipped = false): void {
    const { step } = parting;
    if (!step || this.isFull()) return;
    const { mirror } = this.wish;
    const { cut } = step.move;
    const here = { frame: step.move.frame, seeds: cut.map((r) => fromFrame(step.move.frame, ...insidePoint(r))) };
    const there = mirror ? mirroredCut(step.move, mirror) : here;
    const reasons = reasonsOf(parting, move);
    let made = this.part([key], flipped ? there : here, reasons);
    // it parts nothing on the model: the piece is searched again as it is
    if (!made) return;
    if (step.move.standing === 'twice') {
      for (const one of made) {
        const more = this.part([one.key], there, reasons);
        if (!more) continue;
        made = [...made.filter((p) => p !== one), ...more];
        break;
      }
    }
    const meant = step.parts.flatMap((part) =>
      part.twin
        ? [
            { part, flip: flipped },
            { part, flip: !flipped },
          ]
        : [{ part, flip: flipped }],
    );
    for (const [piece, { part, flip }] of matched(made, meant, mirror)) this.take(piece.key, part, move, flip);
  }

  /** Makes cuts of another driver's; whether each of them did its work. */
  replay(cuts: readonly NewCut[]): boolean {
    return cuts.every(({ on, frame, seeds, reasons }) => {
      const keys = on.map((box) => {
        const [near] = [...this.pieces].sort((a, b) => boxesApart(a.box, box) - boxesApart(b.box, box));
        return near && boxesApart(near.box, box) < SAME_APART ? near.key : '';
      });
      return (
        !keys.includes('') && new Set(keys).size === keys.length && this.part(keys, { frame, seeds }, reasons) !== null
      );
    });
  }

  /** Adds a seam on some pieces; gives the pieces that were made of them. Null, and nothing added, when it leaves one of them whole. */
  private part(
    keys: readonly string[],
    { frame, seeds }: { readonly frame: Frame; readonly seeds: readonly Vec3[] },
    reasons: readonly SeamReason[],
  ): Target[] | null {
    if (this.isFull()) return null;
    const { map } = this.model;
    const middle = seeds.reduce<Vec3>((sum, p) => [sum[0] + p[0], sum[1] + p[1], sum[2] + p[2]], [0, 0, 0]);
    const plane = planeInSource(
      { origin: [...perAxis(middle, (x) => x / seeds.length)], normal: [...frame.normal] },
      map,
    );
    const seam: Seam = {
      id: freeId('s', this.plan.seams),
      kind: 'flat',
      name: reasons.some((r) => r.kind === 'alike' && r.how === 'across') ? 'Mirror plane' : '',
      enabled: true,
      origin: plane.origin.map((x) => Number(x.toFixed(4))) as [number, number, number],
      normal: plane.normal,
      scope: [...keys],
      reasons: [...reasons],
    };
    const place = seamPlace(seam, map);
    const inPlane = (p: Vec3): readonly [number, number] => {
      const d = sub(p, place.frame.origin);
      return place.toSource([dot(d, place.frame.u), dot(d, place.frame.v)]);
    };
    const regions = {
      mode: 'only' as const,
      seeds: seeds.map((p) => inPlane(p).map((x) => Number(x.toFixed(3))) as [number, number]),
    };
    const before = this.plan;
    this.plan = { ...this.plan, seams: [...this.plan.seams, { ...seam, regions }] };
    const after = this.cut();
    const known = new Set(this.pieces.map((p) => p.key));
    const made = after.filter((p) => !known.has(p.key));
    if (made.length < 2 * keys.length || after.some((p) => keys.includes(p.key))) {
      this.plan = before;
      return null;
    }
    const parted = this.pieces.filter((p) => keys.includes(p.key));
    this.cuts.push({
      seam: seam.id,
      frame,
      seeds,
      reasons,
      on: parted.map((p) => p.box),
      after: [...new Set(parted.flatMap((p) => this.leftBy.get(p.key) ?? []))],
    });
    for (const p of made) this.leftBy.set(p.key, this.cuts.length - 1);
    this.pieces = after;
    this.seams.push({ ...seam, regions });
    return made;
  }

  /** Writes the poses of pieces that fit only turned. */
  private layTurned(): void {
    for (const target of this.pieces) {
      const withJoints = perAxis(sizeOf(target.box), (x) => x + 2 * this.wish.jointRoom);
      if (this.isLeft(target) || this.isWithin(withJoints)) continue;
      const pose = this.turned(target);
      if (!pose) continue;
      const note = {
        up: [...upInSource(pose.up, this.model.map)] as [number, number, number],
        spin: 0,
        by: 'search' as const,
        why: 'it fits the printer only turned',
      };
      this.plan = applyChange(this.plan, { do: 'setPiece', key: target.key, set: { pose: note } });
    }
  }

  proposal(): Proposal {
    if (this.wish.turned) this.layTurned();
    const evaluation = evaluateModel(this.plan, this.model, this.context);
    const plan = { ...this.plan, anchors: [...evaluation.anchors] };
    const { mirror } = this.wish;
    const unlike = mirror
      ? this.pieces.filter((p) => !this.pieces.some((q) => areMirrored(p, q, mirror))).length
      : null;
    return { plan, seams: this.seams, figures: figuresOf(evaluation), unlike, evaluation };
  }
}

const boxNumbers = ({ min, max }: Box): Float64Array => Float64Array.of(...min, ...max);

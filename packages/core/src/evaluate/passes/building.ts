import type { CapRegion, Frame, Solid } from '../../cut/index.ts';
import { alternateBodies, type CodeEntry, type Plan, type Printer } from '../../document/index.ts';
import { type BuiltCap, buildCap, type Half } from '../../joints/index.ts';
import { everywhere, type PlacedJoint } from '../../mating/index.ts';
import { type Affine, bounds, boxOf, sizeOf, uniteBoxes } from '../../mesh/index.ts';
import {
  type BuildCheck,
  bestBuild,
  type Pose,
  poseOnModel,
  usableSize,
  withinBuild,
  withinPosed,
} from '../../print/index.ts';
import { type MatingFace, pieceOrder } from '../../seams/index.ts';
import { coded, codeOrder, codeText } from '../ledger.ts';
import type { PassContext, Piece } from '../model.ts';
import { positionNames } from '../names.ts';
import type { Joined } from './joining.ts';
import type { Parted } from './parting.ts';

/** Builds the joints' halves into the caps of the pieces, and gives the pieces codes, names and measures. */
export function building(
  plan: Plan,
  map: Affine,
  { bodies, faces }: Parted,
  { placed, carved }: Joined,
  { cache, fallback }: PassContext,
): { readonly pieces: Piece[]; readonly codes: readonly CodeEntry[] } {
  const halves = halvesByCap(placed, faces);
  const alternates = alternateBodies(
    plan.alternates,
    bodies.map((b) => b.sized.body.id),
  );
  const jointsOf = new Map<string, Set<string>>();
  for (const j of placed.flatMap(everywhere)) {
    if (!j.built) continue;
    for (const key of [j.male!, j.socket!]) jointsOf.set(key, (jointsOf.get(key) ?? new Set()).add(j.id));
  }
  const notes = new Map(plan.pieces.map((n) => [n.key, n]));
  const printers = [plan.printer, ...plan.printers];
  const ordered = bodies.map((body) => {
    const sorted = [...body.keyed].sort((x, y) => pieceOrder(x.box.min, y.box.min) || (x.key < y.key ? -1 : 1));
    return { ...body, sorted, names: positionNames(sorted, body.sized.box) };
  });
  const uncoded = ordered.flatMap(({ sized, sorted, names }) =>
    sorted.map(({ key, solid }, i) => ({ key, body: sized.body.id, solid, place: names[i] })),
  );
  const { lines, rest } = coded(plan, map, uncoded);
  const lineOf = new Map(lines.map((line) => [line.key, line]));
  const pieces = ordered.flatMap(({ sized, sorted, closed }) => {
    // alternates sit in one place, so it is their body that tells them apart
    const alternate = alternates.get(sized.body.id);
    const own = alternate ? nameOfBody(plan, sized.body) : '';
    const head = plan.bodies.find((n) => n.id === sized.body.id)?.code;
    const byCode = sorted.toSorted((x, y) => codeOrder(lineOf.get(x.key)!, lineOf.get(y.key)!));
    return byCode.map(({ key, solid: cut, box }): Piece => {
      const solid = carved.get(key) ?? cut;
      const built = solid.caps.map((cap, c) => {
        const wanted = halves.get(cut.caps[c]);
        if (!wanted) return cache.builtCap(cap, [], () => plainCap(cap));
        const { frame, list } = wanted;
        return cache.builtCap(cap, list, () => buildCap(cap, frame, list, fallback));
      });
      const { caps, faulty } = cache.sealed(solid, built);
      const joints = [...(jointsOf.get(key) ?? [])];
      const fullBox = caps.reduce(
        (sum, c) => (c.extra.length > 0 ? uniteBoxes(sum, bounds(c.extra)) : sum),
        solid === cut ? box : boxOf(solid.positions),
      );
      const size = sizeOf(fullBox);
      const line = lineOf.get(key)!;
      const note = notes.get(key) ?? line.was?.map((k) => notes.get(k)).find(Boolean);
      const pose = note?.pose && poseOnModel(note.pose, map);
      return {
        key,
        code: codeText(head ? { ...line, letters: head } : line),
        name: note?.name || (own ? [own, ...(sorted.length > 1 ? [line.name] : [])].join(', ') : line.name),
        aside: note?.aside ?? false,
        spare: alternate !== undefined && alternate.shown !== sized.body.id,
        body: sized.body.id,
        solid,
        caps,
        box: fullBox,
        size,
        volume: cache.skinVolume(solid) + caps.reduce((sum, c) => sum + cache.capVolume(solid, c), 0),
        triangles: (solid.triangles.length + caps.reduce((n, c) => n + c.triangles.length, 0)) / 3,
        closed: closed && faulty === 0,
        build: pose ? posedBuild(printers, solid, caps, pose) : bestBuild(printers, (p) => withinBuild(p, size)),
        joints,
      };
    });
  });
  return { pieces, codes: [...lines, ...rest] };
}

const nameOfBody = (plan: Plan, body: { readonly id: string; readonly name: string }): string =>
  plan.bodies.find((b) => b.id === body.id)?.name || body.name;

/** By solid: the last pose asked of it with its caps, and the answer. */
const posed = new WeakMap<
  Solid,
  { readonly caps: readonly BuiltCap[]; readonly asked: string; readonly build: BuildCheck }
>();

function posedBuild(printers: readonly Printer[], solid: Solid, caps: readonly BuiltCap[], pose: Pose): BuildCheck {
  const asked = JSON.stringify([pose, printers.map(usableSize)]);
  const known = posed.get(solid);
  if (known?.caps === caps && known.asked === asked) return known.build;
  const parts = [solid.positions, ...caps.map((c) => c.extra)];
  const build = bestBuild(printers, (p) => withinPosed(p, parts, pose));
  posed.set(solid, { caps, asked, build });
  return build;
}

function plainCap(cap: CapRegion): BuiltCap {
  const ids = new Set(cap.triangles);
  const order = Uint32Array.from(ids);
  const number = new Map([...order].map((v, i) => [v, i]));
  return {
    ids: order,
    extra: new Float64Array(0),
    triangles: cap.triangles.map((v) => number.get(v)!),
    owners: new Int32Array(cap.triangles.length / 3).fill(-1),
    halves: [],
  };
}

/** The joint halves that go into each cap, and the plane it lies in. */
function halvesByCap(
  placed: readonly PlacedJoint[],
  faces: readonly MatingFace[],
): Map<CapRegion, { frame: Frame; list: Half[] }> {
  const byId = new Map(faces.map((f) => [f.id, f]));
  const halves = new Map<CapRegion, { frame: Frame; list: Half[] }>();
  for (const j of placed.flatMap(everywhere)) {
    const face = j.built && j.face !== null ? byId.get(j.face) : undefined;
    if (!face) continue;
    const own = j.direction > 0 ? 0 : 1;
    for (const [side, stacks] of [
      [own, j.form.own],
      [1 - own, j.form.other],
    ] as const) {
      const built = halves.get(face.caps[side]) ?? { frame: face.frames[side], list: [] };
      // the side that alternates share has it once
      if (built.list.some((h) => h.joint === j.id)) continue;
      built.list.push(...stacks.filter((s) => !s.carved).map((stack) => ({ ...stack, joint: j.id })));
      halves.set(face.caps[side], built);
    }
  }
  return halves;
}

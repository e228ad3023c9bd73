import { bodiesOf, isClosed } from '../src/body/index.ts';
import { passingWithin, withCrossings } from '../src/crossing/index.ts';
import { type Plan, type PlanInput, parsePlan } from '../src/document/schema.ts';
import { evaluateModel } from '../src/evaluate/evaluate.ts';
import type { Evaluation, Piece } from '../src/evaluate/model.ts';
import { pieceMesh } from '../src/evaluate/piece-mesh.ts';
import { toPrintable } from '../src/formats/index.ts';
import { labelled } from '../src/labels/index.ts';
import { type IndexedMesh, mapped, topology, turning, volume } from '../src/mesh/index.ts';
import { applyRecipe, type Model, modelOf } from '../src/recipe/index.ts';
import { loadSimplifier } from '../src/solid/index.ts';
import { fallback, judge, kernel, windsOddly } from './judges.ts';
import { modelOfMeshes } from './models.ts';
import { blob, box, moved, torus } from './shapes.ts';
import { cup, tray } from './shells.ts';

await loadSimplifier();

/** Bare, and painted in one colour. */
const PALETTE = [
  { name: '', colour: '' },
  { name: 'Red', colour: '#bf3b26' },
];

/** A model and a plan for it. */
export interface RandomCase {
  readonly meshes: readonly IndexedMesh[];
  readonly plan: PlanInput;
}

export type Next = () => number;
export const pick = <T>(next: Next, list: readonly T[]): T => list[Math.floor(next() * list.length)];
export const whole = (next: Next, low: number, high: number): number => low + Math.floor(next() * (high - low + 1));
/** Now a round number, which meets faces and corners, now any. */
export const place = (next: Next, reach: number): number =>
  next() < 0.6 ? whole(next, -reach / 10, reach / 10) * 10 : (next() * 2 - 1) * reach;
export const point = (next: Next, reach: number): [number, number, number] => [
  place(next, reach),
  place(next, reach),
  place(next, reach),
];
export function direction(next: Next): [number, number, number] {
  if (next() < 0.5) {
    const d: [number, number, number] = [0, 0, 0];
    d[whole(next, 0, 2)] = next() < 0.5 ? 1 : -1;
    return d;
  }
  for (;;) {
    const d = [next() * 2 - 1, next() * 2 - 1, next() * 2 - 1] as [number, number, number];
    if (next() < 0.3) for (let k = 0; k < 3; k++) d[k] = Math.round(d[k] * 3);
    if (Math.hypot(...d) > 0.2) return d;
  }
}
export const some = <T>(next: Next, most: number, make: (i: number) => T): T[] =>
  Array.from({ length: whole(next, 0, most) }, (_, i) => make(i));

function shape(next: Next): IndexedMesh {
  switch (whole(next, 0, 6)) {
    case 0:
    case 1: {
      const half = [whole(next, 1, 6) * 10, whole(next, 1, 6) * 10, whole(next, 1, 6) * 10];
      const at = point(next, 40);
      return box(
        at.map((x, k) => x - half[k]),
        at.map((x, k) => x + half[k]),
      );
    }
    case 2:
      return cup(pick(next, [2, 4, 9]), 60, 32);
    case 3:
      return tray(pick(next, [2, 5, 12]));
    case 4:
      return torus(45, 24, 10, (a) => 12 + 3 * Math.sin(a * 3));
    default: {
      const waves = whole(next, 2, 6);
      return blob(12, 16, 120, (a, z) => 45 + 9 * Math.sin(waves * a + 3 * z));
    }
  }
}

function seam(next: Next, i: number): object {
  const common = { id: `s${i + 1}`, origin: point(next, 60), normal: direction(next) };
  const kind = whole(next, 0, 9);
  if (kind < 3) return { ...common, kind: 'flat' };
  if (kind < 5) {
    const seeds = Array.from({ length: whole(next, 1, 3) }, () => [place(next, 60), place(next, 60)]);
    return { ...common, kind: 'flat', regions: { mode: pick(next, ['only', 'allBut']), seeds } };
  }
  if (kind < 6) {
    const [a, b] = [point(next, 70), point(next, 70)];
    return { ...common, kind: 'flat', bound: { min: a, max: b } };
  }
  if (kind < 8) {
    const count = whole(next, 2, 7);
    return { ...common, kind: 'fan', count, phase: pick(next, [0, Math.PI / count, next() * 6]) };
  }
  if (kind < 9) return { ...common, kind: 'ring', radius: pick(next, [10, 25, 45, 5 + next() * 60]) };
  const n = whole(next, 2, 6);
  const points = Array.from({ length: n }, (_, k) => [((k + 0.5) / n - 0.5) * 160, place(next, 30)]);
  return {
    ...common,
    kind: 'profile',
    points,
    curve: pick(next, ['line', 'line', 'arc', 'free']),
    bend: next() < 0.3 ? place(next, 20) : 0,
  };
}

function joint(next: Next, i: number, seams: number): object {
  const common = {
    id: `j${i + 1}`,
    seam: `s${whole(next, 1, seams)}`,
    part: whole(next, 0, 3),
    at: [place(next, 50), place(next, 50)],
    turn: next() * 6,
    male: pick(next, ['+', '-']),
    ...(next() < 0.2 && { lean: direction(next) }),
  };
  const d = pick(next, [3, 5, 8, 12]);
  return pick(next, [
    { ...common, kind: 'pin', shape: pick(next, ['round', 'hexagon', 'square']), diameter: d, depth: d },
    { ...common, kind: 'key', width: d, height: d * 0.8, depth: d, corner: 0.5 },
    { ...common, kind: 'cone', diameter: d },
    { ...common, kind: 'dowel', diameter: d, depth: 2 * d },
    { ...common, kind: 'snap', diameter: Math.max(5, d), depth: 14, barb: 0.5 },
    { ...common, kind: 'magnet', diameter: d, thickness: 2 },
    { ...common, lean: undefined, kind: 'lap', lip: 1.2, depth: 3 },
  ]);
}

const showMark = (next: Next): object => ({
  at: point(next, 60),
  angle: pick(next, [0, 0.5, Math.PI]),
  ...(next() < 0.5 && { radius: pick(next, [0.01, 5, 1000]) }),
  off: next() < 0.3,
});

function step(next: Next, bodies: number): object {
  const body = `b${whole(next, 1, bodies)}`;
  return pick(next, [
    { kind: 'scale', factor: pick(next, [0.5, 1.7, 0.33]) },
    { kind: 'scale', factors: [1, pick(next, [0.7, 1.5]), 1.2] },
    { kind: 'turn', axis: pick(next, ['x', 'y', 'z']), angle: pick(next, [Math.PI / 2, Math.PI / 4, next() * 6]) },
    { kind: 'lay', normal: direction(next) },
    { kind: 'place', to: pick(next, ['centre', 'floor']) },
    { kind: 'mirror', normal: direction(next), at: point(next, 50), copy: next() < 0.3 },
    { kind: 'join' },
    { kind: 'separate' },
    { kind: 'mend' },
    { kind: 'simplify', triangles: whole(next, 4, 400) },
    { kind: 'remove', on: [body] },
    ...(bodies > 1 ? [{ kind: 'takeOut', body: 'b1', from: ['b2'], gap: pick(next, [0, 0.2]) }] : []),
  ]);
}

/** A model of one to three simple bodies, apart, touching or overlapping, and a plan with steps, seams and joints of all kinds. */
export function randomCase(next: Next): RandomCase {
  const count = pick(next, [1, 1, 1, 2, 2, 3]);
  const meshes = Array.from({ length: count }, () => {
    const made = shape(next);
    const turned = next() < 0.3 ? mapped(made, turning(direction(next), next() * 6, [0, 0, 0])) : made;
    const [x, y, z] = point(next, count > 1 ? 80 : 10);
    return next() < 0.5 ? turned : moved(turned, (a, b, c) => [a + x, b + y, c + z]);
  });
  const seams = Array.from({ length: whole(next, 1, 5) }, (_, i) => seam(next, i));
  const plan = {
    version: 5,
    printer: { name: 'Desktop 220', size: [220, 220, 250] },
    recipe: next() < 0.5 ? [] : some(next, 3, () => step(next, count)),
    seams,
    joints: next() < 0.5 ? [] : some(next, 8, (i) => joint(next, i, seams.length)),
    show: next() < 0.7 ? [] : some(next, 3, () => showMark(next)),
    ...(next() < 0.3 && { labels: { height: pick(next, [4, 8, 20]), depth: pick(next, [0.2, 0.4, 2]) } }),
  };
  return { meshes, plan: plan as unknown as PlanInput };
}

/** A case as it can be given to `check` again, with what is not needed for the fault taken away. */
export function shrunk(bad: RandomCase, fails: (c: RandomCase) => boolean): RandomCase {
  let best = bad;
  const lists = ['recipe', 'joints', 'seams'] as const;
  for (let again = true; again; ) {
    again = false;
    for (const key of lists) {
      for (let i = (best.plan[key]?.length ?? 0) - 1; i >= 0; i--) {
        const gone = (best.plan[key] as { id?: string }[])[i];
        const plan = {
          ...best.plan,
          [key]: (best.plan[key] as object[]).filter((_, k) => k !== i),
        } as PlanInput;
        if (key === 'seams') plan.joints = plan.joints?.filter((j) => j.seam !== gone.id) ?? [];
        const next = { ...best, plan };
        if (!fails(next)) continue;
        best = next;
        again = true;
      }
    }
    for (let i = best.meshes.length - 1; i >= 0 && best.meshes.length > 1; i--) {
      const next = { ...best, meshes: best.meshes.filter((_, k) => k !== i) };
      if (!fails(next)) continue;
      best = next;
      again = true;
    }
  }
  return best;
}

/** Whether a surface passes through itself, more than by what rounding does where faces nearly lie on one another. */
const crosses = (mesh: IndexedMesh): boolean => withCrossings([{ mesh }])[0].crossed!.count > 0;

/** What a case came to: refused with a reason (its code), or pieces, and what is wrong with them. */
export interface Outcome {
  readonly refused: string | null;
  readonly pieces: number;
  readonly faults: readonly string[];
}

/** A case computed: its recipe, and the evaluation of what that makes. */
export function evaluated({ meshes, plan: input }: RandomCase): { plan: Plan; model: Model; e: Evaluation } {
  const plan = parsePlan(input);
  const model = applyRecipe(plan.recipe, modelOf(bodiesOf(modelOfMeshes(meshes, PALETTE), 'Test')), {
    tools: { kernel },
  });
  return { plan, model, e: evaluateModel(plan, model, { fallback, kernel }) };
}

/**
 * Does a case and judges what comes out by other code: every piece of a closed body closed, in float64 and as files keep
 * it, taken by the kernel, and the pieces of a body as much as the body.
 */
export function check(given: RandomCase): Outcome {
  const { plan, model, e } = evaluated(given);
  const faults: string[] = [];
  for (const body of model.bodies) {
    if (!isClosed(body)) continue;
    const own = e.pieces.filter((p) => p.body === body.id);
    const sum = own.reduce((s, p) => s + p.volume, 0);
    // a joint that is stopped may have taken something out all the same
    const stopped = e.findings.some((f) => f.severity === 'stop' && f.where.joint !== undefined);
    const joints = stopped || own.some((p) => p.joints.length > 0);
    const whole = volume(body.mesh);
    // grooves, channels and relief are taken off
    const trimmed = plan.seams.some((s) => s.edge || s.channel || s.relief);
    if (!joints && !trimmed && Math.abs(sum - whole) > 2e-5 * Math.max(whole, 100))
      faults.push(`${body.id}: volumes differ by ${(sum / whole - 1).toExponential(1)}`);
    for (const piece of own) {
      const { mesh, tags: kinds } = pieceMesh(piece);
      const t = topology(mesh);
      const open = e.findings.some((f) => f.code === 'piece.open' && f.where.piece === piece.key);
      // what is told to be open is not written without being asked for
      if (open) continue;
      if (!t.watertight) {
        faults.push(`${piece.key}: open ${t.openEdges}, crowded ${t.nonManifoldEdges}, ways ${t.inconsistentEdges}`);
        continue;
      }
      const printable = toPrintable(mesh);
      if (!printable.topology.watertight) {
        const p = printable.topology;
        faults.push(`${piece.key}: in the file open ${p.openEdges}, crowded ${p.nonManifoldEdges}`);
        continue;
      }
      // of a body that crosses itself only closed pieces can be asked
      if (!(volume(mesh) > 0) && !crosses(body.mesh)) faults.push(`${piece.key}: volume ${volume(mesh)}`);
      const stopped = e.findings.some(
        (f) => f.severity === 'stop' && (f.where.piece === piece.key || piece.joints.includes(f.where.joint ?? '')),
      );
      const passing = passingWithin(printable.mesh, (tag) => kinds[tag].kind !== 'skin');
      if (passing > 0 && !stopped && !crosses(body.mesh))
        faults.push(`${piece.key}: ${passing} triangles of cuts or joints pass through it`);
      const said = judge(printable.mesh);
      if (said.status !== 'NoError') faults.push(`${piece.key}: the kernel says ${said.status}`);
      // the kernel gives a wrong volume where sides lie within its tolerance; a closed surface that winds once round what it
      // encloses has only one
      else if (
        Math.abs(said.volume - piece.volume) > 2e-5 * Math.max(whole, 1000) &&
        !crosses(body.mesh) &&
        crosses(mesh) &&
        windsOddly(mesh)
      ) {
        faults.push(`${piece.key}: the kernel measures ${said.volume}, not ${piece.volume}`);
      }
      faults.push(...labelFaults(plan, e, piece));
    }
  }
  return { refused: null, pieces: e.pieces.length, faults };
}

/** What is wrong with a piece once its code is engraved: no longer closed, or more of it than before. */
function labelFaults(plan: Plan, e: Evaluation, piece: Piece): string[] {
  const { piece: done, engraved, faces } = labelled(plan, e, piece);
  if (engraved === 0) return done.caps === piece.caps ? [] : [`${piece.key}: other caps without a label`];
  const { mesh, tags } = pieceMesh(done);
  const isMade = (tag: number): boolean => tags[tag].kind !== 'skin';
  const { topology: t, mesh: file } = toPrintable(mesh);
  const faults: string[] = [];
  if (engraved > faces) faults.push(`${piece.key}: ${engraved} labels on ${faces} faces`);
  if (!topology(mesh).watertight || !t.watertight) faults.push(`${piece.key}: open once its code is engraved`);
  else if (judge(file).status !== 'NoError') faults.push(`${piece.key}: the kernel does not take it with its code`);
  else if (passingWithin(file, isMade) > 0 && passingWithin(toPrintable(pieceMesh(piece).mesh).mesh, isMade) === 0)
    faults.push(`${piece.key}: its code passes through it`);
  if (!(volume(mesh) < piece.volume)) faults.push(`${piece.key}: no smaller with its code`);
  return faults;
}

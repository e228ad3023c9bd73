// Random plans with everything that a plan can hold, on the bodies, seams and joints of `random-plans.ts`.
import type { PlanInput, SeamInput, StepInput } from '../src/document/index.ts';
import { poleOf } from '../src/joints/index.ts';
import type { IndexedMesh } from '../src/mesh/index.ts';
import {
  direction,
  evaluated,
  type Next,
  pick,
  place,
  point,
  type RandomCase,
  randomCase,
  some,
  whole,
} from './random-plans.ts';

/** What is done along the rim of a seam's faces, now and then. */
const trims = (next: Next): object => ({
  ...(next() < 0.1 && {
    edge: {
      width: pick(next, [0.4, 1.5, 4]),
      depth: pick(next, [0.4, 1.5, 4]),
      all: next() < 0.5,
      clear: next() < 0.3,
    },
  }),
  ...(next() < 0.1 && {
    channel: { inset: pick(next, [1, 3, 8]), width: pick(next, [0.6, 2]), depth: pick(next, [0.4, 1.5]) },
  }),
  ...(next() < 0.1 && { relief: pick(next, [0.3, 1]) }),
  ...(next() < 0.1 && { backing: { width: pick(next, [6, 20]), thickness: pick(next, [1, 2]), gap: 0.2 } }),
});

/** Places of a bent seam that are worked flat: near its sheet, or not. */
const flats = (next: Next): object => ({
  flats: Array.from({ length: whole(next, 1, 3) }, (_, n) => ({
    n,
    at: [place(next, 50), place(next, 50), (next() * 2 - 1) * 12],
    normal: [next() - 0.5, next() - 0.5, 1],
    diameter: pick(next, [6, 10, 18]),
  })),
});

const trimmed = (next: Next, seam: SeamInput): SeamInput =>
  ({
    ...seam,
    ...trims(next),
    ...((seam.kind === 'ring' || seam.kind === 'profile') && next() < 0.4 && flats(next)),
  }) as SeamInput;

/** A joint of any kind and size at a place. */
function jointOf(next: Next, i: number, at: object): object {
  const common = {
    id: `x${i + 1}`,
    ...at,
    turn: next() * 6,
    male: pick(next, ['+', '-']),
    ...(next() < 0.2 && { lean: direction(next) }),
  };
  const upright = { ...common, lean: undefined };
  const d = pick(next, [3, 5, 8, 12]);
  return pick(next, [
    { ...common, kind: 'pin', shape: pick(next, ['round', 'hexagon', 'square']), diameter: d, depth: d },
    { ...common, kind: 'key', width: d, height: d * 0.8, depth: d, corner: 0.5 },
    { ...common, kind: 'key', width: 3 * d, height: d / 2, depth: d, corner: 0.3, chamfer: 0.3 },
    { ...common, kind: 'cone', diameter: d },
    { ...common, kind: 'dowel', diameter: d, depth: 2 * d },
    { ...common, kind: 'snap', diameter: Math.max(5, d), depth: 14, barb: 0.5 },
    { ...common, kind: 'magnet', diameter: d, thickness: 2 },
    { ...common, kind: 'magnet', shape: 'block', diameter: d, height: 2 * d, thickness: 3 },
    { ...upright, kind: 'lap', lip: 1.2, depth: 3 },
    {
      ...common,
      kind: 'screw',
      size: pick(next, ['M2', 'M3', 'M5']),
      into: pick(next, ['insert', 'nut', 'plastic']),
      grip: 2 + d,
    },
    { ...upright, kind: 'ball', diameter: 5 + d, neck: 2 + d / 2, swing: pick(next, [0.1, 0.35]) },
    {
      ...upright,
      kind: 'hinge',
      diameter: 3 + d,
      length: 10 + 4 * d,
      pin: 1 + d / 4,
      knuckles: whole(next, 2, 5),
      opens: pick(next, [0.5, 1.5, 2.4]),
    },
  ]);
}

/** A plan with joints on faces that are really there: near their middle, at their edge, and beside each other. */
function withJointsOnFaces(next: Next, plan: PlanInput, meshes: readonly IndexedMesh[]): PlanInput {
  const { e } = evaluated({ plan, meshes });
  const faces = e.faces.filter((f) => f.alternate === undefined && f.area > 30);
  if (faces.length === 0) return plan;
  const joints = some(next, 10, (i) => {
    const face = pick(next, faces);
    const { u, v, distance } = poleOf(face.region);
    const off = (): number => (next() * 2 - 1) * distance * pick(next, [0.3, 1, 2]);
    return jointOf(next, i, {
      seam: face.seam,
      ...(face.part !== undefined && { part: face.part }),
      at: e.context.places.get(face.plane)!.toSource([u + off(), v + off()]),
    });
  });
  return { ...plan, contacts: [...e.contacts], joints: joints as PlanInput['joints'] };
}

/** Steps that take something out of bodies. */
const carving = (next: Next): StepInput =>
  pick(next, [
    {
      kind: 'bore',
      points: [point(next, 60), ...(next() < 0.5 ? [point(next, 30)] : []), point(next, 60)],
      diameter: pick(next, [3, 8]),
      blind: next() < 0.3,
      ...(next() < 0.3 && { sink: { diameter: 14, depth: 4 } }),
      ...(next() < 0.2 && { slot: { width: 12, turn: next() * 3 } }),
    },
    {
      kind: 'hollow',
      thickness: pick(next, [2, 5]),
      cell: 4,
      ...(next() < 0.4 && { taper: { along: direction(next), thickness: 9 } }),
      ...(next() < 0.3 && { places: [{ at: point(next, 40), radius: 20, thickness: 8 }] }),
    },
    { kind: 'inlay', at: point(next, 40), depth: 2 },
  ] as StepInput[]);

/** The upper part of a mesh in another colour. */
function painted(mesh: IndexedMesh): IndexedMesh {
  const { positions: p, triangles: t } = mesh;
  const middle = p.reduce((sum, x, i) => (i % 3 === 2 ? sum + x : sum), 0) / (p.length / 3);
  return {
    ...mesh,
    tags: Uint32Array.from({ length: t.length / 3 }, (_, i) => (p[3 * t[3 * i] + 2] > middle ? 1 : 0)),
  };
}

/**
 * A case of `randomCase` with grooves, channels, relief and strips along its seams, flats on bent ones, bores, hollows and inlays,
 * zones, alternates, and joints of all kinds on the faces that it has. One that a step refuses is given as it is.
 */
export function richCase(next: Next): RandomCase {
  const bare = randomCase(next);
  const meshes = bare.meshes.map((m) => (next() < 0.3 ? painted(m) : m));
  const plan: PlanInput = {
    ...bare.plan,
    seams: bare.plan.seams?.map((s) => trimmed(next, s)),
    recipe: [...(bare.plan.recipe ?? []), ...(next() < 0.3 ? [carving(next)] : [])],
    ...(next() < 0.2 && { zones: [{ id: 'z1', kind: 'sphere', at: point(next, 40), radius: pick(next, [5, 30]) }] }),
    ...(meshes.length > 1 && next() < 0.2 && { alternates: [{ id: 'a1', bodies: ['b1', 'b2'] }] }),
  };
  if (next() < 0.3) return { meshes, plan };
  try {
    return { meshes, plan: withJointsOnFaces(next, { ...plan, joints: [] }, meshes) };
  } catch {
    return { meshes, plan };
  }
}

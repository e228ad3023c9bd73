import { type Body, pairEdges } from '../../body/index.ts';
import { crossings } from '../../crossing/index.ts';
import type { StepOf } from '../../document/index.ts';
import { GephyraError } from '../../errors.ts';
import {
  type Affine,
  boxOf,
  buildBlocks,
  buildTree,
  concatenate,
  type IndexedMesh,
  mapPoint,
  mapVector,
  nearest,
  noPlace,
  normalize,
  pointAlong,
  rayHits,
  sizeOf,
  turnedOver,
  type Vec3,
  vecOf,
} from '../../mesh/index.ts';
import { dropDuplicates, dropFlat, orientConsistently } from '../../repair/index.ts';
import { flatFaceAt, hollowSpace, sided, type Thickness, varying, wallOf } from '../../skin/index.ts';
import { differenceOf, lightened, rod } from '../../solid/index.ts';
import { requireClosed } from './closed.ts';
import type { Bench, HeavyStep } from './step.ts';

export const wall: HeavyStep<StepOf<'wall'>> = {
  work: (step, { each, state }) => {
    return each('Making the wall', (body, inner) => {
      // a triangle without area has no side
      const skin = orientConsistently(dropFlat(dropDuplicates(body.mesh).mesh, step.thickness * 1e-6).mesh).mesh;
      const made = wallOf(skin, thicknessOf(step, skin, state.map), step.side, step.cell, inner);
      const mesh = tidied(withTag(made.mesh, body.mesh.tags[0]), made.cell);
      return { mesh, notes: [sampled(body, made.cell)] };
    });
  },
};

export const hollow: HeavyStep<StepOf<'hollow'>> = {
  work(step, bench) {
    requireClosed(bench.chosen, 'hollowed');
    return bench.each('Hollowing', (body, inner) => hollowed(step, body, bench, inner));
  },
};

type Walled = StepOf<'wall'> | StepOf<'hollow'>;

/** How thick the wall of a step is to be on a body; the model as it is shaped by `map`. */
function thicknessOf({ thickness, taper, places }: Walled, { positions: p }: IndexedMesh, map: Affine): Thickness {
  const marked = places.map((m) => ({ ...m, at: mapPoint(map, m.at) }));
  if (!taper) return varying(thickness, null, marked);
  const along = normalize(mapVector(map, taper.along));
  let [from, to] = [Infinity, -Infinity];
  for (let i = 0; i < p.length; i += 3) {
    const d = p[i] * along[0] + p[i + 1] * along[1] + p[i + 2] * along[2];
    if (d < from) from = d;
    if (d > to) to = d;
  }
  return varying(thickness, { along, from, to, thickness: taper.thickness }, marked);
}

const sampled = (body: Body, cell: number): string =>
  `${body.name}: sampled with cells of ${Number(cell.toFixed(3))} mm; flat and gently curved places, sharp edges and rims are exact to about ${Number((cell * 0.1).toFixed(3))} mm.`;

const withTag = (mesh: IndexedMesh, tag: number): IndexedMesh => ({ ...mesh, tags: mesh.tags.fill(tag) });

/** Flat places of a sampled surface are made light to within these, in cells, the first that does. */
const LIGHT = [0.02, 0.04];

/**
 * Flat places of a sampled surface need few triangles; and where cells touch along an edge the surface is taken apart. Edges that
 * meet near the border of a cell may be folded through their neighbours, and so may what was made light: such places are eased.
 */
export function tidied(mesh: IndexedMesh, cell: number): IndexedMesh {
  const whole = pairEdges(mesh).mesh;
  for (const error of LIGHT) {
    const made = unfoldedNear(lightened(whole, cell * error), cell);
    if (made) return made;
  }
  return unfoldedNear(whole, cell) ?? whole;
}

/** Vertices of folds are moved so far at a time, and so many times at most; in cells. */
const EASE = 0.05;
const EASED = 40;
/** Neighbours of a fold that may get folded as it is eased, in rings of triangles. */
const RINGS = 3;

/** A mesh whose triangles that go through each other are eased until none does; null when that does not help. */
function unfoldedNear(mesh: IndexedMesh, cell: number): IndexedMesh | null {
  const found = selfCrossings(mesh);
  if (found.length === 0) return mesh;
  const near = new Uint8Array(mesh.positions.length / 3);
  const { triangles: t } = mesh;
  for (const i of found) for (let c = 0; c < 3; c++) near[t[i * 3 + c]] = 1;
  let patch: number[] = [];
  for (let ring = 0; ring < RINGS; ring++) {
    patch = [...mesh.tags.keys()].filter((i) => near[t[i * 3]] || near[t[i * 3 + 1]] || near[t[i * 3 + 2]]);
    for (const i of patch) for (let c = 0; c < 3; c++) near[t[i * 3 + c]] = 1;
  }
  const positions = mesh.positions.slice();
  const part = {
    positions,
    triangles: Uint32Array.from(patch.flatMap((i) => [t[i * 3], t[i * 3 + 1], t[i * 3 + 2]])),
    tags: new Uint32Array(patch.length),
  };
  for (let round = 0; round < EASED; round++) {
    const folded = selfCrossings(part);
    if (folded.length === 0) {
      const made = { ...mesh, positions };
      return selfCrossings(made).length === 0 ? made : null;
    }
    ease(part, folded, cell * EASE);
  }
  return null;
}

function selfCrossings(mesh: IndexedMesh): Uint32Array {
  const tree = buildTree(mesh);
  return crossings(tree, tree, 1000, 1000).triangles;
}

/** Moves the vertices of some triangles a little towards the middle of their neighbours, in place. */
function ease({ positions: p, triangles: t }: IndexedMesh, folded: Uint32Array, most: number): void {
  const around = new Map<number, Set<number>>();
  for (const i of folded) for (let c = 0; c < 3; c++) around.set(t[i * 3 + c], new Set());
  for (let h = 0; h < t.length; h++) {
    const [next, last] = h % 3 === 2 ? [h - 2, h - 1] : h % 3 === 1 ? [h + 1, h - 1] : [h + 1, h + 2];
    around.get(t[h])?.add(t[next]).add(t[last]);
  }
  const moves = [...around].map(([v, list]) => {
    const way = vecOf((a) => [...list].reduce((sum, w) => sum + p[w * 3 + a], 0) / list.size - p[v * 3 + a]);
    const length = Math.hypot(...way);
    return { v, way, share: length > 0 ? Math.min(0.25, most / length) : 0 };
  });
  for (const { v, way, share } of moves) for (let a = 0; a < 3; a++) p[v * 3 + a] += way[a] * share;
}

function hollowed(
  step: StepOf<'hollow'>,
  body: Body,
  { state, tools }: Bench,
  progress: (share: number) => void,
): { mesh: IndexedMesh; notes: string[] } {
  const box = boxOf(body.mesh.positions);
  const reach = Math.hypot(...sizeOf(box)) * 0.02;
  const onBody = (at: Vec3): boolean =>
    [0, 1, 2].every((a) => at[a] > box.min[a] - reach && at[a] < box.max[a] + reach);
  const faces = step.open.map((at) => mapPoint(state.map, at)).filter(onBody);
  const open = [...new Set(faces.flatMap((at) => flatFaceAt(body.mesh, at)))];
  const thickness = thicknessOf(step, body.mesh, state.map);
  const { cavity, cell } = hollowSpace(body.mesh, thickness, open, step.cell, (s) => progress(s * 0.8));
  const space = tidied(withTag(cavity, body.mesh.tags[0]), cell);
  const notes = [sampled(body, cell)];
  const drains = step.drains
    .map((d) => ({ at: mapPoint(state.map, d.at), diameter: d.diameter }))
    .filter((d) => onBody(d.at));
  if (open.length === 0 && drains.length === 0) return { mesh: concatenate([body.mesh, turnedOver(space)]), notes };
  const rods = drains.map((d) => {
    const made = drainRod(body.mesh, space, d.at, d.diameter, thickness.most);
    if (!made)
      throw new GephyraError(
        'skin.drain',
        'A drain hole does not reach the hollow from where it is. Pick another place.',
      );
    return made;
  });
  progress(0.9);
  return { mesh: differenceOf(tools.kernel, body.mesh, [space, ...rods]), notes };
}

/** A rod from outside the skin, square to it, into the hollow; null when the hollow is not met. */
function drainRod(
  mesh: IndexedMesh,
  space: IndexedMesh,
  at: Vec3,
  diameter: number,
  thickness: number,
): IndexedMesh | null {
  const tree = buildTree(mesh);
  const place = noPlace();
  nearest(tree, at[0], at[1], at[2], Infinity, place);
  const { faceNormals } = sided(mesh);
  const n = vecOf((a) => faceNormals[place.triangle * 3 + a]);
  const hits = rayHits(buildBlocks(space), [place.x, place.y, place.z], [-n[0], -n[1], -n[2]]);
  if (hits.length === 0) return null;
  const depth = Math.min(...hits) + thickness * 0.5 + diameter * 0.25;
  const surface: Vec3 = [place.x, place.y, place.z];
  return rod(pointAlong(surface, n, diameter + thickness), pointAlong(surface, n, -depth), diameter);
}

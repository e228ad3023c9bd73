import type { StepOf } from '../../document/index.ts';
import { GephyraError } from '../../errors.ts';
import {
  boxOf,
  buildBlocks,
  buildTree,
  concatenate,
  type IndexedMesh,
  mapPoint,
  nearest,
  noPlace,
  pointAlong,
  rayHits,
  sizeOf,
  turnedOver,
  type Vec3,
  vecOf,
} from '../../mesh/index.ts';
import { type Body, crossings, dropDuplicates, dropFlat, orientConsistently, pairEdges } from '../../repair/index.ts';
import { flatFaceAt, hollowSpace, sided, wallOf } from '../../skin/index.ts';
import { differenceOf, lightened, rod } from '../../solid/index.ts';
import { requireClosed } from './closed.ts';
import type { Bench, HeavyStep } from './step.ts';
import { lengthText } from './words.ts';

export const wall: HeavyStep<StepOf<'wall'>> = {
  title: (step) => `Wall of ${lengthText(step.thickness)} ${step.side}`,
  work: (step, { each }) => {
    return each('Making the wall', (body, inner) => {
      // a triangle without area has no side
      const skin = orientConsistently(dropFlat(dropDuplicates(body.mesh).mesh, step.thickness * 1e-6).mesh).mesh;
      const made = wallOf(skin, step.thickness, step.side, step.cell, inner);
      const mesh = tidied(withTag(made.mesh, body.mesh.tags[0]), made.cell);
      return { mesh, notes: [sampled(body, made.cell)] };
    });
  },
};

export const hollow: HeavyStep<StepOf<'hollow'>> = {
  title: (step) => `Hollow, wall ${lengthText(step.thickness)}`,
  work(step, bench) {
    requireClosed(bench.chosen, 'hollowed');
    return bench.each('Hollowing', (body, inner) => hollowed(step, body, bench, inner));
  },
};

const sampled = (body: Body, cell: number): string =>
  `${body.name}: sampled with cells of ${Number(cell.toFixed(3))} mm; flat and gently curved places are exact to about ${Number((cell * 0.05).toFixed(3))} mm, sharp edges are rounded by up to ${Number((cell * 0.6).toFixed(2))} mm.`;

const withTag = (mesh: IndexedMesh, tag: number): IndexedMesh => ({ ...mesh, tags: mesh.tags.fill(tag) });

/**
 * Flat places of a sampled surface need few triangles; and where cells touch along an edge the surface is taken apart. Taking
 * triangles away may fold it through itself, so less is taken then.
 */
function tidied(mesh: IndexedMesh, cell: number): IndexedMesh {
  const whole = pairEdges(mesh).mesh;
  for (const error of [0.04, 0.034, 0.028, 0.02]) {
    const light = lightened(whole, cell * error);
    const tree = buildTree(light);
    if (crossings(tree, tree, 1, 1).pairs === 0) return light;
  }
  return whole;
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
  const { cavity, cell } = hollowSpace(body.mesh, step.thickness, open, step.cell, (s) => progress(s * 0.8));
  const space = tidied(withTag(cavity, body.mesh.tags[0]), cell);
  const notes = [sampled(body, cell)];
  const drains = step.drains
    .map((d) => ({ at: mapPoint(state.map, d.at), diameter: d.diameter }))
    .filter((d) => onBody(d.at));
  if (open.length === 0 && drains.length === 0) return { mesh: concatenate([body.mesh, turnedOver(space)]), notes };
  const rods = drains.map((d) => {
    const made = drainRod(body.mesh, space, d.at, d.diameter, step.thickness);
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

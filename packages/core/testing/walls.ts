import { expect } from 'vitest';
import { bodiesOf } from '../src/body/index.ts';
import { parsePlan, type StepInput } from '../src/document/index.ts';
import {
  buildBlocks,
  buildTree,
  distanceTo,
  halfEdges,
  type IndexedMesh,
  normalize,
  OPEN,
  rayHits,
  triangleCross,
  type Vec3,
  vecOf,
  vertexAt,
} from '../src/mesh/index.ts';
import { applyRecipe, modelOf } from '../src/recipe/index.ts';
import { judge, kernel } from './judges.ts';
import { modelOfMeshes } from './models.ts';

type Segment = readonly [Vec3, Vec3];

/** The open edges of a skin. */
function bordersOf(mesh: IndexedMesh): Segment[] {
  const { twin } = halfEdges(mesh);
  const at = (h: number): Vec3 => vertexAt(mesh.positions, mesh.triangles[h]);
  return [...twin.keys()].filter((h) => twin[h] === OPEN).map((h) => [at(h), at(h % 3 === 2 ? h - 2 : h + 1)]);
}

/** Distance of a place to some segments, mm. */
const toSegments = (p: Vec3, list: readonly Segment[]): number =>
  Math.min(
    ...list.map(([a, b]) => {
      const d = vecOf((k) => b[k] - a[k]);
      const along = d.reduce((s, x, k) => s + x * (p[k] - a[k]), 0) / (d[0] ** 2 + d[1] ** 2 + d[2] ** 2);
      const t = Math.min(1, Math.max(0, along));
      return Math.hypot(...vecOf((k) => p[k] - a[k] - d[k] * t));
    }),
  );

/**
 * How thick a wall is at places spread over its skin, square to it: from where a ray that comes from outside goes in to where it comes
 * out for the last time within four walls. Places at which `leaves` holds are left out.
 */
function thicknesses(
  skin: IndexedMesh,
  wall: IndexedMesh,
  thickness: number,
  count: number,
  leaves: (at: Vec3) => boolean,
): { at: Vec3; thick: number }[] {
  const blocks = buildBlocks(wall);
  const out: { at: Vec3; thick: number }[] = [];
  // places of equal spread, by the fractions of multiples of irrational numbers
  for (let n = 0; n < count; n++) {
    const i = Math.floor(((n * 0.6180339887) % 1) * skin.tags.length);
    let [a, b] = [(n * 0.7548776662) % 1, (n * 0.569840291) % 1];
    if (a + b > 1) [a, b] = [1 - a, 1 - b];
    const [p, q, r] = [0, 1, 2].map((k) => vertexAt(skin.positions, skin.triangles[i * 3 + k]));
    const at = vecOf((k) => p[k] + a * (q[k] - p[k]) + b * (r[k] - p[k]));
    if (leaves(at)) continue;
    const normal = normalize(triangleCross(skin.positions, skin.triangles, i));
    const from = vecOf((k) => at[k] - 2 * thickness * normal[k]);
    const hits = rayHits(blocks, from, normal)
      .filter((t) => t < 4 * thickness)
      .sort((x, y) => x - y);
    out.push({ at, thick: hits.length < 2 ? 0 : hits[hits.length - 1] - hits[0] });
  }
  return out;
}

/** A skin once a wall of the recipe has been given to it. */
function walled(skin: IndexedMesh, wall: Omit<StepInput & { kind: 'wall' }, 'kind'>): IndexedMesh {
  const { recipe } = parsePlan({
    version: 5,
    printer: { size: [220, 220, 250] },
    recipe: [{ kind: 'wall', ...wall }],
  });
  const { bodies } = applyRecipe(recipe, modelOf(bodiesOf(modelOfMeshes([skin]), 'Skin')), { tools: { kernel } });
  return bodies[0].mesh;
}

/** The farthest that the border of a skin lies from its wall, at its corners and between them, mm. */
function rimOff(skin: IndexedMesh, wall: IndexedMesh): number {
  const tree = buildTree(wall);
  return Math.max(
    ...bordersOf(skin).flatMap(([a, b]) =>
      [0, 0.5].map((t) =>
        distanceTo(
          tree,
          vecOf((k) => a[k] + t * (b[k] - a[k])),
        ),
      ),
    ),
  );
}

/**
 * A wall as it should be: closed, as thick as asked within 5 % at 99 of 100 places that lie off its rims and edges, and its rim
 * within 0.1 mm of the skin's own border.
 */
export function soundWall(
  skin: IndexedMesh,
  thickness: number,
  side: 'inward' | 'outward' | 'both',
  isEdge: (at: Vec3) => boolean = () => false,
): IndexedMesh {
  const wall = walled(skin, { thickness, side });
  expect(judge(wall)).toMatchObject({ status: 'NoError', closed: true });
  const border = bordersOf(skin);
  const found = thicknesses(skin, wall, thickness, 600, (at) => isEdge(at) || toSegments(at, border) < 2 * thickness);
  expect(found.length).toBeGreaterThan(100);
  const off = found.filter(({ thick }) => Math.abs(thick / thickness - 1) > 0.05);
  expect(off.length).toBeLessThanOrEqual(found.length / 100);
  expect(rimOff(skin, wall)).toBeLessThan(0.1);
  return wall;
}

/** That a wall which is not as thick everywhere is closed, and as thick as `wanted` says, within 5 % at 99 of 100 places off its rims. */
export function soundUneven(
  skin: IndexedMesh,
  step: Omit<StepInput & { kind: 'wall' }, 'kind'>,
  most: number,
  wanted: (at: Vec3) => number,
): void {
  const wall = walled(skin, step);
  expect(judge(wall)).toMatchObject({ status: 'NoError', closed: true });
  const border = bordersOf(skin);
  const found = thicknesses(skin, wall, most, 800, (at) => toSegments(at, border) < 2 * most);
  expect(found.length).toBeGreaterThan(100);
  const off = found.filter(({ at, thick }) => Math.abs(thick / wanted(at) - 1) > 0.05);
  expect(off.length).toBeLessThanOrEqual(found.length / 100);
  const thicks = found.map((f) => f.thick);
  expect(Math.max(...thicks) - Math.min(...thicks)).toBeGreaterThan(1);
}

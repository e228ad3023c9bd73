import { GephyraError } from '../errors.ts';
import { type Box, boxOf, concatenate, type IndexedMesh, topology } from '../mesh/index.ts';
import type { Kernel } from './kernel.ts';
import { agrees, fromKernel, refusal, type Solid, type Tagged, toTagged } from './tagged.ts';

/** Solids to take off a body, or to add to it. */
export interface Reshaping {
  readonly does: 'take' | 'add';
  readonly meshes: readonly IndexedMesh[];
}

/** What lies farther from the body than this need not be taken off, mm; facets are no longer than a share of the body. */
const BESIDE = 1;
const PARTS = 8;

type Triple = [number, number, number];

/**
 * A body with solids taken off and added, one step after the other, by the kernel. Triangles keep their tags; those that the
 * solids leave get `tag`. Float32 in and out. The body itself stays as it is. `size` is the longest side of what the body is a part of, mm.
 *
 * Throws GephyraError `solid.refused` when the kernel takes one of them for no solid, or when volumes do not agree.
 */
export function reshape(
  kernel: Kernel,
  body: Tagged,
  steps: readonly Reshaping[],
  tag: number,
  size = longestSide(body.solid),
): IndexedMesh {
  const held: Solid[] = [];
  const sound = (s: Solid): Solid => {
    const status = String(s.status());
    if (status !== 'NoError') throw refusal(status);
    return s;
  };
  const keep = (s: Solid): Solid => {
    held.push(s);
    return sound(s);
  };
  const tags = new Map(body.tags);
  try {
    let made = sound(body.solid);
    for (const { does, meshes } of steps) {
      const tools = apart(meshes).map((m) => {
        const tool = toTagged(kernel, { ...m, tags: m.tags.map(() => tag) });
        for (const [id, of] of tool.tags) tags.set(id, of);
        return keep(tool.solid);
      });
      const tool = tools.length === 1 ? tools[0] : keep(kernel.Manifold.union(tools));
      const before = made.volume();
      made = keep(does === 'take' ? made.subtract(fitted(kernel, tool, made, size / PARTS, keep)) : made.add(tool));
      // what of it lies in the body is not asked for: that much or less is taken off, or is there already
      const [least, most] =
        does === 'take' ? [Math.max(0, before - tool.volume()), before] : [before, before + tool.volume()];
      const within = Math.min(most, Math.max(least, made.volume()));
      if (!agrees(made.volume(), within, most)) throw unclean(within, made.volume());
    }
    const out = fromKernel(made, tags);
    if (out.tags.length > 0 && !topology(out).watertight) throw refusal('NotClosed');
    return out;
  } finally {
    for (const solid of held) solid.delete();
  }
}

/** Meshes as one where their boxes are apart: the kernel has less to do with one of several parts. */
function apart(meshes: readonly IndexedMesh[]): readonly IndexedMesh[] {
  const boxes = meshes.map((m) => boxOf(m.positions));
  const meet = (a: Box, b: Box): boolean => a.min.every((x, k) => x <= b.max[k] && b.min[k] <= a.max[k]);
  return boxes.some((a, i) => boxes.slice(0, i).some((b) => meet(a, b))) ? meshes : [concatenate(meshes)];
}

const unclean = (wanted: number, found: number): GephyraError =>
  new GephyraError(
    'solid.refused',
    `The solid kernel cannot work cleanly here: of ${(wanted / 1000).toPrecision(6)} cm³ it leaves ${(found / 1000).toPrecision(6)}. Move the joint a little.`,
  );

/**
 * A tool in facets that are short beside the body: of long ones the kernel would compare each with most of it. What of it lies far
 * out is left off first.
 */
function fitted(kernel: Kernel, tool: Solid, body: Solid, part: number, keep: (s: Solid) => Solid): Solid {
  if (longest(tool) <= part) return tool;
  const { min, max } = body.boundingBox();
  const size = max.map((x, k) => x - min[k]);
  const of = tool.boundingBox();
  let near = tool;
  if (min.some((x, k) => of.min[k] < x - part || of.max[k] > max[k] + part)) {
    const box = keep(kernel.Manifold.cube(size.map((x) => x + 2 * BESIDE) as Triple));
    near = keep(tool.intersect(keep(box.translate(min.map((x) => x - BESIDE) as Triple))));
  }
  return longest(near) > part ? keep(near.refineToLength(part)) : near;
}

const longestSide = (solid: Solid): number => {
  const { min, max } = solid.boundingBox();
  return Math.max(...max.map((x, k) => x - min[k]));
};

/** The longest edge of a solid, mm. */
function longest(solid: Solid): number {
  const { triVerts: t, vertProperties: p, numProp } = solid.getMesh();
  let most = 0;
  for (let i = 0; i < t.length; i++) {
    const [a, b] = [t[i] * numProp, t[i % 3 === 2 ? i - 2 : i + 1] * numProp];
    most = Math.max(most, Math.hypot(p[a] - p[b], p[a + 1] - p[b + 1], p[a + 2] - p[b + 2]));
  }
  return most;
}

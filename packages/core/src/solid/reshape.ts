import { GephyraError } from '../errors.ts';
import { type IndexedMesh, topology } from '../mesh/index.ts';
import type { Kernel } from './kernel.ts';
import { agrees, fromKernel, refusal, type Solid, toTagged } from './tagged.ts';

/** Solids to take off a body, or to add to it. */
export interface Reshaping {
  readonly does: 'take' | 'add';
  readonly meshes: readonly IndexedMesh[];
}

/** What lies farther from the body than this need not be taken off, mm; facets are no longer than a share of the body. */
const BESIDE = 1;
const PARTS = 5;

type Triple = [number, number, number];

/**
 * A closed mesh with solids taken off and added, one step after the other, by the kernel. Triangles keep their tags; those that the
 * solids leave get `tag`. Float32 in and out.
 *
 * Throws GephyraError `solid.refused` when the kernel takes one of them for no solid, or when volumes do not agree.
 */
export function reshape(kernel: Kernel, mesh: IndexedMesh, steps: readonly Reshaping[], tag: number): IndexedMesh {
  const body = toTagged(kernel, mesh);
  const held: Solid[] = [];
  const keep = (s: Solid): Solid => {
    held.push(s);
    const status = String(s.status());
    if (status !== 'NoError') throw refusal(status);
    return s;
  };
  const tags = new Map(body.tags);
  try {
    let made = keep(body.solid);
    for (const { does, meshes } of steps) {
      const tools = meshes.map((m) => {
        const tool = toTagged(kernel, { ...m, tags: m.tags.map(() => tag) });
        for (const [id, of] of tool.tags) tags.set(id, of);
        return keep(tool.solid);
      });
      const tool = tools.length === 1 ? tools[0] : keep(kernel.Manifold.union(tools));
      const before = made.volume();
      if (does === 'take') {
        const [inside, outside] = made.split(keep(fitted(kernel, tool, made, keep))).map(keep);
        const left = before - inside.volume();
        if (!agrees(outside.volume(), left, before)) throw unclean(left, outside.volume());
        made = outside;
      } else {
        made = keep(made.add(tool));
        const most = before + tool.volume();
        // what of it is in the body already is not asked for: it is no less than the body, and no more than both
        const within = Math.min(most, Math.max(before, made.volume()));
        if (!agrees(made.volume(), within, most)) throw unclean(within, made.volume());
      }
    }
    const out = fromKernel(made, tags);
    if (out.tags.length > 0 && !topology(out).watertight) throw refusal('NotClosed');
    return out;
  } finally {
    for (const solid of held) solid.delete();
  }
}

const unclean = (wanted: number, found: number): GephyraError =>
  new GephyraError(
    'solid.refused',
    `The solid kernel cannot work cleanly here: of ${(wanted / 1000).toPrecision(6)} cm³ it leaves ${(found / 1000).toPrecision(6)}. Move the joint a little.`,
  );

/**
 * What of a tool lies near a body, in facets that are short beside it: of long ones the kernel would compare each with most of the body.
 */
function fitted(kernel: Kernel, tool: Solid, body: Solid, keep: (s: Solid) => Solid): Solid {
  const { min, max } = body.boundingBox();
  const size = max.map((x, k) => x - min[k]);
  const box = keep(kernel.Manifold.cube(size.map((x) => x + 2 * BESIDE) as Triple));
  const near = keep(tool.intersect(keep(box.translate(min.map((x) => x - BESIDE) as Triple))));
  return near.refineToLength(Math.max(...size) / PARTS);
}

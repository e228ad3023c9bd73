import type { Ring, Stock } from '../joints/index.ts';
import { type Joint, kindOf } from '../joints/kinds/index.ts';
import { dot, type IndexedMesh, ringMesh } from '../mesh/index.ts';
import type { MatingFace } from '../seams/index.ts';
import type { PlacedJoint } from './model.ts';

/** Parts that are equal, apart from the pieces: rods to print or to cut, magnets and screws to buy, what runs through bores, strips that back a seam. Lengths in mm. */
export interface LoosePart {
  readonly kind: 'dowel' | 'magnet' | 'screw' | 'stock' | 'strip';
  /** what it is, in a few words: "printed rod with a flat 8" */
  readonly what: string;
  readonly stock: Stock | null;
  readonly diameter: number;
  /** of a rod */
  readonly length: number | null;
  readonly joints: readonly string[];
  /** of a strip: what it backs */
  readonly seam?: string;
  readonly face?: string;
  /** how many are wanted */
  readonly count: number;
  /** a printed one, as it lies on the bed: flat side down, lengthwise along x */
  readonly mesh: IndexedMesh | null;
}

/** The loose parts of all joints that are built, equal ones together. */
export function looseParts(
  joints: readonly Joint[],
  placed: readonly PlacedJoint[],
  faces: readonly MatingFace[],
): LoosePart[] {
  const groups = new Map<string, LoosePart>();
  const byId = new Map(joints.map((j) => [j.id, j]));
  for (const p of placed) {
    const joint = byId.get(p.id);
    if (!p.built || !joint) continue;
    const need = partOf(joint, p, faces.find((f) => f.id === p.face)!);
    if (!need) continue;
    // of what either side has its own, every alternate needs one
    const part = { ...need, count: need.count + (need.count > 1 ? p.alternates.length : 0) };
    const key = JSON.stringify([part.kind, part.what, part.diameter, part.length?.toFixed(2)]);
    const known = groups.get(key);
    groups.set(
      key,
      known
        ? { ...known, joints: [...known.joints, p.id], count: known.count + part.count }
        : { ...part, joints: [p.id] },
    );
  }
  return [...groups.values()].sort((a, b) =>
    a.what < b.what ? -1 : a.what > b.what ? 1 : (a.length ?? 0) - (b.length ?? 0),
  );
}

function partOf(joint: Joint, placed: PlacedJoint, face: MatingFace): Omit<LoosePart, 'joints'> | null {
  // a leaning one is longer than it is deep
  const rise = 1 / Math.abs(dot(placed.axis, face.frame.normal));
  const need = kindOf(joint).loose(joint, rise, placed.gap);
  if (!need) return null;
  const { kind, what, stock, diameter, count, rod, printed } = need;
  return {
    kind,
    what,
    stock,
    diameter,
    length: rod && Number((rod[rod.length - 1].height - rod[0].height).toFixed(2)),
    count,
    mesh: rod && printed ? lying(rod) : null,
  };
}

/** A joint's printed rod as it lies on the bed, with a gap that may be taken off it, mm; null when it has none. */
export function looseRod(joint: Joint, gap: number): IndexedMesh | null {
  const need = kindOf(joint).loose(joint, 1, gap);
  return need?.rod && need.printed ? lying(need.rod) : null;
}

/** A rod lying along x, its flat on z = 0. */
function lying(rings: readonly Ring[]): IndexedMesh {
  let low = Infinity;
  for (const { loop } of rings) for (let i = 1; i < loop.length; i += 2) low = Math.min(low, loop[i]);
  const start = rings[0].height;
  return ringMesh(
    rings.map(({ loop, height }) =>
      Array.from({ length: loop.length / 2 }, (_, i) => [height - start, loop[i * 2], loop[i * 2 + 1] - low]),
    ),
  );
}

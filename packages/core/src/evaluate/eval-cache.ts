import { type CapRegion, type Solid, volumeFrom } from '../cut/index.ts';
import { type BuiltCap, faultyEdges, type Half, partDiagonals, sameHalves } from '../joints/index.ts';
import { MatingCache } from '../mating/index.ts';
import type { Vec3 } from '../mesh/index.ts';

/**
 * What evaluation keeps from one run to the next: what its passes keep, and caps as they are built, seals and volumes, which
 * hang on the objects that they belong to, and go with them. Results never depend on it.
 */
export class EvalCache extends MatingCache {
  private readonly caps = new WeakMap<CapRegion, { halves: readonly Half[]; built: BuiltCap }>();
  private readonly volumes = new WeakMap<object, number>();
  private readonly seals = new WeakMap<
    Solid,
    { built: readonly BuiltCap[]; caps: readonly BuiltCap[]; faulty: number }
  >();

  /** The cap as it was built last when the halves in it are the same, so that unchanged caps stay the same object. */
  builtCap(cap: CapRegion, halves: readonly Half[], make: () => BuiltCap): BuiltCap {
    const known = this.caps.get(cap);
    if (known && sameHalves(known.halves, halves)) return known.built;
    const built = make();
    this.caps.set(cap, { halves, built });
    return built;
  }

  /** What a solid's skin adds to its volume, mm³. */
  skinVolume(solid: Solid): number {
    return this.volume(solid, () => volumeFrom(solid.positions, solid.triangles, pivotOf(solid)));
  }

  /** What a cap with its joints adds to the volume of its solid, mm³. */
  capVolume(solid: Solid, cap: BuiltCap): number {
    return this.volume(cap, () => {
      const positions = new Float64Array(cap.ids.length * 3 + cap.extra.length);
      for (let i = 0; i < cap.ids.length; i++) {
        const v = cap.ids[i] * 3;
        positions[i * 3] = solid.positions[v];
        positions[i * 3 + 1] = solid.positions[v + 1];
        positions[i * 3 + 2] = solid.positions[v + 2];
      }
      positions.set(cap.extra, cap.ids.length * 3);
      return volumeFrom(positions, cap.triangles, pivotOf(solid));
    });
  }

  /** A solid's caps so that it touches itself nowhere, and the edges at which it is not closed all the same. */
  sealed(solid: Solid, built: readonly BuiltCap[]): { caps: readonly BuiltCap[]; faulty: number } {
    const known = this.seals.get(solid);
    if (known && known.built.length === built.length && known.built.every((c, i) => c === built[i])) return known;
    const caps = partDiagonals(solid, built);
    const made = { built, caps, faulty: faultyEdges(solid, caps) };
    this.seals.set(solid, made);
    return made;
  }

  private volume(thing: object, make: () => number): number {
    let v = this.volumes.get(thing);
    if (v === undefined) {
      v = make();
      this.volumes.set(thing, v);
    }
    return v;
  }
}

/** The first vertex of a solid: the point its volumes are measured from. */
const pivotOf = ({ positions: p }: Solid): Vec3 => (p.length > 0 ? [p[0], p[1], p[2]] : [0, 0, 0]);

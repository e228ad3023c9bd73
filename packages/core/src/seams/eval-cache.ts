import {
  type CapRegion,
  type Cell,
  cellOfSolid,
  extent,
  type Frame,
  type Solid,
  solidsOf,
  type Triangulator,
  volumeFrom,
  windowOf,
} from '../cut/index.ts';
import { type BuiltCap, faultyEdges, type Half, partDiagonals, sameHalves } from '../joints/index.ts';
import type { BuiltLap, LapLine } from '../joints/kinds/index.ts';
import { type Affine, type Blocks, boxOf, buildBlocks, type IndexedMesh, mapped, type Vec3 } from '../mesh/index.ts';
import { type Body, overlapping } from '../repair/index.ts';
import { ByteCache } from './byte-cache.ts';
import type { Contacts, SizedBody, Stage } from './model.ts';

/**
 * What evaluation keeps from one run to the next. Results never depend on it: a run with an empty cache gives the same. Keys
 * name geometry: by the numbers of objects (`idOf`), by the numbers of a seam or a map, and by the ids of seams, as these stand
 * in what is kept.
 *
 * bodies     bodies at a size, with their spatial index
 * maps       meshes under a map of the recipe's light steps
 * stages     the cells of a body after the first n seams, by body, size and the seams' geometry
 * overlaps   whether two bodies reach into each other
 * contacts   what bodies touch on, by their pieces and the plan's contacts
 * walls      distances from sockets to the skin
 * lapLines   where laps run
 * laps       pieces with their laps, or why there can be none
 *
 * Cells, solids, built caps, seals and volumes hang on the objects that they belong to, and go with them.
 */
export class EvalCache {
  /** Drops what is kept; numbers of objects go on, so that no two ever share one. */
  forget(): void {
    const all = [
      this.bodies,
      this.stages,
      this.walls,
      this.overlaps,
      this.maps,
      this.contacts,
      this.laps,
      this.lapLines,
    ];
    for (const kept of all) kept.clear();
  }

  readonly bodies = new ByteCache<SizedBody>(1 << 30);
  readonly stages = new ByteCache<Stage>(1 << 30);
  readonly walls = new ByteCache<number>(1 << 20);
  private readonly cells = new WeakMap<Solid, Cell>();
  private readonly overlaps = new ByteCache<boolean>(1 << 20);
  private readonly maps = new ByteCache<IndexedMesh>(1 << 30);
  /** what bodies touch on, by their pieces and the plan's contacts */
  readonly contacts = new ByteCache<Contacts>(1 << 27);
  /** pieces with their laps, or why there can be none */
  readonly laps = new ByteCache<BuiltLap | string>(1 << 28);
  /** where laps run */
  readonly lapLines = new ByteCache<LapLine | string>(1 << 24);
  private readonly solids = new WeakMap<Cell, Solid[]>();
  private readonly caps = new WeakMap<CapRegion, { halves: readonly Half[]; built: BuiltCap }>();
  private readonly volumes = new WeakMap<object, number>();
  private readonly seals = new WeakMap<
    Solid,
    { built: readonly BuiltCap[]; caps: readonly BuiltCap[]; faulty: number }
  >();
  private readonly ids = new WeakMap<object, number>();

  /** `lastId`: numbers are given from the next one on, so that those of two caches can be kept apart. */
  constructor(private lastId = 0) {}

  /** A number that stands for this very object. */
  idOf(thing: object): number {
    let id = this.ids.get(thing);
    if (id === undefined) {
      id = ++this.lastId;
      this.ids.set(thing, id);
    }
    return id;
  }

  /** Whether two closed solids reach into each other. */
  overlap(a: IndexedMesh, b: IndexedMesh): boolean {
    return this.overlaps.get(
      `${this.idOf(a)}&${this.idOf(b)}`,
      () => overlapping(a, b) !== null,
      () => 64,
    );
  }

  /** The mesh under a map, the same object for the same mesh and map. */
  mapped(mesh: IndexedMesh, map: Affine): IndexedMesh {
    return this.maps.get(
      `${this.idOf(mesh)}*${map.join()}`,
      () => mapped(mesh, map),
      (made) => (made === mesh ? 100 : made.positions.byteLength),
    );
  }

  solidsOf(cell: Cell, frames: ReadonlyMap<string, Frame>, fallback: Triangulator): Solid[] {
    let solids = this.solids.get(cell);
    if (!solids) {
      solids = solidsOf(cell, frames, fallback);
      this.solids.set(cell, solids);
    }
    return solids;
  }

  /** A solid as a cell, the same one for the same solid. */
  cellOf(solid: Solid): Cell {
    let cell = this.cells.get(solid);
    if (!cell) {
      cell = cellOfSolid(solid);
      this.cells.set(solid, cell);
    }
    return cell;
  }

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

/** A body with its index, kept. */
export function sizedBody(body: Body, cache: EvalCache): SizedBody {
  const key = `${cache.idOf(body.mesh)}`;
  const { mesh } = body;
  return cache.bodies.get(
    key,
    () => {
      const { size, reach } = extent(mesh.positions);
      let blocks: Blocks | undefined;
      return {
        key,
        body,
        mesh,
        box: boxOf(mesh.positions),
        window: windowOf(size, reach),
        blocks: () => {
          blocks ??= buildBlocks(mesh);
          return blocks;
        },
      };
    },
    () => mesh.positions.byteLength + mesh.triangles.byteLength * 2,
  );
}

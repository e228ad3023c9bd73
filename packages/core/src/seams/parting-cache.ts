import type { Body } from '../body/index.ts';
import { overlapping } from '../crossing/index.ts';
import {
  type Cell,
  cellOfSolid,
  extent,
  type Frame,
  type Solid,
  solidsOf,
  type Triangulator,
  windowOf,
} from '../cut/index.ts';
import { type Affine, type Blocks, boxOf, buildBlocks, type IndexedMesh, mapped } from '../mesh/index.ts';
import { ByteCache } from './byte-cache.ts';
import type { Contacts, SizedBody, Stage } from './model.ts';

/**
 * What parting keeps from one run to the next; other passes add to it. Results never depend on it: a run with an empty cache
 * gives the same. Keys name geometry: by the numbers of objects (`idOf`), by the numbers of a seam or a map, and by the ids of
 * seams, as these stand in what is kept.
 *
 * bodies     bodies at a size, with their spatial index
 * maps       meshes under a map of the recipe's light steps
 * stages     the cells of a body after the first n seams, by body, size and the seams' geometry
 * overlaps   whether two bodies reach into each other
 * contacts   what bodies touch on, by their pieces and the plan's contacts
 *
 * Cells and solids hang on the objects that they belong to, and go with them.
 */
export class PartingCache {
  readonly bodies = new ByteCache<SizedBody>(1 << 30);
  readonly stages = new ByteCache<Stage>(1 << 30);
  readonly contacts = new ByteCache<Contacts>(1 << 27);
  private readonly overlaps = new ByteCache<boolean>(1 << 20);
  private readonly maps = new ByteCache<IndexedMesh>(1 << 30);
  private readonly cells = new WeakMap<Solid, Cell>();
  private readonly solids = new WeakMap<Cell, Solid[]>();
  private readonly ids = new WeakMap<object, number>();

  /** `lastId`: numbers are given from the next one on, so that those of two caches can be kept apart. */
  constructor(private lastId = 0) {}

  /** Drops what is kept; numbers of objects go on, so that no two ever share one. */
  forget(): void {
    for (const kept of [this.bodies, this.stages, this.overlaps, this.maps, this.contacts]) kept.clear();
  }

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
}

/** A body with its index, kept. */
export function sizedBody(body: Body, cache: PartingCache): SizedBody {
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

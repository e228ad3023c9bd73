import type { Body } from '../../body/index.ts';
import type { Affine, IndexedMesh } from '../../mesh/index.ts';
import type { Kernel } from '../../solid/index.ts';
import type { Deviation } from '../bodies.ts';
import type { Model } from '../state.ts';

/** What heavy steps need, loaded beforehand. */
export interface Tools {
  readonly kernel: Kernel;
}

export interface Work {
  readonly bodies: readonly Body[];
  readonly notes: readonly string[];
  readonly deviation: Deviation | null;
}

export interface Setting {
  readonly state: Model;
  readonly tools: Tools;
  readonly locked: readonly string[];
  readonly progress: (share: number, what: string) => void;
}

/** What a change of a surface gives. */
export interface ChangedMesh {
  readonly mesh: IndexedMesh;
  readonly notes?: readonly string[];
}

/** What a heavy step works on, and the usual ways to. */
export interface Bench extends Setting {
  /** the bodies that are named, else all that are not locked */
  readonly chosen: readonly Body[];
  /** bodies in the order they had, all others with them */
  inPlace(bodies: readonly Body[]): readonly Body[];
  /** changes the chosen bodies' surfaces, those of one part of the file together, and sorts them into bodies again */
  surfaces(what: string, change: (mesh: IndexedMesh) => ChangedMesh): Work;
  /** changes each chosen body by itself */
  each(what: string, change: (body: Body, progress: (share: number) => void) => ChangedMesh): Work;
}

/** Done at once, wherever it is asked for: a map of the whole model, or a choice among bodies and their copies. */
export interface LightStep<S> {
  /** Throws GephyraError `measure.nothing` when a measure of the wearer meets no surface. */
  pose?(step: S, model: Model): Affine | null;
  /** for steps that give no map */
  select?(step: S, state: Model, map: ((mesh: IndexedMesh, m: Affine) => IndexedMesh) | undefined): Body[];
}

/** Work for a job: it changes surfaces. */
export interface HeavyStep<S> {
  /** Throws what its operation throws, and GephyraError `recipe.open` for bodies that must be closed. */
  work(step: S, bench: Bench): Work;
}

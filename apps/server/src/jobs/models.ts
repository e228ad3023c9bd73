// The models that a worker thread holds: the last source that was read, and what some recipes made of it.
import { createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';
import {
  bodiesOf,
  type ComputedProject,
  computeProject,
  EvalCache,
  GephyraError,
  type Import,
  kernelTriangulator,
  loadKernel,
  loadSimplifier,
  lockedBodies,
  modelOf,
  parsePlan,
  readModel,
  ShapeCache,
  type Shaped,
  type Step,
  withCrossings,
} from '@gephyra/core';

/** Which stored file, and how it is to be read. */
export interface ModelRequest {
  readonly path: string;
  readonly hash: string;
  readonly fileName: string;
  readonly allowTruncated: boolean;
}

export type Progress = (share: number, what: string) => void;

export interface Source {
  readonly key: string;
  readonly format: string;
  readonly found: Import;
}

let held: Source | undefined;

/** The model of a stored file; the last one is kept. */
export function sourceOf(request: ModelRequest, progress: Progress): Source {
  // bodies without a name go by the file's
  const key = JSON.stringify([request.hash, request.allowTruncated, request.fileName]);
  if (held?.key === key) return held;
  held = undefined;
  shapes = undefined;
  progress(0.05, 'Reading the file');
  const raw = readModel(storedBytes(request), { name: request.fileName, allowTruncated: request.allowTruncated });
  progress(0.4, 'Welding and looking for bodies');
  held = { key, format: raw.format, found: bodiesOf(raw, request.fileName.replace(/\.[^.]*$/, '')) };
  return held;
}

/** The bytes of a stored file. Throws GephyraError `blob.damaged` when they are not what its name says. */
export function storedBytes({ path, hash }: Pick<ModelRequest, 'path' | 'hash'>): Uint8Array {
  const bytes = readFileSync(path);
  if (createHash('sha256').update(bytes).digest('hex') !== hash) {
    throw new GephyraError('blob.damaged', 'A stored file was changed outside Gephyra. Import the model again.');
  }
  return bytes;
}

let shapes: ShapeCache | undefined;

/** The model after all steps of a recipe, heavy ones included. Steps that were done before are not done again. */
export async function shapedOf(
  request: ModelRequest,
  steps: readonly Step[],
  locked: readonly string[],
  progress: Progress,
): Promise<Shaped> {
  const source = sourceOf(request, progress);
  const tools = { kernel: await loadKernel() };
  await loadSimplifier();
  shapes ??= new ShapeCache(modelOf(source.found));
  return shapes.shape(steps, tools, locked, (share, what) => progress(0.5 + 0.48 * share, what));
}

/** Up to so many triangles a body is looked through for places where it passes through itself before it is shown. */
const MOST_EXAMINED = 200_000;

/** A model with what is known of its crossings. */
export const examined = (model: Shaped, most = MOST_EXAMINED): Shaped => ({
  ...model,
  bodies: withCrossings(model.bodies, most),
});

const cache = new EvalCache();

/** A plan computed on its model, bodies up to `most` triangles looked through for crossings. */
export async function computed(
  request: ModelRequest & { readonly plan: unknown },
  progress: Progress,
  most?: number,
): Promise<ComputedProject> {
  const plan = parsePlan(request.plan);
  const model = examined(await shapedOf(request, plan.recipe, lockedBodies(plan), progress), most);
  const kernel = await loadKernel();
  return computeProject(plan, model, { fallback: kernelTriangulator(kernel), kernel, cache });
}

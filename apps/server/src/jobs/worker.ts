// Runs on a worker thread: reads a blob, computes, answers.
import type { MessagePort } from 'node:worker_threads';
import type { BodySummary, PlanSummary } from '@gephyra/contract';
import {
  boxOf,
  type ComputedProject,
  computeProject,
  diagnose,
  EvalCache,
  type ExportFormat,
  GephyraError,
  isClosed,
  kernelTriangulator,
  loadKernel,
  lockedBodies,
  modelBox,
  overlapping,
  packModel,
  parsePlan,
  picture,
  pieceColour,
  pieceMesh,
  type Step,
  sizeOf,
  writeProject,
} from '@gephyra/core';
import { encode } from 'fast-png';
import { zipSync } from 'fflate';
import { type Archived, isArchive, readArchive, writeArchive } from './archive.ts';
import { examined, type ModelRequest, shapedOf, sourceOf, storedBytes } from './models.ts';

interface Recipe {
  readonly steps: readonly Step[];
  readonly locked: readonly string[];
}

export type WorkRequest =
  | ({ readonly do: 'import' } & ModelRequest)
  | ({ readonly do: 'shape' } & ModelRequest & Recipe)
  | ({ readonly do: 'health' } & ModelRequest & Recipe)
  | ({ readonly do: 'summary'; readonly plan: unknown; readonly revision: number } & ModelRequest)
  | ({ readonly do: 'archive'; readonly plan: unknown; readonly projectName: string } & ModelRequest)
  | ({
      readonly do: 'export';
      readonly plan: unknown;
      readonly projectName: string;
      readonly format: ExportFormat;
      readonly pieces: readonly string[];
    } & ModelRequest);

export interface ImportResult {
  readonly do: 'import';
  readonly format: string;
  readonly unit: string | null;
  readonly bodies: BodySummary[];
  readonly notes: string[];
  /** the file was a whole project: its name and plan, and the source that was in it */
  readonly archived: Archived | null;
}

export type WorkResult =
  | ImportResult
  | { readonly do: 'file'; readonly bytes: Uint8Array; readonly fileName: string }
  | { readonly do: 'summary'; readonly summary: PlanSummary; readonly png: Uint8Array };

/** What a task says on its way, through its own port. */
export interface WorkProgress {
  readonly share: number;
  readonly what: string;
}

/** What a task came to. Errors are told as data: a thread's own would lose their codes on the way. */
export type WorkAnswer =
  | { readonly result: WorkResult }
  | { readonly error: { code: string; message: string; details: Record<string, string | number | boolean> } };

/** Where the task at hand tells how far it is; a thread does one task at a time. */
let port: MessagePort | null = null;
const progress = (share: number, what: string): void => port?.postMessage({ share, what } satisfies WorkProgress);
const cache = new EvalCache();

function importModel(request: ModelRequest): WorkResult {
  const bytes = storedBytes(request);
  if (isArchive(bytes, request.fileName)) {
    const archived = readArchive(bytes, request.fileName);
    return { do: 'import', format: 'project', unit: null, bodies: [], notes: [], archived };
  }
  const { format, found } = sourceOf(request, progress);
  return {
    do: 'import',
    format,
    unit: found.unit,
    notes: [...found.notes],
    archived: null,
    bodies: found.bodies.map((b) => ({
      id: b.id,
      name: b.name,
      triangles: b.mesh.tags.length,
      size: [...sizeOf(boxOf(b.mesh.positions))] as [number, number, number],
      volume: b.volume,
      watertight: isClosed(b),
      openEdges: b.topology.openEdges,
      nonManifoldEdges: b.topology.nonManifoldEdges,
      inconsistentEdges: b.topology.inconsistentEdges,
    })),
  };
}

async function shape(request: ModelRequest & Recipe): Promise<WorkResult> {
  const model = await shapedOf(request, request.steps, request.locked, progress);
  return { do: 'file', bytes: packModel(examined(model)), fileName: 'model.bin' };
}

/** Health of every body, as JSON: bodies, and pairs that overlap. */
async function health(request: ModelRequest & Recipe): Promise<WorkResult> {
  const { bodies } = await shapedOf(request, request.steps, request.locked, () => {});
  const modelSize = Math.hypot(...sizeOf(modelBox(bodies)));
  const report = bodies.map((b, i) => {
    progress(i / bodies.length, `Examining ${b.name}`);
    return diagnose(b, { crossing: true, modelSize });
  });
  progress(0.9, 'Looking for bodies that overlap');
  const solid = bodies.filter(isClosed);
  const overlaps = solid.flatMap((a, i) =>
    solid.slice(i + 1).flatMap((b) => {
      const at = overlapping(a.mesh, b.mesh);
      return at ? [{ bodies: [a.id, b.id], at }] : [];
    }),
  );
  const bytes = new TextEncoder().encode(JSON.stringify({ bodies: report, overlaps }));
  return { do: 'file', bytes, fileName: 'health.json' };
}

async function computed(request: ModelRequest & { plan: unknown }, most?: number): Promise<ComputedProject> {
  const plan = parsePlan(request.plan);
  const model = examined(await shapedOf(request, plan.recipe, lockedBodies(plan), progress), most);
  const kernel = await loadKernel();
  return computeProject(plan, model, { fallback: kernelTriangulator(kernel), kernel, cache });
}

async function summarize(request: ModelRequest & { plan: unknown; revision: number }): Promise<WorkResult> {
  const { evaluation: e, stops } = await computed(request);
  const pixels = picture(
    e.pieces.map((p, i) => ({ ...pieceMesh(p).mesh, colour: e.pieces.length > 1 ? pieceColour(i) : '#c9b79c' })),
    320,
    240,
  );
  return {
    do: 'summary',
    png: encode({ width: 320, height: 240, data: new Uint8Array(pixels.buffer), channels: 4 }),
    summary: {
      revision: request.revision,
      pieces: e.pieces.length,
      fitting: e.pieces.filter((p) => p.build.within).length,
      stops: stops.length,
      size: [...sizeOf(e.box)] as [number, number, number],
    },
  };
}

async function writePieces(request: Extract<WorkRequest, { do: 'export' }>): Promise<WorkResult> {
  const project = await computed(request, Infinity);
  const { palette } = sourceOf(request, progress).found;
  const chosen = project.evaluation.pieces.filter((p) => request.pieces.includes(p.key));
  if (chosen.length < request.pieces.length) {
    throw new GephyraError(
      'export.pieces',
      'Some of the chosen pieces are no longer in the plan. Open the export again.',
    );
  }
  const report = (share: number, what: string): void => progress(0.4 + share * 0.5, what);
  const { folder, files } = writeProject(project, chosen, request.projectName, request.format, palette, report);
  progress(0.92, 'Packing');
  const entries = Object.fromEntries(files.map((f) => [`${folder}/${f.name}`, f.bytes]));
  return { do: 'file', bytes: zipSync(entries, { level: 3 }), fileName: `${folder}.zip` };
}

function run(request: WorkRequest): WorkResult | Promise<WorkResult> {
  switch (request.do) {
    case 'import':
      return importModel(request);
    case 'shape':
      return shape(request);
    case 'health':
      return health(request);
    case 'summary':
      return summarize(request);
    case 'archive':
      return { do: 'file', ...writeArchive(request, storedBytes(request)) };
    case 'export':
      return writePieces(request);
  }
}

/** Does one task. Throws only when the thread itself is broken. */
export async function work(task: { request: WorkRequest; port: MessagePort }): Promise<WorkAnswer> {
  port = task.port;
  try {
    return { result: await run(task.request) };
  } catch (error) {
    const known = error instanceof GephyraError;
    if (!known) console.error(error);
    return {
      error: known
        ? { code: error.code, message: error.message, details: { ...error.details } }
        : {
            code: 'server.error',
            message: 'Something unforeseen went wrong; the server’s log says more.',
            details: {},
          },
    };
  } finally {
    port.close();
    port = null;
  }
}

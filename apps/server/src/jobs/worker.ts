// Runs on a worker thread: reads a blob, computes, answers. Holds no state but the kernel and the last model.
import { createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { parentPort } from 'node:worker_threads';
import type { BodySummary, PlanSummary } from '@gephyra/contract';
import {
  type Body,
  bodiesOf,
  bounds,
  EvalCache,
  type Evaluation,
  type ExportFormat,
  evaluate,
  exportPieces,
  GephyraError,
  kernelTriangulator,
  loadKernel,
  parsePlan,
  picture,
  pieceColour,
  pieceMesh,
  readStl,
  sizeOf,
} from '@gephyra/core';
import { encode } from 'fast-png';
import { zipSync } from 'fflate';

interface ModelRequest {
  readonly path: string;
  readonly hash: string;
  readonly fileName: string;
  readonly allowTruncated: boolean;
}

export type WorkRequest =
  | ({ readonly do: 'import' } & ModelRequest)
  | ({ readonly do: 'summary'; readonly plan: unknown; readonly revision: number } & ModelRequest)
  | ({
      readonly do: 'export';
      readonly plan: unknown;
      readonly projectName: string;
      readonly format: ExportFormat;
      readonly pieces: readonly string[];
    } & ModelRequest);

export type WorkResult =
  | { readonly do: 'import'; readonly format: string; readonly bodies: BodySummary[]; readonly notes: string[] }
  | { readonly do: 'summary'; readonly summary: PlanSummary; readonly png: Uint8Array }
  | { readonly do: 'export'; readonly zip: Uint8Array; readonly fileName: string };

export type WorkMessage =
  | { readonly type: 'progress'; readonly share: number; readonly what: string }
  | { readonly type: 'done'; readonly result: WorkResult }
  | {
      readonly type: 'failed';
      readonly error: { code: string; message: string; details: Record<string, string | number | boolean> };
    };

const port = parentPort;
if (!port) throw new Error('This file runs on a worker thread.');
const post = (message: WorkMessage): void => port.postMessage(message);

let held:
  | { key: string; format: string; bodies: readonly Body[]; notes: readonly string[]; cache: EvalCache }
  | undefined;

/** The model of a blob; the last one is kept, so that evaluating it again is quick. */
function model(request: ModelRequest) {
  const key = `${request.hash}${request.allowTruncated}`;
  if (held?.key === key) return held;
  held = undefined;
  post({ type: 'progress', share: 0.05, what: 'Reading the file' });
  const bytes = readFileSync(request.path);
  if (createHash('sha256').update(bytes).digest('hex') !== request.hash) {
    throw new GephyraError('blob.damaged', 'The stored model was changed outside Gephyra. Import it again.');
  }
  const raw = readStl(bytes, { name: request.fileName, allowTruncated: request.allowTruncated });
  post({ type: 'progress', share: 0.4, what: 'Welding and looking for bodies' });
  const { bodies, notes } = bodiesOf(raw, request.fileName.replace(/\.[^.]*$/, ''));
  held = { key, format: raw.format, bodies, notes, cache: new EvalCache() };
  return held;
}

function importModel(request: ModelRequest): WorkResult {
  const { format, bodies, notes } = model(request);
  return {
    do: 'import',
    format,
    notes: [...notes],
    bodies: bodies.map((b) => ({
      id: b.id,
      name: b.name,
      triangles: b.mesh.tags.length,
      size: [...sizeOf(bounds(b.mesh.positions))] as [number, number, number],
      volume: b.volume,
      watertight: b.topology.watertight,
      openEdges: b.topology.openEdges,
      nonManifoldEdges: b.topology.nonManifoldEdges,
      inconsistentEdges: b.topology.inconsistentEdges,
    })),
  };
}

async function evaluated(request: ModelRequest & { plan: unknown }): Promise<Evaluation> {
  const { bodies, cache } = model(request);
  const fallback = kernelTriangulator(await loadKernel());
  return evaluate(parsePlan(request.plan), bodies, { fallback, cache });
}

async function summarize(request: ModelRequest & { plan: unknown; revision: number }): Promise<WorkResult> {
  const e = await evaluated(request);
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
      fitting: e.pieces.filter((p) => p.fit.fits).length,
      stops: e.findings.filter((f) => f.severity === 'stop').length,
      size: [...sizeOf(e.box)] as [number, number, number],
    },
  };
}

async function writePieces(request: Extract<WorkRequest, { do: 'export' }>): Promise<WorkResult> {
  const e = await evaluated(request);
  const chosen = e.pieces.filter((p) => request.pieces.includes(p.key));
  if (chosen.length < request.pieces.length) {
    throw new GephyraError(
      'export.pieces',
      'Some of the chosen pieces are no longer in the plan. Open the export again.',
    );
  }
  const { folder, files } = exportPieces(chosen, request.projectName, request.format, (share, what) =>
    post({ type: 'progress', share: 0.4 + share * 0.5, what }),
  );
  post({ type: 'progress', share: 0.92, what: 'Packing' });
  const entries = Object.fromEntries(files.map((f) => [`${folder}/${f.name}`, f.bytes]));
  return { do: 'export', zip: zipSync(entries, { level: 3 }), fileName: `${folder}.zip` };
}

port.on('message', (request: WorkRequest) => {
  const run = async (): Promise<WorkResult> => {
    if (request.do === 'import') return importModel(request);
    return request.do === 'summary' ? summarize(request) : writePieces(request);
  };
  run().then(
    (result) => post({ type: 'done', result }),
    (error: unknown) => {
      const known = error instanceof GephyraError;
      if (!known) console.error(error);
      post({
        type: 'failed',
        error: known
          ? { code: error.code, message: error.message, details: { ...error.details } }
          : {
              code: 'server.error',
              message: 'Something unforeseen went wrong; the server’s log says more.',
              details: {},
            },
      });
    },
  );
});

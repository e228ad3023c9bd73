import { renameProject, savePlan, startExport, startShape, stepRevision } from '@gephyra/contract';
import { GephyraError } from '@gephyra/core';
import express, { type Request, Router } from 'express';
import { type BlobStore, tooLarge } from '../blobs.ts';
import type { Jobs } from '../jobs/jobs.ts';
import type { Projects } from '../projects.ts';

interface Needs {
  readonly projects: Projects;
  readonly jobs: Jobs;
  readonly blobs: BlobStore;
  readonly uploadLimit: number;
}

/** Everything under /api/projects. */
export function projectRoutes({ projects, jobs, blobs, uploadLimit }: Needs): Router {
  const router = Router();
  const json = express.json({ limit: '8mb' });
  const idOf = (request: Request): string => String(request.params.id);

  router.get('/', async (_request, response) => {
    response.json(await projects.list());
  });

  router.post('/', async (request, response) => {
    const fileName = plainName(String(request.query.file ?? ''));
    if (Number(request.headers['content-length'] ?? 0) > uploadLimit) throw tooLarge(uploadLimit);
    const { hash } = await blobs.put(request, uploadLimit);
    const allowTruncated = request.query.truncated === 'take';
    response.status(202).json(await jobs.startImport({ kind: 'import', hash, fileName, allowTruncated }));
  });

  router.get('/:id', async (request, response) => {
    response.json(await projects.get(idOf(request)));
  });

  router.patch('/:id', json, async (request, response) => {
    await projects.rename(idOf(request), renameProject.parse(request.body).name);
    response.json(await projects.get(idOf(request)));
  });

  router.delete('/:id', async (request, response) => {
    await projects.remove(idOf(request));
    response.status(204).end();
  });

  router.post('/:id/restore', async (request, response) => {
    await projects.restore(idOf(request));
    response.json(await projects.get(idOf(request)));
  });

  router.post('/:id/duplicate', async (request, response) => {
    response.status(201).json(await projects.get(await projects.duplicate(idOf(request))));
  });

  router.put('/:id/plan', json, async (request, response) => {
    const { basedOn, label, plan } = savePlan.parse(request.body);
    await projects.save(idOf(request), basedOn, label, plan);
    jobs.summarize(idOf(request));
    response.json(await projects.get(idOf(request)));
  });

  for (const way of ['undo', 'redo'] as const) {
    router.post(`/:id/${way}`, json, async (request, response) => {
      await projects[way](idOf(request), stepRevision.parse(request.body).basedOn);
      jobs.summarize(idOf(request));
      response.json(await projects.get(idOf(request)));
    });
  }

  router.post('/:id/exports', json, async (request, response) => {
    response.status(202).json(await jobs.startExport(idOf(request), startExport.parse(request.body)));
  });

  router.post('/:id/shapes', json, async (request, response) => {
    response.status(202).json(await jobs.startShape(idOf(request), 'shape', startShape.parse(request.body)));
  });

  router.post('/:id/health', json, async (request, response) => {
    response.status(202).json(await jobs.startShape(idOf(request), 'health', startShape.parse(request.body)));
  });

  router.post('/:id/archive', async (request, response) => {
    response.status(202).json(await jobs.startArchive(idOf(request)));
  });

  router.get('/:id/source', async (request, response) => {
    const { source } = await projects.row(idOf(request));
    const { stream, bytes } = await blobs.stream(source.hash);
    response.set({
      'Content-Type': 'application/octet-stream',
      'Content-Length': String(bytes),
      'Cache-Control': 'private, max-age=31536000, immutable',
      ETag: `"${source.hash}"`,
    });
    stream.pipe(response);
  });

  router.get('/:id/thumbnail', async (request, response) => {
    const { thumbnail } = await projects.row(idOf(request));
    if (!thumbnail) throw new GephyraError('route.unknown', 'This project has no picture yet.');
    const { stream } = await blobs.stream(thumbnail);
    response.set({ 'Content-Type': 'image/png', 'Cache-Control': 'private, max-age=31536000, immutable' });
    stream.pipe(response);
  });

  return router;
}

/** The last part of whatever path a browser sent, without control characters; only ever shown, never opened. */
function plainName(text: string): string {
  const last = text.split(/[\\/]/).at(-1) ?? '';
  return (
    [...last]
      .filter((c) => c >= ' ' && c !== '\u007f')
      .join('')
      .trim()
      .slice(0, 160) || 'model.stl'
  );
}

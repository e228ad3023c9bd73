import { renameProject, savePlan, startExport, startShape, stepRevision } from '@gephyra/contract';
import { GephyraError, plainText } from '@gephyra/core';
import { Router } from 'express';
import { type BlobStore, tooLarge } from '../blobs.ts';
import type { Jobs } from '../jobs/jobs.ts';
import type { Projects } from '../projects.ts';
import { idOf, knownId } from './ids.ts';
import { jsonBody } from './json-body.ts';
import { sendBlob } from './send.ts';

interface Needs {
  readonly projects: Projects;
  readonly jobs: Jobs;
  readonly blobs: BlobStore;
  readonly uploadLimit: number;
}

/** Everything under /api/projects. */
export function projectRoutes({ projects, jobs, blobs, uploadLimit }: Needs): Router {
  const router = Router();
  const json = jsonBody('4mb');
  router.param('id', knownId);

  router.get('/', async (_request, response) => {
    jobs.summaries.hurry();
    response.json(await projects.list());
  });

  router.post('/', async (request, response) => {
    const fileName = plainName(String(request.query.file ?? ''));
    if (Number(request.headers['content-length'] ?? 0) > uploadLimit) throw tooLarge(uploadLimit);
    jobs.expectImport();
    // the request stays open when the file is refused: what is still coming is read and dropped, so that the answer arrives
    const { hash } = await blobs.put(request.iterator({ destroyOnReturn: false }), uploadLimit);
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
    jobs.summaries.drop(idOf(request));
    response.status(204).end();
  });

  router.post('/:id/restore', async (request, response) => {
    await projects.restore(idOf(request));
    jobs.summaries.wish(idOf(request));
    response.json(await projects.get(idOf(request)));
  });

  router.post('/:id/duplicate', async (request, response) => {
    response.status(201).json(await projects.get(await projects.duplicate(idOf(request))));
  });

  router.put('/:id/plan', json, async (request, response) => {
    const { basedOn, label, plan } = savePlan.parse(request.body);
    await projects.save(idOf(request), basedOn, label, plan);
    jobs.summaries.wish(idOf(request));
    response.json(await projects.get(idOf(request)));
  });

  for (const way of ['undo', 'redo'] as const) {
    router.post(`/:id/${way}`, json, async (request, response) => {
      await projects[way](idOf(request), stepRevision.parse(request.body).basedOn);
      jobs.summaries.wish(idOf(request));
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

  router.get('/:id/thumbnail', async (request, response) => {
    const { thumbnail } = await projects.row(idOf(request));
    if (!thumbnail) throw new GephyraError('route.unknown', 'This project has no picture yet.');
    response.set({ 'Content-Type': 'image/png', 'Cache-Control': 'private, max-age=31536000, immutable' });
    await sendBlob(blobs, thumbnail, response);
  });

  return router;
}

/** The last part of whatever path a browser sent, as a name that can be kept; only ever shown, never opened. */
const plainName = (text: string): string => plainText(text.split(/[\\/]/).at(-1) ?? '', 160) || 'model.stl';

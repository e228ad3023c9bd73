import { printAction, startPrint } from '@gephyra/contract';
import { Router } from 'express';
import type { BlobStore } from '../blobs.ts';
import type { Jobs } from '../jobs/jobs.ts';
import type { Prints } from '../printers/prints.ts';
import type { Projects } from '../projects.ts';
import { idOf, knownId } from './ids.ts';
import { jsonBody } from './json-body.ts';
import { sendBlob } from './send.ts';

/** Everything under /api/prints: beds that were handed to printers, and the files they were printed from. */
export function printRoutes(stores: { prints: Prints; projects: Projects; jobs: Jobs; blobs: BlobStore }): Router {
  const { prints, projects, jobs, blobs } = stores;
  const router = Router();
  const json = jsonBody('2mb');
  router.param('id', knownId);

  router.get('/of/:id', async (request, response) => {
    response.json(await prints.of(idOf(request)));
  });

  router.post('/', json, async (request, response) => {
    const wanted = startPrint.parse(request.body);
    await projects.row(wanted.project);
    const { hash } = await jobs.file(wanted.job);
    response.status(201).json(await prints.start(wanted, hash));
  });

  router.post('/:id', json, async (request, response) => {
    response.json(await prints.act(idOf(request), printAction.parse(request.body).do));
  });

  router.get('/:id/file', async (request, response) => {
    const { hash, fileName } = await prints.file(idOf(request));
    response.attachment(fileName);
    response.set('Content-Type', 'application/zip');
    await sendBlob(blobs, hash, response);
  });

  return router;
}

import { printAction, startPrint } from '@gephyra/contract';
import { Router } from 'express';
import type { BlobStore } from '../blobs.ts';
import type { Jobs } from '../jobs/jobs.ts';
import type { PrintDiary } from '../printers/diary.ts';
import type { Prints } from '../printers/prints.ts';
import type { Projects } from '../projects.ts';
import { idOf, knownId } from './ids.ts';
import { jsonBody } from './json-body.ts';
import { sendBlob } from './send.ts';

/** Everything under /api/prints: beds that were handed to printers, and the files they were printed from. */
export function printRoutes(stores: {
  prints: Prints;
  diary: PrintDiary;
  projects: Projects;
  jobs: Jobs;
  blobs: BlobStore;
}): Router {
  const { prints, diary, projects, jobs, blobs } = stores;
  const router = Router();
  const json = jsonBody('2mb');
  router.param('id', knownId);

  router.get('/of/:id', async (request, response) => {
    response.json(await prints.of(idOf(request)));
  });

  router.post('/', json, async (request, response) => {
    const { job, who, ...wanted } = startPrint.parse(request.body);
    await projects.row(wanted.project);
    const { hash } = await jobs.bedFile(job, wanted);
    const print = await prints.start(wanted, hash);
    await diary.begun(print, who);
    response.status(201).json(print);
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

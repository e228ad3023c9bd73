import { Router } from 'express';
import type { BlobStore } from '../blobs.ts';
import type { Jobs } from '../jobs/jobs.ts';
import { idOf, knownId } from './ids.ts';
import { sendBlob } from './send.ts';

const typeOf = (fileName: string): string => {
  if (fileName.endsWith('.json')) return 'application/json';
  if (fileName.endsWith('.pdf')) return 'application/pdf';
  return fileName.endsWith('.zip') ? 'application/zip' : 'application/octet-stream';
};

/** Everything under /api/jobs: what is under way, state, events, cancel, and the file an export made. */
export function jobRoutes({ jobs, blobs }: { jobs: Jobs; blobs: BlobStore }): Router {
  const router = Router();
  router.param('id', knownId);

  router.get('/', async (_request, response) => {
    response.json(await jobs.underWay());
  });

  router.get('/:id', async (request, response) => {
    response.json(await jobs.get(idOf(request)));
  });

  router.delete('/:id', async (request, response) => {
    await jobs.cancel(idOf(request), request.query.all === 'yes');
    response.status(204).end();
  });

  router.get('/:id/events', async (request, response) => {
    const id = idOf(request);
    await jobs.get(id);
    response.set({ 'Content-Type': 'text/event-stream', 'Cache-Control': 'no-cache' });
    response.flushHeaders();
    let sending = Promise.resolve();
    const send = (): void => {
      sending = sending
        .then(async () => {
          if (response.writableEnded) return;
          const job = await jobs.get(id);
          response.write(`data: ${JSON.stringify(job)}\n\n`);
          if (job.state !== 'queued' && job.state !== 'running') {
            stop();
            response.end();
          }
        })
        .catch((error: unknown) => {
          console.error(error);
          stop();
          response.destroy();
        });
    };
    const stop = jobs.watch(id, send);
    request.on('close', stop);
    send();
  });

  router.get('/:id/file', async (request, response) => {
    const { hash, fileName } = await jobs.file(idOf(request));
    response.attachment(fileName);
    response.set('Content-Type', typeOf(fileName));
    await sendBlob(blobs, hash, response);
  });

  return router;
}

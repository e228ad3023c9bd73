import {
  isAskedJob,
  PLAN_LIMIT,
  type ProjectNews,
  readWish,
  renameProject,
  savePlan,
  stepRevision,
} from '@gephyra/contract';
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

/** ms */
const HEARTBEAT = 15_000;

/** Everything under /api/projects. */
export function projectRoutes({ projects, jobs, blobs, uploadLimit }: Needs): Router {
  const router = Router();
  // a plan, and what is said with it
  const json = jsonBody(PLAN_LIMIT + 4096);
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
    const allowTruncated = request.query.truncated === 'take';
    const job = await blobs.keep(request.iterator({ destroyOnReturn: false }), uploadLimit, (hash) =>
      jobs.startImport({ hash, fileName, allowTruncated }),
    );
    response.status(202).json(job);
  });

  router.get('/events', async (request, response) => {
    response.set({ 'Content-Type': 'text/event-stream', 'Cache-Control': 'no-cache' });
    response.flushHeaders();
    const send = (news: ProjectNews): void => void response.write(`data: ${JSON.stringify(news)}\n\n`);
    const stop = projects.watch(send);
    // a line now and then, so that both sides notice when the other is gone
    const beat = setInterval(() => response.write(':\n\n'), HEARTBEAT);
    request.on('close', () => {
      clearInterval(beat);
      stop();
    });
    for (const news of await projects.standing()) send(news);
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
    const { label, plan, ...act } = savePlan.parse(request.body);
    const { head, before } = await projects.save(idOf(request), act, label, plan);
    jobs.summaries.wish(idOf(request));
    const project = await projects.get(idOf(request));
    // whoever sent it has it
    const same = !before && project.revision === head;
    response.json(same ? { ...project, plan: null } : project);
  });

  for (const way of ['undo', 'redo'] as const) {
    router.post(`/:id/${way}`, json, async (request, response) => {
      await projects[way](idOf(request), stepRevision.parse(request.body));
      jobs.summaries.wish(idOf(request));
      response.json(await projects.get(idOf(request)));
    });
  }

  router.post('/:id/jobs/:kind', json, async (request, response) => {
    const kind = String(request.params.kind);
    if (!isAskedJob(kind)) throw new GephyraError('route.unknown', 'There is no such work to ask for.');
    response.status(202).json(await jobs.ask(idOf(request), kind, readWish(kind, request.body ?? {})));
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

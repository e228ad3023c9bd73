import { saveWorkshop, workshop } from '@gephyra/contract';
import { Router } from 'express';
import type { WorkshopStore } from '../workshop.ts';
import { jsonBody } from './json-body.ts';

/** Everything under /api/workshop. */
export function workshopRoutes(store: WorkshopStore): Router {
  const router = Router();
  const json = jsonBody('2mb');

  router.get('/', async (_request, response) => {
    response.json(await store.get());
  });

  router.put('/', json, async (request, response) => {
    const { basedOn, workshop: document } = saveWorkshop.parse(request.body);
    response.json(await store.save(basedOn, workshop.parse(document)));
  });

  return router;
}

import { equipment, saveEquipment } from '@gephyra/contract';
import { Router } from 'express';
import type { EquipmentStore } from '../equipment.ts';
import { jsonBody } from './json-body.ts';

/** Everything under /api/equipment. */
export function equipmentRoutes(store: EquipmentStore): Router {
  const router = Router();
  const json = jsonBody('2mb');

  router.get('/', async (_request, response) => {
    response.json(await store.get());
  });

  router.put('/', json, async (request, response) => {
    const { basedOn, equipment: document } = saveEquipment.parse(request.body);
    response.json(await store.save(basedOn, equipment.parse(document)));
  });

  return router;
}

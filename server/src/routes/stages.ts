import { Router } from 'express';
import { saveStageSchema, stageRecordSchema } from '@yundro/core';
import { answer, bodyOf, idOf } from '../answers.js';
import type { BoardStore } from '../boardStore.js';
import type { StageStore } from '../stageStore.js';

/** /api/stages: one stage at a time. */
export function stageRoutes(store: StageStore, boards: BoardStore): Router {
  const router = Router();
  router.get('/:id', async (request, response) => {
    answer(response, stageRecordSchema, await store.stage(idOf(request)));
  });
  router.put('/:id', async (request, response) => {
    const { revision, document, save } = bodyOf(request, saveStageSchema);
    answer(response, stageRecordSchema, await store.saveStage(idOf(request), revision, document, save));
  });
  router.get('/:id/document', async (request, response) => {
    const document = await store.storedDocument(idOf(request));
    response
      .attachment('stage.json')
      .type('application/json')
      .send(`${JSON.stringify(document, null, 2)}\n`);
  });
  router.delete('/:id', async (request, response) => {
    await store.setStageDeleted(idOf(request), true);
    response.status(204).end();
  });
  router.post('/:id/restore', async (request, response) => {
    await store.setStageDeleted(idOf(request), false);
    response.status(204).end();
  });
  router.post('/:id/duplicate', async (request, response) => {
    const { id, document, projectId } = await store.stage(idOf(request));
    const copy = { ...document, name: `${document.name} copy`.slice(0, 120) };
    const made = await store.createStage(projectId, copy);
    await boards.copy(id, made.id);
    answer(response, stageRecordSchema, made, 201);
  });
  return router;
}

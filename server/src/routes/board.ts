import { Router } from 'express';
import { boardRowSchema, saveBoardSchema } from '@yundro/core';
import { answer, bodyOf, idOf } from '../answers.js';
import type { BoardStore } from '../boardStore.js';
import type { StageStore } from '../stageStore.js';

/** /api/stages/:id/board: what the designer says about the board of a stage. */
export function boardRoutes(store: BoardStore, stages: StageStore): Router {
  const router = Router();
  router.get('/stages/:id/board', async (request, response) => {
    const { id } = await stages.stage(idOf(request));
    answer(response, boardRowSchema, await store.of(id));
  });
  router.put('/stages/:id/board', async (request, response) => {
    const { revision, notes } = bodyOf(request, saveBoardSchema);
    const { id } = await stages.stage(idOf(request));
    answer(response, boardRowSchema, await store.save(id, revision, notes));
  });
  return router;
}

import { Router } from 'express';
import { z } from 'zod';
import { namedSchema, newStageSchema, shelfSchema, stageRecordSchema, type StageRow } from '@yundro/core';
import { answer, bodyOf, idOf } from '../answers.js';
import type { StageStore, StoredProject } from '../stageStore.js';
import type { StageSummaries } from '../stageSummary.js';

const createdSchema = z.strictObject({ id: z.uuid() });

function rowOf(row: StoredProject['stages'][number], summaries: StageSummaries): StageRow {
  const { targets, name, topology } = row.document;
  return {
    id: row.id,
    name,
    revision: row.revision,
    updatedAt: row.updatedAt.toISOString(),
    topology,
    inputVoltage: { min: targets.inputVoltage.min, max: targets.inputVoltage.max },
    outputVoltage: targets.outputVoltage,
    outputCurrent: targets.outputCurrent.max,
    summary: summaries.of(row.id, row.revision, row.document),
  };
}

/** /api/projects: the shelf. */
export function projectRoutes(store: StageStore, summaries: StageSummaries): Router {
  const router = Router();
  router.get('/', async (_request, response) => {
    const shelf = await store.shelf();
    answer(response, shelfSchema, {
      projects: shelf.map(({ id, name, stages }) => ({ id, name, stages: stages.map((row) => rowOf(row, summaries)) })),
    });
  });
  router.post('/', async (request, response) => {
    const { name } = bodyOf(request, namedSchema);
    answer(response, createdSchema, { id: await store.createProject(name) }, 201);
  });
  router.patch('/:id', async (request, response) => {
    await store.renameProject(idOf(request), bodyOf(request, namedSchema).name);
    response.status(204).end();
  });
  router.delete('/:id', async (request, response) => {
    await store.setProjectDeleted(idOf(request), true);
    response.status(204).end();
  });
  router.post('/:id/restore', async (request, response) => {
    await store.setProjectDeleted(idOf(request), false);
    response.status(204).end();
  });
  router.post('/:id/duplicate', async (request, response) => {
    answer(response, createdSchema, { id: await store.duplicateProject(idOf(request)) }, 201);
  });
  router.post('/:id/stages', async (request, response) => {
    const { document } = bodyOf(request, newStageSchema);
    answer(response, stageRecordSchema, await store.createStage(idOf(request), document), 201);
  });
  return router;
}

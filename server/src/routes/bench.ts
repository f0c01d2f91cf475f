import { Router } from 'express';
import { z } from 'zod';
import {
  addressesSchema,
  benchRunRowSchema,
  benchRunSchema,
  benchRunsSchema,
  saveRunSchema,
  standInsSchema,
  startRunSchema,
  startStandInsSchema,
  type BenchRun,
} from '@yundro/core';
import { answer, bodyOf, idOf } from '../answers.js';
import { ApiError } from '../catalogue.js';
import type { Bench } from '../bench/bench.js';
import type { BenchStore } from '../bench/benchStore.js';
import type { StageStore } from '../stageStore.js';

const resumeSchema = z.strictObject({ addresses: addressesSchema.optional() });

/** A run that a page sends: none of them is under way by saying so. */
function restsOnly(run: BenchRun): BenchRun {
  if (run.state === 'running' || run.state === 'paused')
    throw new ApiError('invalid-request', 'A run is under way only while its instruments measure.', { path: 'state' });
  return run;
}

/** /api/stages/:id/runs and /api/runs: the log, and what the instruments do; /api/stand-ins: the simulated ones. */
export function benchRoutes(store: BenchStore, bench: Bench, stages: StageStore): Router {
  const router = Router();
  router.get('/stages/:id/runs', async (request, response) => {
    const { id } = await stages.stage(idOf(request));
    answer(response, benchRunsSchema, {
      runs: await Promise.all((await store.of(id)).map((row) => bench.present(row))),
    });
  });
  router.post('/stages/:id/runs', async (request, response) => {
    const run = restsOnly(bodyOf(request, benchRunSchema));
    const stage = await stages.stage(idOf(request));
    answer(response, benchRunRowSchema, await store.create(stage.id, run), 201);
  });
  router.post('/stages/:id/measure', async (request, response) => {
    const asked = bodyOf(request, startRunSchema);
    const stage = await stages.stage(idOf(request));
    answer(response, benchRunRowSchema, await bench.start(stage.id, stage.document, asked), 201);
  });
  router.get('/runs/:id', async (request, response) => {
    answer(response, benchRunRowSchema, await bench.present(await store.run(idOf(request))));
  });
  router.put('/runs/:id', async (request, response) => {
    const { revision, run } = bodyOf(request, saveRunSchema);
    answer(response, benchRunRowSchema, await store.save(idOf(request), revision, restsOnly(run)));
  });
  router.delete('/runs/:id', async (request, response) => {
    await store.setDeleted(idOf(request), true);
    response.status(204).end();
  });
  router.post('/runs/:id/restore', async (request, response) => {
    await store.setDeleted(idOf(request), false);
    response.status(204).end();
  });
  router.post('/runs/:id/pause', (request, response) => {
    bench.pause(idOf(request));
    response.status(204).end();
  });
  router.post('/runs/:id/resume', async (request, response) => {
    const id = idOf(request);
    const { addresses } = bodyOf(request, resumeSchema);
    const { stageId } = await store.run(id);
    await bench.resume(id, (await stages.stage(stageId)).document, addresses);
    response.status(204).end();
  });
  router.post('/runs/:id/abort', async (request, response) => {
    await bench.abort(idOf(request));
    response.status(204).end();
  });
  router.get('/stand-ins', (_request, response) => {
    answer(response, standInsSchema, bench.standIns());
  });
  router.post('/stages/:id/stand-ins', async (request, response) => {
    const { seed, instruments } = bodyOf(request, startStandInsSchema);
    const { id, document } = await stages.stage(idOf(request));
    answer(response, standInsSchema, await bench.setUp(id, document, seed, instruments), 201);
  });
  router.delete('/stand-ins', async (_request, response) => {
    await bench.putAway();
    response.status(204).end();
  });
  return router;
}

import { randomUUID } from 'node:crypto';
import { Router, type Request } from 'express';
import {
  checked,
  LIBRARY_SCHEMAS,
  libraryPartsSchema,
  PART_KINDS,
  partBatchSchema,
  problemsSentence,
  type LibraryPart,
  type PartKind,
} from '@yundro/core';
import { answer, bodyOf, idOf } from '../answers.js';
import { ApiError } from '../catalogue.js';
import type { PartStore } from '../partStore.js';

function kindOf(request: Request): PartKind {
  const kind = PART_KINDS.find((one) => one === request.query['kind']);
  if (!kind) throw new ApiError('invalid-request', `Ask for one kind of part: ${PART_KINDS.join(', ')}.`);
  return kind;
}

/** Parts as the schema of their kind has them; the first that does not fit refuses the batch. */
function checkedParts(kind: PartKind, documents: readonly unknown[]): readonly LibraryPart['part'][] {
  return documents.map((document) => {
    const read = checked<LibraryPart['part']>(LIBRARY_SCHEMAS[kind], document);
    if (read.ok) return read.value;
    throw new ApiError('invalid-request', problemsSentence(read.problems), { problems: read.problems });
  });
}

/** /api/parts: the library. An import is opened, filled in batches, and then finished or given up as a whole. */
export function partRoutes(store: PartStore): Router {
  const router = Router();
  router.get('/', async (request, response) => {
    answer(response, libraryPartsSchema, { parts: [...(await store.list(kindOf(request)))] });
  });
  router.post('/imports', (_request, response) => {
    response.status(201).json({ id: randomUUID() });
  });
  router.post('/imports/:id/rows', async (request, response) => {
    const { kind, parts } = bodyOf(request, partBatchSchema);
    await store.stage(idOf(request), kind, checkedParts(kind, parts));
    response.status(204).end();
  });
  router.post('/imports/:id/finish', async (request, response) => {
    response.json({ taken: await store.finish(idOf(request)) });
  });
  router.delete('/imports/:id', async (request, response) => {
    await store.giveUp(idOf(request));
    response.status(204).end();
  });
  router.delete('/:id', async (request, response) => {
    await store.remove([idOf(request)]);
    response.status(204).end();
  });
  return router;
}

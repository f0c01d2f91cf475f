import { Router } from 'express';
import { z } from 'zod';
import {
  namedSchema,
  newStageSchema,
  problemsSentence,
  shelfSchema,
  stageFromDocument,
  stageRecordSchema,
  type StageRow,
} from '@yundro/core';
import { answer, bodyOf, idOf } from '../answers.js';
import type { StageStore, StoredProject } from '../stageStore.js';
import type { Summaries } from '../summary/summaries.js';

const createdSchema = z.strictObject({ id: z.uuid() });

/** The name of a document that cannot be read otherwise. */
function nameIn(document: unknown): string {
  const name = typeof document === 'object' && document !== null && 'name' in document ? document.name : undefined;
  return typeof name === 'string' && name.trim() !== '' ? name.slice(0, 120) : 'Unreadable stage';
}

/** A document as it was read, and what its summary is of. */
type Read = ReturnType<typeof stageFromDocument> & { readonly summarised: string };

/** Documents kept as they were read; the oldest goes first. */
const MOST_READ = 2000;

/** Documents read for the shelf, by stage and revision: reading two hundred of them takes longer than all else of an answer. */
class ReadDocuments {
  constructor(private readonly summaries: Summaries) {}

  private readonly known = new Map<string, Read>();

  of({ id, revision, document }: StoredProject['stages'][number]): Read {
    const key = `${id}:${String(revision)}`;
    const found = this.known.get(key);
    if (found) return found;
    const made = stageFromDocument(document);
    const read = { ...made, summarised: made.ok ? this.summaries.keyOf(made.value) : '' };
    this.known.set(key, read);
    const [oldest] = this.known.keys();
    if (this.known.size > MOST_READ && oldest !== undefined) this.known.delete(oldest);
    return read;
  }
}

/** A stage as a row: with its summary where that is kept, else it is asked for and comes later. */
function rowOf(row: StoredProject['stages'][number], read: Read, summaries: Summaries): StageRow {
  const { id, revision } = row;
  const base = { id, revision, updatedAt: row.updatedAt.toISOString() };
  if (!read.ok) {
    const reason = `This version cannot read it: ${problemsSentence(read.problems)}`;
    return {
      ...base,
      name: nameIn(row.document),
      facts: null,
      summary: { state: 'unreadable', verdicts: null, tightest: null, reason },
    };
  }
  const { targets, name, topology, rectifier, phases } = read.value;
  const kept = summaries.of({ ...row, stage: read.value }, read.summarised);
  return {
    ...base,
    name,
    facts: {
      topology,
      rectifier,
      phases,
      inputVoltage: { min: targets.inputVoltage.min, max: targets.inputVoltage.max },
      outputVoltage: targets.outputVoltage,
      outputCurrent: targets.outputCurrent.max,
    },
    summary: kept ?? { state: 'pending', verdicts: null, tightest: null, reason: null },
  };
}

/** /api/projects: the shelf. */
export function projectRoutes(store: StageStore, summaries: Summaries): Router {
  const router = Router();
  const documents = new ReadDocuments(summaries);
  router.get('/', async (_request, response) => {
    const shelf = await store.shelf();
    answer(response, shelfSchema, {
      projects: shelf.map(({ id, name, stages }) => ({
        id,
        name,
        stages: stages.map((row) => rowOf(row, documents.of(row), summaries)),
      })),
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

import { z } from 'zod';
import { text } from '../stage/field.js';
import { stageSchema } from '../stage/schema.js';

/** What crosses the JSON API under /api: the server checks requests and responses against these, the browser responses. */

const idSchema = z.uuid();
const nameSchema = text(120).trim().min(1);
/** As the database counts: a 32-bit integer. */
const revisionSchema = z.int32().min(1);

/** Verdict counts of a stage; null with the reason where it cannot be worked, or is not worked yet. @public */
export const stageSummarySchema = z.strictObject({
  state: z.enum(['worked', 'pending', 'not-worked', 'unreadable']),
  verdicts: z.strictObject({ holds: z.int(), tight: z.int(), fails: z.int(), notJudged: z.int() }).nullable(),
  /** The target with the smallest margin, and its margin; null where there is none. */
  tightest: z.strictObject({ quantity: z.string(), margin: z.number().nullable() }).nullable(),
  reason: z.string().nullable(),
});

/** A stage as a row of the shelf. @public */
export const stageRowSchema = z.strictObject({
  id: idSchema,
  name: z.string(),
  revision: revisionSchema,
  updatedAt: z.iso.datetime(),
  /** What the stage is; null where its stored document cannot be read. */
  facts: z
    .strictObject({
      topology: z.string(),
      rectifier: z.string(),
      phases: z.int(),
      inputVoltage: z.strictObject({ min: z.number(), max: z.number() }),
      outputVoltage: z.number(),
      outputCurrent: z.number(),
    })
    .nullable(),
  summary: stageSummarySchema,
});
/** @public */
export type StageRow = z.infer<typeof stageRowSchema>;

/** @public */
export const projectSchema = z.strictObject({ id: idSchema, name: nameSchema, stages: z.array(stageRowSchema) });
/** @public */
export type Project = z.infer<typeof projectSchema>;

/** @public */
export const shelfSchema = z.strictObject({ projects: z.array(projectSchema) });

/** A stage with its document. @public */
export const stageRecordSchema = z.strictObject({
  id: idSchema,
  projectId: idSchema,
  projectName: z.string(),
  revision: revisionSchema,
  updatedAt: z.iso.datetime(),
  document: stageSchema,
});
/** @public */
export type StageRecord = z.infer<typeof stageRecordSchema>;

/** @public */
export const namedSchema = z.strictObject({ name: nameSchema });
/** @public */
export const newStageSchema = z.strictObject({ document: stageSchema });
/** @public */
export const saveStageSchema = z.strictObject({
  /** The revision the edit began from. */
  revision: revisionSchema,
  document: stageSchema,
  /** Names the save, so that sent again after a lost answer it is acknowledged. */
  save: z.uuid().optional(),
});

/** @public */
export const healthSchema = z.strictObject({
  status: z.enum(['ok', 'degraded']),
  database: z.enum(['reachable', 'unreachable']),
});

const partKindSchema = z.enum(['inductor', 'capacitor', 'mosfet', 'diode', 'core', 'controller']);
/** Most parts sent at once; a larger import goes in several batches. @public */
export const PART_BATCH = 1000;

/** A part of the library; its fields are checked by the schema of its kind. @public */
export const libraryPartSchema = z.strictObject({
  id: idSchema,
  kind: partKindSchema,
  part: z.looseObject({ name: nameSchema }),
});
/** @public */
export type LibraryPart = z.infer<typeof libraryPartSchema>;
/** @public */
export const libraryPartsSchema = z.strictObject({ parts: z.array(libraryPartSchema) });

/** Some rows of an import: kept aside until it is finished, so that nothing is half imported. @public */
export const partBatchSchema = z.strictObject({
  kind: partKindSchema,
  parts: z.array(z.looseObject({ name: nameSchema })).max(PART_BATCH),
});

/** RFC 9457 problem details, with the field the problem is about. @public */
export const apiProblemSchema = z.looseObject({
  type: z.string(),
  title: z.string(),
  status: z.int(),
  detail: z.string(),
  path: z.string().optional(),
});
/** @public */
export type ApiProblem = z.infer<typeof apiProblemSchema>;

/** The answer to saving over a newer revision: both versions, so that nothing is lost. @public */
export const conflictSchema = apiProblemSchema.extend({ current: stageRecordSchema, yours: stageSchema });

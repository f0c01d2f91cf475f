import { sql } from 'drizzle-orm';
import { index, integer, jsonb, pgTable, text, timestamp, uniqueIndex, uuid } from 'drizzle-orm/pg-core';
import type { BenchRun, BoardNotes, LibraryPart, PartKind, StageRow } from '@yundro/core';

/** Deleted rows stay, marked, so that a deletion can be undone. */
const kept = { deletedAt: timestamp('deleted_at', { withTimezone: true }) };
const createdAt = timestamp('created_at', { withTimezone: true }).notNull().defaultNow();

export const projects = pgTable('projects', {
  id: uuid('id').primaryKey().defaultRandom(),
  name: text('name').notNull(),
  createdAt,
  ...kept,
});

/** The parts library. */
export const parts = pgTable(
  'parts',
  {
    id: uuid('id').primaryKey().defaultRandom(),
    kind: text('kind').$type<PartKind>().notNull(),
    name: text('name').notNull(),
    /** Checked by the core's schema of its kind on the way in. */
    document: jsonb('document').$type<LibraryPart['part']>().notNull(),
    /** The import a row belongs to while that is not finished: seen by nobody, gone when it is given up. */
    stagedIn: uuid('staged_in'),
    createdAt,
  },
  (table) => [
    index('parts_by_kind').on(table.kind),
    index('parts_by_import').on(table.stagedIn),
    // Two imports finished at once cannot leave a part twice.
    uniqueIndex('parts_by_name')
      .on(table.kind, table.name)
      .where(sql`staged_in IS NULL`),
  ],
);

export const stages = pgTable(
  'stages',
  {
    id: uuid('id').primaryKey().defaultRandom(),
    projectId: uuid('project_id')
      .notNull()
      .references(() => projects.id),
    /** The stage file as JSON: checked on the way in, and again on the way out, for an older program may have written it. */
    document: jsonb('document').$type<unknown>().notNull(),
    /** Counts up with every save; a save names the one it began from. */
    revision: integer('revision').notNull().default(1),
    /** The name of the save that made this revision: the same one sent again is acknowledged. */
    lastSave: uuid('last_save'),
    /** Verdict counts, and what they are of: what the stage says, and the core that worked them. */
    summary: jsonb('summary').$type<StageRow['summary']>(),
    summaryOf: text('summary_of'),
    createdAt,
    updatedAt: timestamp('updated_at', { withTimezone: true }).notNull().defaultNow(),
    ...kept,
  },
  (table) => [index('stages_by_project').on(table.projectId)],
);

/** What the designer says about the board of a stage: its review, its floor plan, the parts around its controller. */
export const boardNotes = pgTable('board_notes', {
  stageId: uuid('stage_id')
    .primaryKey()
    .references(() => stages.id),
  /** Checked by the core's schema on the way in. */
  document: jsonb('document').$type<BoardNotes>().notNull(),
  /** Counts up with every save; a save names the one it began from. */
  revision: integer('revision').notNull().default(1),
});

/** What was measured on boards of a stage. */
export const benchRuns = pgTable(
  'bench_runs',
  {
    id: uuid('id').primaryKey().defaultRandom(),
    stageId: uuid('stage_id')
      .notNull()
      .references(() => stages.id),
    /** Checked by the core's schema on the way in. */
    document: jsonb('document').$type<BenchRun>().notNull(),
    /** Counts up with every save, and with every reading of a run under way. */
    revision: integer('revision').notNull().default(1),
    createdAt,
    ...kept,
  },
  (table) => [index('bench_runs_by_stage').on(table.stageId)],
);

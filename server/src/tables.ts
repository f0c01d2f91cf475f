import { integer, jsonb, pgTable, text, timestamp, uuid, index } from 'drizzle-orm/pg-core';
import type { LibraryPart, PartKind, Stage } from '@yundro/core';

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
  (table) => [index('parts_by_kind').on(table.kind), index('parts_by_import').on(table.stagedIn)],
);

export const stages = pgTable(
  'stages',
  {
    id: uuid('id').primaryKey().defaultRandom(),
    projectId: uuid('project_id')
      .notNull()
      .references(() => projects.id),
    /** The stage file as JSON, checked by the core's schema on the way in and out. */
    document: jsonb('document').$type<Stage>().notNull(),
    /** Counts up with every save; a save names the one it began from. */
    revision: integer('revision').notNull().default(1),
    createdAt,
    updatedAt: timestamp('updated_at', { withTimezone: true }).notNull().defaultNow(),
    ...kept,
  },
  (table) => [index('stages_by_project').on(table.projectId)],
);

import { integer, jsonb, pgTable, text, timestamp, uuid, index } from 'drizzle-orm/pg-core';
import type { Stage } from '@yundro/core';

/** Deleted rows stay, marked, so that a deletion can be undone. */
const kept = { deletedAt: timestamp('deleted_at', { withTimezone: true }) };
const createdAt = timestamp('created_at', { withTimezone: true }).notNull().defaultNow();

export const projects = pgTable('projects', {
  id: uuid('id').primaryKey().defaultRandom(),
  name: text('name').notNull(),
  createdAt,
  ...kept,
});

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

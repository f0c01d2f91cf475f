import { BoardStore } from './boardStore.js';
import { and, asc, eq, isNull, sql } from 'drizzle-orm';
import { problemsSentence, stageFromDocument, type Stage, type StageRecord, type StageRow } from '@yundro/core';
import { ApiError } from './catalogue.js';
import { inTransaction, type Database, type Transaction } from './database.js';
import { projects, stages } from './tables.js';

type StoredStage = typeof stages.$inferSelect;

const missingStage = () => new ApiError('not-found', 'There is no such stage; it may have been deleted.');
const missingProject = () => new ApiError('not-found', 'There is no such project; it may have been deleted.');

/** A stored document as the present program reads it: brought to its version, and checked. */
function readDocument(row: StoredStage): Stage {
  const read = stageFromDocument(row.document);
  if (read.ok) return read.value;
  throw new ApiError(
    'unreadable-stage',
    `The stage is stored in a form this version cannot read: ${problemsSentence(read.problems)} It can be exported as it is.`,
  );
}

function recordOf(row: StoredStage, projectName: string): StageRecord {
  return {
    id: row.id,
    projectId: row.projectId,
    projectName,
    revision: row.revision,
    updatedAt: row.updatedAt.toISOString(),
    document: readDocument(row),
  };
}

/** A stored project with its stages, in the order they were made. */
export interface StoredProject {
  readonly id: string;
  readonly name: string;
  readonly stages: readonly StoredStage[];
}

/** Whether two documents say the same, whatever the order their keys were stored in. */
const sameDocument = (a: Stage, b: Stage): boolean => JSON.stringify(a) === JSON.stringify(b);

/** Reads and writes projects and stages. Every method throws ApiError `not-found` for what is not there. */
export class StageStore {
  constructor(private readonly database: Database) {}

  async shelf(): Promise<readonly StoredProject[]> {
    const [kept, rows] = await Promise.all([
      this.database.select().from(projects).where(isNull(projects.deletedAt)).orderBy(asc(projects.createdAt)),
      this.database.select().from(stages).where(isNull(stages.deletedAt)).orderBy(asc(stages.createdAt)),
    ]);
    return kept.map(({ id, name }) => ({ id, name, stages: rows.filter((row) => row.projectId === id) }));
  }

  /** Keep what was worked of a stage, unless it was changed meanwhile. */
  async keepSummary(id: string, revision: number, of: string, summary: StageRow['summary']): Promise<void> {
    await this.database
      .update(stages)
      .set({ summary, summaryOf: of })
      .where(and(eq(stages.id, id), eq(stages.revision, revision)));
  }

  /** @param originals the stages that the documents are copies of: what is kept about their boards is copied too. */
  async createProject(
    name: string,
    documents: readonly unknown[] = [],
    originals: readonly string[] = [],
  ): Promise<string> {
    return inTransaction(this.database, async (tx) => {
      const [made] = await tx.insert(projects).values({ name }).returning({ id: projects.id });
      if (!made) throw new Error('The new project was not returned.');
      // One by one, so that the order of creation is the order of the shelf.
      for (const [k, document] of documents.entries()) {
        const [stage] = await tx
          .insert(stages)
          .values({ projectId: made.id, document, createdAt: sql`clock_timestamp()` })
          .returning({ id: stages.id });
        const original = originals[k];
        if (stage && original !== undefined) await new BoardStore(tx).copy(original, stage.id);
      }
      return made.id;
    });
  }

  async renameProject(id: string, name: string): Promise<void> {
    const changed = await this.database
      .update(projects)
      .set({ name })
      .where(and(eq(projects.id, id), isNull(projects.deletedAt)))
      .returning({ id: projects.id });
    if (changed.length === 0) throw missingProject();
  }

  async setProjectDeleted(id: string, deleted: boolean): Promise<void> {
    const changed = await this.database
      .update(projects)
      .set({ deletedAt: deleted ? sql`now()` : null })
      .where(eq(projects.id, id))
      .returning({ id: projects.id });
    if (changed.length === 0) throw missingProject();
  }

  async duplicateProject(id: string): Promise<string> {
    const project = (await this.shelf()).find((one) => one.id === id);
    if (!project) throw missingProject();
    // As they are stored: what this version cannot read is copied all the same.
    return this.createProject(
      `${project.name} copy`.slice(0, 120),
      project.stages.map(({ document }) => document),
      project.stages.map((stage) => stage.id),
    );
  }

  async createStage(projectId: string, document: Stage): Promise<StageRecord> {
    return inTransaction(this.database, async (tx) => {
      const project = await projectName(tx, projectId);
      const [row] = await tx.insert(stages).values({ projectId, document }).returning();
      if (!row) throw new Error('The new stage was not returned.');
      return recordOf(row, project);
    });
  }

  async stage(id: string): Promise<StageRecord> {
    return inTransaction(this.database, async (tx) => {
      const row = await stageRow(tx, id);
      return recordOf(row, await projectName(tx, row.projectId));
    });
  }

  /** The document as it is stored, readable or not. */
  async storedDocument(id: string): Promise<unknown> {
    return (await stageRow(this.database, id)).document;
  }

  /**
   * Save a stage that was edited from `revision`. The check and the write are one statement, so that of two saves from the
   * same revision exactly one succeeds; the other gets a `conflict` with both versions. A save that is sent again, because its
   * answer was lost, is known by its name or by saying what is stored already, and is acknowledged.
   */
  async saveStage(id: string, revision: number, document: Stage, save?: string): Promise<StageRecord> {
    return inTransaction(this.database, async (tx) => {
      const [row] = await tx
        .update(stages)
        .set({ document, lastSave: save ?? null, revision: sql`${stages.revision} + 1`, updatedAt: sql`now()` })
        .where(and(eq(stages.id, id), eq(stages.revision, revision), isNull(stages.deletedAt)))
        .returning();
      if (row) return recordOf(row, await projectName(tx, row.projectId));
      const stored = await stageRow(tx, id);
      const current = recordOf(stored, await projectName(tx, stored.projectId));
      const sentAgain = save !== undefined && stored.lastSave === save;
      if (sentAgain || sameDocument(current.document, document)) return current;
      throw new ApiError(
        'conflict',
        `This stage was saved elsewhere meanwhile: revision ${String(current.revision)} is newer than the revision ${String(revision)} this edit began from.`,
        { current, yours: document },
      );
    });
  }

  async setStageDeleted(id: string, deleted: boolean): Promise<void> {
    const changed = await this.database
      .update(stages)
      .set({ deletedAt: deleted ? sql`now()` : null })
      .where(eq(stages.id, id))
      .returning({ id: stages.id });
    if (changed.length === 0) throw missingStage();
  }
}

async function stageRow(database: Database | Transaction, id: string): Promise<StoredStage> {
  const [row] = await database
    .select()
    .from(stages)
    .where(and(eq(stages.id, id), isNull(stages.deletedAt)));
  if (!row) throw missingStage();
  return row;
}

async function projectName(tx: Transaction, id: string): Promise<string> {
  const [row] = await tx
    .select({ name: projects.name })
    .from(projects)
    .where(and(eq(projects.id, id), isNull(projects.deletedAt)));
  if (!row) throw missingProject();
  return row.name;
}

import { and, asc, eq, isNull, sql } from 'drizzle-orm';
import type { Stage, StageRecord } from '@yundro/core';
import { ApiError } from './catalogue.js';
import type { Database } from './database.js';
import { projects, stages } from './tables.js';

type StoredStage = typeof stages.$inferSelect;

const missingStage = () => new ApiError('not-found', 'There is no such stage; it may have been deleted.');
const missingProject = () => new ApiError('not-found', 'There is no such project; it may have been deleted.');

function recordOf(row: StoredStage, projectName: string): StageRecord {
  return {
    id: row.id,
    projectId: row.projectId,
    projectName,
    revision: row.revision,
    updatedAt: row.updatedAt.toISOString(),
    document: row.document,
  };
}

/** A stored project with its stages, in the order they were made. */
export interface StoredProject {
  readonly id: string;
  readonly name: string;
  readonly stages: readonly StoredStage[];
}

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

  async createProject(name: string, documents: readonly Stage[] = []): Promise<string> {
    return this.database.transaction(async (tx) => {
      const [made] = await tx.insert(projects).values({ name }).returning({ id: projects.id });
      if (!made) throw new Error('The new project was not returned.');
      // One by one, so that the order of creation is the order of the shelf.
      for (const document of documents) {
        await tx.insert(stages).values({ projectId: made.id, document, createdAt: sql`clock_timestamp()` });
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
    return this.createProject(
      `${project.name} copy`.slice(0, 120),
      project.stages.map(({ document }) => document),
    );
  }

  async createStage(projectId: string, document: Stage): Promise<StageRecord> {
    const project = await this.projectName(projectId);
    const [row] = await this.database.insert(stages).values({ projectId, document }).returning();
    if (!row) throw new Error('The new stage was not returned.');
    return recordOf(row, project);
  }

  async stage(id: string): Promise<StageRecord> {
    const [row] = await this.database
      .select()
      .from(stages)
      .where(and(eq(stages.id, id), isNull(stages.deletedAt)));
    if (!row) throw missingStage();
    return recordOf(row, await this.projectName(row.projectId));
  }

  /**
   * Save a stage that was edited from `revision`. The check and the write are one statement, so that of two saves from the
   * same revision exactly one succeeds; the other gets a `conflict` with both versions.
   */
  async saveStage(id: string, revision: number, document: Stage): Promise<StageRecord> {
    const [row] = await this.database
      .update(stages)
      .set({ document, revision: sql`${stages.revision} + 1`, updatedAt: sql`now()` })
      .where(and(eq(stages.id, id), eq(stages.revision, revision), isNull(stages.deletedAt)))
      .returning();
    if (row) return recordOf(row, await this.projectName(row.projectId));
    const current = await this.stage(id);
    throw new ApiError(
      'conflict',
      `This stage was saved elsewhere meanwhile: revision ${String(current.revision)} is newer than the revision ${String(revision)} this edit began from.`,
      { current, yours: document },
    );
  }

  async setStageDeleted(id: string, deleted: boolean): Promise<void> {
    const changed = await this.database
      .update(stages)
      .set({ deletedAt: deleted ? sql`now()` : null })
      .where(eq(stages.id, id))
      .returning({ id: stages.id });
    if (changed.length === 0) throw missingStage();
  }

  private async projectName(id: string): Promise<string> {
    const [row] = await this.database
      .select({ name: projects.name })
      .from(projects)
      .where(and(eq(projects.id, id), isNull(projects.deletedAt)));
    if (!row) throw missingProject();
    return row.name;
  }
}

import { isDeepStrictEqual } from 'node:util';
import { and, desc, eq, isNull, not, sql } from 'drizzle-orm';
import { benchRunSchema, type BenchRun, type BenchRunRow } from '@yundro/core';
import { ApiError } from '../catalogue.js';
import type { Database } from '../database.js';
import { benchRuns } from '../tables.js';

type Stored = typeof benchRuns.$inferSelect;
const rowOf = ({ id, stageId, revision, document }: Stored): BenchRunRow => ({
  id,
  stageId,
  revision,
  run: benchRunSchema.parse(document),
});
const missing = () => new ApiError('not-found', 'There is no such run; it may have been deleted.');

/** What a run that nobody attends to any more comes to. */
export const LEFT =
  'Yundro was ended or lost its database while the run went on: see to it that supply and load are off. What had been read is kept; the run can be taken up again.';

/** Runs that their instruments write into. */
const underWay = sql`${benchRuns.document}->>'state' in ('running', 'paused')`;

/** Reads and writes the log of the bench. Every method throws ApiError `not-found` for what is not there. */
export class BenchStore {
  constructor(private readonly database: Database) {}

  /** The runs of a stage, the newest first. */
  async of(stageId: string): Promise<readonly BenchRunRow[]> {
    const rows = await this.database
      .select()
      .from(benchRuns)
      .where(and(eq(benchRuns.stageId, stageId), isNull(benchRuns.deletedAt)))
      .orderBy(desc(benchRuns.createdAt));
    return rows.map(rowOf);
  }

  async run(id: string): Promise<BenchRunRow> {
    const [row] = await this.database
      .select()
      .from(benchRuns)
      .where(and(eq(benchRuns.id, id), isNull(benchRuns.deletedAt)));
    if (!row) throw missing();
    return rowOf(row);
  }

  async create(stageId: string, run: BenchRun): Promise<BenchRunRow> {
    const [row] = await this.database.insert(benchRuns).values({ stageId, document: run }).returning();
    if (!row) throw new Error('The new run was not returned.');
    return rowOf(row);
  }

  /** Save what was entered by hand from a revision; a newer one is a `conflict`, with what is stored. */
  async save(id: string, revision: number, run: BenchRun): Promise<BenchRunRow> {
    const [row] = await this.database
      .update(benchRuns)
      .set({ document: run, revision: sql`${benchRuns.revision} + 1` })
      .where(and(eq(benchRuns.id, id), eq(benchRuns.revision, revision), isNull(benchRuns.deletedAt), not(underWay)))
      .returning();
    if (row) return rowOf(row);
    const current = await this.run(id);
    if (isDeepStrictEqual(current.run, run)) return current;
    if (current.run.state === 'running' || current.run.state === 'paused')
      throw new ApiError(
        'bench-busy',
        'The run is under way: what its instruments write would be overwritten. Wait for its end.',
      );
    throw new ApiError('conflict', 'The run was changed meanwhile, in another window or by its instruments.', {
      current,
    });
  }

  /** What a run under way has come to. */
  async told(id: string, run: BenchRun): Promise<void> {
    await this.database
      .update(benchRuns)
      .set({ document: run, revision: sql`${benchRuns.revision} + 1` })
      .where(eq(benchRuns.id, id));
  }

  async setDeleted(id: string, deleted: boolean): Promise<void> {
    const changed = await this.database
      .update(benchRuns)
      .set({ deletedAt: deleted ? sql`now()` : null })
      .where(eq(benchRuns.id, id))
      .returning({ id: benchRuns.id });
    if (changed.length === 0) throw missing();
  }

  /** Runs that a server which ended left under way: their instruments are to be looked at. */
  async endAbandoned(): Promise<void> {
    const rows = await this.database.select().from(benchRuns).where(underWay);
    for (const { id, document } of rows)
      await this.told(id, {
        ...benchRunSchema.parse(document),
        state: 'lost',
        problem: LEFT,
      });
  }
}

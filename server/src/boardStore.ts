import { and, eq, sql } from 'drizzle-orm';
import { boardNotesSchema, type BoardNotes, type BoardRow } from '@yundro/core';
import { ApiError } from './catalogue.js';
import type { Database, Transaction } from './database.js';
import { boardNotes } from './tables.js';

type Stored = typeof boardNotes.$inferSelect;
const rowOf = ({ revision, document }: Stored): BoardRow => ({ revision, notes: boardNotesSchema.parse(document) });

/** Reads and writes what is kept about the board of a stage. */
export class BoardStore {
  constructor(private readonly database: Database | Transaction) {}

  /** The notes of a stage that is there; revision 0 where there are none yet. */
  async of(stageId: string): Promise<BoardRow> {
    const [row] = await this.database.select().from(boardNotes).where(eq(boardNotes.stageId, stageId));
    return row ? rowOf(row) : { revision: 0, notes: null };
  }

  /** Save notes that were begun from a revision; throws `conflict` where a newer one is stored. The check and the write are one statement. */
  async save(stageId: string, revision: number, notes: BoardNotes): Promise<BoardRow> {
    const [row] =
      revision === 0
        ? await this.database.insert(boardNotes).values({ stageId, document: notes }).onConflictDoNothing().returning()
        : await this.database
            .update(boardNotes)
            .set({ document: notes, revision: sql`${boardNotes.revision} + 1` })
            .where(and(eq(boardNotes.stageId, stageId), eq(boardNotes.revision, revision)))
            .returning();
    if (row) return rowOf(row);
    throw new ApiError('conflict', 'The notes on this board were changed meanwhile, in another window.');
  }

  /** Give a copy of a stage the notes of its original. */
  async copy(from: string, to: string): Promise<void> {
    const { notes } = await this.of(from);
    if (notes) await this.save(to, 0, notes);
  }
}

import { and, asc, eq, inArray, isNotNull, isNull, lt, sql } from 'drizzle-orm';
import { genericParts, PART_KINDS, type Inventory, type LibraryPart, type PartKind } from '@yundro/core';
import { ApiError } from './catalogue.js';
import { inTransaction, type Database } from './database.js';
import { parts } from './tables.js';

/** Rows put into the database with one statement. */
const AT_ONCE = 500;

/** Reads and writes the parts library. */
export class PartStore {
  constructor(private readonly database: Database) {}

  async list(kind: PartKind): Promise<readonly LibraryPart[]> {
    const rows = await this.database
      .select()
      .from(parts)
      .where(and(eq(parts.kind, kind), isNull(parts.stagedIn)))
      .orderBy(asc(parts.name));
    return rows.map(({ id, kind: stored, document }) => ({ id, kind: stored, part: document }));
  }

  /** Keep rows of an import aside. */
  async stage(importId: string, kind: PartKind, documents: readonly LibraryPart['part'][]): Promise<void> {
    if (documents.length === 0) return;
    // One parameter for all rows: a statement with thousands of them takes longer to put together than to run.
    await this.database.execute(sql`
      insert into ${parts} (kind, name, document, staged_in)
      select ${kind}, part ->> 'name', part, ${importId}::uuid from jsonb_array_elements(${JSON.stringify(documents)}::jsonb) as part`);
  }

  /**
   * Take all rows of an import into the library at once; parts of the same kind and name are replaced.
   *
   * @returns how many were taken.
   */
  async finish(importId: string): Promise<number> {
    // One statement, in one order of names: of two imports at once each part is of one of them, and neither waits for the other's.
    const { rows } = await this.database.execute(sql`
      with coming as (delete from ${parts} where staged_in = ${importId}::uuid returning kind, name, document, created_at)
      insert into ${parts} (kind, name, document)
      select distinct on (kind, name) kind, name, document from coming order by kind, name, created_at desc
      on conflict (kind, name) where staged_in is null do update set document = excluded.document, created_at = now()
      returning id`);
    if (rows.length === 0) throw new ApiError('not-found', 'There is no such import; it may have been given up.');
    return rows.length;
  }

  /** Give an import up: none of its rows stays. */
  async giveUp(importId: string): Promise<void> {
    await this.database.delete(parts).where(eq(parts.stagedIn, importId));
  }

  /** Drop imports that nobody finished within a day. */
  async clearAbandoned(): Promise<void> {
    await this.database
      .delete(parts)
      .where(and(isNotNull(parts.stagedIn), lt(parts.createdAt, sql`now() - interval '1 day'`)));
  }

  async remove(ids: readonly string[]): Promise<void> {
    const gone = await this.database
      .delete(parts)
      .where(inArray(parts.id, [...ids]))
      .returning({ id: parts.id });
    if (gone.length === 0) throw new ApiError('not-found', 'There is no such part; it may have been deleted.');
  }

  /** Put the generic parts into an empty library. Returns whether it did. */
  async seedGeneric(): Promise<boolean> {
    const [any] = await this.database.select({ id: parts.id }).from(parts).limit(1);
    if (any) return false;
    await this.add(genericParts());
    return true;
  }

  /** Add parts to the library; one whose kind and name are there already stays as it is. */
  async add(coming: Partial<Inventory>): Promise<void> {
    await inTransaction(this.database, async (tx) => {
      for (const kind of PART_KINDS) {
        const rows = (coming[kind] ?? []).map((document) => ({ kind, name: document.name, document }));
        for (let at = 0; at < rows.length; at += AT_ONCE)
          await tx
            .insert(parts)
            .values(rows.slice(at, at + AT_ONCE))
            .onConflictDoNothing();
      }
    });
  }
}

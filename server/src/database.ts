import { drizzle, type NodePgDatabase } from 'drizzle-orm/node-postgres';
import { readMigrationFiles } from 'drizzle-orm/migrator';
import { migrate } from 'drizzle-orm/node-postgres/migrator';
import { fileURLToPath } from 'node:url';
import { sql } from 'drizzle-orm';
import pg from 'pg';
import type { Logger } from 'pino';

export type Database = NodePgDatabase & { readonly $client: pg.Pool };

/** How long a request waits for a connection before it is answered with 503, ms. */
const CONNECT_TIMEOUT = 3000;

/** Open a pool of connections. A connection lost while idle is logged and replaced by the pool on the next request. */
export function openDatabase(url: string, logger: Logger): Database {
  const pool = new pg.Pool({ connectionString: url, max: 8, connectionTimeoutMillis: CONNECT_TIMEOUT });
  const lost = (error: Error): void => logger.warn({ err: error }, 'a database connection was lost');
  pool.on('error', lost);
  // One that is lost in the middle of a transaction tells nobody but its own listeners, and a fault nobody hears ends the process.
  pool.on('connect', (client) => client.on('error', lost));
  return drizzle(pool);
}

/** The database within a transaction. */
export type Transaction = NodePgDatabase;

/**
 * Do some work as one transaction. The connection is given back whatever happens, and not used again where it is broken: one lost
 * with the first statement would otherwise be missing from the pool for good.
 */
export async function inTransaction<T>(database: Database, work: (tx: Transaction) => Promise<T>): Promise<T> {
  const client = await database.$client.connect();
  let broken: Error | undefined;
  try {
    await client.query('BEGIN');
    const result = await work(drizzle(client));
    await client.query('COMMIT');
    return result;
  } catch (error) {
    await client.query('ROLLBACK').catch((fault: unknown) => {
      broken = fault instanceof Error ? fault : new Error(String(fault));
    });
    throw error;
  } finally {
    client.release(broken);
  }
}

const MIGRATIONS = fileURLToPath(new URL('../drizzle', import.meta.url));

/** The tables were made by a newer program: this one would not know what it does to them. */
export class NewerDatabase extends Error {
  override readonly name = 'NewerDatabase';
}

/**
 * Bring the database to the present tables. Harmless when it already is.
 *
 * @throws NewerDatabase where a newer program has been at it.
 */
export async function migrateDatabase(database: Database): Promise<void> {
  const newest = Math.max(
    ...readMigrationFiles({ migrationsFolder: MIGRATIONS }).map(({ folderMillis }) => folderMillis),
  );
  const {
    rows: [table],
  } = await database.execute<{ known: string | null }>(
    sql`select to_regclass('drizzle.__drizzle_migrations')::text as known`,
  );
  if (table?.known != null) {
    const {
      rows: [last],
    } = await database.execute<{ at: string | null }>(
      sql`select max(created_at)::text as at from drizzle.__drizzle_migrations`,
    );
    if (Number(last?.at ?? 0) > newest)
      throw new NewerDatabase(
        'The data was last used by a newer version of Yundro: start that version, or restore a backup made with this one.',
      );
  }
  await migrate(database, { migrationsFolder: MIGRATIONS });
}

/** Whether the database answers. */
export async function isReachable(database: Database): Promise<boolean> {
  try {
    await database.execute(sql`select 1`);
    return true;
  } catch {
    return false;
  }
}

/** SQLSTATE classes that mean "the database is not there": connection, shutdown, start-up, too many connections. */
const UNREACHABLE_STATES = /^(08|57P|53300)/;
const UNREACHABLE_CODES = new Set(['ECONNREFUSED', 'ECONNRESET', 'ENOENT', 'EPIPE', 'ETIMEDOUT', 'EHOSTUNREACH']);

/** What says that there is no room: of the server's disk, or of the database's. */
const FULL = new Set(['53100', 'ENOSPC']);

/** Whether an error says that the disk is full, looking through the causes it wraps. */
export function saysDiskFull(error: unknown): boolean {
  if (typeof error !== 'object' || error === null) return false;
  const { code, cause } = error as Caught;
  return (typeof code === 'string' && FULL.has(code)) || saysDiskFull(cause);
}

interface Caught {
  readonly code?: unknown;
  readonly message?: unknown;
  readonly cause?: unknown;
  readonly errors?: unknown;
}

/** Whether an error says that the database is away, looking through the causes and errors it wraps. */
export function saysUnreachable(error: unknown): boolean {
  if (typeof error !== 'object' || error === null) return false;
  const { code, message, cause, errors } = error as Caught;
  if (typeof code === 'string' && (UNREACHABLE_CODES.has(code) || UNREACHABLE_STATES.test(code))) return true;
  if (
    typeof message === 'string' &&
    /timeout exceeded when trying to connect|Connection terminated|connection error and is not queryable|Client was closed/i.test(
      message,
    )
  ) {
    return true;
  }
  return (Array.isArray(errors) && errors.some(saysUnreachable)) || saysUnreachable(cause);
}

import { chmodSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { build } from 'esbuild';
import { pino } from 'pino';
import request from 'supertest';
import { startPostgres, type Cluster } from '../../scripts/lib/postgres.mjs';
import { createApp } from '../src/app.js';
import { Bench } from '../src/bench/bench.js';
import { BenchStore } from '../src/bench/benchStore.js';
import { migrateDatabase, openDatabase, type Database } from '../src/database.js';
import { StageStore } from '../src/stageStore.js';
import { Summaries } from '../src/summary/summaries.js';

/** The application over a throw-away database of its own, as tests ask it. */
export interface TestApp {
  readonly cluster: Cluster;
  readonly database: Database;
  readonly store: StageStore;
  readonly summaries: Summaries;
  readonly bench: Bench;
  readonly api: ReturnType<typeof request>;
  readonly close: () => Promise<void>;
}

/** Start it; `timeLimit` is that of a summary, ms. */
export async function testApp({ timeLimit }: { readonly timeLimit?: number } = {}): Promise<TestApp> {
  const folder = mkdtempSync(join(tmpdir(), 'yundro-server-'));
  // The database may run as another user, who must get through this folder.
  chmodSync(folder, 0o755);
  const logger = pino({ level: 'silent' });
  const cluster = await startPostgres(folder, { durable: false });
  const database = openDatabase(cluster.url, logger);
  await migrateDatabase(database);
  const workerFile = join(folder, 'summaryWorker.mjs');
  const standInFile = join(folder, 'standInWorker.mjs');
  await build({
    entryPoints: ['summary/summaryWorker.ts', 'standIns/standInWorker.ts'].map((file) =>
      join(import.meta.dirname, '../src', file),
    ),
    entryNames: '[name]',
    outdir: folder,
    outExtension: { '.js': '.mjs' },
    bundle: true,
    platform: 'node',
    format: 'esm',
    target: 'node20',
    logLevel: 'error',
  });
  const store = new StageStore(database);
  const summaries = new Summaries({
    store,
    logger,
    workerFile: pathToFileURL(workerFile),
    ...(timeLimit !== undefined && { timeLimit }),
  });
  const bench = new Bench({ store: new BenchStore(database), logger, workerFile: pathToFileURL(standInFile) });
  return {
    cluster,
    database,
    store,
    summaries,
    api: request(createApp({ database, logger, summaries, bench })),
    bench,
    close: async () => {
      await bench.close();
      await summaries.close();
      await database.$client.end();
      await cluster.stop();
      rmSync(folder, { recursive: true, force: true });
    },
  };
}

/** The body of an answer, as something still to be checked. */
export const contentOf = (answer: request.Response): unknown => answer.body as unknown;

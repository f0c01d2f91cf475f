import { pino } from 'pino';
import { answerInSentences } from './ownAnswers.js';
import { createApp } from './app.js';
import { Bench } from './bench/bench.js';
import { BenchStore } from './bench/benchStore.js';
import { migrateDatabase, NewerDatabase, openDatabase } from './database.js';
import { PartStore } from './partStore.js';
import { seedDemo } from './demo/seed.js';
import { StageStore } from './stageStore.js';
import { Summaries } from './summary/summaries.js';

/** Time given to requests under way when the server is told to stop, ms. */
const GRACE = 2000;
/** How long a connection may wait for its next request, ms: longer than a browser's, which then ends it first. */
const KEEP_ALIVE = 65_000;
/** Exit code where the data belongs to a newer program: to start again is of no use. */
const REFUSED = 3;

const required = (name: string): string => {
  const value = process.env[name];
  if (value === undefined || value === '') throw new Error(`The server needs ${name} in its environment.`);
  return value;
};

const logger = pino({ level: process.env['LOG_LEVEL'] ?? 'info' });
const port = Number(process.env['PORT'] ?? '4180');
const database = openDatabase(required('DATABASE_URL'), logger);
try {
  await migrateDatabase(database);
} catch (error) {
  if (!(error instanceof NewerDatabase)) throw error;
  process.stderr.write(`${error.message}\n`);
  process.exit(REFUSED);
}
const library = new PartStore(database);
await library.clearAbandoned();
await library.seedGeneric();
const store = new StageStore(database);
const benchStore = new BenchStore(database);
await benchStore.endAbandoned();
if (process.env['SEED_DEMO'] === '1') await seedDemo(store, library, benchStore);

const webFolder = process.env['WEB_FOLDER'];
// Built beside this file, by the name its source has.
const summaries = new Summaries({ store, logger, workerFile: new URL('./summaryWorker.mjs', import.meta.url) });
const namesIn = (variable: string): readonly string[] =>
  (process.env[variable] ?? '').split(',').filter((name) => name !== '');
const bench = new Bench({
  store: benchStore,
  logger,
  workerFile: new URL('./standInWorker.mjs', import.meta.url),
  allowedHosts: namesIn('INSTRUMENT_HOSTS'),
});
const app = createApp({
  database,
  logger,
  summaries,
  bench,
  allowedHosts: namesIn('ALLOWED_HOSTS'),
  ...(webFolder !== undefined && { webFolder }),
});
const server = app.listen(port, '127.0.0.1', (error) => {
  if (error) {
    logger.error({ err: error }, 'the server could not listen');
    process.exit(1);
  }
  logger.info({ port }, 'listening');
  // The script that started us waits for this line before it prints the address.
  process.send?.({ listening: port });
});

answerInSentences(server);
server.keepAliveTimeout = KEEP_ALIVE;

let stopping = false;
/** End in order: no new requests, those under way to their end, then the rest. */
const stop = (): void => {
  if (stopping) return;
  stopping = true;
  const late = setTimeout(() => {
    server.closeAllConnections();
    process.exit(0);
  }, GRACE);
  late.unref();
  // Connections that wait for a next request are ended at once; the others end with the one they carry.
  server.on('request', (_request, response) => response.setHeader('Connection', 'close'));
  server.close(() => {
    // What is under power is switched off before the log it is told to is closed.
    void bench
      .close()
      .catch(() => undefined)
      .then(() => Promise.allSettled([summaries.close(), database.$client.end()]))
      .finally(() => process.exit(0));
  });
};
process.once('SIGTERM', stop);
process.once('SIGINT', stop);
// The script that started us is gone, however it ended: nobody would stop us any more.
if (process.send) process.once('disconnect', stop);

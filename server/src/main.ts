import { pino } from 'pino';
import { createApp } from './app.js';
import { migrateDatabase, openDatabase } from './database.js';
import { PartStore } from './partStore.js';
import { seedDemo } from './demo/seed.js';
import { StageStore } from './stageStore.js';

/** Time given to requests under way when the server is told to stop, ms. */
const GRACE = 2000;

const required = (name: string): string => {
  const value = process.env[name];
  if (value === undefined || value === '') throw new Error(`The server needs ${name} in its environment.`);
  return value;
};

const logger = pino({ level: process.env['LOG_LEVEL'] ?? 'info' });
const port = Number(process.env['PORT'] ?? '4180');
const database = openDatabase(required('DATABASE_URL'), logger);
await migrateDatabase(database);
const library = new PartStore(database);
await library.clearAbandoned();
await library.seedGeneric();
if (process.env['SEED_DEMO'] === '1') await seedDemo(new StageStore(database));

const webFolder = process.env['WEB_FOLDER'];
const app = createApp({
  database,
  logger,
  allowedHosts: (process.env['ALLOWED_HOSTS'] ?? '').split(',').filter((name) => name !== ''),
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

const stop = (): void => {
  const late = setTimeout(() => process.exit(0), GRACE);
  late.unref();
  server.close(() => {
    void database.$client.end().finally(() => process.exit(0));
  });
  server.closeAllConnections();
};
process.once('SIGTERM', stop);
process.once('SIGINT', stop);

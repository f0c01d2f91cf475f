// From a fresh clone, or any later state, to the running application with demo data. Ctrl-C stops what it started.
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { freePort, isFree } from './lib/ports.mjs';
import { checkNode, ensureBuilt, ensurePackages, ensurePostgres } from './lib/requirements.mjs';
import { runMain, say, SetupError } from './lib/say.mjs';

const DEFAULT_PORT = 4180;
const root = dirname(dirname(fileURLToPath(import.meta.url)));

async function chosenPort() {
  const asked = process.env.PORT;
  if (asked !== undefined) {
    const port = Number(asked);
    if (!(Number.isInteger(port) && port > 0 && port < 65536))
      throw new SetupError(`PORT is “${asked}”; it must be a whole number from 1 to 65535.`);
    if (!(await isFree(port)))
      throw new SetupError(
        `Port ${port} is in use: stop what uses it, or choose another with PORT=${port + 1} npm run demo.`,
      );
    return port;
  }
  if (await isFree(DEFAULT_PORT)) return DEFAULT_PORT;
  const port = await freePort();
  say(`Port ${DEFAULT_PORT} is in use, so ${port} is taken; choose another with PORT=… npm run demo.`);
  return port;
}

await runMain(async () => {
  checkNode();
  const port = await chosenPort();
  await ensurePackages(root);
  const ownDatabase = !process.env.DATABASE_URL;
  if (ownDatabase) await ensurePostgres();
  await ensureBuilt(root);

  // Loaded only now: they may need the packages installed above.
  const { startPostgres } = await import('./lib/postgres.mjs');
  const { startServer } = await import('./lib/server.mjs');
  const started = [];
  let stopping;
  const stop = () => {
    stopping ??= (async () => {
      for (const part of started.reverse()) await part.stop();
    })();
    return stopping;
  };
  for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) {
    process.on(signal, () => {
      say('\nStopping …');
      void stop().then(() => process.exit(0));
    });
  }
  try {
    let databaseUrl = process.env.DATABASE_URL;
    if (ownDatabase) {
      const database = await startPostgres(join(root, '.data'));
      started.push(database);
      databaseUrl = database.url;
    }
    const server = await startServer(root, { databaseUrl, port });
    started.push(server);
    say(`\nYundro is running at ${server.address}\nCtrl-C stops it; the data stays.`);
    const code = await server.ended;
    if (!stopping) {
      await stop();
      throw new SetupError(`The server ended unexpectedly (exit code ${code}); start again with npm run demo.`);
    }
    await stopping;
  } catch (error) {
    await stop();
    throw error;
  }
});

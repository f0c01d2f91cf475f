// From a fresh clone, or any later state, to the running application with demo data. Ctrl-C stops what it started.
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { endCommands } from './lib/command.mjs';
import { dataHome } from './lib/dataHome.mjs';
import { lockFolder } from './lib/folderLock.mjs';
import { keepAlive } from './lib/keepAlive.mjs';
import { freePort, isFree } from './lib/ports.mjs';
import { checkNode, ensureBuilt, ensurePackages, ensurePostgres } from './lib/requirements.mjs';
import { runMain, say, SetupError } from './lib/say.mjs';

const DEFAULT_PORT = 4180;
/** Time given to an orderly end once Ctrl-C was pressed twice, ms. */
const PATIENCE = 3000;
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

/** What was started, the last first to be stopped. */
const started = [];
let presses = 0;
let stopping;

/** End everything that was started, in order. */
function stop() {
  stopping ??= (async () => {
    for (const part of started.reverse()) await part.stop();
  })();
  return stopping;
}
const isStopping = () => stopping !== undefined;

function onInterrupt() {
  presses += 1;
  if (presses === 1) {
    say('\nStopping … (Ctrl-C once more ends it by force)');
    // Until something was started there is only the command of the moment to end.
    const code = started.length > 0 ? 0 : 130;
    endCommands('SIGTERM');
    void stop().then(() => process.exit(code));
    return;
  }
  endCommands('SIGKILL');
  for (const part of started) part.kill?.();
  setTimeout(() => process.exit(130), PATIENCE);
}
for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.on(signal, onInterrupt);

/** Start a part unless the end has begun meanwhile; then what came of it is ended too. */
async function begin(start) {
  if (isStopping()) await new Promise(() => undefined);
  const part = await start();
  if (isStopping()) {
    await part.stop();
    await new Promise(() => undefined);
  }
  started.push(part);
  return part;
}

await runMain(async () => {
  checkNode();
  const ownDatabase = !process.env.DATABASE_URL;
  let lock;
  if (ownDatabase) {
    await ensurePostgres();
    const { home } = await dataHome(join(root, '.data'));
    lock = lockFolder(home);
    if (!lock.taken) {
      const { pid, address } = lock.holder;
      say(
        address === undefined
          ? `Yundro is being started in this folder already, by process ${pid}.`
          : `Yundro is running already at ${address} (process ${pid}); one at a time is at the data of this folder.`,
      );
      return;
    }
    started.push({ stop: async () => lock.release(), kill: () => lock.release() });
  }
  try {
    const port = await chosenPort();
    await ensurePackages(root);
    await ensureBuilt(root);

    // Loaded only now: they may need the packages installed above.
    const { startPostgres } = await import('./lib/postgres.mjs');
    const { startServer } = await import('./lib/server.mjs');
    const watched = [];
    let databaseUrl = process.env.DATABASE_URL;
    if (ownDatabase) {
      const database = await begin(() => startPostgres(join(root, '.data')));
      databaseUrl = database.url;
      watched.push(keepAlive({ name: 'database server', ...database }, isStopping));
    }
    let server = await startServer(root, { databaseUrl, port });
    const { address } = server;
    await begin(async () => ({ stop: () => server.stop(), kill: () => server.kill() }));
    const restart = async () => {
      server = await startServer(root, { databaseUrl, port });
    };
    watched.push(keepAlive({ name: 'server', ended: () => server.ended, restart }, isStopping));
    lock?.note({ address });
    say(`\nYundro is running at ${address}\nCtrl-C stops it; the data stays.`);
    await Promise.all(watched);
    await stopping;
  } catch (error) {
    // Once the end has begun, what fails is what was ended.
    if (isStopping()) return await new Promise(() => undefined);
    await stop();
    throw error;
  }
});

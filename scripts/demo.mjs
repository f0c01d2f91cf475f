// From a fresh clone, or any later state, to the running application with demo data. Ctrl-C stops what it started.
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { endCommands, endServices } from './lib/command.mjs';
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

/** What was started, the last first to be stopped; and what is being started. */
const started = [];
let starting;
let presses = 0;
let stopping;

/** End everything that was started, in order. */
function stop() {
  stopping ??= (async () => {
    // What is just being started is stopped when it is there.
    const part = await starting?.catch(() => undefined);
    if (part && !started.includes(part)) started.push(part);
    for (const one of started.reverse()) await one.stop();
  })();
  return stopping;
}
const isStopping = () => stopping !== undefined;
const never = new Promise(() => undefined);

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
  endServices();
  setTimeout(() => process.exit(130), PATIENCE);
}
for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.on(signal, onInterrupt);

/** Start a part, unless the end has begun meanwhile: then this goes no further. */
async function begin(start) {
  if (isStopping()) await never;
  starting = start();
  const part = await starting;
  if (isStopping()) await never;
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
    started.push({ stop: async () => lock.release() });
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
    let server;
    const { address } = await begin(async () => {
      server = await startServer(root, { databaseUrl, port });
      return { address: server.address, stop: () => server.stop() };
    });
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
    if (isStopping()) return await never;
    await stop();
    throw error;
  }
});

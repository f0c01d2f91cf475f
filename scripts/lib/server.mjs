import { spawn } from 'node:child_process';
import { join } from 'node:path';
import { rememberService } from './command.mjs';
import { SetupError } from './say.mjs';

const START_SECONDS = 30;
/** Exit code of a server that may not be started over this data at all. */
const REFUSED = 3;

/**
 * Start Yundro's server, as it was built, and wait until it listens.
 * @returns {Promise<{ address: string, ended: Promise<number>, stop: () => Promise<void> }>}
 */
export function startServer(root, { databaseUrl, port, seed = true, logLevel = 'warn' }) {
  const child = spawn(process.execPath, [join(root, 'server/dist/main.mjs')], {
    cwd: root,
    detached: true,
    stdio: ['ignore', 'pipe', 'pipe', 'ipc'],
    env: {
      ...process.env,
      NODE_OPTIONS: '--enable-source-maps',
      DATABASE_URL: databaseUrl,
      PORT: String(port),
      WEB_FOLDER: join(root, 'web', 'dist'),
      SEED_DEMO: seed ? '1' : '0',
      LOG_LEVEL: process.env.LOG_LEVEL ?? logLevel,
    },
  });
  rememberService(child, 'SIGKILL');
  let log = '';
  for (const stream of [child.stdout, child.stderr]) {
    stream.on('data', (chunk) => {
      log = (log + chunk).slice(-8000);
      process.stderr.write(chunk);
    });
  }
  const ended = new Promise((resolve) => child.once('exit', (code) => resolve(code ?? 0)));
  const kill = () => child.kill('SIGKILL');
  const stop = async () => {
    if (child.exitCode === null && child.signalCode === null) child.kill('SIGTERM');
    await ended;
  };
  return new Promise((resolve, reject) => {
    const late = setTimeout(() => {
      kill();
      reject(new SetupError(`The server did not start within ${START_SECONDS} s.`));
    }, START_SECONDS * 1000);
    child.once('message', () => {
      clearTimeout(late);
      resolve({ address: `http://127.0.0.1:${port}`, ended, stop });
    });
    child.once('exit', (code) => {
      clearTimeout(late);
      if (code === REFUSED) return reject(new SetupError(log.trim().split('\n').at(-1)));
      const refused = /password authentication|ECONNREFUSED|ENOTFOUND|does not exist|timeout/.test(log);
      reject(
        new SetupError(
          refused
            ? 'The database cannot be reached or refuses us: check DATABASE_URL, or unset it to let Yundro run its own (if it is its own: delete the file “password” in the data folder, and it is set anew).'
            : 'The server could not start; the lines above say why.',
        ),
      );
    });
  });
}

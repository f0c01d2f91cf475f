import { randomBytes } from 'node:crypto';
import {
  chmodSync,
  chownSync,
  existsSync,
  mkdirSync,
  readdirSync,
  readFileSync,
  readlinkSync,
  renameSync,
  rmSync,
  statSync,
  writeFileSync,
} from 'node:fs';
import { join } from 'node:path';
import { setTimeout as pause } from 'node:timers/promises';
import { diskFull, run } from './command.mjs';
import { folderFault } from './dataHome.mjs';
import { say, SetupError } from './say.mjs';

export const ROLE = 'yundro';
/** Time given to what is left of a database server before it is ended by force, ms. */
const ORPHAN_PATIENCE = 10_000;

/** Put a password into a file that only its owner reads. */
function putPassword(file, password, owner) {
  const fresh = `${file}.new`;
  writeFileSync(fresh, `${password}\n`, { mode: 0o600 });
  if (owner) chownSync(fresh, owner.uid, owner.gid);
  renameSync(fresh, file);
}

/** Make a cluster beside its place and put it there when it is whole: one that was cut short is never mistaken for it. */
async function create(programs, home, data, owner) {
  say('Creating the database …');
  const password = randomBytes(18).toString('base64url');
  const fresh = `${data}.new`;
  const passwordFile = join(home, 'password');
  rmSync(fresh, { recursive: true, force: true });
  mkdirSync(fresh, { mode: 0o700 });
  chmodSync(fresh, 0o700);
  if (owner) chownSync(fresh, owner.uid, owner.gid);
  // A password without its cluster is written over by the next start.
  putPassword(passwordFile, password, owner);
  const words = [
    ...['-D', fresh, '-U', ROLE, '--auth=scram-sha-256', `--pwfile=${passwordFile}`],
    ...['-E', 'UTF8', '--locale=C.UTF-8'],
  ];
  const { code, output } = await run(join(programs, 'initdb'), words, { cwd: '/', ...owner });
  if (code === 0) {
    renameSync(fresh, data);
    return;
  }
  rmSync(fresh, { recursive: true, force: true });
  throw (
    diskFull(output) ??
    new SetupError(`PostgreSQL could not create its data folder ${data}: ${output.trim().split('\n').at(-1)}`)
  );
}

/** The number of a process a lock of PostgreSQL names, where it names one. */
function lockHolder(lock) {
  const [first = ''] = readFileSync(lock, 'utf8').split('\n');
  return /^\d+$/.test(first) ? Number(first) : undefined;
}

/** Processes of PostgreSQL that are at work in a data folder: the server, and what it left behind when it was killed. */
function processesIn(data) {
  const inside = [];
  for (const name of readdirSync('/proc')) {
    if (!/^\d+$/.test(name)) continue;
    try {
      if (readlinkSync(`/proc/${name}/cwd`) !== data) continue;
      const command = readFileSync(`/proc/${name}/comm`, 'utf8').trim();
      if (command === 'postgres') inside.push(Number(name));
    } catch {
      // Gone meanwhile, or not ours to look into.
    }
  }
  return inside;
}

const signalAll = (pids, signal) => {
  for (const pid of pids) {
    try {
      process.kill(pid, signal);
    } catch {
      // Gone meanwhile.
    }
  }
};

/**
 * End what an abrupt end left running on a data folder, then its lock. The folder's own lock says that no living program of ours is
 * at it; PostgreSQL's own guard against two servers on the same files is never taken away while a process is at work in them.
 */
export async function endOrphans(data) {
  const lock = join(data, 'postmaster.pid');
  let left = processesIn(data);
  if (left.length > 0) {
    say('A database server of an earlier start that ended abruptly is still running; it is stopped first.');
    const holder = existsSync(lock) ? lockHolder(lock) : undefined;
    signalAll(holder !== undefined && left.includes(holder) ? [holder] : left, 'SIGINT');
    const until = Date.now() + ORPHAN_PATIENCE;
    for (; left.length > 0 && Date.now() < until; left = processesIn(data)) await pause(50);
    signalAll(left, 'SIGKILL');
    for (let i = 0; i < 100 && left.length > 0; i += 1, left = processesIn(data)) await pause(50);
    if (left.length > 0)
      throw new SetupError(
        `The database server with process ${left[0]} does not stop: end it with “kill -9 ${left[0]}” and start again.`,
      );
  }
  if (existsSync(lock)) {
    say('A lock left by a crash was removed; the database recovers by itself.');
    rmSync(lock, { force: true });
  }
}

/** Set a new password where its file was lost: the data is ours, and its server not running. */
async function renewPassword(programs, home, data, owner) {
  const password = randomBytes(18).toString('base64url');
  const words = ['--single', '-D', data, 'postgres'];
  const { code, output } = await run(join(programs, 'postgres'), words, {
    cwd: '/',
    input: `ALTER ROLE ${ROLE} PASSWORD '${password}';\n`,
    ...owner,
  });
  if (code !== 0 || /ERROR|FATAL/.test(output))
    throw new SetupError(
      `The password of the database was lost with ${join(home, 'password')}, and no new one could be set: ${output.trim().split('\n').at(-1)}`,
    );
  putPassword(join(home, 'password'), password, owner);
  say('The password of the database was lost; it has a new one.');
}

/**
 * The files of a cluster, made where there are none and mended where they can be.
 *
 * @returns {Promise<{ data: string, password: string }>}
 */
export async function clusterFiles(programs, home, owner) {
  const data = join(home, 'postgres');
  try {
    if (!existsSync(data)) await create(programs, home, data, owner);
  } catch (error) {
    throw error instanceof SetupError ? error : folderFault(home, error);
  }
  const versionFile = join(data, 'PG_VERSION');
  const version = existsSync(versionFile) ? readFileSync(versionFile, 'utf8').trim() : '';
  if (!/^\d+$/.test(version))
    throw new SetupError(
      `The folder ${data} is no whole database (its PG_VERSION is missing or empty): restore a backup into it, or move it away to begin anew.`,
    );
  if (!programs.includes(`/${version}/`))
    throw new SetupError(
      `The data in ${data} was made by PostgreSQL ${version}, which is not installed: install postgresql-${version}, or move the folder away to begin anew.`,
    );
  const wanted = owner?.uid ?? process.getuid?.();
  if (statSync(data).uid !== wanted) {
    if (!owner)
      throw new SetupError(
        `The data in ${data} belongs to another user: start as that user, or move the folder away to begin anew.`,
      );
    // A copy made by root: we may give it back.
    await run('chown', ['-R', `${owner.uid}:${owner.gid}`, data, join(home, 'password')]);
  }
  await endOrphans(data);
  if (!existsSync(join(home, 'password'))) await renewPassword(programs, home, data, owner);
  return { data, password: readFileSync(join(home, 'password'), 'utf8').trim() };
}

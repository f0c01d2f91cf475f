import { createHash } from 'node:crypto';
import { createReadStream, existsSync, mkdtempSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join, resolve } from 'node:path';
import { pipeline } from 'node:stream/promises';
import { diskFull, run } from './command.mjs';
import { DATA_FORMAT } from './dataHome.mjs';
import { postgresPrograms } from './requirements.mjs';
import { SetupError } from './say.mjs';

/** What one archive holds: the dump of the database in PostgreSQL's own format, and what it is. */
const DUMP = 'database.dump';
const MANIFEST = 'manifest.json';

async function digestOf(file) {
  const hash = createHash('sha256');
  await pipeline(createReadStream(file), hash);
  return hash.digest('hex');
}

/** The programs of PostgreSQL, told of the database by their environment: a password is no word of a command. */
async function postgres(program, words, url, options = {}) {
  const { hostname, port, username, password, pathname } = new URL(url);
  const env = {
    ...process.env,
    PGHOST: hostname,
    PGPORT: port || '5432',
    PGUSER: decodeURIComponent(username),
    PGPASSWORD: decodeURIComponent(password),
    PGDATABASE: decodeURIComponent(pathname.slice(1)),
  };
  return run(join(postgresPrograms(), program), words, { env, ...options });
}

const lastLine = (output) => output.trim().split('\n').at(-1) ?? '';

async function inTemporary(work) {
  const folder = mkdtempSync(join(tmpdir(), 'yundro-archive-'));
  try {
    return await work(folder);
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}

/** The names of the tables a dump holds the rows of. */
async function tablesIn(dump) {
  const { code, output } = await run(join(postgresPrograms(), 'pg_restore'), ['--list', dump]);
  if (code !== 0) throw new SetupError(`The dump in the archive cannot be read: ${lastLine(output)}`);
  return [...output.matchAll(/TABLE DATA public (\S+)/g)].map(([, name]) => name).sort();
}

/**
 * Take the archive apart and hold it against what it says of itself.
 *
 * @returns {Promise<{ manifest: object, dump: string }>}
 */
async function opened(file, folder) {
  const { code, output } = await run('tar', ['-xf', file, '-C', folder]);
  if (code !== 0) throw diskFull(output) ?? new SetupError(`${file} is no archive of Yundro: ${lastLine(output)}`);
  const dump = join(folder, DUMP);
  const facts = join(folder, MANIFEST);
  if (!existsSync(dump) || !existsSync(facts))
    throw new SetupError(`${file} is no archive of Yundro: it lacks ${existsSync(dump) ? MANIFEST : DUMP}.`);
  const manifest = JSON.parse(readFileSync(facts, 'utf8'));
  if (!(manifest.format <= DATA_FORMAT))
    throw new SetupError(
      `${file} was made by a newer version of Yundro (${manifest.program}): restore it with that one.`,
    );
  if ((await digestOf(dump)) !== manifest.sha256)
    throw new SetupError(`${file} is damaged: its content is not what was written. Take another backup.`);
  const tables = await tablesIn(dump);
  if (tables.join() !== manifest.tables.join()) throw new SetupError(`${file} is damaged: tables are missing in it.`);
  return { manifest, dump };
}

/** Write everything in a database into one file, and read the file again before it is called a backup. */
export async function writeArchive(root, url, file) {
  const target = resolve(file);
  if (existsSync(target)) throw new SetupError(`${file} is there already; name a file that is not, or move it away.`);
  if (!existsSync(dirname(target)))
    throw new SetupError(`There is no folder ${dirname(target)} to write ${file} into.`);
  return inTemporary(async (folder) => {
    const dump = join(folder, DUMP);
    const { code, output } = await postgres('pg_dump', ['--format=custom', '--no-owner', `--file=${dump}`], url);
    if (code !== 0) throw diskFull(output) ?? new SetupError(`The database could not be read: ${lastLine(output)}`);
    const { version } = JSON.parse(readFileSync(join(root, 'package.json'), 'utf8'));
    const manifest = {
      format: DATA_FORMAT,
      program: version,
      made: new Date().toISOString(),
      sha256: await digestOf(dump),
      tables: await tablesIn(dump),
    };
    writeFileSync(join(folder, MANIFEST), `${JSON.stringify(manifest, null, 2)}\n`);
    const fresh = `${target}.part`;
    const tar = await run('tar', ['-cf', fresh, '-C', folder, MANIFEST, DUMP]);
    if (tar.code !== 0) {
      rmSync(fresh, { force: true });
      throw diskFull(tar.output) ?? new SetupError(`${file} could not be written: ${lastLine(tar.output)}`);
    }
    try {
      await inTemporary((again) => opened(fresh, again));
    } catch (error) {
      rmSync(fresh, { force: true });
      throw error;
    }
    renameSync(fresh, target);
    return manifest;
  });
}

/** Put a backup in the place of everything in a database, as a whole or not at all. */
export async function readArchive(url, file) {
  if (!existsSync(file)) throw new SetupError(`There is no file ${file}.`);
  return inTemporary(async (folder) => {
    const { manifest, dump } = await opened(resolve(file), folder);
    const script = join(folder, 'restore.sql');
    const read = await run(join(postgresPrograms(), 'pg_restore'), ['--no-owner', `--file=${script}`, dump]);
    if (read.code !== 0) throw new SetupError(`The dump in the archive cannot be read: ${lastLine(read.output)}`);
    const first = join(folder, 'first.sql');
    writeFileSync(first, 'DROP SCHEMA IF EXISTS drizzle CASCADE; DROP SCHEMA public CASCADE; CREATE SCHEMA public;\n');
    // One transaction for all of it: a restore that fails leaves what was there.
    const words = [
      '--single-transaction',
      '-v',
      'ON_ERROR_STOP=1',
      '--quiet',
      '-o',
      '/dev/null',
      '-f',
      first,
      '-f',
      script,
    ];
    const { code, output } = await postgres('psql', words, url);
    if (code !== 0)
      throw (
        diskFull(output) ?? new SetupError(`${file} could not be restored; nothing was changed: ${lastLine(output)}`)
      );
    return manifest;
  });
}

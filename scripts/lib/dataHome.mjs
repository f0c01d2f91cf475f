import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { diskFull, run } from './command.mjs';
import { say, SetupError } from './say.mjs';

/** The account PostgreSQL runs under when we are root, which it refuses to be. Debian's package makes it. */
const UNPRIVILEGED = 'postgres';
/** What a data folder holds and where. A folder of a higher number was made by a newer program. */
export const DATA_FORMAT = 1;

async function account() {
  if (process.getuid?.() !== 0) return undefined;
  const { code, output } = await run('id', [UNPRIVILEGED]);
  const ids = /uid=(\d+)\D.*?gid=(\d+)/.exec(output);
  if (code !== 0 || !ids)
    throw new SetupError(
      `PostgreSQL may not run as root and there is no user “${UNPRIVILEGED}”: reinstall Debian's postgresql package.`,
    );
  return { uid: Number(ids[1]), gid: Number(ids[2]) };
}

/** Whether the unprivileged account can get through every parent of a folder. */
async function isReachable(folder, owner) {
  if (!owner) return true;
  let nearest = folder;
  while (!existsSync(nearest)) nearest = dirname(nearest);
  const { code } = await run('test', ['-x', nearest], owner);
  return code === 0;
}

/** What goes wrong with files, as a sentence about the folder; anything else stays what it is. */
export function folderFault(home, error) {
  return (
    diskFull(String(error)) ??
    (error.code === 'EACCES' || error.code === 'EROFS'
      ? new SetupError(
          `You may not write to ${home}; give yourself that right or clone the project into a folder of your own.`,
        )
      : error)
  );
}

function checkFormat(home) {
  const file = join(home, 'yundro.json');
  if (!existsSync(file)) return;
  let format;
  try {
    ({ format } = JSON.parse(readFileSync(file, 'utf8')));
  } catch {
    throw new SetupError(`The file ${file} is damaged: it should read {"format":${DATA_FORMAT}}.`);
  }
  if (!(format <= DATA_FORMAT))
    throw new SetupError(
      `The data in ${home} was made by a newer version of Yundro: start that version, or move the folder away to begin anew.`,
    );
}

/**
 * Where the data of a folder is kept, and who its files belong to: the folder itself, or one that PostgreSQL's user can reach.
 *
 * @returns {Promise<{ home: string, owner: { uid: number, gid: number } | undefined }>}
 */
export async function dataHome(folder) {
  const owner = await account();
  const home = (await isReachable(folder, owner))
    ? folder
    : join('/var/lib/yundro', folder.replace(/[^a-zA-Z0-9]+/g, '-').replace(/^-/, ''));
  if (home !== folder) say(`The user ${UNPRIVILEGED} cannot reach ${folder}, so the data is kept in ${home}.`);
  try {
    mkdirSync(home, { recursive: true });
    checkFormat(home);
    writeFileSync(join(home, 'yundro.json'), `${JSON.stringify({ format: DATA_FORMAT })}\n`);
  } catch (error) {
    throw folderFault(home, error);
  }
  return { home, owner };
}

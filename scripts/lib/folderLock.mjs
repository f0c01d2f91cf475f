import { linkSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { folderFault } from './dataHome.mjs';

/** When a process began, in clock ticks: with its number it names a process for good. Undefined where there is none. */
function beginningOf(pid) {
  try {
    const stat = readFileSync(`/proc/${pid}/stat`, 'utf8');
    const fields = stat.slice(stat.lastIndexOf(')') + 2).split(' ');
    return fields[0] === 'Z' ? undefined : fields[19];
  } catch {
    return undefined;
  }
}

const read = (file) => {
  try {
    return JSON.parse(readFileSync(file, 'utf8'));
  } catch {
    return undefined;
  }
};

/**
 * Take the lock of a data folder: one program at a time is at its database. A lock whose program is gone is taken over.
 *
 * @returns {{ taken: true, note: (facts: object) => void, release: () => void } | { taken: false, holder: { pid: number, address?: string } }}
 */
export function lockFolder(home) {
  const file = join(home, 'lock');
  const own = { pid: process.pid, began: beginningOf(process.pid) };
  const fresh = `${file}.${process.pid}`;
  const write = (facts) => writeFileSync(fresh, JSON.stringify({ ...own, ...facts }));
  for (;;) {
    try {
      write({});
      // Made with its content in one step, so that nobody reads half a lock.
      linkSync(fresh, file);
      rmSync(fresh, { force: true });
      break;
    } catch (error) {
      rmSync(fresh, { force: true });
      if (error.code !== 'EEXIST') throw folderFault(home, error);
    }
    const holder = read(file);
    if (holder?.pid !== undefined && beginningOf(holder.pid) === holder.began) return { taken: false, holder };
    // Left by a program that is gone. Moved away first: two that see it at once cannot both take the other's new one.
    const away = `${file}.gone.${process.pid}`;
    try {
      renameSync(file, away);
    } catch {
      continue;
    }
    const moved = read(away);
    if (moved?.pid !== holder?.pid || moved?.began !== holder?.began) {
      try {
        linkSync(away, file);
      } catch {
        // Somebody else has it by now.
      }
    }
    rmSync(away, { force: true });
  }
  return {
    taken: true,
    note: (facts) => {
      write(facts);
      renameSync(fresh, file);
    },
    release: () => {
      if (read(file)?.pid === own.pid) rmSync(file, { force: true });
    },
  };
}

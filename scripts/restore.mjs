// npm run restore FILE: a backup in the place of everything Yundro keeps; what was there is backed up beside it first.
import { existsSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { readArchive, writeArchive } from './lib/archive.mjs';
import { dataHome } from './lib/dataHome.mjs';
import { checkNode } from './lib/requirements.mjs';
import { runMain, say, SetupError } from './lib/say.mjs';
import { withDatabase } from './lib/withDatabase.mjs';

const root = dirname(dirname(fileURLToPath(import.meta.url)));

await runMain(async () => {
  checkNode();
  const [file] = process.argv.slice(2);
  if (file === undefined) throw new SetupError('Name the backup to restore: npm run restore yundro-backup.tar');
  if (!existsSync(file)) throw new SetupError(`There is no file ${file}.`);
  const { home } = await dataHome(join(root, '.data'));
  const kept = join(home, `before-restore-${new Date().toISOString().replace(/[:.]/g, '-')}.tar`);
  await withDatabase(
    root,
    async (url) => {
      await writeArchive(root, url, kept);
      const { made, program } = await readArchive(url, file);
      say(`The backup of ${made}, made by version ${program}, was restored. What was there before is in ${kept}.`);
    },
    { alone: true },
  );
});

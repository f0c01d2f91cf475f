// npm run backup FILE: everything Yundro keeps, in one file, whether it is running or not.
import { dirname } from 'node:path';
import { fileURLToPath } from 'node:url';
import { writeArchive } from './lib/archive.mjs';
import { checkNode } from './lib/requirements.mjs';
import { runMain, say, SetupError } from './lib/say.mjs';
import { withDatabase } from './lib/withDatabase.mjs';

const root = dirname(dirname(fileURLToPath(import.meta.url)));

await runMain(async () => {
  checkNode();
  const [file] = process.argv.slice(2);
  if (file === undefined) throw new SetupError('Name the file to write: npm run backup yundro-backup.tar');
  const { tables } = await withDatabase(root, (url) => writeArchive(root, url, file));
  say(`Everything was written to ${file} and read again: ${tables.join(', ')}.`);
});

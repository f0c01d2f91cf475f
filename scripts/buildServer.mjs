// Bundles the server and its worker: built code starts at once, and needs no TypeScript loader. `buildServer.mjs [FOLDER]`
import { readFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { build } from 'esbuild';

const root = dirname(dirname(fileURLToPath(import.meta.url)));
const { dependencies } = JSON.parse(readFileSync(join(root, 'server/package.json'), 'utf8'));

await build({
  entryPoints: ['main.ts', 'summary/summaryWorker.ts', 'standIns/standInWorker.ts'].map((file) =>
    join(root, 'server/src', file),
  ),
  entryNames: '[name]',
  outdir: process.argv[2] ?? join(root, 'server/dist'),
  outExtension: { '.js': '.mjs' },
  bundle: true,
  // The core is TypeScript of ours; what comes from the registry stays where npm put it.
  external: Object.keys(dependencies).filter((name) => name !== '@yundro/core'),
  platform: 'node',
  format: 'esm',
  target: 'node20',
  sourcemap: true,
  logLevel: 'error',
});

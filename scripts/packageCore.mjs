/** `npm run package`: the core as a package of its own in core/dist, JavaScript with declarations, ready to be packed or linked. */
import { execFileSync } from 'node:child_process';
import { readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { argv } from 'node:process';
import { fileURLToPath } from 'node:url';

const root = join(import.meta.dirname, '..');

/** Build the core into a folder. */
export function packageCore(into) {
  rmSync(into, { recursive: true, force: true });
  const compiler = join(root, 'node_modules/typescript/bin/tsc');
  execFileSync(process.execPath, [compiler, '-p', join(root, 'core/tsconfig.build.json'), '--outDir', into], {
    stdio: ['ignore', 'inherit', 'inherit'],
  });
  const { name, version, license, type, dependencies, sideEffects } = JSON.parse(
    readFileSync(join(root, 'core/package.json'), 'utf8'),
  );
  const exports = { '.': { types: './index.d.ts', default: './index.js' } };
  const made = { name, version, license, type, sideEffects, exports, dependencies };
  writeFileSync(join(into, 'package.json'), `${JSON.stringify(made, null, 2)}\n`);
}

if (argv[1] === fileURLToPath(import.meta.url)) packageCore(join(root, 'core/dist'));

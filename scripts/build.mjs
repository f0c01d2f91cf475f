// Builds interface and server anew, each put in its place when it is whole.
import { dirname } from 'node:path';
import { fileURLToPath } from 'node:url';
import { ensureBuilt } from './lib/requirements.mjs';
import { runMain } from './lib/say.mjs';

await runMain(() => ensureBuilt(dirname(dirname(fileURLToPath(import.meta.url))), { anew: true }));

import { spawn } from 'node:child_process';
import { SetupError } from './say.mjs';

/**
 * Run a command to its end and collect what it prints.
 * @returns {Promise<{ code: number, output: string }>}
 */
export function run(command, words, { show = false, ...options } = {}) {
  return new Promise((resolve, reject) => {
    const child = spawn(command, words, { stdio: ['ignore', 'pipe', 'pipe'], ...options });
    let output = '';
    for (const stream of [child.stdout, child.stderr]) {
      stream.on('data', (chunk) => {
        output += chunk;
        if (show) process.stdout.write(chunk);
      });
    }
    child.on('error', (error) => {
      reject(
        error.code === 'ENOENT'
          ? new SetupError(`The command ${command} is not installed; install it and start again.`)
          : error,
      );
    });
    child.on('close', (code) => resolve({ code: code ?? 1, output }));
  });
}

/** What a full disk looks like in the output of any of the tools; undefined when it is not that. */
export function diskFull(output) {
  return /No space left on device|ENOSPC|disk full/i.test(output)
    ? new SetupError('The disk is full: free some space (a few hundred megabytes are enough) and start again.')
    : undefined;
}

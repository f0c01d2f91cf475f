import { spawn } from 'node:child_process';
import { SetupError } from './say.mjs';

/** Commands that are running: what an interrupt ends with us. */
const running = new Set();

/** Servers that were started, and the signal that ends each at once without harm. */
const services = new Map();

/** Remember a server that was started, for the case that it has to be ended by force. */
export function rememberService(child, signal) {
  services.set(child, signal);
  child.once('exit', () => services.delete(child));
}

/** End every server at once. */
export function endServices() {
  for (const [child, signal] of services) child.kill(signal);
}

/** End every command that is running. */
export function endCommands(signal) {
  for (const child of running) child.kill(signal);
}

/**
 * Run a command to its end and collect what it prints.
 *
 * @param options.input what is given to it to read.
 * @returns {Promise<{ code: number, output: string }>}
 */
export function run(command, words, { show = false, input, ...options } = {}) {
  return new Promise((resolve, reject) => {
    const child = spawn(command, words, {
      stdio: [input === undefined ? 'ignore' : 'pipe', 'pipe', 'pipe'],
      ...options,
    });
    running.add(child);
    let output = '';
    for (const stream of [child.stdout, child.stderr]) {
      stream.on('data', (chunk) => {
        output += chunk;
        if (show) process.stdout.write(chunk);
      });
    }
    if (input !== undefined) child.stdin.on('error', () => undefined).end(input);
    child.on('error', (error) => {
      running.delete(child);
      reject(
        error.code === 'ENOENT'
          ? new SetupError(`The command ${command} is not installed; install it and start again.`)
          : error,
      );
    });
    child.on('close', (code) => {
      running.delete(child);
      resolve({ code: code ?? 1, output });
    });
  });
}

/** What a full disk looks like in the output of any of the tools; undefined when it is not that. */
export function diskFull(output) {
  return /No space left on device|ENOSPC|disk full/i.test(output)
    ? new SetupError('The disk is full: free some space (a few hundred megabytes are enough) and start again.')
    : undefined;
}

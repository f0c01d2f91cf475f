import { parseArgs } from 'node:util';
import { Worker } from 'node:worker_threads';

/** Processor time a command may take unless it is told otherwise, s. */
const PATIENCE = 18;
const MOST_PATIENCE = 86_400;
/** How often it is looked at, ms. */
const LOOK = 100;
/** Exit code for what cannot be done as asked. */
const REFUSED = 2;

/**
 * What runs in the thread: its words are the command's, its exit code is ours. A command that is refused before it reads leaves its
 * input waiting, and a thread with input waiting never ends: it says that it is done, and what is left is read and thrown away.
 */
const RUN = `const { parentPort, workerData } = require('node:worker_threads');
import(workerData.bundle).then(({ main }) => main(workerData.words)).then((code) => {
  process.exitCode = code;
  if (!workerData.reads) return;
  parentPort.postMessage('done');
  process.stdin.resume();
});`;

/** Take `--patience SECONDS` out of the words; it is no matter of any one command. */
function patienceIn(words: readonly string[]): { readonly rest: readonly string[]; readonly seconds: number } | string {
  const at = words.findIndex((word) => word === '--patience' || word.startsWith('--patience='));
  if (at < 0) return { rest: words, seconds: PATIENCE };
  const { values, tokens } = parseArgs({
    args: words.slice(at, words[at] === '--patience' ? at + 2 : at + 1),
    options: { patience: { type: 'string' } },
    strict: false,
    tokens: true,
  });
  const seconds = Number(values.patience);
  if (!(seconds > 0 && seconds <= MOST_PATIENCE))
    return `--patience is the seconds of processor time a command may take, above 0 and at most ${String(MOST_PATIENCE)}.`;
  const taken = tokens[0]?.kind === 'option' && tokens[0].inlineValue === false ? 2 : 1;
  return { rest: [...words.slice(0, at), ...words.slice(at + taken)], seconds };
}

/**
 * Run a command in a thread of its own, and end it when it takes more processor time than it may: a heavy stage is told of in a
 * sentence, not by a command that never returns.
 *
 * @param bundle address of the module whose `main` runs a command.
 * @returns the exit code.
 */
export function supervise(words: readonly string[], bundle: string): Promise<number> {
  const asked = patienceIn(words);
  if (typeof asked === 'string') {
    process.stderr.write(`${asked}\n`);
    return Promise.resolve(REFUSED);
  }
  const { rest, seconds } = asked;
  const reads = rest.includes('-');
  const worker = new Worker(RUN, { eval: true, workerData: { bundle, words: rest, reads, seconds }, stdin: reads });
  const input = worker.stdin;
  if (input) {
    process.stdin.pipe(input);
    worker.once('message', () => {
      process.stdin.unpipe(input);
      input.end();
    });
  }
  return new Promise((resolve) => {
    let late = false;
    const watch = setInterval(() => {
      const { user, system } = process.cpuUsage();
      if (late || (user + system) / 1e6 < seconds) return;
      late = true;
      process.stderr.write(
        `This takes longer than ${String(seconds)} s of processor time: the stage has many states or corners. Give it more with --patience 120, or a stage with fewer banks.\n`,
      );
      void worker.terminate();
    }, LOOK);
    const end = (code: number): void => {
      clearInterval(watch);
      // What still waits to be read keeps nobody.
      if (reads) process.stdin.destroy();
      resolve(late ? REFUSED : code);
    };
    worker.once('error', (error: Error & { readonly code?: string }) => {
      const full = error.code === 'ERR_WORKER_OUT_OF_MEMORY';
      process.stderr.write(
        full
          ? 'This takes more memory than there is: the stage has many states; leave some banks out.\n'
          : `Yundro failed inside: ${error.message.split('\n')[0] ?? ''}\n`,
      );
      end(full ? REFUSED : 1);
    });
    worker.once('exit', end);
  });
}

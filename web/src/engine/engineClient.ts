import type { Remote } from 'comlink';
import type { Engine } from './engine';
import { WorkerFailure, WorkerLine } from './workerLine';

/** The engine in its worker: one for the whole application, so that it stays warm; another takes its place when it fails. */
let line: WorkerLine<Engine> | undefined;

/** Ask something of the engine. @throws WorkerFailure where its worker gave no answer; the next question has a new one. */
export async function askEngine<T>(question: (engine: Remote<Engine>) => Promise<T>): Promise<T> {
  line ??= new WorkerLine<Engine>(
    new Worker(new URL('./engine.worker.ts', import.meta.url), { type: 'module', name: 'engine' }),
  );
  const asked = line;
  try {
    return await asked.ask(question);
  } catch (error) {
    if (error instanceof WorkerFailure) {
      asked.end();
      if (line === asked) line = undefined;
    }
    throw error;
  }
}

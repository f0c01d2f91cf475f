import { wrap, type Remote } from 'comlink';
import type { Engine } from './engine.worker';

/** The engine in its worker: one for the whole application, so that it stays warm. */
export const engine: Remote<Engine> = wrap<Engine>(
  new Worker(new URL('./engine.worker.ts', import.meta.url), { type: 'module' }),
);

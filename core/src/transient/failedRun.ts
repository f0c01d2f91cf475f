import { UnsolvableCircuitError } from '../circuit/unsolvable.js';
import { CancelledRun } from './play.js';
import { StalledRun } from './run.js';

/** Why there is no run, in a sentence. @public */
export interface FailedRun {
  readonly kind: 'failed';
  readonly reason: string;
}

/** A run, or the sentence for why there is none. */
export function inWords<R>(run: () => R | string): R | FailedRun {
  try {
    const result = run();
    return typeof result === 'string' ? { kind: 'failed', reason: result } : result;
  } catch (error) {
    if (error instanceof StalledRun || error instanceof UnsolvableCircuitError)
      return { kind: 'failed', reason: error.message };
    if (error instanceof CancelledRun) return { kind: 'failed', reason: 'the run was stopped' };
    throw error;
  }
}

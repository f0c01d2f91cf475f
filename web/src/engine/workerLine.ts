import { wrap, type Remote } from 'comlink';

/** A worker gave no answer, and will not: it could not start, broke down, or took longer than anything may. */
export class WorkerFailure extends Error {
  override readonly name: string = 'WorkerFailure';
}

/** Its script could not be loaded: that may pass. */
export class WorkerNotStarted extends WorkerFailure {}

/** Longest time without an answer or a sign of life, ms: far beyond any of them, so that nothing waits for ever. */
export const ANSWER_LIMIT = 120_000;

/** What a line needs of a worker; a message port with an end serves too. */
export type WorkerLike = Pick<Worker, 'postMessage' | 'addEventListener' | 'removeEventListener' | 'terminate'>;

function failureOf(event: Event): WorkerFailure {
  const said = 'message' in event && typeof event.message === 'string' ? event.message : '';
  // A script that cannot be loaded says nothing.
  return said === ''
    ? new WorkerNotStarted('a worker of this page could not be started')
    : new WorkerFailure(`a worker of this page broke down: ${said}`);
}

/** A worker with the one proxy to it, that says when the worker has failed instead of staying silent. */
export class WorkerLine<T> {
  private readonly remote: Remote<T>;
  private readonly failed: Promise<never>;
  private fail: (error: WorkerFailure) => void = () => undefined;
  private ended = false;

  constructor(private readonly worker: WorkerLike) {
    this.failed = new Promise((_, reject) => {
      this.fail = reject;
    });
    // Nobody may be asking at the moment it fails.
    this.failed.catch(() => undefined);
    for (const kind of ['error', 'messageerror'] as const)
      worker.addEventListener(kind, (event: Event) => this.fail(failureOf(event)));
    this.remote = wrap<T>(worker);
  }

  /**
   * Ask something of the worker. What tells of its progress says with `alive` that it is still at work.
   *
   * @throws WorkerFailure where there will be no answer; whatever the question itself throws in the worker.
   */
  async ask<R>(question: (remote: Remote<T>, alive: () => void) => Promise<R>, limit = ANSWER_LIMIT): Promise<R> {
    let timer: ReturnType<typeof setTimeout> | undefined;
    let alive = (): void => undefined;
    const late = new Promise<never>((_, reject) => {
      alive = () => {
        clearTimeout(timer);
        timer = setTimeout(
          () => reject(new WorkerFailure(`it gave no answer within ${String(Math.round(limit / 1000))} s`)),
          limit,
        );
      };
      alive();
    });
    try {
      return await Promise.race([question(this.remote, alive), this.failed, late]);
    } finally {
      clearTimeout(timer);
    }
  }

  /** End the worker, in the middle of its work where it is at some; whoever still waits is told. */
  end(): void {
    if (this.ended) return;
    this.ended = true;
    this.worker.terminate();
    this.fail(new WorkerFailure('it was ended'));
  }
}

import { createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { availableParallelism } from 'node:os';
import { Piscina } from 'piscina';
import type { Logger } from 'pino';
import type { Stage } from '@yundro/core';
import type { StageStore } from '../stageStore.js';
import { notWorked, type Summary } from './summarise.js';

/** Longest time one stage may take, ms. */
const TIME_LIMIT = 20_000;
/** Threads that work summaries: one core is left to what answers. */
const THREADS = Math.max(1, availableParallelism() - 1);
/** Memory of one thread, MB: what no honest stage needs. */
const MEMORY = 1024;

export interface SummaryOptions {
  readonly store: StageStore;
  readonly logger: Logger;
  /** The built worker file; its content names the core that works. */
  readonly workerFile: URL;
  readonly timeLimit?: number;
}

interface Waiting {
  readonly id: string;
  readonly revision: number;
  readonly stage: Stage;
}

/**
 * Verdict counts for the shelf, worked in threads of their own and kept with the stage: the shelf answers from the store at once,
 * and what is not there yet is worked meanwhile.
 */
export class Summaries {
  private readonly pool: Piscina;
  private readonly core: string;
  /** What waits or is being worked, by stage and revision. */
  private readonly known = new Set<string>();
  /** The last that came is worked first: it is the one that someone has just made or opened. */
  private readonly waiting: Waiting[] = [];
  private running = 0;
  private closed = false;

  constructor(private readonly options: SummaryOptions) {
    this.core = createHash('sha256').update(readFileSync(options.workerFile)).digest('hex').slice(0, 16);
    this.pool = new Piscina({
      filename: options.workerFile.href,
      minThreads: 0,
      maxThreads: THREADS,
      idleTimeout: 30_000,
      resourceLimits: { maxOldGenerationSizeMb: MEMORY },
    });
  }

  /** What a summary is of: a revision, worked by this very core. */
  keyOf(revision: number): string {
    return `${String(revision)}:${this.core}`;
  }

  /** Have a stage worked, unless it is being worked already. */
  want(id: string, revision: number, stage: Stage): void {
    const key = `${id}:${String(revision)}`;
    if (this.known.has(key) || this.closed) return;
    this.known.add(key);
    this.waiting.push({ id, revision, stage });
    void this.next();
  }

  async close(): Promise<void> {
    this.closed = true;
    this.waiting.length = 0;
    await this.pool.destroy();
  }

  private async next(): Promise<void> {
    if (this.running >= THREADS) return;
    const one = this.waiting.pop();
    if (!one) return;
    this.running += 1;
    try {
      const summary = await this.worked(one);
      if (!this.closed) await this.options.store.keepSummary(one.id, one.revision, this.keyOf(one.revision), summary);
    } catch (error) {
      // Not kept: the next look at the shelf has it worked again.
      if (!this.closed) this.options.logger.warn({ err: error, stage: one.id }, 'a summary could not be kept');
    } finally {
      this.running -= 1;
      this.known.delete(`${one.id}:${String(one.revision)}`);
      void this.next();
    }
  }

  private async worked({ id, stage }: Waiting): Promise<Summary> {
    const limit = this.options.timeLimit ?? TIME_LIMIT;
    try {
      // From now, not from when it began to wait: only its own work counts.
      return (await this.pool.run(stage, { signal: AbortSignal.timeout(limit) })) as Summary;
    } catch (error) {
      if (this.closed) throw error;
      const late = error instanceof Error && error.name === 'AbortError';
      this.options.logger.warn({ err: error, stage: id }, 'a stage could not be summarised');
      return notWorked(
        late
          ? `it takes longer than ${String(limit / 1000)} s; open it to work it in the browser.`
          : 'it needs more memory than one stage may take; open it to work it in the browser.',
      );
    }
  }
}

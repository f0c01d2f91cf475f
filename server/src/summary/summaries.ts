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

/** Summaries held at hand; the oldest goes first. */
const MOST_HELD = 2000;

/** A stage as it is stored, that a summary is wanted of. */
interface Wanted {
  readonly id: string;
  readonly revision: number;
  readonly stage: Stage;
  /** What is kept with it, and what that was worked from. */
  readonly summary: Summary | null;
  readonly summaryOf: string | null;
}

interface Waiting {
  readonly key: string;
  readonly stage: Stage;
  /** Rows that say this very stage: an original and its copies are worked once. */
  readonly rows: { readonly id: string; readonly revision: number }[];
}

/** What a stage comes to does not hang on what it is called. */
const contentOf = (stage: Stage): string =>
  createHash('sha256')
    .update(JSON.stringify({ ...stage, name: '' }))
    .digest('hex')
    .slice(0, 32);

/**
 * Verdict counts for the shelf, worked in threads of their own and kept with the stage: the shelf answers from the store at once,
 * and what is not there yet is worked meanwhile. A summary is of what a stage says, not of its row: a copy, a stage under another name
 * and an edit that was taken back have theirs at once.
 */
export class Summaries {
  private readonly pool: Piscina;
  private readonly core: string;
  /** What waits or is being worked, and what was worked last, by what it is of. */
  private readonly underWay = new Map<string, Waiting>();
  private readonly held = new Map<string, Summary>();
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

  /** What a summary is of: what a stage says, worked by this very core. */
  keyOf(stage: Stage): string {
    return `${contentOf(stage)}:${this.core}`;
  }

  /** The summary of a stage; without one it is worked, unless that is under way already, and is there at a later look. */
  of({ id, revision, stage, summary, summaryOf }: Wanted, key: string): Summary | null {
    if (summary && summaryOf === key) return summary;
    const held = this.held.get(key);
    if (held) {
      void this.keep(key, held, { id, revision });
      return held;
    }
    const present = this.underWay.get(key);
    if (present) {
      if (!present.rows.some((row) => row.id === id && row.revision === revision)) present.rows.push({ id, revision });
    } else if (!this.closed) {
      const one = { key, stage, rows: [{ id, revision }] };
      this.underWay.set(key, one);
      this.waiting.push(one);
      void this.next();
    }
    return null;
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
      this.hold(one.key, summary);
      for (const row of one.rows) await this.keep(one.key, summary, row);
    } catch (error) {
      // Not kept: the next look at the shelf has it worked again.
      if (!this.closed) this.options.logger.warn({ err: error }, 'a stage could not be summarised');
    } finally {
      this.running -= 1;
      this.underWay.delete(one.key);
      void this.next();
    }
  }

  private hold(key: string, summary: Summary): void {
    this.held.set(key, summary);
    const [oldest] = this.held.keys();
    if (this.held.size > MOST_HELD && oldest !== undefined) this.held.delete(oldest);
  }

  private async keep(key: string, summary: Summary, { id, revision }: Waiting['rows'][number]): Promise<void> {
    try {
      await this.options.store.keepSummary(id, revision, key, summary);
    } catch (error) {
      // It is held, and kept at the next look.
      if (!this.closed) this.options.logger.warn({ err: error, stage: id }, 'a summary could not be kept');
    }
  }

  private async worked({ rows: [row], stage }: Waiting): Promise<Summary> {
    const limit = this.options.timeLimit ?? TIME_LIMIT;
    try {
      // From now, not from when it began to wait: only its own work counts.
      return (await this.pool.run(stage, { signal: AbortSignal.timeout(limit) })) as Summary;
    } catch (error) {
      if (this.closed) throw error;
      const late = error instanceof Error && error.name === 'AbortError';
      this.options.logger.warn({ err: error, stage: row?.id }, 'a stage could not be summarised');
      return notWorked(
        late
          ? `it takes longer than ${String(limit / 1000)} s; open it to work it in the browser.`
          : 'it needs more memory than one stage may take; open it to work it in the browser.',
      );
    }
  }
}

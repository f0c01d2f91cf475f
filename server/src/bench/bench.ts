import { Worker } from 'node:worker_threads';
import type { Logger } from 'pino';
import type { Addresses, BenchRunRow, Instruments, Stage, StandIns, StartRun } from '@yundro/core';
import { ApiError } from '../catalogue.js';
import { addressOf } from './address.js';
import { LEFT, type BenchStore } from './benchStore.js';
import { doRun, RunControl } from './runner.js';

/** ms that the simulated instruments may take to stand on their table. */
const STANDING = 20_000;

export interface BenchOptions {
  readonly store: BenchStore;
  readonly logger: Logger;
  /** The built worker file of the simulated instruments. */
  readonly workerFile: URL;
  /** Hosts beside the loopback whose instruments may be spoken to. */
  readonly allowedHosts?: readonly string[];
}

interface UnderWay {
  readonly control: RunControl;
  readonly over: Promise<void>;
}

/** The bench of this server: runs under way, and the simulated instruments where they were set up. */
export class Bench {
  private readonly underWay = new Map<string, UnderWay>();
  /** Whether a run is about to begin. */
  private beginning = false;
  private table: { readonly worker: Worker; readonly standIns: NonNullable<StandIns['standIns']> } | undefined;

  constructor(private readonly options: BenchOptions) {}

  standIns(): StandIns {
    return { standIns: this.table?.standIns ?? null };
  }

  /** Set up the simulated instruments about a board of a stage; those that stood before are put away. */
  async setUp(stageId: string, stage: Stage, seed: number, instruments: Instruments): Promise<StandIns> {
    await this.putAway();
    const worker = new Worker(this.options.workerFile, { workerData: { stage, instruments, seed } });
    const addresses = await new Promise<Addresses>((resolve, reject) => {
      const late = setTimeout(() => reject(new Error('The simulated instruments do not come up.')), STANDING);
      worker.once('message', (message: Addresses) => {
        clearTimeout(late);
        resolve(message);
      });
      worker.once('error', (error) => {
        clearTimeout(late);
        reject(error);
      });
    });
    worker.on('error', (error) => {
      this.options.logger.warn({ err: error }, 'the simulated instruments broke down');
      this.table = undefined;
    });
    worker.unref();
    this.table = { worker, standIns: { stageId, seed, addresses, instruments } };
    return this.standIns();
  }

  async putAway(): Promise<void> {
    const { table } = this;
    this.table = undefined;
    await table?.worker.terminate();
  }

  /**
   * A run as it is shown: one that says it is under way, and is not, was lost. A run may have ended between the reading of its row and
   * this; with nobody attending to it, what is stored is its last word, so that the row is read once more before it is called lost.
   */
  async present(row: BenchRunRow): Promise<BenchRunRow> {
    if (!this.unattended(row)) return row;
    const now = await this.options.store.run(row.id);
    return this.unattended(now) ? { ...now, run: { ...now.run, state: 'lost', problem: LEFT } } : now;
  }

  private unattended({ id, run: { state } }: BenchRunRow): boolean {
    return (state === 'running' || state === 'paused') && !this.underWay.has(id) && !this.beginning;
  }

  /** Let the instruments do a run. One at a time: two would switch the same supply. */
  async start(stageId: string, stage: Stage, asked: StartRun): Promise<BenchRunRow> {
    return this.alone(asked, async () => {
      const run: StartRun = { ...asked, readings: [], captures: [], state: 'running', problem: null };
      const row = await this.options.store.create(stageId, run);
      this.go(row.id, stage, run);
      return row;
    });
  }

  /** Begin a run while no other is under way or about to begin. */
  private async alone<T>({ asked }: StartRun, begin: () => Promise<T>): Promise<T> {
    if (this.underWay.size > 0 || this.beginning)
      throw new ApiError('bench-busy', 'A run is under way: wait for its end, or end it, before another is started.');
    for (const text of Object.values(asked.addresses)) {
      if (text === undefined || text === '') continue;
      const address = addressOf(text, this.options.allowedHosts ?? []);
      if (typeof address === 'string') throw new ApiError('invalid-request', address, { path: 'addresses' });
    }
    // Taken before the first wait: of two that are asked at once one is refused.
    this.beginning = true;
    try {
      return await begin();
    } finally {
      this.beginning = false;
    }
  }

  private go(id: string, stage: Stage, begun: StartRun): void {
    const control = new RunControl();
    let run = begun;
    const over = doRun(begun, stage.switchingFrequency, control, this.options.allowedHosts ?? [], async (change) => {
      run = { ...run, ...change };
      await this.options.store.told(id, run);
    })
      .catch((error: unknown) => {
        this.options.logger.error({ err: error, run: id }, 'a run broke down');
      })
      .finally(() => this.underWay.delete(id));
    this.underWay.set(id, { control, over });
  }

  pause(id: string): void {
    this.of(id).control.pause();
  }

  /** Go on: with what was paused, or with a run that was lost, from its last reading on, by other addresses where they are given. */
  async resume(id: string, stage: Stage, addresses?: Addresses): Promise<void> {
    const present = this.underWay.get(id);
    if (present) {
      present.control.resume();
      return;
    }
    const { run } = await this.options.store.run(id);
    const { asked } = run;
    if (!asked)
      throw new ApiError(
        'invalid-request',
        'The run was entered by hand: there are no instruments to take it up with.',
      );
    const again: StartRun = {
      ...run,
      asked: { ...asked, ...(addresses && { addresses }) },
      state: 'running',
      problem: null,
    };
    await this.alone(again, async () => {
      await this.options.store.told(id, again);
      this.go(id, stage, again);
    });
  }

  async abort(id: string): Promise<void> {
    const { control, over } = this.of(id);
    control.abort();
    await over;
  }

  private of(id: string): UnderWay {
    const found = this.underWay.get(id);
    if (!found) throw new ApiError('not-found', 'The run is not under way any more.');
    return found;
  }

  /** End everything in order: runs are ended, so that supplies are off. */
  async close(): Promise<void> {
    for (const { control } of this.underWay.values()) control.abort();
    await Promise.allSettled([...this.underWay.values()].map(({ over }) => over));
    await this.putAway();
  }
}

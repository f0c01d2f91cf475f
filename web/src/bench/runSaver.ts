import { benchRunRowSchema, type BenchRun, type BenchRunRow } from '@yundro/core';
import { ProblemError } from '../api/client';

/** How what was entered stands. */
export type Saving =
  | { readonly kind: 'saved'; readonly row: BenchRunRow }
  /** Not saved: what was entered is kept, and can be sent again; over a newer version where there is one. */
  | { readonly kind: 'failed'; readonly sentence: string; readonly newer: BenchRunRow | undefined };

/**
 * Saves what is entered into a run, one save after another: what is typed while one is under way goes with the next, from the revision
 * that the last one made.
 */
export class RunSaver {
  private waiting: BenchRun | undefined;
  private saving = false;
  private revision = 0;

  constructor(
    private readonly save: (revision: number, run: BenchRun) => Promise<BenchRunRow>,
    private readonly told: (state: Saving) => void,
  ) {}

  /** @param revision what is shown was read at; that of the last save counts while saves go on. */
  put(run: BenchRun, revision: number): void {
    if (!this.saving && this.waiting === undefined) this.revision = revision;
    this.waiting = run;
    void this.go();
  }

  /** Send again what could not be saved, over a newer version where its revision is given. */
  again(revision = this.revision): void {
    this.revision = revision;
    void this.go();
  }

  /** Let go of what could not be saved. */
  giveUp(): void {
    this.waiting = undefined;
  }

  private async go(): Promise<void> {
    if (this.saving) return;
    this.saving = true;
    let last: BenchRunRow | undefined;
    try {
      while (this.waiting) {
        const run = this.waiting;
        last = await this.save(this.revision, run);
        this.revision = last.revision;
        // Unless more was entered meanwhile.
        if (this.waiting === run) this.waiting = undefined;
      }
      this.saving = false;
      if (last) this.told({ kind: 'saved', row: last });
    } catch (error) {
      this.saving = false;
      const problem = error instanceof ProblemError ? error.problem : undefined;
      const newer = benchRunRowSchema.safeParse(problem?.['current']);
      this.told({
        kind: 'failed',
        sentence: error instanceof Error ? error.message : String(error),
        newer: newer.success ? newer.data : undefined,
      });
    }
  }
}

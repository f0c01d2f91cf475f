import type { Configuration } from './configuration.js';

/** A part of a cell that has come up so often in a run goes as one step: making it costs about as much as a dozen walks by halvings. */
const OFTEN = 12;
/** Parts that are counted, of each configuration. */
const MOST_COUNTED = 512;

/**
 * Parts of a cell that come up again and again in a run, dead times above all, and the steps over them. Counted by each run for itself:
 * what was run before with the same drawing does not change, by rounding even, how a run goes.
 */
export class RecurringParts {
  private readonly counts = new Map<Configuration, Map<number, number | Float64Array>>();
  private here: Map<number, number | Float64Array> = new Map();
  private configuration: Configuration | undefined;

  /** The step over so many ticks, where it has come up often enough. */
  stepOver(configuration: Configuration, ticks: number): Float64Array | undefined {
    if (configuration !== this.configuration) this.enter(configuration);
    const known = this.here.get(ticks) ?? 0;
    if (typeof known !== 'number') return known;
    if (known === 0 && this.here.size >= MOST_COUNTED) return undefined;
    if (known < OFTEN) {
      this.here.set(ticks, known + 1);
      return undefined;
    }
    const step = configuration.part(ticks);
    if (step) this.here.set(ticks, step);
    return step;
  }

  private enter(configuration: Configuration): void {
    this.configuration = configuration;
    const known = this.counts.get(configuration);
    this.here = known ?? new Map<number, number | Float64Array>();
    if (!known) this.counts.set(configuration, this.here);
  }
}

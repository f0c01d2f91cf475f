/** Times of repeated runs of one piece of work, ms. */
export interface Timing {
  readonly median: number;
  readonly quickest: number;
  readonly slowest: number;
  readonly runs: number;
}

/** Median and extremes of a list of times. */
export function timingOf(times: readonly number[]): Timing {
  const sorted = [...times].sort((a, b) => a - b);
  const middle = Math.floor(sorted.length / 2);
  const upper = sorted[middle] ?? NaN;
  const median = sorted.length % 2 === 1 ? upper : ((sorted[middle - 1] ?? NaN) + upper) / 2;
  return { median, quickest: sorted[0] ?? NaN, slowest: sorted.at(-1) ?? NaN, runs: sorted.length };
}

/**
 * Time work that is given the number of the run, so that it can vary its input and no cache answers for it.
 *
 * @param warmUp runs before the clock counts: the compiler of the engine has then seen the code, as in a program in use.
 */
export function timed(work: (run: number) => void, runs: number, warmUp = Math.ceil(runs / 2)): Timing {
  for (let run = 0; run < warmUp; run += 1) work(-1 - run);
  const times: number[] = [];
  for (let run = 0; run < runs; run += 1) {
    const before = performance.now();
    work(run);
    times.push(performance.now() - before);
  }
  return timingOf(times);
}

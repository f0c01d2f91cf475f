/** Relative change of the frequency at which it has settled: the on-time is then off by half of it at most. */
export const SETTLED = 1e-4;
const MOST_ROUNDS = 30;

/**
 * A frequency found by going from one to the next that follows from it, until the next is the same.
 *
 * @param from Hz, to begin at.
 * @param round what is found at a frequency, and the frequency that follows from it, Hz; none where what was found is the last word.
 * @returns what was found at the last frequency.
 */
export function settledFrequency<T>(
  from: number,
  round: (frequency: number) => { readonly found: T; readonly next?: number },
): T {
  let frequency = from;
  for (let left = MOST_ROUNDS; ; left -= 1) {
    const { found, next } = round(frequency);
    if (next === undefined || left === 1 || Math.abs(next - frequency) <= SETTLED * frequency) return found;
    frequency = next;
  }
}

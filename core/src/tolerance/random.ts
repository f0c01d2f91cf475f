/**
 * Numbers from 0 to below 1, the same for the same seed: a 32-bit generator that adds a constant and mixes (from memory; common
 * practice). Good enough to scatter tolerances; not for secrets.
 */
export function random(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let mixed = Math.imul(state ^ (state >>> 15), state | 1);
    mixed ^= mixed + Math.imul(mixed ^ (mixed >>> 7), mixed | 61);
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 2 ** 32;
  };
}

/** The numbers of one of many sets: the same seed and index give the same, whatever else is worked. */
export const randomOf = (seed: number, index: number): (() => number) => random(seed * 1_000_003 + index * 7_919);

/** Newton steps to a crossing: the first guess, by the straight line, is a good one where the cubic pictures the waveform at all. */
const REFINED = 4;

/**
 * Where the cubic with values v0 and v1 and slopes s0 and s1 at the ends of 0 to 1 passes through nothing (Hermite): a guess, which
 * who asks must check. NaN or far off where the slopes belong to something much faster than the step.
 */
export function crossingOfCubic(v0: number, v1: number, s0: number, s1: number): number {
  // v0 + s0 u + c u² + d u³
  const c = 3 * (v1 - v0) - 2 * s0 - s1;
  const d = 2 * (v0 - v1) + s0 + s1;
  let u = v0 / (v0 - v1);
  for (let k = 0; k < REFINED; k += 1) u -= (v0 + u * (s0 + u * (c + u * d))) / (s0 + u * (2 * c + u * 3 * d));
  return u;
}

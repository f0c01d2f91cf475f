const GOLDEN = (Math.sqrt(5) - 1) / 2;

/**
 * The top of a function with a single peak in a range, by golden-section search (J. Kiefer, Sequential Minimax Search for a
 * Maximum, Proc. Amer. Math. Soc. 4, 1953).
 *
 * @param steps each shrinks the range to 0.618 of itself and costs one evaluation.
 */
export function peakWithin(
  value: (x: number) => number,
  from: number,
  to: number,
  steps: number,
): { readonly at: number; readonly value: number } {
  let low = from;
  let high = to;
  let left = high - GOLDEN * (high - low);
  let right = low + GOLDEN * (high - low);
  let atLeft = value(left);
  let atRight = value(right);
  for (let step = 0; step < steps; step += 1) {
    if (atLeft >= atRight) {
      [high, right, atRight] = [right, left, atLeft];
      left = high - GOLDEN * (high - low);
      atLeft = value(left);
    } else {
      [low, left, atLeft] = [left, right, atRight];
      right = low + GOLDEN * (high - low);
      atRight = value(right);
    }
  }
  return { at: (low + high) / 2, value: Math.max(atLeft, atRight) };
}

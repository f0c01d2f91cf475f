import { dot } from '../linalg/dense.js';
import type { PeriodicSolution } from '../orbit/periodic.js';
import type { Signal } from '../orbit/signal.js';

const INTERVALS = 400;
const known = new Map<number, number>();

/** ∫|cos θ|^α dθ over a turn, by Simpson's rule. */
function cosinePower(alpha: number): number {
  const before = known.get(alpha);
  if (before !== undefined) return before;
  const step = Math.PI / 2 / INTERVALS;
  let sum = 0;
  for (let k = 0; k <= INTERVALS; k += 1) {
    const weight = k === 0 || k === INTERVALS ? 1 : k % 2 === 1 ? 4 : 2;
    sum += weight * Math.max(0, Math.cos(k * step)) ** alpha;
  }
  const value = (4 * sum * step) / 3;
  known.set(alpha, value);
  return value;
}

/**
 * Core loss of a piecewise straight waveform over that of a sine of equal peak-to-peak swing: improved generalised Steinmetz
 * equation (K. Venkatachalam, C. R. Sullivan, T. Abdallah, H. Tacca, IEEE COMPEL 2002).
 *
 * @param pieces how much of the swing each stretch covers, and its share of the period.
 */
export function shapeOverSine(
  alpha: number,
  pieces: readonly { readonly swing: number; readonly share: number }[],
): number {
  const sum = pieces.reduce(
    (total, { swing, share }) => total + (share > 0 ? Math.abs(swing) ** alpha * share ** (1 - alpha) : 0),
    0,
  );
  return (2 ** alpha * sum) / ((2 * Math.PI) ** (alpha - 1) * cosinePower(alpha));
}

/** The pieces of a waveform between the switching edges. */
export function piecesOf(
  { segments, period }: PeriodicSolution,
  signal: Signal,
  swing: number,
): readonly { readonly swing: number; readonly share: number }[] {
  return segments.flatMap(({ equations, initial, final, duration }) => {
    if (duration === 0) return [];
    const row = signal(equations);
    return [{ swing: (dot(row, final) - dot(row, initial)) / swing, share: duration / period }];
  });
}

import { coverageHalfWidth } from '../uncertainty/coverageInterval.js';
import type { FittedFigure } from './currentRamp.js';
import { leastSquares } from './leastSquares.js';

/** What a choke and a known capacitor rang at. @public */
export interface FittedRing {
  /** H, and Ω in series that the decay stands for at the frequency of the ring: copper and core together. */
  readonly inductance: FittedFigure;
  readonly resistance: FittedFigure;
  /** Hz, as it rang. */
  readonly frequency: number;
  /** Energy held over that lost in a radian. */
  readonly quality: number;
  /** V, of the noise left. */
  readonly left: number;
}

/** The capacitor that a choke rings with. @public */
export interface RingCapacitor {
  readonly capacitance: number;
  /** Limit of its error, a ratio. */
  readonly tolerance: number;
}

const LEAST_POINTS = 40;

/**
 * Inductance and loss from the ring of a choke with a known capacitor, v = (a cos ωt + b sin ωt) e^(−δt) + c:
 *
 *     L = 1/(C (ω² + δ²)),   R = 2 δ L
 *
 * a series circuit left to itself (standard result). ω and δ are fitted by least squares with a, b and c, so that no peaks are counted.
 *
 * @returns a sentence where the record holds no ring.
 * @public
 */
export function fitRing(
  time: Float64Array,
  voltage: Float64Array,
  { capacitance, tolerance }: RingCapacitor,
): FittedRing | string {
  const n = time.length;
  if (n < LEAST_POINTS)
    return `The record has ${String(n)} points; ${String(LEAST_POINTS)} at least are needed for a fit.`;
  const from = time[0] ?? 0;
  const span = (time[n - 1] ?? 0) - from;
  const mean = voltage.slice(Math.floor(0.8 * n)).reduce((sum, one) => sum + one, 0) / (n - Math.floor(0.8 * n));
  // A first guess by the crossings of the mean, wavering near it passed over.
  const swing = Math.max(...voltage.map((one) => Math.abs(one - mean)));
  const crossings: number[] = [];
  let above = (voltage[0] ?? 0) > mean;
  voltage.forEach((one, k) => {
    if (above ? one < mean - swing / 12 : one > mean + swing / 12) {
      above = !above;
      crossings.push(time[k] ?? 0);
    }
  });
  const [first, last] = [crossings[0], crossings.at(-1)];
  if (first === undefined || last === undefined || crossings.length < 4)
    return 'The record rings less than twice: a smaller capacitor, less damping, or a shorter record from the moment it is let go.';
  const omega = (Math.PI * (crossings.length - 1)) / (last - first);
  const early = Math.max(...voltage.slice(0, Math.ceil(n / 8)).map((one) => Math.abs(one - mean)));
  const half = voltage.findIndex((_, k) =>
    voltage
      .slice(k, k + Math.ceil((2 * Math.PI * n) / (omega * span)))
      .every((one) => Math.abs(one - mean) < early / 2),
  );
  const decay = Math.LN2 / Math.max((half > 0 ? (time[half] ?? span) : span) - from, span / n);
  const found = leastSquares(
    [omega, decay, (voltage[0] ?? 0) - mean, 0, mean],
    (v) => {
      const [w = 0, d = 0, a = 0, b = 0, c = 0] = v;
      return voltage.map((one, k) => {
        const t = (time[k] ?? 0) - from;
        return Math.exp(-d * t) * (a * Math.cos(w * t) + b * Math.sin(w * t)) + c - one;
      });
    },
    [omega, decay, swing, swing, swing],
  );
  if (!found) return 'No ring that dies away goes through this record: begin it where it is let go.';
  const { values, residuals, inverse } = found;
  const [w = 0, d = 0] = values;
  const noise = Math.sqrt(residuals.reduce((sum, one) => sum + one * one, 0) / (n - values.length));
  const square = w * w + d * d;
  const inductance = 1 / (capacitance * square);
  const resistance = 2 * d * inductance;
  const m = values.length;
  /** Standard uncertainty by the derivatives for ω and δ (JCGM 100:2008, 5.2). */
  const standard = (byOmega: number, byDecay: number): number =>
    noise *
    Math.sqrt(
      Math.max(
        0,
        byOmega ** 2 * (inverse[0] ?? 0) +
          byDecay ** 2 * (inverse[m + 1] ?? 0) +
          2 * byOmega * byDecay * (inverse[1] ?? 0),
      ),
    );
  const figure = (value: number, wavers: number): FittedFigure => {
    const width = coverageHalfWidth([
      { words: 'what wavers', standard: wavers, shape: 'normal' },
      ...(tolerance > 0
        ? [{ words: 'the capacitor', standard: (tolerance * value) / Math.sqrt(3), shape: 'rectangular' as const }]
        : []),
    ]);
    return { value, low: value - width, high: value + width };
  };
  const [lw, ld] = [(-2 * w * inductance) / square, (-2 * d * inductance) / square];
  return {
    inductance: figure(inductance, standard(lw, ld)),
    resistance: figure(resistance, standard(2 * d * lw, 2 * inductance + 2 * d * ld)),
    frequency: w / (2 * Math.PI),
    quality: (w * inductance) / resistance,
    left: noise,
  };
}

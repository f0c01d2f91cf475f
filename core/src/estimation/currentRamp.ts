import { keptShare } from '../parts/inductanceCurve.js';
import { coverageHalfWidth, type ErrorSource } from '../uncertainty/coverageInterval.js';
import { leastSquares } from './leastSquares.js';

/** A ramp of current in a choke, as an oscilloscope recorded it. */
export interface RampRecord {
  /** s, evenly spaced. */
  readonly time: Float64Array;
  /** V across the winding. */
  readonly voltage: Float64Array;
  /** A */
  readonly current: Float64Array;
}

/** What is known of what recorded it. @public */
export interface RampInstruments {
  /** Limits of the errors of gain, ratios. */
  readonly voltageAccuracy: number;
  readonly currentAccuracy: number;
  /** Ω of the winding: what it drops drives no flux. */
  readonly resistance: number;
}

/** A figure with the interval that holds it in 95 of 100. @public */
export interface FittedFigure {
  readonly value: number;
  readonly low: number;
  readonly high: number;
}

/** What a ramp says of a choke. @public */
export interface FittedRamp {
  /** H, without current. */
  readonly inductance: FittedFigure;
  /** A, at which 30 % of it are gone; undefined where the ramp does not go that far. */
  readonly saturation: FittedFigure | undefined;
  /** How sharply: 2 gives way as a powder, 8 as a ferrite. */
  readonly exponent: number;
  /** Of the fitted current, A: how far what is left wavers. */
  readonly left: number;
  /** The curve, A and H, to the end of the ramp. */
  readonly curve: readonly (readonly [number, number])[];
  /** What was left open, in a sentence. */
  readonly open: string | undefined;
}

/** Share of the inductance that is gone at the saturation current. */
const DROP = 0.3;
const LEAST_POINTS = 30;
/** Points from which a first guess is made. */
const THINNED = 150;
const CURVE_POINTS = 24;

const keptAt = (share: number, exponent: number): number => keptShare(share, DROP, exponent);

const PARTS = 200;
const REACH = 2.5;

/** ∫ of what is kept, on a grid of shares of the saturation current, by trapezia; one for each exponent. */
function keptFlux(exponent: number): Float64Array {
  const sums = new Float64Array(PARTS + 1);
  const step = REACH / PARTS;
  for (let k = 1; k <= PARTS; k += 1) {
    // Simpson over one part: the fall of a ferrite is sharp.
    const [a, m, b] = [(k - 1) * step, (k - 0.5) * step, k * step].map((share) => keptAt(share, exponent)) as [
      number,
      number,
      number,
    ];
    sums[k] = (sums[k - 1] ?? 0) + ((a + 4 * m + b) * step) / 6;
  }
  return sums;
}

/** The share of the saturation current that goes with a flux, both over their own at it: between points of the grid by its slopes. */
function shareFor(flux: number, sums: Float64Array, exponent: number): number {
  const magnitude = Math.abs(flux);
  let [low, high] = [0, PARTS];
  if (magnitude >= (sums[PARTS] ?? 0))
    return Math.sign(flux) * (REACH + (magnitude - (sums[PARTS] ?? 0)) / keptAt(REACH, exponent));
  while (high - low > 1) {
    const middle = (low + high) >> 1;
    if ((sums[middle] ?? 0) <= magnitude) low = middle;
    else high = middle;
  }
  const step = REACH / PARTS;
  let share = low * step + ((magnitude - (sums[low] ?? 0)) / ((sums[high] ?? 0) - (sums[low] ?? 0))) * step;
  // One step of Newton within the part, by trapezium from its beginning.
  const from = low * step;
  const area = ((keptAt(from, exponent) + keptAt(share, exponent)) / 2) * (share - from);
  share -= (area - (magnitude - (sums[low] ?? 0))) / keptAt(share, exponent);
  return Math.sign(flux) * share;
}

/** A parabola through the voltage: what the drive gives as it is loaded, without the steps of the record. */
function smoothed(time: Float64Array, voltage: Float64Array) {
  const n = time.length;
  const [first, last] = [time[0] ?? 0, time[n - 1] ?? 1];
  const x = time.map((t) => (2 * (t - first)) / (last - first) - 1);
  // Legendre polynomials are as good as independent over an even grid.
  const basis = [x.map(() => 1), x, x.map((one) => (3 * one * one - 1) / 2)];
  const found = leastSquares([1, 1, 1], (c) =>
    voltage.map((v, k) => v - basis.reduce((sum, one, j) => sum + (c[j] ?? 0) * (one[k] ?? 0), 0)),
  );
  if (!found) return undefined;
  const { values, residuals, inverse } = found;
  const variance = residuals.reduce((sum, one) => sum + one * one, 0) / (n - 3);
  return { basis, values, covariance: inverse.map((one) => one * variance) };
}

/**
 * Inductance and saturation current of a choke from a ramp of its current: what the current goes with is the flux linkage, the integral of
 * the voltage less the drop of the winding,
 *
 *     λ(t) = ∫ (v − R i) dt,   λ(i) = L₀ ∫ di/(1 + (3/7) (i/I_s)ᵖ)
 *
 * so that nothing is differentiated. The voltage is smoothed by a parabola; L₀, I_s, p and the offset of the current are fitted to the
 * current by least squares. Intervals of 95 %: what wavers of current and voltage through the fit (JCGM 100:2008, 5.1), limits of gain with
 * it by their distributions (JCGM 101:2008).
 *
 * @returns a sentence where the record does not serve.
 * @public
 */
export function fitRamp({ time, voltage, current }: RampRecord, instruments: RampInstruments): FittedRamp | string {
  const n = time.length;
  if (n < LEAST_POINTS)
    return `The record has ${String(n)} points; ${String(LEAST_POINTS)} at least are needed for a fit.`;
  const step = ((time[n - 1] ?? 0) - (time[0] ?? 0)) / (n - 1);
  if (!(step > 0)) return 'The record does not go on in time.';
  const rise = Math.abs((current[n - 1] ?? 0) - (current[0] ?? 0));
  const drive = smoothed(time, voltage);
  if (!drive || !(rise > 0))
    return 'The current does not rise over the record: choose the part in which the switch is on.';
  const sign = Math.sign((current[n - 1] ?? 0) - (current[0] ?? 0)) || 1;
  const parts = drive.basis.map((one) => integralOf(one, step));
  // What the winding drops is small: the measured current serves, smoothed by the integral.
  const dropped = integralOf(
    current.map((one) => instruments.resistance * one),
    step,
  );
  const linkage = (c: Float64Array): Float64Array =>
    dropped.map((drop, k) => parts.reduce((sum, one, j) => sum + (c[j] ?? 0) * (one[k] ?? 0), 0) - drop);
  const flux = linkage(drive.values);
  if (sign * (flux[n - 1] ?? 0) <= 0) return 'Voltage and current have opposite signs: turn one of the probes round.';
  const most = Math.max(...current.map((one) => sign * one));
  const early = Math.max(10, Math.round(n / 5));
  const slope = ((flux[early] ?? 0) - (flux[0] ?? 0)) / ((current[early] ?? 0) - (current[0] ?? 0) || 1e-12);
  const grids = new Map<number, Float64Array>();
  const gridOf = (exponent: number): Float64Array => {
    const known = grids.get(exponent) ?? keptFlux(exponent);
    grids.set(exponent, known);
    return known;
  };
  const currentOf = (v: Float64Array, of: Float64Array): Float64Array | undefined => {
    const [inductance = 0, saturation = 0, exponent = 0, offset = 0] = v;
    if (!(inductance > 0) || !(saturation > 0) || exponent < 0.8 || exponent > 30) return undefined;
    const sums = gridOf(exponent);
    const scale = inductance * saturation;
    return of.map((one) => offset + saturation * shareFor(one / scale, sums, exponent));
  };
  const residualsFor =
    (of: Float64Array, read: Float64Array) =>
    (v: Float64Array): Float64Array | undefined =>
      currentOf(v, of)?.map((one, k) => one - (read[k] ?? 0));
  const squares = ({ residuals: left }: { readonly residuals: Float64Array }): number =>
    left.reduce((sum, one) => sum + one * one, 0);
  // From several guesses with a part of the points, as one may lead astray; then with all from the best.
  const every = Math.max(1, Math.floor(n / THINNED));
  const [thin, read] = [flux, current].map((of) => of.filter((_, k) => k % every === 0)) as [
    Float64Array,
    Float64Array,
  ];
  const guesses = [0.8, 1.2].flatMap((share) => [2, 6].map((exponent) => [share * most, exponent] as const));
  const tries = guesses.flatMap(
    ([saturation, exponent]) =>
      leastSquares([Math.abs(slope), saturation, exponent, current[0] ?? 0], residualsFor(thin, read), [
        Math.abs(slope),
        saturation,
        exponent,
        most / 10,
      ]) ?? [],
  );
  const best = tries.sort((x, y) => squares(x) - squares(y))[0];
  const found =
    best && leastSquares([...best.values], residualsFor(flux, current), [...best.values.slice(0, 3), most / 10]);
  if (!found) return 'No curve of a choke goes through this record: take the part of it in which the voltage is on.';
  const { values, residuals, jacobian, inverse } = found;
  const [inductance = 0, saturation = 0, exponent = 0] = values;
  const wavers = Math.sqrt(squares({ residuals }) / (n - values.length));
  // dθ = −(JᵀJ)⁻¹ Jᵀ ∂i/∂c dc: how the fit follows the smoothed voltage.
  const sensitivities = Array.from({ length: drive.values.length }, (_, j) => {
    const moved = drive.values.slice();
    const by = 1e-4 * Math.max(Math.abs(drive.values[0] ?? 1), 1e-9);
    moved[j] = (moved[j] ?? 0) + by;
    const shifted = currentOf(values, linkage(moved)) ?? new Float64Array(n);
    return shifted.map((one, k) => (one - (residuals[k] ?? 0) - (current[k] ?? 0)) / by);
  });
  const m = values.length;
  const follows = (a: number, j: number): number => {
    let sum = 0;
    for (let b = 0; b < m; b += 1) {
      const column = jacobian[b] ?? new Float64Array();
      const moved = sensitivities[j] ?? new Float64Array();
      let inner = 0;
      for (let k = 0; k < n; k += 1) inner += (column[k] as number) * (moved[k] as number);
      sum -= (inverse[a * m + b] ?? 0) * inner;
    }
    return sum;
  };
  const varianceOf = (a: number): number => {
    let variance = (inverse[a * m + a] ?? 0) * wavers ** 2;
    const rows = sensitivities.map((_, j) => follows(a, j));
    rows.forEach((x, i) => rows.forEach((y, j) => (variance += x * y * (drive.covariance[i * rows.length + j] ?? 0))));
    return variance;
  };
  const limit = (words: string, ratio: number, value: number): ErrorSource => ({
    words,
    standard: (ratio * value) / Math.sqrt(3),
    shape: 'rectangular',
  });
  const figure = (a: number, value: number, limits: readonly ErrorSource[]): FittedFigure => {
    const half = coverageHalfWidth([
      { words: 'what wavers', standard: Math.sqrt(varianceOf(a)), shape: 'normal' },
      ...limits.filter(({ standard }) => standard > 0),
    ]);
    return { value, low: value - half, high: value + half };
  };
  const { voltageAccuracy, currentAccuracy } = instruments;
  const reached = most >= saturation;
  return {
    inductance: figure(0, inductance, [
      limit('gain of the voltage', voltageAccuracy, inductance),
      limit('gain of the current', currentAccuracy, inductance),
    ]),
    saturation: reached
      ? figure(1, saturation, [limit('gain of the current', currentAccuracy, saturation)])
      : undefined,
    exponent,
    left: wavers,
    curve: Array.from({ length: CURVE_POINTS }, (_, k): [number, number] => {
      const at = (most * k) / (CURVE_POINTS - 1);
      return [at, inductance * keptAt(at / saturation, exponent)];
    }),
    open: reached
      ? undefined
      : `The ramp ends at ${most.toPrecision(3)} A with less than 30 % of the inductance gone: where it saturates is not in it; let it rise further.`,
  };
}

/** ∫ from the first point by trapezia. */
function integralOf(values: Float64Array, step: number): Float64Array {
  const sums = new Float64Array(values.length);
  for (let k = 1; k < values.length; k += 1)
    sums[k] = (sums[k - 1] ?? 0) + (((values[k - 1] ?? 0) + (values[k] ?? 0)) * step) / 2;
  return sums;
}

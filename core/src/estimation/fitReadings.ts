import { EigenvalueDecomposition, inverse, Matrix } from 'ml-matrix';
import { errorParts } from '../instruments/accuracy.js';
import type { Instruments } from '../instruments/instruments.js';
import { accuracyOf, leadUncertainty } from '../readings/derived.js';
import type { Channel, Reading } from '../readings/reading.js';
import type { Stage } from '../stage/schema.js';
import { coverageHalfWidth, type ErrorSource } from '../uncertainty/coverageInterval.js';
import { PARAMETERS, scaledBy, type FitParameter, type ParameterKey } from './parameters.js';
import { boardInput, PREDICTED, ReadingPredictor, type Leads, type PredictedReading } from '../board/predictReading.js';

/** A value that explains the readings. @public */
export interface FittedParameter {
  readonly key: ParameterKey;
  /** Factor on the stated value, or ohm of a lead. */
  readonly value: number;
  /** Standard uncertainty of it. */
  readonly standard: number;
  /** Within which it lies, at 95 %. */
  readonly low: number;
  readonly high: number;
  /** Where the readings leave it open: the others it cannot be told from; empty where nothing in them sees it. */
  readonly open: { readonly with: readonly ParameterKey[]; readonly toTell: string } | undefined;
}

/** What readings say of the parts. @public */
export interface FittedReadings {
  readonly kind: 'fitted';
  readonly parameters: readonly FittedParameter[];
  /** What is left of each reading that was used: read less predicted with the fitted values, over its standard uncertainty. */
  readonly residuals: readonly {
    readonly row: number;
    readonly channel: Channel;
    readonly read: number;
    readonly before: number;
    readonly after: number;
    readonly standard: number;
  }[];
  /** Root mean square of what is left, in standard uncertainties: about 1 or less where the model and the accuracies stated hold. */
  readonly left: number;
  /** Lines that were fitted: of many, so many evenly chosen. */
  readonly used: number;
  /** Lines that were not used, and why. */
  readonly unused: readonly { readonly row: number; readonly because: string }[];
}

/** Relative step of a factor, and step of a lead, ohm, for the derivatives. */
const STEP = { factor: 0.02, lead: 2e-3 };
/** Rounds of Gauss's method at most, and the change of the parameters, in standard uncertainties, that ends it. */
const MOST_ROUNDS = 8;
/** Lines that are fitted at most. */
const MOST_LINES = 60;
/** Rounds in which the derivatives are worked anew. */
const FRESH = 2;
const STILL = 0.02;
/** Factors stay within these. */
const FACTOR = { low: 0.1, high: 20 };
/** A parameter that the readings leave so open, as a factor or in ohm, is not seen by them. */
const UNSEEN = { factor: 0.7, lead: 0.3 };
/** A parameter whose uncertainty is so many times what it would be with all others known stands in for them. */
const INFLATED = 12;
/** Share of a direction that a parameter must have to be named with it. */
const NAMED = 0.3;
/**
 * Shares of what is predicted by which ideal edges, heat and what a probe picks up may let it be off: common practice. What is read at
 * the other end of a lead goes with what is read at the board.
 */
const MODEL: Readonly<Record<(typeof PREDICTED)[number], number>> = {
  supplyVoltage: 0,
  inputCurrent: 5e-4,
  outputVoltage: 1e-4,
  loadVoltage: 1e-4,
  outputRipple: 0.01,
  inductorRipple: 0.01,
};

/** Share of a figure below which digits are not told apart: no reading is known better. */
const ROUNDING = 1e-6;

/** One reading that a prediction is held against. */
interface Observation {
  readonly row: number;
  readonly channel: (typeof PREDICTED)[number];
  readonly read: number;
}

/** A source of error, and what its standard uncertainty makes of each observation. */
interface CommonError {
  readonly words: string;
  readonly effect: Float64Array;
  readonly shape: ErrorSource['shape'];
}

/**
 * Which values of parts and leads explain the readings of a log, by generalised least squares on the exact steady state:
 *
 *     min (y − f(θ))' V⁻¹ (y − f(θ)),   V = Σ c c' u²
 *
 * The errors of gain and offset of an instrument are the same in all its readings; those of the readings that are put in (input
 * voltage, load current) are carried through the prediction. Intervals are those of the linearised estimator with the distributions of
 * the errors propagated (JCGM 101:2008), rectangular within stated limits.
 *
 * Source of the estimator: A. C. Aitken, On least squares and linear combination of observations, 1935; Gauss's method for what is not
 * linear: R. Fletcher, Practical Methods of Optimization, section 6.1.
 *
 * @param leftOut lines that are not to be used.
 * @returns a sentence where nothing can be said.
 * @public
 */
export function fitReadings(
  stage: Stage,
  readings: readonly Reading[],
  instruments: Instruments,
  keys: readonly ParameterKey[],
  leftOut: ReadonlySet<number> = new Set(),
  ambient?: number,
): FittedReadings | string {
  const parameters = PARAMETERS.filter(
    ({ key, kind, paths }) => keys.includes(key) && (kind === 'lead' || paths(stage).length > 0),
  );
  if (parameters.length === 0) return 'Nothing is to be fitted: choose what may differ from its stated value.';
  const stated: Leads = instruments.leads;
  const unused: { row: number; because: string }[] = [];
  const usable = readings.flatMap((reading, row) => {
    const because = leftOut.has(row)
      ? 'it is left out for its flags'
      : boardInput(reading, stated) === undefined
        ? 'no input voltage was read'
        : reading.outputCurrent === undefined
          ? 'no output current was read'
          : undefined;
    if (because !== undefined) unused.push({ row, because });
    return because === undefined ? [{ row, reading }] : [];
  });
  // More lines of the same board say little more, and the errors they have in common are followed from each to each.
  const every = Math.max(1, usable.length / MOST_LINES);
  const rows = usable.filter((_, k) => Math.floor(k / every) !== Math.floor((k - 1) / every));
  const evaluate = (theta: readonly number[]): readonly (PredictedReading | undefined)[] => {
    const { leads, changed } = applied(stage, parameters, stated, theta);
    const predictor = new ReadingPredictor(changed);
    return rows.map(({ reading }) =>
      predictor.at(boardInput(reading, leads) ?? 0, reading.outputCurrent ?? 0, leads, ambient),
    );
  };
  const nominal = parameters.map(({ kind, key }) =>
    kind === 'factor' ? 1 : stated[key === 'inputLead' ? 'input' : 'output'],
  );
  const first = evaluate(nominal);
  const observations: Observation[] = [];
  rows.forEach(({ row, reading }, k) => {
    if (!first[k]) {
      unused.push({ row, because: 'the stage cannot work there as it is stated' });
      return;
    }
    for (const channel of PREDICTED) {
      const read = reading[channel];
      // Where the supply's voltage stands in for the board's, it is no observation of the lead.
      if (read === undefined || (channel === 'supplyVoltage' && reading.inputVoltage === undefined)) continue;
      observations.push({ row: k, channel, read });
    }
  });
  if (observations.length <= parameters.length)
    return `${String(observations.length)} readings cannot tell ${String(parameters.length)} values: read more of them, or fit fewer.`;
  const vector = (predicted: readonly (PredictedReading | undefined)[]): Float64Array =>
    Float64Array.from(observations, ({ row, channel }) => predicted[row]?.[channel] ?? NaN);
  const read = Float64Array.from(observations, (one) => one.read);
  const { weight, sources } = errorModel(
    rows,
    observations,
    instruments,
    new Set(parameters.map(({ key }) => key)),
    vector(first),
    evaluateMoved(stage, stated, rows, ambient, observations, vector(first)),
  );

  let theta = nominal;
  let predicted = vector(first);
  let jacobian = Matrix.zeros(observations.length, parameters.length);
  let covariance = Matrix.zeros(parameters.length, parameters.length);
  let information = covariance;
  for (let round = 0; round < MOST_ROUNDS; round += 1) {
    // Twice anew, then as it is: near the answer the derivatives hardly change.
    if (round < FRESH) {
      const columns = parameters.map(({ kind }, p) => {
        const step = kind === 'factor' ? STEP.factor * (theta[p] ?? 1) : STEP.lead;
        const above = vector(evaluate(theta.with(p, (theta[p] ?? 0) + step)));
        return above.map((value, i) => (value - (predicted[i] ?? 0)) / step);
      });
      if (columns.some((column) => column.some((value) => !Number.isFinite(value))))
        return 'The prediction breaks off at a value that the readings ask for: look at the lines that are flagged.';
      jacobian = new Matrix(observations.map((_, i) => columns.map((column) => column[i] ?? 0)));
      information = jacobian.transpose().mmul(weight).mmul(jacobian);
      covariance = inverse(ridged(information, parameters), true);
    }
    const weighted = jacobian.transpose().mmul(weight);
    const change = covariance
      .mmul(weighted)
      .mmul(Matrix.columnVector([...read].map((value, i) => value - (predicted[i] ?? 0))));
    const next = theta.map((value, p) => {
      const moved = value + change.get(p, 0);
      return parameters[p]?.kind === 'factor' ? Math.min(FACTOR.high, Math.max(FACTOR.low, moved)) : Math.max(0, moved);
    });
    const moved = Math.max(
      ...next.map((value, p) => Math.abs(value - (theta[p] ?? 0)) / Math.sqrt(covariance.get(p, p))),
    );
    theta = next;
    predicted = vector(evaluate(theta));
    if (predicted.some((value) => !Number.isFinite(value)))
      return 'The prediction breaks off at a value that the readings ask for: look at the lines that are flagged.';
    if (moved < STILL) break;
  }
  const estimator = covariance.mmul(jacobian.transpose().mmul(weight));
  const open = openDirections(information, parameters);
  const variances = observations.map((_, i) => sources.reduce((sum, { effect }) => sum + (effect[i] ?? 0) ** 2, 0));
  const before = vector(first);
  const residuals = observations.map(({ row, channel, read: value }, i) => ({
    row: rows[row]?.row ?? 0,
    channel,
    read: value,
    before: before[i] ?? NaN,
    after: predicted[i] ?? NaN,
    standard: Math.sqrt(variances[i] ?? 0),
  }));
  return {
    kind: 'fitted',
    parameters: parameters.map(({ key, toTell }, p) => {
      const parts = sources.map(({ words, effect, shape }): ErrorSource => {
        const standard = Math.abs(effect.reduce((sum, value, i) => sum + estimator.get(p, i) * value, 0));
        return { words, standard, shape };
      });
      const half = coverageHalfWidth(parts);
      const value = theta[p] ?? 0;
      const group = open.get(key);
      return {
        key,
        value,
        standard: Math.sqrt(parts.reduce((sum, { standard }) => sum + standard * standard, 0)),
        // Neither a part nor a lead has less than nothing.
        low: Math.max(0, value - half),
        high: value + half,
        open: group && { with: group, toTell },
      };
    }),
    residuals,
    used: rows.length,
    left: Math.sqrt(
      residuals.reduce((sum, { read: is, after, standard }) => sum + ((is - after) / standard) ** 2, 0) /
        residuals.length,
    ),
    unused,
  };
}

/** The stage and the leads as parameters have them. */
function applied(
  stage: Stage,
  parameters: readonly FitParameter[],
  stated: Leads,
  theta: readonly number[],
): { readonly changed: Stage; readonly leads: Leads } {
  let changed = stage;
  const leads = { input: stated.input, output: stated.output };
  parameters.forEach((parameter, p) => {
    const value = theta[p] ?? 1;
    if (parameter.kind === 'lead') leads[parameter.key === 'inputLead' ? 'input' : 'output'] = value;
    else changed = scaledBy(changed, parameter, value);
  });
  return { changed, leads };
}

/** How far the prediction moves with what is put into it, by channel: of input voltage and load current, relative steps. */
type Moved = (of: 'inputVoltage' | 'outputCurrent') => Float64Array;
const PUT_IN = 1e-3;

const evaluateMoved =
  (
    stage: Stage,
    leads: Leads,
    rows: readonly { readonly reading: Reading }[],
    ambient: number | undefined,
    observations: readonly Observation[],
    predicted: Float64Array,
  ): Moved =>
  (of) => {
    const predictor = new ReadingPredictor(stage);
    const at = (by: number) =>
      rows.map(({ reading }) =>
        predictor.at(
          (boardInput(reading, leads) ?? 0) * (of === 'inputVoltage' ? 1 + by : 1),
          (reading.outputCurrent ?? 0) * (of === 'outputCurrent' ? 1 + by : 1),
          leads,
          ambient,
        ),
      );
    const above = at(PUT_IN);
    return Float64Array.from(observations, ({ row, channel }, i) => {
      const change = (above[row]?.[channel] ?? NaN) - (predicted[i] ?? NaN);
      return Number.isFinite(change) ? change / PUT_IN : 0;
    });
  };

/** All sources of error with their effect on what is read less what is predicted, and the weight V⁻¹ they give. */
function errorModel(
  rows: readonly { readonly reading: Reading }[],
  observations: readonly Observation[],
  instruments: Instruments,
  fitted: ReadonlySet<ParameterKey>,
  predicted: Float64Array,
  moved: Moved,
): { readonly weight: Matrix; readonly sources: readonly CommonError[] } {
  const count = observations.length;
  const sources: CommonError[] = [];
  const byName = new Map<string, Float64Array>();
  const common = (name: string): Float64Array => {
    const known = byName.get(name) ?? new Float64Array(count);
    byName.set(name, known);
    return known;
  };
  const single = (words: string, i: number, standard: number, shape: ErrorSource['shape']): void => {
    if (standard === 0) return;
    const effect = new Float64Array(count);
    effect[i] = standard;
    sources.push({ words, effect, shape });
  };
  observations.forEach(({ channel, read }, i) => {
    for (const { kind, limit, common: shared } of errorParts(accuracyOf(instruments, channel), read)) {
      const standard = limit / Math.sqrt(3);
      // With the sign of the reading, so that one gain moves all its readings one way.
      if (shared) common(`${channel} ${kind}`)[i] = standard * (kind === 'gain' ? Math.sign(read) || 1 : 1);
      else single(`${channel}, step of the display`, i, standard, 'rectangular');
    }
    const size = Math.abs(predicted[i] ?? 0);
    single('what the model leaves out', i, Math.hypot(size * MODEL[channel], ROUNDING * size), 'normal');
  });
  const put = {
    inputVoltage: moved('inputVoltage'),
    outputCurrent: moved('outputCurrent'),
  };
  // A lead that is not fitted is known only so well: the drop that is reckoned with it errs the same way in every line.
  const stated = { input: leadUncertainty(instruments.leads.input), output: leadUncertainty(instruments.leads.output) };
  observations.forEach(({ row, channel }, i) => {
    const { inputVoltage, supplyVoltage = 0, inputCurrent = 0, outputCurrent = 0 } = rows[row]?.reading ?? {};
    if (!fitted.has('inputLead') && stated.input > 0) {
      if (channel === 'supplyVoltage') common('lead from the supply')[i] = -stated.input * inputCurrent;
      else if (inputVoltage === undefined && supplyVoltage > 0)
        common('lead from the supply')[i] =
          ((stated.input * inputCurrent) / supplyVoltage) * (put.inputVoltage[i] ?? 0);
    }
    if (!fitted.has('outputLead') && stated.output > 0 && channel === 'loadVoltage')
      common('lead to the load')[i] = stated.output * outputCurrent;
  });
  for (const quantity of ['inputVoltage', 'outputCurrent'] as const) {
    const effect = put[quantity];
    rows.forEach(({ reading }, row) => {
      const channel = quantity === 'inputVoltage' && reading.inputVoltage === undefined ? 'supplyVoltage' : quantity;
      const value = reading[channel] ?? 0;
      if (value === 0) return;
      for (const { kind, limit, common: shared } of errorParts(accuracyOf(instruments, channel), value)) {
        const relative = limit / Math.sqrt(3) / Math.abs(value);
        const own = shared ? common(`${channel} ${kind}`) : new Float64Array(count);
        observations.forEach(({ row: at, channel: seen }, i) => {
          if (at !== row) return;
          // What is read high is put in high, and predicted high: less is left of what is read.
          let by = -relative * (effect[i] ?? 0);
          // The supply is predicted from the board's own reading, and goes with it.
          if (seen === 'supplyVoltage' && quantity === 'inputVoltage') by = -relative * value;
          own[i] = (own[i] ?? 0) + by;
        });
        if (!shared) sources.push({ words: `${channel}, step of the display`, effect: own, shape: 'rectangular' });
      }
    });
  }
  for (const [words, effect] of byName) sources.push({ words, effect, shape: 'rectangular' });
  const covariance = Matrix.zeros(count, count);
  for (const { effect } of sources)
    for (let i = 0; i < count; i += 1) {
      const a = effect[i] ?? 0;
      if (a === 0) continue;
      for (let j = 0; j < count; j += 1) covariance.set(i, j, covariance.get(i, j) + a * (effect[j] ?? 0));
    }
  return { weight: inverse(covariance), sources };
}

/** The information with a floor so low that only what the readings do not see at all is held by it. */
function ridged(information: Matrix, parameters: readonly FitParameter[]): Matrix {
  const out = information.clone();
  parameters.forEach(({ kind }, p) => {
    const wide = kind === 'factor' ? 10 : 3;
    out.set(p, p, out.get(p, p) + 1 / (wide * wide));
  });
  return out;
}

/** The parameters that the readings leave open, each with those that it cannot be told from. */
function openDirections(
  information: Matrix,
  parameters: readonly FitParameter[],
): ReadonlyMap<ParameterKey, readonly ParameterKey[]> {
  const open = new Map<ParameterKey, readonly ParameterKey[]>();
  const alone = parameters.map(({ key, kind }, p) => {
    const seen = information.get(p, p);
    const standard = seen > 0 ? 1 / Math.sqrt(seen) : Infinity;
    if (standard > UNSEEN[kind]) open.set(key, []);
    return standard;
  });
  const seen = parameters.flatMap((_, p) => (open.has((parameters[p] as FitParameter).key) ? [] : [p]));
  if (seen.length < 2) return open;
  // Each parameter in units of what it would be known to with all others known.
  const scaled = new Matrix(
    seen.map((p) => seen.map((q) => information.get(p, q) * (alone[p] ?? 0) * (alone[q] ?? 0))),
  );
  const { realEigenvalues, eigenvectorMatrix } = new EigenvalueDecomposition(scaled, { assumeSymmetric: true });
  realEigenvalues.forEach((value, e) => {
    if (value > 1 / (INFLATED * INFLATED)) return;
    const members = seen.flatMap((p, k) =>
      Math.abs(eigenvectorMatrix.get(k, e)) >= NAMED ? [(parameters[p] as FitParameter).key] : [],
    );
    for (const key of members)
      open.set(
        key,
        members.filter((one) => one !== key),
      );
  });
  return open;
}

/** The stage with the fitted values that stand, for the parts of the stage itself. @public */
export function withFitted(stage: Stage, fitted: readonly Pick<FittedParameter, 'key' | 'value'>[]): Stage {
  return fitted.reduce((changed, { key, value }) => {
    const parameter = PARAMETERS.find((one) => one.key === key);
    return parameter?.kind === 'factor' ? scaledBy(changed, parameter, value) : changed;
  }, stage);
}

import { topologyOf } from '../topology/topologies.js';
import { figuredPoint } from './figuredPoint.js';
import { pulseRatio } from '../firstcut/pulseRatio.js';
import type { Unit } from '../quantity/unit.js';
import type { CompleteStage } from '../stage/completeStage.js';
import { figuresOf, type Figure } from '../steady/figures.js';
import type { Measure, NamedSignal } from '../orbit/measure.js';
import { averageShares, extremes, productShares, withoutMean } from '../orbit/measures.js';
import type { SolvedPoint } from '../steady/operatingPoint.js';
import type { PeriodicSolution } from '../orbit/periodic.js';
import { applied, type AppliedForm } from '../firstcut/closedForm.js';
import { junctionWorking, lossWorking } from './heatWorking.js';

/** One number put into a formula. @public */
export interface WorkingInput {
  readonly label: string;
  readonly value: number;
  readonly unit: Unit;
}

/** How a reported number came about: the formula, the numbers put in, the source, the corner and what is assumed. @public */
export interface Working {
  readonly key: string;
  readonly quantity: string;
  /** TeX */
  readonly symbol: string;
  readonly unit: Unit;
  readonly value: number;
  /** TeX of the right-hand side. */
  readonly formula: string;
  readonly inputs: readonly WorkingInput[];
  readonly source: string;
  readonly assumption: string;
  readonly corner: { readonly inputVoltage: number; readonly outputCurrent: number };
  /** The textbook formulas for the same number, to explain it and to compare. */
  readonly closedForms: readonly AppliedForm[];
}

export const ENGINE =
  'Exact periodic steady state of the circuit: state equations of each switch configuration, joined so that the state repeats after one period (method: T. J. Aprille, T. N. Trick, Steady-State Analysis of Nonlinear Circuits with Periodic Inputs, Proc. IEEE 60, 1972).';
export const ENGINE_ASSUMES =
  'Switches and diodes are resistances and fixed drops, capacitors have their small-signal value at the DC bias, inductance does not change with current. Switching transitions take no time.';

function span(solution: PeriodicSolution, index: number): string {
  const segment = solution.segments[index];
  if (!segment) return '';
  const share = (t: number): string => (t / solution.period).toFixed(4);
  const on = segment.equations.conducting.join(', ');
  return `from ${share(segment.start)} T to ${share(segment.start + segment.duration)} T, ${on === '' ? 'nothing' : on} conducting`;
}

interface Explained {
  readonly formula: string;
  readonly inputs: readonly WorkingInput[];
}

function explainMeasure(solution: PeriodicSolution, measure: Measure, unit: Unit): Explained {
  const shares = (values: readonly number[], what: string, shareUnit: Unit): readonly WorkingInput[] =>
    values.flatMap((value, i) =>
      (solution.segments[i]?.duration ?? 0) > 0
        ? [{ label: `${what} ${span(solution, i)}`, value, unit: shareUnit }]
        : [],
    );
  if (measure.kind === 'power') {
    const { copies } = measure;
    const label = (pair: { readonly voltage: NamedSignal; readonly current: NamedSignal }): string =>
      `average of ${pair.voltage.name} times ${pair.current.name}`;
    return {
      formula: `${copies > 1 ? `${String(copies)}\\,` : ''}\\sum \\frac{1}{T}\\int_0^T v(t)\\,i(t)\\,\\mathrm{d}t`,
      inputs: [
        ...measure.of.map((pair) => ({
          label: label(pair),
          value: productShares(solution, pair.voltage.signal, pair.current.signal).reduce((a, b) => a + b, 0),
          unit,
        })),
        ...(copies > 1 ? [{ label: 'phases that are copies of it', value: copies, unit: 'count' as const }] : []),
      ],
    };
  }
  const { symbol, name, signal } = measure.of;
  const ends = (): readonly WorkingInput[] => {
    const { max, min, maxAt, minAt } = extremes(solution, signal);
    const at = (t: number): string => `at ${(t / solution.period).toFixed(4)} T`;
    return [
      { label: `largest ${name}, ${at(maxAt)}`, value: max, unit },
      { label: `smallest ${name}, ${at(minAt)}`, value: min, unit },
    ];
  };
  switch (measure.kind) {
    case 'average':
      return {
        formula: `\\frac{1}{T}\\int_0^T ${symbol}(t)\\,\\mathrm{d}t`,
        inputs: shares(averageShares(solution, signal), 'share', unit),
      };
    case 'rms':
    case 'alternating-rms': {
      const alternating = measure.kind === 'alternating-rms';
      const taken = alternating ? withoutMean(solution, signal) : signal;
      const integrand = alternating ? `\\left(${symbol}(t)-\\overline{${symbol}}\\right)` : symbol;
      return {
        formula: `\\sqrt{\\frac{1}{T}\\int_0^T ${integrand}^2\\,\\mathrm{d}t}`,
        // Each share is given as the RMS it would have alone, so that it reads in the unit of the result.
        inputs: shares(
          productShares(solution, taken, taken).map((square) => Math.sqrt(Math.max(0, square))),
          'RMS share',
          unit,
        ),
      };
    }
    case 'max':
      return { formula: `\\max_t ${symbol}(t)`, inputs: ends().slice(0, 1) };
    case 'min':
      return { formula: `\\min_t ${symbol}(t)`, inputs: ends().slice(1) };
    case 'magnitude':
      return { formula: `\\max_t \\left|${symbol}(t)\\right|`, inputs: ends() };
    case 'peak-to-peak':
      return { formula: `\\max_t ${symbol}(t) - \\min_t ${symbol}(t)`, inputs: ends() };
  }
}

/** A figure that follows from other figures or from the solution itself. */
export type Derived = Omit<Working, 'corner' | 'closedForms' | 'key'>;

function derived(key: string, solved: SolvedPoint): Derived | undefined {
  const { point, solution } = solved;
  const common = { source: ENGINE, assumption: ENGINE_ASSUMES };
  switch (key) {
    case 'inputVoltage':
      return {
        quantity: 'input voltage',
        symbol: 'V_\\mathrm{in}',
        unit: 'V',
        value: point.inputVoltage,
        formula: 'V_\\mathrm{in}',
        inputs: [{ label: 'input voltage of this corner', value: point.inputVoltage, unit: 'V' }],
        source: 'The targets of the stage',
        assumption: 'The average at the input of the stage.',
      };
    case 'duty':
      return {
        quantity: 'duty ratio',
        symbol: 'D',
        unit: 'ratio',
        value: point.duty,
        formula: 'D:\\;\\frac{1}{T}\\int_0^T v_\\mathrm{out}(t;D)\\,\\mathrm{d}t = V_\\mathrm{out}',
        inputs: [
          { label: 'input voltage', value: point.inputVoltage, unit: 'V' },
          { label: 'average output voltage reached', value: point.outputVoltage, unit: 'V' },
          { label: 'load current', value: point.outputCurrent, unit: 'A' },
          { label: 'Newton iterations needed', value: solution.iterations, unit: 'count' },
        ],
        ...common,
      };
    case 'losses.total':
      return {
        quantity: 'total loss',
        symbol: 'P_\\mathrm{loss}',
        unit: 'W',
        value: point.losses['total'] ?? 0,
        formula: '\\sum_k P_k',
        inputs: lossLines(solved).map(({ key: lossKey, quantity }) => ({
          label: quantity,
          value: point.losses[lossKey] ?? 0,
          unit: 'W' as const,
        })),
        source: 'Sum of the losses below.',
        assumption: leftOut(solved) ?? ENGINE_ASSUMES,
      };
    case 'efficiency':
      return {
        quantity: 'efficiency',
        symbol: '\\eta',
        unit: 'ratio',
        value: point.efficiency,
        formula: '\\frac{P_\\mathrm{out}}{P_\\mathrm{in}}',
        inputs: [
          { label: 'output power', value: point.outputPower, unit: 'W' },
          { label: 'input power', value: point.inputPower, unit: 'W' },
        ],
        source: 'Definition',
        assumption: leftOut(solved) ?? 'All losses that the records of the parts tell of are in it.',
      };
    case 'inputPower':
      return {
        quantity: 'input power',
        symbol: 'P_\\mathrm{in}',
        unit: 'W',
        value: point.inputPower,
        formula: 'P_\\mathrm{out}+\\sum_k P_k',
        inputs: [
          { label: 'output power', value: point.outputPower, unit: 'W' },
          { label: 'total loss', value: point.losses['total'] ?? 0, unit: 'W' },
        ],
        source:
          'Balance of power. The circuit itself draws what it turns into heat and puts out; edges, gates, core and controller draw the rest.',
        assumption: ENGINE_ASSUMES,
      };
    case 'switchingFrequency':
      return {
        quantity: 'switching frequency',
        symbol: 'f_\\mathrm{sw}',
        unit: 'Hz',
        value: point.switchingFrequency,
        formula: '\\frac{1}{T}',
        inputs: [{ label: 'period', value: solution.period, unit: 's' }],
        source: 'Definition',
        assumption: 'The clock, or what is left of it where pulses are skipped.',
      };
    default:
      return undefined;
  }
}

/** Every loss of a point with its words, in the order of the report. */
function lossLines({ powerStage, heat }: SolvedPoint): readonly { readonly key: string; readonly quantity: string }[] {
  const ofCircuit = figuresOf(powerStage).flatMap(({ key, quantity }) =>
    key.startsWith('losses.') ? [{ key: key.slice('losses.'.length), quantity }] : [],
  );
  const known = new Set(ofCircuit.map(({ key }) => key));
  return [...ofCircuit, ...heat.lines.filter(({ key }) => !known.has(key))];
}

/** What is not in the losses, as the records do not state it. */
function leftOut({ heat }: SolvedPoint): string | undefined {
  if (heat.unknown.length === 0) return undefined;
  return `Not in it, as the records of the parts do not state it: ${heat.unknown.join('; ')}. The real loss is higher.`;
}

/** The working of a figure that saturation changes: peak, valley and ripple of the inductor current. */
function saturatedWorking(key: string, { point, saturation }: SolvedPoint): Derived | undefined {
  if (!saturation) return undefined;
  const { fluxSwing, effectiveInductance, linearPeak } = saturation;
  const kinds = {
    'inductorCurrent.peak': ['peak inductor current', '\\hat I_L', point.inductorCurrent.peak],
    'inductorCurrent.valley': ['valley inductor current', '\\check I_L', point.inductorCurrent.valley],
    'inductorCurrent.ripple': ['inductor ripple current', '\\hat I_L-\\check I_L', point.inductorCurrent.ripple],
  } as const;
  const kind = (kinds as Readonly<Record<string, (typeof kinds)[keyof typeof kinds] | undefined>>)[key];
  if (!kind) return undefined;
  const [quantity, symbol, value] = kind;
  return {
    quantity,
    symbol,
    unit: 'A',
    value,
    formula:
      '\\hat I_L,\\check I_L:\\;\\int_{\\check I_L}^{\\hat I_L} L(i)\\,\\mathrm{d}i=\\Delta\\lambda,\\;\\frac{1}{\\Delta\\lambda}\\int_{\\check I_L}^{\\hat I_L} i\\,L(i)\\,\\mathrm{d}i=I_L',
    inputs: [
      { label: 'average inductor current', value: point.inductorCurrent.average, unit: 'A' },
      { label: 'constant inductance with the same ripple', value: effectiveInductance, unit: 'H' },
      { label: 'swing of the flux linkage', value: fluxSwing, unit: 'Wb' },
      { label: 'peak with that inductance', value: linearPeak, unit: 'A' },
      { label: 'peak with the falling inductance', value: point.inductorCurrent.peak, unit: 'A' },
      { label: 'valley with the falling inductance', value: point.inductorCurrent.valley, unit: 'A' },
    ],
    source: `${ENGINE} The flux moves in straight lines under the flat winding voltages, so its swing and the average current fix peak and valley (derived here; agrees with ngspice on a flux-based inductor, see the validation page).`,
    assumption:
      'The inductance falls with current by its table, or softly through its saturation current and drop. The rest of the circuit sees the constant inductance with the same ripple.',
  };
}

/** Every numeric figure of a point, by key; each of them has a working. @public */
export function figureKeys(solved: SolvedPoint): readonly string[] {
  return [
    'inputVoltage',
    'duty',
    ...figuresOf(solved.powerStage).flatMap(({ key }) => (key.startsWith('losses.') ? [] : [key])),
    ...lossLines(solved).map(({ key }) => `losses.${key}`),
    'losses.total',
    'efficiency',
    'switchingFrequency',
    ...solved.heat.devices.flatMap(({ place, kind }) => (kind === 'settled' ? [`junctionTemperatures.${place}`] : [])),
  ];
}

const closedForms = (key: string, complete: CompleteStage, { point }: SolvedPoint): readonly AppliedForm[] =>
  topologyOf(complete.stage).figures(figuredPoint(complete, point)).get(key) ?? [];

/**
 * The working of one figure of an operating point.
 *
 * @param key as in {@link figureKeys}, for instance `inductorCurrent.ripple`.
 * @throws RangeError when the point has no such figure.
 * @public
 */
export function workingOf(key: string, complete: CompleteStage, solved: SolvedPoint): Working {
  const corner = { inputVoltage: solved.point.inputVoltage, outputCurrent: solved.point.outputCurrent };
  const forms = [
    ...closedForms(key, complete, solved),
    ...(key === 'duty' ? [{ ...applied(pulseRatio, { duty: solved.point.duty }), step: true as const }] : []),
  ];
  const special =
    saturatedWorking(key, solved) ?? derived(key, solved) ?? lossWorking(key, solved) ?? junctionWorking(key, solved);
  if (special) return { key, ...special, corner, closedForms: forms };
  const figure: Figure | undefined = figuresOf(solved.powerStage).find((one) => one.key === key);
  if (!figure) throw new RangeError(`No figure of the operating point is called ${key}.`);
  const { formula, inputs } = explainMeasure(solved.solution, figure.measure, figure.unit);
  return {
    key,
    quantity: figure.quantity,
    symbol: figure.symbol,
    unit: figure.unit,
    value: valueOf(solved, key),
    formula,
    inputs,
    source: ENGINE,
    assumption: ENGINE_ASSUMES,
    corner,
    closedForms: forms,
  };
}

/** The value of a figure, found in the operating point by its key. @public */
export function valueOf(solved: SolvedPoint, key: string): number {
  const steps = key.split(/[.[\]]+/).filter((step) => step !== '');
  const found = steps.reduce<unknown>(
    (here, step) => (here as Record<string, unknown> | undefined)?.[step],
    solved.point,
  );
  if (typeof found !== 'number') throw new RangeError(`No figure of the operating point is called ${key}.`);
  return found;
}

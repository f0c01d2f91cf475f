import { buckFirstCut } from '../firstcut/buckFirstCut.js';
import { buckIdealDuty } from '../firstcut/buckForms.js';
import type { Unit } from '../quantity/unit.js';
import type { CompleteStage } from '../stage/completeStage.js';
import { figuresOf, type Figure } from '../steady/figures.js';
import type { Measure, NamedSignal } from '../steady/measure.js';
import { averageShares, extremes, productShares, withoutMean } from '../steady/measures.js';
import type { SolvedPoint } from '../steady/operatingPoint.js';
import type { PeriodicSolution } from '../steady/periodic.js';
import { applied, type AppliedForm } from './closedForm.js';

/** One number put into a formula. */
export interface WorkingInput {
  readonly label: string;
  readonly value: number;
  readonly unit: Unit;
}

/** How a reported number came about: the formula, the numbers put in, the source, the corner and what is assumed. */
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

const ENGINE =
  'Exact periodic steady state of the circuit: state equations of each switch configuration, joined so that the state repeats after one period (method: T. J. Aprille, T. N. Trick, Steady-State Analysis of Nonlinear Circuits with Periodic Inputs, Proc. IEEE 60, 1972).';
const ENGINE_ASSUMES =
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
    const label = (pair: { readonly voltage: NamedSignal; readonly current: NamedSignal }): string =>
      `average of ${pair.voltage.name} times ${pair.current.name}`;
    return {
      formula: '\\sum \\frac{1}{T}\\int_0^T v(t)\\,i(t)\\,\\mathrm{d}t',
      inputs: measure.of.map((pair) => ({
        label: label(pair),
        value: productShares(solution, pair.voltage.signal, pair.current.signal).reduce((a, b) => a + b, 0),
        unit,
      })),
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
type Derived = Omit<Working, 'corner' | 'closedForms' | 'key'>;

function derived(key: string, solved: SolvedPoint): Derived | undefined {
  const { point, powerStage, solution } = solved;
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
        quantity: 'total conduction loss',
        symbol: 'P_\\mathrm{loss}',
        unit: 'W',
        value: point.losses['total'] ?? 0,
        formula: '\\sum_k P_k',
        inputs: figuresOf(powerStage)
          .filter((figure) => figure.key.startsWith('losses.'))
          .map((figure) => ({
            label: figure.quantity,
            value: point.losses[figure.key.slice('losses.'.length)] ?? 0,
            unit: 'W' as const,
          })),
        source: 'Sum of the conduction losses below; switching, gate and core losses are not in it.',
        assumption: ENGINE_ASSUMES,
      };
    case 'efficiency':
      return {
        quantity: 'efficiency, conduction losses only',
        symbol: '\\eta',
        unit: 'ratio',
        value: point.efficiency,
        formula: '\\frac{P_\\mathrm{out}}{P_\\mathrm{in}}',
        inputs: [
          { label: 'output power', value: point.outputPower, unit: 'W' },
          { label: 'input power', value: point.inputPower, unit: 'W' },
        ],
        source: 'Definition',
        assumption: 'Switching, gate and core losses are not in it: the real efficiency is lower.',
      };
    default:
      return undefined;
  }
}

/** Every numeric figure of a point, by key; each of them has a working. */
export function figureKeys(solved: SolvedPoint): readonly string[] {
  return [
    'inputVoltage',
    'duty',
    ...figuresOf(solved.powerStage).map((figure) => figure.key),
    'losses.total',
    'efficiency',
  ];
}

function closedForms(key: string, complete: CompleteStage, solved: SolvedPoint): readonly AppliedForm[] {
  if (complete.stage.topology !== 'buck') return [];
  const form = buckFirstCut(complete, solved.point).get(key);
  const ideal =
    key === 'duty'
      ? [applied(buckIdealDuty, { vIn: solved.point.inputVoltage, vOut: complete.stage.targets.outputVoltage })]
      : [];
  return [...ideal, ...(form ? [form] : [])];
}

/**
 * The working of one figure of an operating point.
 *
 * @param key as in {@link figureKeys}, for instance `inductorCurrent.ripple`.
 * @throws RangeError when the point has no such figure.
 */
export function workingOf(key: string, complete: CompleteStage, solved: SolvedPoint): Working {
  const corner = { inputVoltage: solved.point.inputVoltage, outputCurrent: solved.point.outputCurrent };
  const forms = closedForms(key, complete, solved);
  const special = derived(key, solved);
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

/** The value of a figure, found in the operating point by its key. */
export function valueOf(solved: SolvedPoint, key: string): number {
  const steps = key.split(/[.[\]]+/).filter((step) => step !== '');
  const found = steps.reduce<unknown>(
    (here, step) => (here as Record<string, unknown> | undefined)?.[step],
    solved.point,
  );
  if (typeof found !== 'number') throw new RangeError(`No figure of the operating point is called ${key}.`);
  return found;
}

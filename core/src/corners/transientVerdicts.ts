import type { EvaluatedStage } from './evaluate.js';
import { inductanceCurveOf } from '../parts/inductanceCurve.js';
import { formatQuantity } from '../quantity/engineering.js';
import { predictedStep } from '../smallsignal/predictedStep.js';
import type { OperatingCondition } from '../powerstage/powerStage.js';
import type { CompleteStage } from '../stage/completeStage.js';
import type { Stage } from '../stage/schema.js';
import { ROOM_TEMPERATURE } from '../thermal/room.js';
import type { Scenario } from '../transient/scenario.js';
import { simulateResponse, type SimulatedResponse } from '../transient/simulate.js';
import { inputCorners, type Corner } from './corners.js';
import type { Verdict } from './verdict.js';
import { leastMargin, type LeastMargin } from './leastMargin.js';
import { worstVerdict, type Actual, type Judged } from './worstVerdict.js';

/** Instants of the clock period at which a step may come: it moves a trailing-edge dip by a fifth. */
const INSTANTS = 8;
/** Clock periods a step is followed for, at least; more where the allowed recovery time asks for it. */
const LEAST_CYCLES = 80;
const MOST_CYCLES = 3000;
/** After so many allowed recovery times, and so many periods more, the output has recovered or has not. */
const RECOVERIES = 1.2;
const AFTERWARDS = 30;
/** The linear step and the simulated one count as different beyond this. */
const DIFFERENT = 0.1;
/** A linear step this many times smaller or larger is none: it begins with a jump that takes no time. */
const BELIEVABLE = 0.2;

/** The load step of the targets, simulated at a corner. @public */
export interface SimulatedStep {
  readonly corner: Corner;
  readonly from: number;
  readonly to: number;
  readonly up: boolean;
  /** Share of the clock period at which the step comes. */
  readonly instant: number;
  /** V, the larger of both sides; and s after the step. */
  readonly deviation: number;
  readonly recoveryTime: number;
  readonly settled: boolean;
  readonly limits: LimitsMet;
}

/** What a run met that no linear response knows of: how many pulses each ended or kept from beginning. */
export interface LimitsMet {
  readonly dutyLimit: number;
  readonly currentLimit: number;
  readonly skipped: number;
}

/** @public */
export interface JudgedTransient {
  readonly steps: readonly SimulatedStep[];
  readonly verdicts: readonly Verdict[];
  /** Why no step is judged, where one is asked for. */
  readonly reason?: string;
}

/** The load step a stage is asked to bear, from its resting load to the other and back. */
export function stepScenario(stage: Stage, up: boolean, instant: number): Scenario | undefined {
  const { loadStep } = stage.targets;
  const frequency = stage.switchingFrequency;
  if (!loadStep || frequency === undefined) return undefined;
  const { from, to, slewRate, recoveryTime } = loadStep;
  const by = up ? to - from : from - to;
  const lasts = slewRate === undefined ? 0 : Math.abs(by) / slewRate;
  const followed = (lasts + RECOVERIES * (recoveryTime ?? 0)) * frequency;
  const cycles = Math.min(MOST_CYCLES, Math.ceil(Math.max(LEAST_CYCLES, followed + AFTERWARDS)));
  return { start: 'settled', happenings: [{ kind: 'load', at: instant / frequency, by, slewRate }], cycles };
}

const count = ({ occurrences }: SimulatedResponse, what: string): number =>
  occurrences.reduce((sum, one) => sum + (one.what === what ? 1 : 0), 0);

/** A load step of the targets, looked at: from where, which way, and when. */
export interface StepQuestion {
  readonly inputVoltage: number;
  readonly up: boolean;
  /** Share of the clock period at which it comes. */
  readonly instant: number;
}

/**
 * A load step of the targets, simulated. The inductance is that at no current: see `unsaturated`.
 *
 * @returns the sentence for why there is no run; undefined where the targets state no step.
 */
export function simulatedStep(
  complete: CompleteStage,
  { inputVoltage, up, instant }: StepQuestion,
): SimulatedStep | string | undefined {
  const { stage } = complete;
  const { loadStep, ambientTemperature } = stage.targets;
  const scenario = stepScenario(stage, up, instant);
  if (!loadStep || !scenario) return undefined;
  const [from, to] = up ? [loadStep.from, loadStep.to] : [loadStep.to, loadStep.from];
  const at0 = (current: number): OperatingCondition => ({ inputVoltage, load: { kind: 'current', current } });
  const result = simulateResponse(unsaturated(complete), at0(from), scenario, at0(to));
  if (result.kind === 'failed') return result.reason;
  const { undershoot, overshoot, recoveryTime } = result.measures;
  const at = scenario.happenings[0]?.at ?? 0;
  return {
    corner: { inputVoltage, outputCurrent: to, temperature: ambientTemperature?.max ?? ROOM_TEMPERATURE },
    from,
    to,
    up,
    instant,
    deviation: Math.max(undershoot, overshoot),
    recoveryTime: Math.max(0, recoveryTime - at),
    settled: result.settled,
    limits: {
      dutyLimit: count(result, 'duty-limit'),
      currentLimit: count(result, 'limit'),
      skipped: count(result, 'skipped'),
    },
  };
}

/**
 * Whether a linear deviation says something else than a simulated one, V: different, and not so far off that it is none.
 *
 * @public
 */
export const differsFromLinear = (simulated: number, linear: number): boolean =>
  linear > BELIEVABLE * simulated &&
  BELIEVABLE * linear < simulated &&
  Math.abs(linear - simulated) > DIFFERENT * simulated;

/** Where the simulated step differs from the linear one, and why, in words. */
function besideLinear(complete: CompleteStage, { corner, from, to, deviation, limits }: SimulatedStep): string {
  const linear = predictedStep(complete, corner.inputVoltage, from, to);
  if (typeof linear === 'string' || !differsFromLinear(deviation, linear.deviation)) return '';
  const { slewRate } = complete.stage.targets.loadStep ?? {};
  const { currentLimit, skipped, dutyLimit } = limits;
  const why =
    currentLimit > 0
      ? 'the current limit ends pulses'
      : skipped > 0
        ? 'pulses are skipped while the amplifier asks for none'
        : dutyLimit > 0
          ? 'the duty ratio reaches its limit'
          : slewRate === undefined
            ? 'the step is too large for a linear answer'
            : 'the load takes its time, where the linear step comes at once';
  return `; the linear step says ${formatQuantity(linear.deviation, 'V', 3)}, as it does not know that ${why}`;
}

const heldInductance = new WeakMap<CompleteStage, CompleteStage>();

/**
 * The stage with the inductance its inductor has at no current: it moves the current more slowly than what is left of it in saturation,
 * and gives more to the output when the load lets go, so that no deviation comes out smaller than it is. The same object each time, by
 * which what is drawn of it is known.
 */
function unsaturated(complete: CompleteStage): CompleteStage {
  const known = heldInductance.get(complete);
  if (known) return known;
  const { inductance, resistance } = complete.inductor;
  const held = { ...complete, inductor: { inductance, resistance } };
  heldInductance.set(complete, held);
  return held;
}

const inWords = ({ from, to, instant }: SimulatedStep): string =>
  `worst from ${formatQuantity(from, 'A', 3)} to ${formatQuantity(to, 'A', 3)}, ${instant === 0 ? 'at the clock' : `${instant.toFixed(3)} of a period after the clock`}`;

/**
 * Judge the load step of the targets by simulation: up and down at every input corner, then at eight instants of the clock period where
 * it was worst.
 *
 * @public
 */
export function judgeTransient(complete: CompleteStage): JudgedTransient {
  const { stage } = complete;
  const curved = inductanceCurveOf(complete.inductor) !== undefined;
  const { loadStep, outputVoltageTolerance } = stage.targets;
  const asked = loadStep?.deviation !== undefined || loadStep?.recoveryTime !== undefined;
  if (!loadStep || !asked || stage.control.scheme === 'open-loop') return { steps: [], verdicts: [] };
  const steps: SimulatedStep[] = [];
  for (const inputVoltage of inputCorners(stage))
    for (const up of [true, false]) {
      const step = simulatedStep(complete, { inputVoltage, up, instant: 0 });
      if (typeof step === 'string') return { steps: [], verdicts: [], reason: step };
      if (step) steps.push(step);
    }
  for (const up of [true, false]) {
    const worst = steps
      .filter((step) => step.up === up)
      .reduce<SimulatedStep | undefined>(
        (most, one) => (most && most.deviation >= one.deviation ? most : one),
        undefined,
      );
    for (let k = 1; worst && k < INSTANTS; k += 1) {
      const step = simulatedStep(complete, { inputVoltage: worst.corner.inputVoltage, up, instant: k / INSTANTS });
      if (typeof step === 'object') steps.push(step);
    }
  }
  const judged = (rule: Judged, of: (step: SimulatedStep) => number, linear: boolean): readonly Verdict[] => {
    const actuals = steps.map((step): Actual => ({ corner: step.corner, actual: of(step) }));
    const verdict = worstVerdict(rule, actuals);
    const worst = steps.find((step) => of(step) === verdict?.worst);
    if (!verdict || !worst) return verdict ? [verdict] : [];
    const held = curved ? '; with the inductance at no current, and capacitors at their bias at the target' : '';
    const unsettled = worst.settled ? '' : '; the stage did not repeat itself from clock to clock before it';
    const within =
      linear || outputVoltageTolerance !== undefined ? '' : '; to within 1 %, as no tolerance of the output is stated';
    return [
      {
        ...verdict,
        note: `${inWords(worst)}${linear ? besideLinear(complete, worst) : ''}${within}${held}${unsettled}`,
      },
    ];
  };
  return {
    steps,
    verdicts: stepRules(stage).flatMap(({ rule, of }) => judged(rule, of, rule.target === 'loadStepDeviation')),
  };
}

/** The rules that a load step of the targets is judged by, and what of a step each is about. */
export function stepRules({
  targets,
}: Stage): readonly { readonly rule: Judged; readonly of: (step: SimulatedStep) => number }[] {
  const { deviation, recoveryTime } = targets.loadStep ?? {};
  const rule = (target: string, quantity: string, unit: Judged['unit'], required: number): Judged => ({
    target,
    quantity,
    unit,
    sense: 'at-most',
    required,
    figure: 'transient',
  });
  return [
    ...(deviation === undefined
      ? []
      : [
          {
            rule: rule('loadStepDeviation', 'load step deviation', 'V', deviation),
            of: (step: SimulatedStep) => step.deviation,
          },
        ]),
    ...(recoveryTime === undefined
      ? []
      : [
          {
            rule: rule('loadStepRecovery', 'load step recovery', 's', recoveryTime),
            of: (step: SimulatedStep) => step.recoveryTime,
          },
        ]),
  ];
}

/**
 * What of the simulated steps is nearest to failing at each corner: those at its input voltage that end nearest to its load.
 *
 * @public
 */
export function stepMargins(
  stage: Stage,
  steps: readonly SimulatedStep[],
  corners: readonly Pick<Corner, 'inputVoltage' | 'outputCurrent'>[],
): readonly (LeastMargin | undefined)[] {
  const rules = stepRules(stage);
  const nearest = steps.map(({ corner, to }) =>
    corners
      .filter(({ inputVoltage }) => inputVoltage === corner.inputVoltage)
      .reduce<(typeof corners)[number] | undefined>(
        (near, one) => (near && Math.abs(near.outputCurrent - to) <= Math.abs(one.outputCurrent - to) ? near : one),
        undefined,
      ),
  );
  return corners.map((corner) =>
    leastMargin(
      steps.flatMap((step, k) =>
        nearest[k] === corner ? rules.map(({ rule, of }) => ({ rule, actual: of(step) })) : [],
      ),
    ),
  );
}

/** A worked stage with the verdicts of its simulated load step. @public */
export function withTransient(evaluated: EvaluatedStage, judged: JudgedTransient): EvaluatedStage {
  const { evaluation } = evaluated;
  const settled = transientSettles(judged);
  return {
    ...evaluated,
    evaluation: {
      ...evaluation,
      verdicts: [...evaluation.verdicts, ...judged.verdicts],
      notJudged: evaluation.notJudged.filter((words) => !settled.includes(words)),
    },
  };
}

/** What of the evaluation's unjudged targets a judged transient settles, in the words it has there. @public */
export const transientSettles = ({ verdicts }: JudgedTransient): readonly string[] =>
  verdicts.length > 0 ? ['load step'] : [];

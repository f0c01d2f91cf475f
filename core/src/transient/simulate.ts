import { bilinear } from '../linalg/dense.js';
import type { OperatingCondition } from '../powerstage/powerStage.js';
import { LOAD_TEST } from '../smallsignal/loopCircuit.js';
import type { CompleteStage } from '../stage/completeStage.js';
import { energyBalance, type EnergyBalance } from './energy.js';
import { BEFORE_INDUCTORS, keptSignals, lookedAtAfter, switchesOf } from './keptSignals.js';
import { firstAbove, KeptOutput, lastOutside, type StepMeasures, type TransientMeasures } from './measures.js';
import type { Moments } from './moments.js';
import { inWords, type FailedRun } from './failedRun.js';
import { play } from './play.js';
import { Recorder, type Occurrence, type Waveforms } from './recorder.js';
import { restOfStage, restWatch, type Rest } from './rest.js';
import { Run, type RunWatch } from './run.js';
import type { Scenario } from './scenario.js';
import { zeroStart } from './settled.js';
import { asSimulated, notFollowed, SHORT, simulatedStage, type SimulatedStage } from './simulatedStage.js';

/** What a run showed, energies left out. @public */
export interface SimulatedResponse {
  readonly kind: 'run';
  readonly measures: StepMeasures;
  readonly waveforms: Waveforms;
  readonly occurrences: readonly Occurrence[];
  /** Whether the stage repeated itself from clock to clock before time 0. */
  readonly settled: boolean;
  /** What of the parts the run does not follow, in sentences. */
  readonly notIncluded: readonly string[];
  /** Changes of switches, diodes and amplifier. */
  readonly changes: number;
}

/** A run and what it showed. @public */
export interface SimulatedRun extends SimulatedResponse {
  readonly measures: TransientMeasures;
  readonly energy: EnergyBalance;
}

/** @public */
export type SimulationResult = SimulatedRun | FailedRun;

/** What a caller may ask of a run. @public */
export interface SimulationOptions {
  /**
   * Called now and then with the share that is done; ends the run where it returns false.
   *
   * @param sofar gives the waveforms up to there: views of the run's own memory, to be read at once and not kept.
   */
  readonly progress?: ((share: number, sofar: () => Waveforms) => boolean) | undefined;
  /** Clock periods that a stage may take to settle before time 0. */
  readonly settling?: number | undefined;
}

/**
 * Simulate a stage with its controller through a scenario, switch by switch. It is the circuit that the loop and the netlist draw;
 * definitions of the figures are those of the stage file's `simulate`.
 *
 * @public
 */
export function simulate(
  complete: CompleteStage,
  condition: OperatingCondition,
  scenario: Scenario,
  options: SimulationOptions = {},
): SimulationResult {
  return inWords(() => {
    const begun = begin(complete, condition, scenario, options, true);
    if (typeof begun === 'string') return begun;
    const { run } = begun;
    const first = { z: run.z.slice(), moments: run.moments };
    const half = { z: first.z };
    const split = (): void => {
      half.z = run.z.slice();
      run.splitMoments();
    };
    const looks = [{ tick: Math.round((scenario.cycles * run.period) / 2), look: split }];
    const { progress } = options;
    const sofar = (): Waveforms => begun.recorder.waveforms(false);
    const response = played(begun, scenario, { looks, progress: progress && ((share) => progress(share, sofar)) });
    return {
      ...response,
      measures: { ...response.measures, ...secondHalf(begun, first.moments) },
      energy: summed(
        energyBalance(begun.drawn, first.moments, first.z, half.z),
        energyBalance(begun.drawn, run.moments, half.z, run.z),
      ),
    };
  });
}

/**
 * The response of a settled stage to what happens, for those who ask how far the output goes and how long it takes: energies are not
 * added up, and the run is over as soon as the stage has come to rest in the condition that it ends in.
 *
 * @param ends condition after all that happens.
 * @public
 */
export function simulateResponse(
  complete: CompleteStage,
  condition: OperatingCondition,
  scenario: Scenario,
  ends: OperatingCondition,
): SimulatedResponse | FailedRun {
  return inWords(() => {
    const begun = begin(complete, condition, scenario, {}, false);
    if (typeof begun === 'string') return begun;
    const { run, drawn } = begun;
    // Where a comparator begins the pulses, or some are skipped, there is no clock to compare at.
    const rest = endsSlowly(drawn) ? 'none' : restOfStage(drawn, ends, scenario, undefined);
    if (typeof rest === 'string' || !rest.periodic) return played(begun, scenario, { looks: [] });
    const over = restWatch(run, rest, toleranceOf(drawn));
    return played(begun, scenario, { looks: [], over }, rest.average);
  });
}

/** V: within it the output has recovered. */
const toleranceOf = ({ complete }: SimulatedStage): number => {
  const { outputVoltage, outputVoltageTolerance = 0.01 } = complete.stage.targets;
  return outputVoltageTolerance * Math.abs(outputVoltage);
};

/** A run at its time 0, what came before, and who takes its measures. */
interface Begun {
  readonly drawn: SimulatedStage;
  readonly run: Run;
  readonly recorder: Recorder;
  readonly before: Rest | undefined;
}

/** A watch that hands on to the recorder, which is made for a run that there is. */
class Relay implements RunWatch {
  to: RunWatch | undefined;
  step: RunWatch['step'] = (...told) => this.to?.step(...told);
  changed = (run: Run): void => this.to?.changed?.(run);
  pulse: NonNullable<RunWatch['pulse']> = (...told) => this.to?.pulse?.(...told);
}

function begin(
  complete: CompleteStage,
  condition: OperatingCondition,
  scenario: Scenario,
  { settling }: SimulationOptions,
  counted: boolean,
): Begun | string {
  const drawn = simulatedStage(asSimulated(complete), condition, scenario);
  if (typeof drawn === 'string') return drawn;
  const relay = new Relay();
  if (scenario.start === 'zero') {
    const { start, onTime } = zeroStart(drawn, scenario);
    const run = new Run(drawn, { ...start, onTime, fixedDuty: scenario.fixedDuty }, relay, counted);
    return { drawn, run, recorder: watched(run, scenario, relay), before: undefined };
  }
  const before = restOfStage(drawn, condition, scenario, settling);
  if (typeof before === 'string') return before;
  const run = new Run(drawn, before.start, relay, counted);
  run.resume(before.snapshot);
  return { drawn, run, recorder: watched(run, scenario, relay), before };
}

function watched(run: Run, scenario: Scenario, relay: Relay): Recorder {
  const { drawn } = run;
  const { cycles } = scenario;
  const recorder = new Recorder(
    drawn.sign,
    keptSignals(drawn, scenario.probed),
    { from: BEFORE_INDUCTORS, to: BEFORE_INDUCTORS + drawn.phases.length },
    (cycles * run.period) / 2,
    cycles * (run.cells + 8 * drawn.phases.length),
    run.layout.size,
    lookedAtAfter(drawn),
    // A response is asked for its output alone.
    run.counted ? switchesOf(drawn) : [],
  );
  relay.to = recorder;
  return recorder;
}

/** Where pulses come when they are needed, the final output is taken over a tenth of the run, elsewhere over its last period. */
const endsSlowly = ({ decides, complete }: SimulatedStage): boolean =>
  decides === 'turn-on' || complete.stage.operatingMode === 'pulse-skipping';

/**
 * Play a scenario to its end, and measure.
 *
 * @param rest average output, V by magnitude, where it is known that the stage ends at rest.
 */
function played(
  { drawn, run, recorder, before }: Begun,
  { cycles, happenings }: Scenario,
  stops: Omit<Parameters<typeof play>[2], 'cycles'>,
  rest?: number,
): SimulatedResponse {
  const { integral } = run.layout;
  const length = cycles * run.period;
  const from = { tick: length - (endsSlowly(drawn) ? Math.round(length / 10) : run.period), area: 0 };
  const look = (): void => {
    from.area = run.z[integral] as number;
  };
  const looks = rest === undefined ? [...stops.looks, { tick: from.tick, look }] : stops.looks;
  play(run, happenings, { ...stops, looks, cycles });
  const area = drawn.sign * ((run.z[integral] as number) - from.area);
  const final = rest ?? area / ((run.tick - from.tick) * run.tickTime);
  const period = run.period * run.tickTime;
  const end = run.tick * run.tickTime;
  const kept = new KeptOutput(recorder);
  const { whole } = recorder.output;
  const reference = before?.average ?? Math.abs(final);
  const tenth = firstAbove(kept, 0.1 * Math.abs(final));
  const nine = firstAbove(kept, 0.9 * Math.abs(final));
  const tolerance = toleranceOf(drawn);
  return {
    kind: 'run',
    measures: {
      undershoot: reference - whole.least,
      overshoot: whole.most - reference,
      recoveryTime: lastOutside(recorder, { final, tolerance, period, before: reference, end }),
      peakInductorCurrent: recorder.inductor.most,
      leastInductorCurrent: recorder.inductor.least,
      finalOutputVoltage: drawn.sign * final,
      peakOutputVoltage: whole.most,
      leastOutputVoltage: whole.least,
      riseTime: tenth === null || nine === null ? null : nine - tenth,
    },
    waveforms: recorder.waveforms(true),
    occurrences: recorder.occurrences,
    settled: before?.periodic ?? true,
    notIncluded: notFollowed(drawn),
    changes: run.changes,
  };
}

/** Figures that need the run's second half, or the moments of both. */
function secondHalf(
  { drawn, run, recorder }: Begun,
  firstMoments: Moments,
): Omit<TransientMeasures, keyof StepMeasures> {
  const loads = ['load', LOAD_TEST, 'loadSlope', SHORT];
  let inrush = 0;
  let charge = 0;
  let lateTime = 0;
  const one = new Float64Array(run.layout.size);
  one[run.layout.one] = 1;
  [firstMoments, run.moments].forEach((moments, half) => {
    for (const [configuration, moment] of moments.integrals()) {
      const current = configuration.current(drawn.powerStage.elements.source);
      inrush += bilinear(current, moment, current);
      if (half === 0) continue;
      for (const name of loads) charge += drawn.sign * bilinear(configuration.current(name), moment, one);
      lateTime += bilinear(one, moment, one);
    }
  });
  const turnOns = recorder.turnOns.filter((tick) => tick >= run.tick / 2);
  const [firstOn = 0] = turnOns;
  const span = ((turnOns.at(-1) ?? 0) - firstOn) * run.tickTime;
  const { late } = recorder.output;
  return {
    averageOutputCurrent: lateTime > 0 ? charge / lateTime : 0,
    averageSwitchingFrequency: span > 0 ? (turnOns.length - 1) / span : 0,
    steadyOutputRipple: late.most - late.least,
    inrushIntegral: inrush,
    peakSwitchVoltage: recorder.switchVoltage,
  };
}

/** The balance of the two halves of a run together. */
function summed(first: EnergyBalance, second: EnergyBalance): EnergyBalance {
  const names = new Set([...Object.keys(first.byElement), ...Object.keys(second.byElement)]);
  return {
    source: first.source + second.source,
    load: first.load + second.load,
    losses: first.losses + second.losses,
    control: first.control + second.control,
    stored: first.stored + second.stored,
    residual: first.residual + second.residual,
    byElement: Object.fromEntries(
      [...names].map((name) => [name, (first.byElement[name] ?? 0) + (second.byElement[name] ?? 0)]),
    ),
  };
}

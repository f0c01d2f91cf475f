import {
  asBuilt,
  boardFeatures,
  boardRun,
  completeStage,
  expectedNodes,
  faultAtlas,
  FAULTS,
  featuresOf,
  fitReadings,
  formatQuantity,
  HEALTHY,
  loadStep,
  loopGain,
  operatingPoint,
  predictedBand,
  random,
  readWaveform,
  readingFlags,
  scalesOf,
  switchNodeEdge,
  simulate,
  testPlan,
  type BenchCondition,
  type BoardFeatures,
  type Capture,
  type ExpectedNode,
  type FaultAtlas,
  type FittedReadings,
  type Instruments,
  type NodeFeatures,
  type ParameterKey,
  type PlanStep,
  type PredictedLine,
  type Reading,
  type ReadingFlag,
  type Stage,
  type Unit,
} from '@yundro/core';
import { runCurve } from '../transient/runCurves';

/** A trace at one place, thinned to what a picture shows. */
export interface PlaceTrace {
  readonly name: string;
  readonly unit: Unit;
  readonly x: readonly number[];
  readonly y: readonly number[];
}

/** What a board with a fault looks like, beside one without. */
export interface FaultPictures {
  readonly faulty: readonly PlaceTrace[];
  readonly healthy: readonly PlaceTrace[];
}

/** A board with a hidden fault: what a probe finds at each place. */
export interface HiddenBoard {
  readonly key: string;
  readonly places: readonly PlaceTrace[];
  readonly features: BoardFeatures;
}

/** What is to be seen at each place, and what a probe makes of an edge. */
export interface Expected {
  readonly nodes: readonly ExpectedNode[];
  readonly edge: ReturnType<typeof switchNodeEdge>;
}

/** What a log says when it is held against the prediction. */
export interface HeldAgainst {
  readonly flags: readonly ReadingFlag[];
  readonly lines: readonly (PredictedLine | undefined)[];
  readonly fitted: FittedReadings | string | undefined;
}

/** Tells of the share that is done; a worker that is to stop is ended. */
const goingOn =
  (tell: (share: number) => void) =>
  (share: number): boolean => {
    tell(share);
    return true;
  };

/** Periods that a trace must last. */
const LEAST_PERIODS = 2;
const LACKS = 'The stage still lacks a part: size it first.';
/** Of three boards to be diagnosed one in so many has nothing wrong. */
const HEALTHY_SHARE = 0.1;

/** The whole of a trace. */
const whole = (time: Float64Array) => ({ from: time[0] ?? 0, to: time.at(-1) ?? 0 });

const traceOf = (name: string, unit: Unit, time: Float64Array, least: Float64Array, most: Float64Array): PlaceTrace => {
  const { x, y } = runCurve({ time }, { least, most }, whole(time));
  return { name, unit, x, y: y.map((value) => value ?? NaN) };
};

function tracesOf(run: Exclude<ReturnType<typeof boardRun>, string>): readonly PlaceTrace[] {
  const { time, signals } = run.waveforms;
  return signals.map(({ name, unit, least, most }) => traceOf(name, unit, time, least, most));
}

/** What the bench asks. Answers are sentences where there is nothing else to say. */
export const benchSurvey = {
  testPlan(stage: Stage, instruments: Instruments): readonly PlanStep[] | string {
    const complete = completeStage(stage);
    return complete.ok ? testPlan(complete.value, instruments) : LACKS;
  },
  expectedNodes(
    stage: Stage,
    condition: BenchCondition,
    instruments: Instruments,
    tell: (share: number) => void,
  ): Expected | string {
    const complete = completeStage(stage);
    if (!complete.ok) return LACKS;
    const nodes = expectedNodes(complete.value, condition, instruments, goingOn(tell));
    if (typeof nodes === 'string') return nodes;
    const node = nodes.find(({ name }) => name === 'switch node');
    const height = node ? node.reads.high - node.reads.low : condition.inputVoltage;
    return { nodes, edge: switchNodeEdge(complete.value, height) };
  },
  faultPicture(stage: Stage, condition: BenchCondition, key: string, severity: number): FaultPictures | string {
    const complete = completeStage(stage);
    if (!complete.ok) return LACKS;
    const healthy = boardRun(complete.value, condition);
    if (typeof healthy === 'string') return healthy;
    const fault = FAULTS.find((one) => one.key === key);
    const faulty = boardRun(fault?.board(complete.value, severity) ?? complete.value, condition);
    return typeof faulty === 'string' ? faulty : { faulty: tracesOf(faulty), healthy: tracesOf(healthy) };
  },
  faultAtlas(stage: Stage, condition: BenchCondition, tell: (share: number) => void): FaultAtlas | string {
    const complete = completeStage(stage);
    if (!complete.ok) return LACKS;
    return faultAtlas(complete.value, condition, goingOn(tell));
  },
  /** A board drawn by a seed, with a fault or without. */
  hiddenBoard(stage: Stage, condition: BenchCondition, seed: number): HiddenBoard | string {
    const complete = completeStage(stage);
    if (!complete.ok) return LACKS;
    const next = random(seed * 7919 + 3);
    const possible = FAULTS.filter((fault) => fault.barred(complete.value) === undefined);
    const fault = next() < HEALTHY_SHARE ? undefined : possible[Math.floor(next() * possible.length)];
    const built = asBuilt(complete.value, seed);
    const run = boardRun(fault?.board(built, next()) ?? built, condition);
    if (typeof run === 'string') return run;
    const features = boardFeatures(run.waveforms, run.period, scalesOf(complete.value), {
      seed,
      gain: 0.015,
      noise: 0.003,
    });
    return { key: fault?.key ?? HEALTHY, places: tracesOf(run), features };
  },
  /** What a trace from a file looks like at a place; a sentence where it cannot be read. */
  traceAt(
    stage: Stage,
    text: string,
    place: string,
  ): { readonly features: NodeFeatures; readonly taken: string } | string {
    const complete = completeStage(stage);
    if (!complete.ok) return LACKS;
    const read = readWaveform(text);
    if (typeof read === 'string') return read;
    const { time, value, taken } = read;
    const period = 1 / complete.value.clock;
    const lasts = (time.at(-1) ?? 0) - (time[0] ?? 0);
    if (lasts < LEAST_PERIODS * period)
      return `the trace lasts ${formatQuantity(lasts, 's', 3)}; two periods of the clock, ${formatQuantity(LEAST_PERIODS * period, 's', 3)}, are needed.`;
    const { current, voltage } = scalesOf(complete.value);
    return { features: featuresOf(time, value, value, period, place.includes('current') ? current : voltage), taken };
  },
  againstPrediction(
    stage: Stage,
    readings: readonly Reading[],
    instruments: Instruments,
    ambient: number,
    keys: readonly ParameterKey[],
    tell: (share: number) => void,
  ): HeldAgainst {
    const flags = readingFlags(readings, instruments, stage);
    const leftOut = new Set(flags.flatMap(({ row, leftOut: out }) => (out ? [row] : [])));
    const fitted = keys.length > 0 ? fitReadings(stage, readings, instruments, keys, leftOut, ambient) : undefined;
    return { flags, lines: predictedBand(stage, readings, instruments.leads, ambient, tell), fitted };
  },
  /** What is predicted of a capture: the step simulated, or the loop calculated, at the same points. */
  predictedTrace(
    stage: Stage,
    capture: Capture,
    inputVoltage: number,
    outputCurrent: number,
    step: { readonly from: number; readonly to: number; readonly slewRate: number } | undefined,
  ): readonly PlaceTrace[] | string {
    const complete = completeStage(stage);
    if (!complete.ok) return LACKS;
    const condition = { inputVoltage, load: { kind: 'current' as const, current: step?.from ?? outputCurrent } };
    if (capture.against === 'frequency') {
      const point = operatingPoint(complete.value, condition);
      if (point.kind !== 'solved') return point.reason;
      const loop = loopGain(complete.value, condition, point);
      if (typeof loop === 'string') return loop;
      const values = capture.x.map((frequency) => loop(frequency));
      return [
        { name: 'gain', unit: 'dB', x: capture.x, y: values.map(({ re, im }) => 20 * Math.log10(Math.hypot(re, im))) },
        {
          name: 'phase',
          unit: 'deg',
          x: capture.x,
          y: values.map(({ re, im }) => (Math.atan2(im, re) * 180) / Math.PI),
        },
      ];
    }
    if (!step) return 'A trace against time is held against a load step: the run says none.';
    const span = (capture.x.at(-1) ?? 0) - (capture.x[0] ?? 0);
    const run = simulate(
      complete.value,
      condition,
      loadStep(step.to - step.from, step.slewRate, Math.max(2, Math.round(span * complete.value.clock))),
    );
    if (run.kind !== 'run') return run.reason;
    const { time, signals } = run.waveforms;
    return signals
      .filter(({ name }) => capture.columns.some((column) => column.name === name))
      .map(({ name, unit, least, most }) => traceOf(name, unit, time, least, most));
  },
};

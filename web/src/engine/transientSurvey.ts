import {
  alternatingLoad,
  completeStage,
  judgeTransient,
  lineStep,
  loopAt,
  operatingPoint,
  otherClamps,
  predictedStep,
  reducedWaveforms,
  sequenceScenario,
  shortCircuit,
  simulate,
  startUp,
  transientLedger,
  stepScenario,
  transientSettles,
  verdictWord,
  worstRate,
  type CompleteStage,
  type JudgedTransient,
  type LedgerLine,
  type OperatingCondition,
  type OtherClamps,
  type PredictedStep,
  type Scenario,
  type SequenceStep,
  type SimulatedRun,
  type SimulatedStep,
  type Stage,
  type Verdict,
  type Waveforms,
} from '@yundro/core';
import { transfer } from 'comlink';
import { bandsOf, type Band } from '../transient/bands';

/** What can be watched: by its name, the scenario it makes of a stage. */
export type Watched =
  | 'load-up'
  | 'load-down'
  | 'alternating'
  | 'line-up'
  | 'sag'
  | 'start-up'
  | 'one-way'
  | 'unloaded'
  | 'short'
  | 'sequence';

/** Output short, ohm: a screwdriver across the terminals. */
export const SHORT_OHMS = 0.01;
const LINE_CYCLES = 200;
/** A load alternates no faster than once in so many clock periods. */
const LEAST_CLOCKS = 8;
/** A sequence is watched for so many clock periods after its last step. */
const AFTER_SEQUENCE = 100;
const SHORT_CYCLES = 100;
/** An output without its load is followed until it has climbed as far as it will. */
const UNLOADED_CYCLES = 1000;
/** A start-up is followed for its soft start and half as long again, and for so many clock periods at least. */
const AFTER_START = 1.5;
const START_CYCLES = 400;
const MOST_START_CYCLES = 20_000;

/** The verdicts on the transient targets of a stage, without their runs. */
export interface WorkedVerdicts {
  readonly verdicts: readonly Verdict[];
  readonly settles: readonly string[];
  readonly reason: string | undefined;
  /** Simulated steps the verdicts rest on. */
  readonly steps: readonly SimulatedStep[];
}

/** Why there is no run to show, in words. */
export interface NoRun {
  readonly kind: 'none';
  readonly reason: string;
}

/** A run without what it told of pulse by pulse: hundreds of thousands of records would hold the page up as they arrive. */
export type ShownRun = Omit<SimulatedRun, 'occurrences'>;

function shownRun({ occurrences, ...run }: SimulatedRun): {
  readonly run: ShownRun;
  readonly told: SimulatedRun['occurrences'];
} {
  return { run, told: occurrences };
}

/** A run at a corner, with the linear step beside it where there is one. */
export interface WorkedRun {
  readonly kind: 'run';
  readonly run: ShownRun;
  /** Highest input voltage, V. */
  readonly peakInput: number | undefined;
  /** What the controller was doing other than its usual work. */
  readonly bands: readonly Band[];
  readonly linear: PredictedStep | undefined;
  /** s, of the clock. */
  readonly period: number;
  /** Load before, A. */
  readonly load: number;
  /** Hz at which a load alternates. */
  readonly rate: number | undefined;
  /** After a load release, the same with the amplifier limited otherwise: what winds up is seen beside what does not. */
  readonly beside: { readonly words: string; readonly limited: boolean; readonly run: ShownRun } | undefined;
}

/** What a run is asked for. */
export interface AskedOfRun {
  readonly stage: Stage;
  readonly watched: Watched;
  readonly inputVoltage: number;
  /** Of the load before, A; a step of the targets has its own. */
  readonly outputCurrent?: number | undefined;
  /** Of a sequence. */
  readonly sequence?: readonly SequenceStep[] | undefined;
}

/** A scenario with the load before it, A; the rate of one that alternates, Hz. */
interface Watching {
  readonly scenario: Scenario;
  readonly load: number;
  readonly rate?: number;
}

const NO_STEP = 'the targets state no load step';

function watchingOf(
  complete: CompleteStage,
  { watched, inputVoltage, outputCurrent, sequence = [] }: AskedOfRun,
): Watching | string {
  const { stage, clock } = complete;
  const { loadStep, inputVoltage: inputs, outputCurrent: loads } = stage.targets;
  const { softStartTime = 0 } = stage.control;
  const load = outputCurrent ?? loads.max;
  const with_ = (scenario: Scenario): Watching => ({ scenario, load });
  switch (watched) {
    case 'load-up':
    case 'load-down': {
      const scenario = stepScenario(stage, watched === 'load-up', 0);
      if (!scenario || !loadStep) return NO_STEP;
      return { scenario, load: watched === 'load-up' ? loadStep.from : loadStep.to };
    }
    case 'alternating': {
      if (!loadStep) return NO_STEP;
      const loop = loopAt(complete, { inputVoltage, load: { kind: 'current', current: loadStep.to } });
      if (loop.kind === 'unsolved') return `there is no loop whose worst rate could be found: ${loop.reason}`;
      const rate = worstRate(loop.points, clock / LEAST_CLOCKS);
      return { scenario: alternatingLoad(loadStep, rate, clock), load: loadStep.from, rate };
    }
    case 'line-up': {
      const by = inputs.max - inputVoltage;
      return by > 0
        ? with_(lineStep(by, LINE_CYCLES))
        : 'the input is at its highest here: look at a lower input corner';
    }
    case 'sag': {
      const by = inputs.min - inputVoltage;
      if (by >= 0) return 'the input is at its lowest here: look at a higher input corner';
      const back = LINE_CYCLES / clock;
      const happenings = [
        { kind: 'line', at: 0, by },
        { kind: 'line', at: back, by: -by },
      ] as const;
      return with_({ start: 'settled', happenings, cycles: 2 * LINE_CYCLES });
    }
    case 'short':
      return with_(shortCircuit(SHORT_OHMS, SHORT_CYCLES));
    case 'start-up': {
      const cycles = Math.ceil(Math.max(START_CYCLES, AFTER_START * softStartTime * clock));
      return with_(startUp(Math.min(MOST_START_CYCLES, cycles)));
    }
    case 'one-way': {
      const started = watchingOf(complete, { stage, watched: 'start-up', inputVoltage, outputCurrent: load });
      return typeof started === 'string'
        ? started
        : { ...started, scenario: { ...started.scenario, oneWaySource: true } };
    }
    case 'unloaded': {
      const settled = operatingPoint(complete, { inputVoltage, load: { kind: 'current', current: load } });
      if (settled.kind === 'unsolved') return `there is no settled stage to take the load from: ${settled.reason}`;
      return with_({
        start: 'settled',
        happenings: [{ kind: 'load', at: 0, by: -load }],
        cycles: UNLOADED_CYCLES,
        fixedDuty: settled.point.duty,
      });
    }
    case 'sequence': {
      const scenario = sequenceScenario(sequence, { inputVoltage, outputCurrent: load }, clock, AFTER_SEQUENCE / clock);
      return typeof scenario === 'string' ? scenario : with_(scenario);
    }
  }
}

/** What is watched with a resistor for a load. */
const STARTS_OR_SHORTS: ReadonlySet<Watched> = new Set(['start-up', 'one-way', 'short']);

/** Points of a run that is still going, about one to a pixel; the whole has them all. */
const SOFAR_POINTS = 600;
/** ms between two looks at a run that is going: each is drawn anew. */
const SOFAR_EVERY = 400;

/** How far a run is, told of on the way. */
export interface RunSofar {
  /** 0 to 1 */
  readonly share: number;
  /** What there is of it, least and greatest of each stretch, now and then. */
  readonly waveforms: Waveforms | undefined;
  /** s, where it will end. */
  readonly until: number;
}

/** What is asked of the simulator in a worker; undefined where the stage still lacks a part. */
export const transientSurvey = {
  /** The transient targets, judged by simulation. */
  judgeTransient(stage: Stage): WorkedVerdicts | undefined {
    const complete = completeStage(stage);
    if (!complete.ok) return undefined;
    const judged: JudgedTransient = judgeTransient(complete.value);
    return {
      verdicts: judged.verdicts,
      settles: transientSettles(judged),
      reason: judged.reason,
      steps: judged.steps,
    };
  },
  /** The lines that press, with what drives them: a hundred runs or so. */
  transientLines(stage: Stage, { verdicts, steps }: WorkedVerdicts): readonly LedgerLine[] {
    return transientLedger(stage, { steps, verdicts: verdicts.filter((verdict) => verdictWord(verdict) !== 'holds') });
  },
  /**
   * One run, waveforms and all; the words for why there is none.
   *
   * @param tell is told how far it is, and now and then what there is of it.
   */
  transientRun(asked: AskedOfRun, tell?: (sofar: RunSofar) => void): WorkedRun | NoRun | undefined {
    const { stage, watched, inputVoltage } = asked;
    const complete = completeStage(stage);
    if (!complete.ok) return undefined;
    const watching = watchingOf(complete.value, asked);
    if (typeof watching === 'string') return { kind: 'none', reason: watching };
    const { scenario, load, rate } = watching;
    // A start-up, and what is left of a load beside a short, is that of a resistor.
    const resistive = STARTS_OR_SHORTS.has(watched) && load > 0;
    const condition: OperatingCondition = {
      inputVoltage,
      load: resistive
        ? { kind: 'resistance', resistance: Math.abs(stage.targets.outputVoltage) / load }
        : { kind: 'current', current: load },
    };
    const other = watched === 'load-down' ? otherClamps(stage) : undefined;
    const runs = other ? 2 : 1;
    const until = scenario.cycles / complete.value.clock;
    let lookedAt = performance.now();
    const result = simulate(complete.value, condition, scenario, {
      progress: (share, sofar) => {
        const now = performance.now();
        const due = now - lookedAt >= SOFAR_EVERY;
        if (due) lookedAt = now;
        const waveforms = due ? reducedWaveforms(sofar(), SOFAR_POINTS) : undefined;
        tell?.({ share: share / runs, waveforms, until });
        return true;
      },
    });
    if (result.kind === 'failed') return { kind: 'none', reason: result.reason };
    const { loadStep } = stage.targets;
    const to = watched === 'load-up' ? loadStep?.to : watched === 'load-down' ? loadStep?.from : undefined;
    const linear = to === undefined ? undefined : predictedStep(complete.value, inputVoltage, load, to);
    const period = 1 / complete.value.switchingFrequency;
    const { run, told } = shownRun(result);
    const worked: WorkedRun = {
      kind: 'run',
      run,
      peakInput: greatest(run, 'input voltage'),
      bands: bandsOf(told, period),
      period,
      linear: typeof linear === 'object' ? linear : undefined,
      load,
      rate,
      beside:
        other &&
        besideOf(other, condition, scenario, (share) => {
          tell?.({ share: (1 + share) / runs, waveforms: undefined, until });
          return true;
        }),
    };
    return transfer(worked, waveformBuffers(worked));
  },
};

/** The greatest value of a signal, found here: the page does not go over hundreds of thousands of points. */
function greatest({ waveforms }: ShownRun, signal: string): number | undefined {
  const found = waveforms.signals.find(({ name }) => name === signal);
  return found?.most.reduce((most, value) => Math.max(most, value), -Infinity);
}

/** Points of the waveforms go over to the page as they are: a copy of some megabytes would hold it up. */
const waveformBuffers = ({ run, beside }: WorkedRun): ArrayBuffer[] => [
  ...new Set(
    [run, ...(beside ? [beside.run] : [])].flatMap(({ waveforms }) =>
      [waveforms.time, ...waveforms.signals.flatMap(({ least, most }) => [least, most])].map(
        ({ buffer }) => buffer as ArrayBuffer,
      ),
    ),
  ),
];

/** The run of the stage with its amplifier limited otherwise, where there is one. */
function besideOf(
  { words, limited, stage }: OtherClamps,
  condition: OperatingCondition,
  scenario: Scenario,
  progress: (share: number) => boolean,
): WorkedRun['beside'] {
  const complete = completeStage(stage);
  if (!complete.ok) return undefined;
  const run = simulate(complete.value, condition, scenario, { progress });
  return run.kind === 'failed' ? undefined : { words, limited, run: shownRun(run).run };
}

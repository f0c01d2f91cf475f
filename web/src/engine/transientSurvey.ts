import {
  completeStage,
  formatQuantity,
  injectedSweep,
  injectLoop,
  judgeTransient,
  lineStep,
  otherClamps,
  predictedStep,
  shortCircuit,
  simulate,
  startUp,
  transientLedger,
  stepScenario,
  transientSettles,
  verdictWord,
  type FailedRun,
  type JudgedTransient,
  type LedgerLine,
  type OperatingCondition,
  type PredictedStep,
  type ResponsePoint,
  type Scenario,
  type SimulatedRun,
  type SimulatedStep,
  type Stage,
  type Verdict,
} from '@yundro/core';

/** What can be watched: by its name, the scenario it makes of a stage. */
export type Watched = 'load-up' | 'load-down' | 'line-up' | 'start-up' | 'short';

/** Output short, ohm: a screwdriver across the terminals. */
export const SHORT_OHMS = 0.01;
const LINE_CYCLES = 200;
const SHORT_CYCLES = 100;
/** A start-up is followed for its soft start and half as long again, and for so many clock periods at least. */
const AFTER_START = 1.5;
const START_CYCLES = 400;
/** Frequencies of an injected sweep. */
const INJECTED = 24;
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

/** A run at a corner, with the linear step beside it where there is one. */
export interface WorkedRun {
  readonly kind: 'run';
  readonly run: SimulatedRun;
  readonly linear: PredictedStep | undefined;
  /** s, of the clock. */
  readonly period: number;
  /** Load before, A. */
  readonly load: number;
  /** After a load release, the same with the amplifier limited otherwise: what winds up is seen beside what does not. */
  readonly beside: { readonly words: string; readonly run: SimulatedRun } | undefined;
}

/** How an injected sweep ended. */
export type InjectedSweepEnd = { readonly kind: 'swept' } | FailedRun | undefined;

function scenarioOf(stage: Stage, watched: Watched, inputVoltage: number): Scenario | string {
  const frequency = stage.switchingFrequency ?? 0;
  const { softStartTime = 0 } = stage.control;
  switch (watched) {
    case 'load-up':
    case 'load-down':
      return stepScenario(stage, watched === 'load-up', 0) ?? 'the targets state no load step';
    case 'line-up': {
      const by = stage.targets.inputVoltage.max - inputVoltage;
      return by > 0 ? lineStep(by, LINE_CYCLES) : 'the input is at its highest here: look at a lower input corner';
    }
    case 'short':
      return shortCircuit(SHORT_OHMS, SHORT_CYCLES);
    case 'start-up':
      return startUp(
        Math.min(MOST_START_CYCLES, Math.ceil(Math.max(START_CYCLES, AFTER_START * softStartTime * frequency))),
      );
  }
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
   * The loop gain by injection, frequency after frequency, each told of as it is found.
   *
   * @param tell is told a point and how many there are to be.
   */
  injectedLoop(
    stage: Stage,
    inputVoltage: number,
    outputCurrent: number,
    tell: (point: ResponsePoint, all: number) => void,
  ): InjectedSweepEnd {
    const complete = completeStage(stage);
    if (!complete.ok) return undefined;
    const frequencies = injectedSweep(complete.value.clock, INJECTED);
    for (const frequency of frequencies) {
      const condition = { inputVoltage, load: { kind: 'current', current: outputCurrent } } as const;
      const found = injectLoop(complete.value, condition, frequency);
      if (found.kind === 'failed') return found;
      if (!found.settled)
        return {
          kind: 'failed',
          reason: `at ${formatQuantity(found.frequency, 'Hz', 3)} the answer to the sine does not settle: the loop is barely stable, or not`,
        };
      tell({ frequency: found.frequency, value: found.loop }, frequencies.length);
    }
    return { kind: 'swept' };
  },
  /**
   * One run, waveforms and all; the words for why there is none.
   *
   * @param outputCurrent of the load before, A; a load step has its own.
   * @param tell is told the share that is done.
   */
  transientRun(
    stage: Stage,
    watched: Watched,
    inputVoltage: number,
    outputCurrent = stage.targets.outputCurrent.max,
    tell?: (share: number) => void,
  ): WorkedRun | NoRun | undefined {
    const complete = completeStage(stage);
    if (!complete.ok) return undefined;
    const scenario = scenarioOf(stage, watched, inputVoltage);
    if (typeof scenario === 'string') return { kind: 'none', reason: scenario };
    const { loadStep, outputVoltage } = stage.targets;
    const step = watched === 'load-up' || watched === 'load-down' ? loadStep : undefined;
    const load = step ? (watched === 'load-up' ? step.from : step.to) : outputCurrent;
    // A start-up, and what is left of a load beside a short, is that of a resistor.
    const resistive = (watched === 'start-up' || watched === 'short') && outputCurrent > 0;
    const condition: OperatingCondition = {
      inputVoltage,
      load: resistive
        ? { kind: 'resistance', resistance: Math.abs(outputVoltage) / outputCurrent }
        : { kind: 'current', current: load },
    };
    const result = simulate(complete.value, condition, scenario, {
      progress: (share) => {
        tell?.(share);
        return true;
      },
    });
    if (result.kind === 'failed') return { kind: 'none', reason: result.reason };
    const linear = step
      ? predictedStep(complete.value, inputVoltage, load, watched === 'load-up' ? step.to : step.from)
      : undefined;
    return {
      kind: 'run',
      run: result,
      linear: typeof linear === 'object' ? linear : undefined,
      period: 1 / complete.value.switchingFrequency,
      load,
      beside: watched === 'load-down' ? besideOf(stage, condition, scenario) : undefined,
    };
  },
};

/** The run of the stage with its amplifier limited otherwise, where there is one. */
function besideOf(stage: Stage, condition: OperatingCondition, scenario: Scenario): WorkedRun['beside'] {
  const other = otherClamps(stage);
  const complete = other && completeStage(other.stage);
  if (!complete?.ok) return undefined;
  const run = simulate(complete.value, condition, scenario);
  return run.kind === 'failed' ? undefined : { words: other?.words ?? '', run };
}

import { expose } from 'comlink';
import {
  currentOf,
  evaluateStage,
  nodeVoltage,
  points,
  sizeStage,
  withoutMean,
  workingOf,
  type Choice,
  type EvaluatedStage,
  type Evaluation,
  type OperatingPoint,
  type Points,
  type Problem,
  type Stage,
  type Working,
} from '@yundro/core';

/** The traces of one corner over one period. */
export interface Waveforms {
  /** s */
  readonly period: number;
  readonly inductorCurrent: Points;
  readonly switchNode: Points;
  /** Deviation from its average, V. */
  readonly outputRipple: Points;
}

/** One corner as the screen needs it. */
export interface CornerView {
  readonly inputVoltage: number;
  readonly outputCurrent: number;
  readonly point: OperatingPoint | undefined;
  readonly reason: string | undefined;
}

/** What the engine makes of a stage. */
export interface Worked {
  /** The stage as worked: with its free values chosen anew when that was asked for. */
  readonly stage: Stage;
  readonly evaluation: Evaluation | undefined;
  readonly problems: readonly Problem[];
  readonly choices: readonly Choice[];
  readonly corners: readonly CornerView[];
}

let latest: EvaluatedStage | undefined;

const engine = {
  /** Evaluate a stage at every corner, choosing anew what is not pinned when `rechoose` is set. */
  work(stage: Stage, rechoose: boolean): Worked {
    const result = rechoose ? sizeStage(stage, { keepPresent: false }) : evaluateStage(stage);
    if (!result.ok) {
      latest = undefined;
      return { stage, evaluation: undefined, problems: result.problems, choices: [], corners: [] };
    }
    latest = result.value;
    return {
      stage: result.value.evaluation.stage,
      evaluation: result.value.evaluation,
      problems: [],
      choices: 'choices' in result.value ? (result.value.choices as readonly Choice[]) : [],
      corners: result.value.corners.map(({ corner, result: found }) => ({
        inputVoltage: corner.inputVoltage,
        outputCurrent: corner.outputCurrent,
        point: found.kind === 'solved' ? found.point : undefined,
        reason: found.kind === 'solved' ? undefined : found.reason,
      })),
    };
  },
  /** The traces of a corner of the stage worked last. */
  waveforms(corner: number): Waveforms | undefined {
    const result = latest?.corners[corner]?.result;
    if (result?.kind !== 'solved') return undefined;
    const { solution, powerStage } = result;
    return {
      period: solution.period,
      inductorCurrent: points(solution, currentOf(powerStage.elements.inductors[0] ?? '')),
      switchNode: points(solution, nodeVoltage(powerStage.switchNode)),
      outputRipple: points(solution, withoutMean(solution, nodeVoltage(powerStage.outputNode))),
    };
  },
  /** The working of a figure at a corner of the stage worked last. */
  working(corner: number, key: string): Working | undefined {
    const result = latest?.corners[corner]?.result;
    return latest && result?.kind === 'solved' ? workingOf(key, latest.complete, result) : undefined;
  },
};

export type Engine = typeof engine;

expose(engine);

import {
  averagedPlant,
  bandFrequencies,
  controlForms,
  decibels,
  inputImpedances,
  loopSampler,
  nextSteps,
  operatingPointIn,
  plantForms,
  predictedStep,
  slopeByRule,
  SLOPE_RULES,
  plantResponse,
  loopAt,
  type Missed,
  type LoopBreak,
  loopFrequencies,
  loopGain,
  operatingPoint,
  completeStage,
  evaluateStage,
  type Complex,
  type Corner,
  type InputImpedances,
  type PredictedStep,
  type LedgerLine,
  type NextStep,
  type LoopReport,
  type NoLoop,
  type ResponsePoint,
  type AppliedForm,
  type Stage,
} from '@yundro/core';

/** Points a loop is drawn through, and those a plant is known at while its compensator is being shaped. */
const LOOP_POINTS = 160;
const PLANT_POINTS = 60;

/** The loop at a corner, and its plant by closed forms. */
export interface WorkedLoop {
  readonly loop: LoopReport | NoLoop;
  readonly plant: readonly AppliedForm[];
  /** The plant by the averaged model, at the points of the loop, where there is one. */
  readonly averaged?: readonly Complex[];
}

/** The load step of the targets, or half the load to all of it, up and down. */
export interface WorkedSteps {
  readonly up: PredictedStep | string;
  readonly down: PredictedStep | string;
}

/** What of a sample is drawn: undefined margins where there is no crossover, or nothing limits the gain. */
export interface DrawnSample {
  readonly crossover: number | undefined;
  readonly phaseMargin: number | undefined;
  readonly gainMayRise: number | undefined;
  readonly stable: boolean;
  /** What it does not keep; empty where it passes. */
  readonly misses: readonly Missed[];
}

/** Samples of the loop as they come, with the band their gains have made so far, dB. */
export interface SampleBatch {
  readonly samples: readonly DrawnSample[];
  readonly frequencies: readonly number[];
  readonly least: Float64Array;
  readonly most: Float64Array;
}

/** Samples told of together: few at first, so that there is something to see. */
const BATCHES = [6, 20, 60] as const;
const LARGEST_BATCH = 125;

/** A response at a corner: what a compensator has to work on, or the loop with it. */
export interface CornerResponse {
  readonly inputVoltage: number;
  readonly outputCurrent: number;
  readonly points: readonly ResponsePoint[];
}

/** A response of a stage at every corner where there is one, at the frequencies of a plant. */
function atEveryCorner(stage: Stage, responseOf: typeof loopGain): readonly CornerResponse[] {
  const evaluated = evaluateStage(stage);
  if (!evaluated.ok) return [];
  const { complete, corners } = evaluated.value;
  const frequencies = loopFrequencies(complete.switchingFrequency, PLANT_POINTS);
  return corners.flatMap(({ corner: { inputVoltage, outputCurrent }, result }): CornerResponse[] => {
    if (result.kind !== 'solved') return [];
    const condition = { inputVoltage, load: { kind: 'current' as const, current: outputCurrent } };
    const response = responseOf(complete, condition, result);
    if (typeof response === 'string') return [];
    return [
      {
        inputVoltage,
        outputCurrent,
        points: frequencies.map((frequency) => ({ frequency, value: response(frequency) })),
      },
    ];
  });
}

/** What is asked of the loop in a worker; undefined where the stage still lacks a part. */
export const loopSurvey = {
  /** The changes that would mend a target, out of the drivers of its margin. */
  nextSteps(stage: Stage, line: LedgerLine): readonly NextStep[] {
    return nextSteps(stage, line);
  },
  /** The loop at one corner with its curves, and the canonical figures of its plant. */
  loopAt(stage: Stage, inputVoltage: number, outputCurrent: number, loopBreak?: LoopBreak): WorkedLoop | undefined {
    const complete = completeStage(stage);
    if (!complete.ok) return undefined;
    const frequencies = loopFrequencies(complete.value.switchingFrequency, LOOP_POINTS);
    const condition = { inputVoltage, load: { kind: 'current' as const, current: outputCurrent } };
    const solved = operatingPoint(complete.value, condition);
    if (solved.kind === 'unsolved')
      return { loop: { kind: 'unsolved', why: 'no-operating-point', reason: solved.reason }, plant: [] };
    const averaged = averagedPlant(complete.value, condition, solved);
    return {
      loop: loopAt(complete.value, condition, frequencies, { solved, loopBreak }),
      plant: [...controlForms(complete.value, solved.point), ...plantForms(complete.value, solved.point)],
      ...(averaged && { averaged: frequencies.map(averaged) }),
    };
  },
  /** The output after the load step of the targets, as the closed loop predicts it. */
  loadSteps(stage: Stage, inputVoltage: number): WorkedSteps | undefined {
    const complete = completeStage(stage);
    if (!complete.ok) return undefined;
    const { loadStep, outputCurrent } = stage.targets;
    const [from, to] = loadStep ? [loadStep.from, loadStep.to] : [outputCurrent.max / 2, outputCurrent.max];
    return {
      up: predictedStep(complete.value, inputVoltage, Math.min(from, to), Math.max(from, to)),
      down: predictedStep(complete.value, inputVoltage, Math.max(from, to), Math.min(from, to)),
    };
  },
  /** The impedances that meet at the input, or the words for why there is nothing to compare. */
  inputImpedances(stage: Stage, inputVoltage: number, outputCurrent: number): InputImpedances | string {
    const complete = completeStage(stage);
    if (!complete.ok) return 'the stage still lacks a part';
    const condition = { inputVoltage, load: { kind: 'current' as const, current: outputCurrent } };
    return inputImpedances(complete.value, condition, loopFrequencies(complete.value.switchingFrequency, LOOP_POINTS));
  },
  /** Slope compensation by each rule, V/s, in the order of the rules. */
  slopes(stage: Stage): readonly number[] {
    const evaluated = evaluateStage(stage);
    const gain = stage.control.currentSenseGain;
    if (!evaluated.ok || gain === undefined) return [];
    return SLOPE_RULES.map((rule) => slopeByRule(rule, evaluated.value, gain));
  },
  /**
   * Every `of`-th sample of the loop at a corner from the `part`-th on, told of in batches as they come.
   *
   * @returns the words for why there is none.
   */
  sampleLoop(
    stage: Stage,
    corner: Corner,
    count: number,
    part: number,
    of: number,
    tell: (batch: SampleBatch) => void,
  ): string | undefined {
    const complete = completeStage(stage);
    if (!complete.ok) return 'the stage still lacks a part';
    const condition = {
      inputVoltage: corner.inputVoltage,
      ambient: corner.temperature,
      load: { kind: 'current' as const, current: corner.outputCurrent },
    };
    const result = operatingPointIn(stage.operatingMode, complete.value, condition);
    const sample = loopSampler(complete.value, { corner, result });
    if (typeof sample === 'string') return sample;
    const frequencies = bandFrequencies(complete.value.switchingFrequency);
    const least = new Float64Array(frequencies.length).fill(Infinity);
    const most = new Float64Array(frequencies.length).fill(-Infinity);
    let batch: DrawnSample[] = [];
    let batches = 0;
    for (let index = part; index < count; index += of) {
      const { loop, gains, misses } = sample(index);
      gains.forEach((gain, k) => {
        const size = decibels(gain);
        least[k] = Math.min(least[k] ?? Infinity, size);
        most[k] = Math.max(most[k] ?? -Infinity, size);
      });
      batch.push(
        loop.kind === 'solved'
          ? {
              crossover: loop.crossover.kind === 'found' ? loop.crossover.value : undefined,
              phaseMargin: loop.phaseMargin.kind === 'found' ? loop.phaseMargin.value : undefined,
              gainMayRise: loop.gainMayRise,
              stable: loop.stable,
              misses,
            }
          : { crossover: undefined, phaseMargin: undefined, gainMayRise: undefined, stable: false, misses },
      );
      if (batch.length < (BATCHES[batches] ?? LARGEST_BATCH) && index + of < count) continue;
      tell({ samples: batch, frequencies, least: least.slice(), most: most.slice() });
      batch = [];
      batches += 1;
    }
    return undefined;
  },
  /** The loop gain at every corner, to be laid over each other. */
  loopGains: (stage: Stage): readonly CornerResponse[] => atEveryCorner(stage, loopGain),
  /** The plants of all corners. */
  plants: (stage: Stage): readonly CornerResponse[] => atEveryCorner(stage, plantResponse),
};

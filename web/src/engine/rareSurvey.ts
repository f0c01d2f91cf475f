import {
  evaluateStage,
  proposeLoop,
  type Procedure,
  type ProposedLoop,
  boundaryWorking,
  compareRectifiers,
  completeStage,
  conductionMap,
  conversionRatio,
  formatQuantity,
  frequencyStudy,
  injectedSweep,
  injectLoop,
  peakRatioWorking,
  readWaveform,
  topologyAdvice,
  type Advice,
  type ConductionMap,
  type ConversionRatio,
  type FailedRun,
  type FrequencyStudy,
  type PartOf,
  type ReadWaveform,
  type RectifierComparison,
  type ResponsePoint,
  type Stage,
  type Working,
} from '@yundro/core';

/** Frequencies of an injected sweep. */
const INJECTED = 24;

/** A conversion ratio with the working of its peak, where it has one. */
export interface WorkedRatio extends ConversionRatio {
  readonly peakWorking: Working | undefined;
}

/** A conduction map with the workings of the boundary load at both ends of the input range. */
export interface WorkedMap extends ConductionMap {
  readonly workings: readonly Working[];
}

/** How an injected sweep ended. */
export type InjectedSweepEnd = { readonly kind: 'swept' } | FailedRun;

/** Questions that one view alone asks; undefined where the stage still lacks a part. */
export const rareSurvey = {
  /** The stage over switching frequency. */
  frequencyStudy(stage: Stage): FrequencyStudy | undefined {
    return frequencyStudy(stage);
  },
  /** The stage with a switch and with a diode as rectifier, each chosen from the library. */
  rectifiers(
    stage: Stage,
    mosfets: readonly PartOf<'mosfet'>[],
    diodes: readonly PartOf<'diode'>[],
  ): RectifierComparison | undefined {
    return compareRectifiers(stage, mosfets, diodes);
  },
  /** What each topology would make of the targets. */
  advice(stage: Stage): Advice {
    return topologyAdvice(stage);
  },
  /** The conversion ratio at an input voltage, V, with the load resistance of a load current, A. */
  conversionRatio(stage: Stage, inputVoltage: number, outputCurrent: number): WorkedRatio | undefined {
    const complete = completeStage(stage);
    if (!complete.ok) return undefined;
    const ratio = conversionRatio(complete.value, inputVoltage, outputCurrent);
    return { ...ratio, peakWorking: peakRatioWorking(complete.value, ratio) };
  },
  /** The border of continuous conduction over the input range. */
  conductionMap(stage: Stage): WorkedMap | undefined {
    const complete = completeStage(stage);
    if (!complete.ok) return undefined;
    const map = conductionMap(complete.value);
    const ends = new Set([0, map.inputVoltages.length - 1]);
    const workings = [...ends].flatMap((i) => {
      const load = map.boundary[i];
      const working =
        load === undefined || load === 0 ? undefined : boundaryWorking(complete.value, map.inputVoltages[i] ?? 0, load);
      return working ? [working] : [];
    });
    return { ...map, workings };
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
    if (!complete.ok) return { kind: 'failed', reason: 'the stage still lacks a part' };
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
  /** What an oscilloscope recorded, or the sentence for what is wrong with it. */
  readRecord(text: string): ReadWaveform | string {
    return readWaveform(text);
  },
  /** A compensator for the stage, or the words for why there is none. */
  proposeLoop(stage: Stage, procedure: Procedure): Omit<ProposedLoop, 'corners'> | string {
    const evaluated = evaluateStage(stage);
    if (!evaluated.ok) return 'The stage still lacks a part.';
    const proposal = proposeLoop(evaluated.value, procedure);
    if (typeof proposal === 'string') return proposal;
    const { control, choices, holds } = proposal;
    return { control, choices, holds };
  },
};

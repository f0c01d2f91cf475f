import {
  boundaryWorking,
  compareRectifiers,
  completeStage,
  conductionMap,
  conversionRatio,
  frequencyStudy,
  peakRatioWorking,
  topologyAdvice,
  type Advice,
  type ConductionMap,
  type ConversionRatio,
  type FrequencyStudy,
  type PartOf,
  type RectifierComparison,
  type Stage,
  type Working,
} from '@yundro/core';

/** A conversion ratio with the working of its peak, where it has one. */
export interface WorkedRatio extends ConversionRatio {
  readonly peakWorking: Working | undefined;
}

/** A conduction map with the workings of the boundary load at both ends of the input range. */
export interface WorkedMap extends ConductionMap {
  readonly workings: readonly Working[];
}

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
};

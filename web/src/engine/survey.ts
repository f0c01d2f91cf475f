import {
  boundaryWorking,
  completeStage,
  conductionMap,
  compareRectifiers,
  conversionRatio,
  efficiencyCurve,
  FINE_GRID,
  evaluateStage,
  frequencyStudy,
  inputRmsPeak,
  ledgerOf,
  loadsOf,
  mapRows,
  nominalInput,
  peakRatioWorking,
  topologyAdvice,
  type Advice,
  type ConductionMap,
  type ConversionRatio,
  type EfficiencyCurve,
  type FrequencyStudy,
  type LedgerLine,
  type MapRow,
  type OperatingMode,
  type PartOf,
  type RectifierComparison,
  type Stage,
  type Working,
} from '@yundro/core';
import { loopSurvey } from './loopSurvey';
import { transientSurvey } from './transientSurvey';

/** Loads a curve is drawn through. */
const CURVE_LOADS = 24;
const MODES = ['forced-pwm', 'pulse-skipping', 'ultrasonic', 'critical-conduction'] as const;

/** Efficiency against load at every input corner, and in every mode. */
export interface EfficiencyCurves {
  readonly byInput: readonly EfficiencyCurve[];
  readonly byMode: readonly EfficiencyCurve[];
}

/** A conversion ratio with the working of its peak, where it has one. */
export interface WorkedRatio extends ConversionRatio {
  readonly peakWorking: Working | undefined;
}

/** A conduction map with the workings of the boundary load at both ends of the input range. */
export interface WorkedMap extends ConductionMap {
  readonly workings: readonly Working[];
}

/** Questions that take longer than an edit may wait; undefined where the stage still lacks a part. */
export const survey = {
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
  /** The highest input capacitor RMS current over the whole input range at full load. */
  inputRmsPeak(stage: Stage): ReturnType<typeof inputRmsPeak> {
    const complete = completeStage(stage);
    return complete.ok ? inputRmsPeak(complete.value) : undefined;
  },
  /** The stage over switching frequency. */
  frequencyStudy(stage: Stage): FrequencyStudy | undefined {
    return frequencyStudy(stage);
  },
  /** The ledger in full: drivers of every margin, parts at the ends of their spread. */
  ledger(stage: Stage): readonly LedgerLine[] | undefined {
    const evaluated = evaluateStage(stage);
    return evaluated.ok ? ledgerOf(evaluated.value) : undefined;
  },
  ...loopSurvey,
  ...transientSurvey,
  /** Efficiency against load: at every input corner in the mode of the stage, and at the nominal input in every mode. */
  efficiencyCurves(stage: Stage): EfficiencyCurves | undefined {
    const complete = completeStage(stage);
    if (!complete.ok) return undefined;
    const loads = loadsOf(complete.value, CURVE_LOADS);
    const { min, max } = stage.targets.inputVoltage;
    const nominal = nominalInput(stage);
    const inputs = [...new Set([min, nominal, max])];
    const curve = (mode: OperatingMode, inputVoltage: number): EfficiencyCurve =>
      efficiencyCurve(complete.value, mode, inputVoltage, loads);
    const byInput = inputs.map((inputVoltage) => curve(stage.operatingMode, inputVoltage));
    const byMode = MODES.map(
      (mode) => byInput.find((one) => one.mode === mode && one.inputVoltage === nominal) ?? curve(mode, nominal),
    );
    return { byInput, byMode };
  },
  /** Every `of`-th row of the fine efficiency maps from the `part`-th on, told of as they come. */
  mapRows(
    stage: Stage,
    modes: readonly OperatingMode[],
    part: number,
    of: number,
    tell: (row: MapRow) => void,
  ): readonly MapRow[] {
    const complete = completeStage(stage);
    if (!complete.ok) return [];
    const rows: MapRow[] = [];
    for (const row of mapRows(complete.value, modes, FINE_GRID, part, of)) {
      rows.push(row);
      tell(row);
    }
    return rows;
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
};

export type Survey = typeof survey;

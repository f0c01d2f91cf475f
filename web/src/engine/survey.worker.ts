import { expose } from 'comlink';
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
  judgeLoop,
  ledgerOf,
  loadsOf,
  loopAt,
  loopFrequencies,
  loopGain,
  mapRows,
  nominalInput,
  operatingPoint,
  peakRatioWorking,
  plantForms,
  plantResponse,
  proposeLoop,
  topologyAdvice,
  type Advice,
  type AppliedForm,
  type ConductionMap,
  type ConversionRatio,
  type EfficiencyCurve,
  type FrequencyStudy,
  type JudgedLoop,
  type LedgerLine,
  type LoopReport,
  type MapRow,
  type NoLoop,
  type OperatingMode,
  type PartOf,
  type ProposedLoop,
  type RectifierComparison,
  type ResponsePoint,
  type Stage,
  type Working,
} from '@yundro/core';

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

/** Points a loop is drawn through, and those a plant is known at while its compensator is being shaped. */
const LOOP_POINTS = 160;
const PLANT_POINTS = 60;

/** The loop at a corner, and its plant by closed forms. */
export interface WorkedLoop {
  readonly loop: LoopReport | NoLoop;
  readonly plant: readonly AppliedForm[];
}

/** A response at a corner: what a compensator has to work on, or the loop with it. */
export interface CornerResponse {
  readonly inputVoltage: number;
  readonly outputCurrent: number;
  readonly points: readonly ResponsePoint[];
}

/** Questions that take longer than an edit may wait; undefined where the stage still lacks a part. */
const survey = {
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
  /** The loop at every corner, and the verdicts on it. */
  judgeLoop(stage: Stage): JudgedLoop | undefined {
    const evaluated = evaluateStage(stage);
    return evaluated.ok ? judgeLoop(evaluated.value) : undefined;
  },
  /** The loop at one corner with its curves, and the canonical figures of its plant. */
  loopAt(stage: Stage, inputVoltage: number, outputCurrent: number): WorkedLoop | undefined {
    const complete = completeStage(stage);
    if (!complete.ok) return undefined;
    const frequencies = loopFrequencies(complete.value.switchingFrequency, LOOP_POINTS);
    const condition = { inputVoltage, load: { kind: 'current' as const, current: outputCurrent } };
    const solved = operatingPoint(complete.value, condition);
    if (solved.kind === 'unsolved')
      return { loop: { kind: 'unsolved', why: 'no-operating-point', reason: solved.reason }, plant: [] };
    return {
      loop: loopAt(complete.value, condition, frequencies, solved),
      plant: plantForms(complete.value, solved.point),
    };
  },
  /** The loop gain at every corner, to be laid over each other. */
  loopGains(stage: Stage): readonly CornerResponse[] {
    const evaluated = evaluateStage(stage);
    if (!evaluated.ok) return [];
    const { complete, corners } = evaluated.value;
    const frequencies = loopFrequencies(complete.switchingFrequency, PLANT_POINTS);
    return corners.flatMap(({ corner: { inputVoltage, outputCurrent }, result }): CornerResponse[] => {
      if (result.kind !== 'solved') return [];
      const loop = loopGain(complete, { inputVoltage, load: { kind: 'current', current: outputCurrent } }, result);
      if (typeof loop === 'string') return [];
      const points = frequencies.map((frequency) => ({ frequency, value: loop(frequency) }));
      return [{ inputVoltage, outputCurrent, points }];
    });
  },
  /** The plants of all corners. */
  plants(stage: Stage): readonly CornerResponse[] {
    const evaluated = evaluateStage(stage);
    if (!evaluated.ok) return [];
    const { complete, corners } = evaluated.value;
    const frequencies = loopFrequencies(complete.switchingFrequency, PLANT_POINTS);
    return corners.flatMap(({ corner: { inputVoltage, outputCurrent }, result }): CornerResponse[] => {
      if (result.kind !== 'solved') return [];
      const condition = { inputVoltage, load: { kind: 'current' as const, current: outputCurrent } };
      const plant = plantResponse(complete, condition, result);
      if (typeof plant === 'string') return [];
      const points = frequencies.map((frequency) => ({ frequency, value: plant(frequency) }));
      return [{ inputVoltage, outputCurrent, points }];
    });
  },
  /** A compensator for the stage, or the words for why there is none. */
  proposeLoop(stage: Stage): Omit<ProposedLoop, 'corners'> | string {
    const evaluated = evaluateStage(stage);
    if (!evaluated.ok) return 'The stage still lacks a part.';
    const proposal = proposeLoop(evaluated.value);
    if (typeof proposal === 'string') return proposal;
    const { control, choices, holds } = proposal;
    return { control, choices, holds };
  },
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

expose(survey);

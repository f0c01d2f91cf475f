import {
  careSheet,
  completeStage,
  conductedNoise,
  evaluateStage,
  layoutChecklist,
  netsOf,
  worstLoops,
  type AuxiliaryGround,
  type ChecklistLine,
  type ConductedNoise,
  type Net,
  type Network,
  type Sheet,
  type Stage,
  type WorstLoop,
} from '@yundro/core';

/** What the board of a stage must do. */
export interface BoardNeeds {
  readonly loops: readonly WorstLoop[];
  readonly nets: readonly Net[];
  readonly checklist: readonly ChecklistLine[];
  /** What parts around the controller are chosen by. */
  readonly ground: AuxiliaryGround;
}

/** Questions of the board; undefined where the stage still lacks a part. */
export const boardSurvey = {
  board(stage: Stage): BoardNeeds | undefined {
    const evaluated = evaluateStage(stage);
    if (!evaluated.ok) return undefined;
    const { complete, corners } = evaluated.value;
    const loops = worstLoops(evaluated.value);
    const nets = netsOf(evaluated.value);
    const { targets, control } = stage;
    const peaks = corners.flatMap(({ result }) =>
      result.kind === 'solved' ? [result.point.inductorCurrent.peak] : [],
    );
    return {
      loops,
      nets,
      checklist: layoutChecklist(evaluated.value, loops, nets),
      ground: {
        frequency: complete.clock,
        reference: control.reference,
        vOut: Math.abs(targets.outputVoltage),
        vInLeast: targets.inputVoltage.min,
        outputCapacitance: complete.outputCapacitors.reduce((sum, bank) => sum + bank.capacitance * bank.count, 0),
        softStart: control.softStartTime,
        rising: control.undervoltageLockout?.rising,
        falling: control.undervoltageLockout?.falling,
        currentLimit: control.currentLimit,
        peak: peaks.length > 0 ? Math.max(...peaks) : undefined,
        inductance: complete.inductor.inductance,
        windingResistance: complete.inductor.resistance,
      },
    };
  },
  /** Conducted noise at a condition, or the words for why there is none. */
  conductedNoise(stage: Stage, network: Network, inputVoltage: number, outputCurrent: number): ConductedNoise | string {
    const complete = completeStage(stage);
    if (!complete.ok) return 'the stage still lacks a part';
    return conductedNoise(complete.value, network, { inputVoltage, load: { kind: 'current', current: outputCurrent } });
  },
  /** All that can hurt someone, or the stage, on one sheet. */
  careSheet(stage: Stage): Sheet | undefined {
    const evaluated = evaluateStage(stage);
    return evaluated.ok ? careSheet(evaluated.value) : undefined;
  },
};

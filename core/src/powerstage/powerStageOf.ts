import type { CompleteStage } from '../stage/completeStage.js';
import type { Stage } from '../stage/schema.js';
import { topologyOf } from '../topology/topologies.js';
import type { Conversion } from '../topology/topology.js';
import { interleavedStage } from './phases.js';
import type { OperatingCondition, PowerStage } from './powerStage.js';

/** What a stage converts at an input voltage, V. */
export const conversionAt = ({ targets, legs }: Stage, inputVoltage: number): Conversion => ({
  inputVoltage,
  outputVoltage: targets.outputVoltage,
  legsTogether: legs === 'simultaneous',
});

/** The circuit of a stage at an operating condition. */
export const powerStageOf = (complete: CompleteStage, condition: OperatingCondition): PowerStage =>
  interleavedStage(
    complete,
    condition,
    topologyOf(complete.stage),
    conversionAt(complete.stage, condition.inputVoltage),
  );

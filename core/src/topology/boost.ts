import { GROUND } from '../circuit/elements.js';
import type { CompleteStage } from '../stage/completeStage.js';
import { interleavedStage } from './phases.js';
import type { OperatingCondition, PowerStage } from './powerStage.js';
import { switchCell } from './switchCell.js';

/**
 * The boost stage: the low side is the main switch, the high side rectifies.
 *
 *     in ──inductor── sw ──┬──highSide── out ──┬── load
 *                          │                   │
 *                       lowSide        outputCapacitors
 *                          │                   │
 *     0 ───────────────────┴───────────────────┴──
 */
export function boost(complete: CompleteStage, condition: OperatingCondition): PowerStage {
  const [leg] = complete.legs;
  if (!leg) throw new Error('The stage has no switches.');
  const { targets } = complete.stage;
  return interleavedStage(complete, condition, {
    phase: (k) => {
      const sw = `sw${String(k + 1)}`;
      const cell = switchCell(leg, k, { main: [sw, GROUND], rectifier: [sw, 'out'] }, complete);
      return { nodes: [sw], inductor: ['in', sw], cells: [cell], timing: [{ cell, drive: { until: 'command-end' } }] };
    },
    idealDuty: 1 - condition.inputVoltage / targets.outputVoltage,
  });
}

import { GROUND } from '../circuit/elements.js';
import type { CompleteStage } from '../stage/completeStage.js';
import { interleavedStage } from './phases.js';
import type { OperatingCondition, PowerStage } from './powerStage.js';
import { switchCell } from './switchCell.js';

/**
 * The inverting buck-boost stage: the output is negative, and the inductor carries input plus output current.
 *
 *     in ──highSide──┬── sw ──lowSide── out ──┬── load
 *                    │      (towards sw)      │
 *                 inductor            outputCapacitors
 *                    │                        │
 *     0 ─────────────┴────────────────────────┴──
 */
export function invertingBuckBoost(complete: CompleteStage, condition: OperatingCondition): PowerStage {
  const [leg] = complete.legs;
  if (!leg) throw new Error('The stage has no switches.');
  const { targets } = complete.stage;
  return interleavedStage(complete, condition, {
    phase: (k) => {
      const sw = `sw${String(k + 1)}`;
      const cell = switchCell(leg, k, { main: ['in', sw], rectifier: ['out', sw] }, complete);
      return {
        nodes: [sw],
        inductor: [sw, GROUND],
        cells: [cell],
        timing: [{ cell, drive: { until: 'command-end' } }],
      };
    },
    idealDuty: -targets.outputVoltage / (condition.inputVoltage - targets.outputVoltage),
  });
}

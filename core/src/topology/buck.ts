import { GROUND } from '../circuit/elements.js';
import type { CompleteStage } from '../stage/completeStage.js';
import { interleavedStage } from './phases.js';
import type { OperatingCondition, PowerStage } from './powerStage.js';
import { switchCell } from './switchCell.js';

/**
 * The buck stage.
 *
 *     in ──highSide──┬── sw ──inductor── out ──┬── load
 *                    │                         │
 *                 lowSide              outputCapacitors
 *                    │                         │
 *     0 ─────────────┴─────────────────────────┴──
 */
export function buck(complete: CompleteStage, condition: OperatingCondition): PowerStage {
  const [leg] = complete.legs;
  if (!leg) throw new Error('The stage has no switches.');
  const { targets } = complete.stage;
  return interleavedStage(complete, condition, {
    phase: (k) => {
      const sw = `sw${String(k + 1)}`;
      const cell = switchCell(leg, k, { main: ['in', sw], rectifier: [GROUND, sw] }, complete);
      return { nodes: [sw], inductor: [sw, 'out'], cells: [cell], timing: [{ cell, drive: { until: 'command-end' } }] };
    },
    idealDuty: targets.outputVoltage / condition.inputVoltage,
  });
}

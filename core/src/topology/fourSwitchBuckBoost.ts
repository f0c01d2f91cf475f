import { GROUND } from '../circuit/elements.js';
import type { CompleteStage } from '../stage/completeStage.js';
import type { Stage } from '../stage/schema.js';
import type { Drive } from './legTiming.js';
import { interleavedStage } from './phases.js';
import type { OperatingCondition, PowerStage } from './powerStage.js';
import { switchCell } from './switchCell.js';

/**
 * Duty limit of a leg that switches alone: beyond it (or below one minus it) both legs switch. Common practice: a bootstrap
 * needs its refresh, and a leg its shortest pulse. Nearer to one: a narrower transition, shorter pulses.
 */
export const LEG_DUTY_LIMIT = 0.9;

type Region = NonNullable<PowerStage['region']>;

/** Which legs switch, by the ratio of output to input voltage of the loss-free stage. */
export function regionAt({ stage }: CompleteStage, inputVoltage: number): Region {
  if (stage.legs === 'simultaneous') return 'simultaneous';
  const ratio = stage.targets.outputVoltage / inputVoltage;
  if (ratio <= LEG_DUTY_LIMIT) return 'buck';
  return ratio >= 1 / LEG_DUTY_LIMIT ? 'boost' : 'transition';
}

/** Input voltages at which the transition region begins and ends, V. */
export function regionBorders(stage: Stage): { readonly boostBelow: number; readonly buckAbove: number } {
  const { outputVoltage } = stage.targets;
  return { boostBelow: outputVoltage * LEG_DUTY_LIMIT, buckAbove: outputVoltage / LEG_DUTY_LIMIT };
}

const COMMANDED: Drive = { until: 'command-end' };

/** How each leg is driven, and the ideal duty ratio of the regulated one. */
function timingOf(
  region: Region,
  ratio: number,
): { readonly input: Drive; readonly output: Drive; readonly idealDuty: number } {
  switch (region) {
    case 'buck':
      return { input: COMMANDED, output: { resting: 'off' }, idealDuty: ratio };
    case 'boost':
      return { input: { resting: 'on' }, output: COMMANDED, idealDuty: 1 - 1 / ratio };
    case 'transition':
      return { input: { until: LEG_DUTY_LIMIT }, output: COMMANDED, idealDuty: 1 - LEG_DUTY_LIMIT / ratio };
    case 'simultaneous':
      return { input: COMMANDED, output: COMMANDED, idealDuty: ratio / (1 + ratio) };
  }
}

/**
 * The four-switch buck-boost stage. In the buck region the input leg switches and the output high side stays on, in the
 * boost region the output leg switches and the input high side stays on; between them the input leg runs at its limit and
 * the output leg regulates. With `legs: simultaneous` both follow one duty ratio.
 *
 *     in ──highSide──┬── sw ──inductor── swOut ──┬──outputHighSide── out ──┬── load
 *                    │                           │                         │
 *                 lowSide                  outputLowSide           outputCapacitors
 *                    │                           │                         │
 *     0 ─────────────┴───────────────────────────┴─────────────────────────┴──
 */
export function fourSwitchBuckBoost(complete: CompleteStage, condition: OperatingCondition): PowerStage {
  const [inputLeg, outputLeg] = complete.legs;
  if (!inputLeg || !outputLeg) throw new Error('The stage has no switches.');
  const { deadTime, targets } = complete.stage;
  const region = regionAt(complete, condition.inputVoltage);
  const { input, output, idealDuty } = timingOf(region, targets.outputVoltage / condition.inputVoltage);
  return interleavedStage(complete, condition, {
    phase: (k) => {
      const sw = `sw${String(k + 1)}`;
      const swOut = `swOut${String(k + 1)}`;
      const first = switchCell(inputLeg, k, { main: ['in', sw], rectifier: [GROUND, sw] }, complete);
      const second = switchCell(outputLeg, k, { main: [swOut, GROUND], rectifier: [swOut, 'out'] }, complete);
      return {
        nodes: [sw, swOut],
        inductor: [sw, swOut],
        cells: [first, second],
        timing: [
          { cell: first, drive: input },
          { cell: second, drive: output },
        ],
      };
    },
    idealDuty,
    region,
    ...(region === 'transition' && {
      fixedLegDuty: LEG_DUTY_LIMIT,
      largestDuty: LEG_DUTY_LIMIT - 2 * deadTime * complete.switchingFrequency,
    }),
  });
}

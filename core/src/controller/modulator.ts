import type { Comparator } from '../orbit/comparator.js';
import { nominalInput } from '../stage/nominalInput.js';
import type { CompleteStage } from '../stage/completeStage.js';
import { currentControlNode } from './currentAmplifier.js';
import { DUTY_REGISTER } from './digitalController.js';
import { LOOP } from './loopNames.js';

/** What turns the switches on and off under a scheme. */
export interface Modulator {
  /** With its ramp at the nominal input. */
  readonly comparator: Comparator;
  /** What the comparators decide: when each phase turns off; or when it turns on, for a constant time, whenever that is. */
  readonly decides: 'turn-off' | 'turn-on';
  /** Input voltage at which the ramp is as stated, V, where it goes with the input; undefined where it does not. */
  readonly rampFollowsFrom: number | undefined;
}

/** The modulator of a stage, or the words for what is missing. */
export function modulatorOf({ stage, switchingFrequency }: CompleteStage): Modulator | string {
  const { scheme, rampAmplitude, currentSenseGain, slopeCompensation } = stage.control;
  const sign = stage.targets.outputVoltage < 0 ? -1 : 1;
  const all = (node: string): readonly string[] => Array.from({ length: stage.phases }, () => node);
  const nodes = all(LOOP.control);
  const turnsOff = (comparator: Omit<Comparator, 'sign'>, rampFollowsFrom?: number): Modulator => ({
    comparator: { ...comparator, sign },
    decides: 'turn-off',
    rampFollowsFrom,
  });
  const noRamp = 'the ramp amplitude is not given';
  switch (scheme) {
    case 'voltage-mode':
      return rampAmplitude === undefined ? noRamp : turnsOff({ ramp: rampAmplitude, sense: 0, nodes });
    case 'voltage-mode-feedforward':
      return rampAmplitude === undefined
        ? noRamp
        : turnsOff({ ramp: rampAmplitude, sense: 0, nodes }, nominalInput(stage));
    case 'peak-current-mode':
      return currentSenseGain === undefined
        ? 'the gain of the current sense is not given'
        : turnsOff({ ramp: slopeCompensation / switchingFrequency, sense: currentSenseGain, nodes });
    case 'average-current-mode':
      return rampAmplitude === undefined
        ? noRamp
        : turnsOff({ ramp: rampAmplitude, sense: 0, nodes: nodes.map((_, k) => currentControlNode(k)) });
    case 'digital':
      return turnsOff({ ramp: 1, sense: 0, nodes: all(DUTY_REGISTER) });
    case 'constant-on-time':
      return {
        comparator: { ramp: 0, sense: 0, nodes: all(LOOP.feedback), reference: LOOP.reference, sign },
        decides: 'turn-on',
        rampFollowsFrom: undefined,
      };
    case 'open-loop':
      return 'the stage runs open loop';
  }
}

/** The comparator at an input voltage, V: under feed-forward the ramp goes with it. */
export const comparatorAt = ({ comparator, rampFollowsFrom }: Modulator, inputVoltage: number): Comparator =>
  rampFollowsFrom === undefined
    ? comparator
    : { ...comparator, ramp: (comparator.ramp * inputVoltage) / rampFollowsFrom };

import { formatQuantity } from '../quantity/engineering.js';
import type { Stage } from '../stage/schema.js';
import { topologyOf } from '../topology/topologies.js';

/**
 * DC voltage up to which IEC 62368-1 takes an electrical energy source as class 1 (ES1), V. From memory: check against the
 * standard.
 *
 * @public
 */
export const ES1_LIMIT = 60;
/** What can hurt someone, or the stage, about it. @public */
export interface Caution {
  readonly code: string;
  /** For the place where the stage is worked on. */
  readonly sentence: string;
}

const volts = (value: number): string => formatQuantity(value, 'V', 3);

/** What can hurt someone, or the stage, about it, as far as it is known from what is written, with its parts or without. @public */
export function statedCautions(stage: Stage): readonly Caution[] {
  const { targets, parts, control, rectifier, operatingMode } = stage;
  const { reach, sign, words } = topologyOf(stage);
  const { max } = targets.inputVoltage;
  const output = Math.abs(targets.outputVoltage);
  const highest = Math.max(output, max);
  const kinds = [...(parts.outputCapacitors ?? []), ...(parts.inputCapacitors ?? [])].map(({ kind }) => kind);
  const cautions: readonly (readonly [boolean, string, string])[] = [
    [
      highest > ES1_LIMIT,
      'high-voltage',
      `This stage holds ${volts(highest)}, more than the ${String(ES1_LIMIT)} V DC of the lowest energy class of IEC 62368-1: guard it, let its capacitors discharge, and have licensed practice check it.`,
    ],
    [
      max > ES1_LIMIT && output <= ES1_LIMIT,
      'output-as-live-as-input',
      `Nothing isolates the output of ${volts(output)} from the input of ${volts(max)}: treat it as live as the input, and follow local codes where it can be touched.`,
    ],
    [
      reach !== 'below',
      'output-runs-away',
      'Without feedback or without load the output of this stage can run far above its target: fit a clamp before the first power-up.',
    ],
    [
      reach === 'below',
      'input-on-output',
      `A high-side switch that fails short puts the input of ${volts(max)} on the output of ${volts(output)}: where the load does not stand that, fit ${parts.fuse ? 'a clamp or crowbar that blows the fuse' : 'a fuse and a clamp or crowbar'}.`,
    ],
    [
      sign < 0,
      'switches-see-the-sum',
      `The switches of an ${words} stage block input and output together, ${volts(max + output)}, before any ringing.`,
    ],
    [
      reach === 'above',
      'short-not-disconnected',
      `A ${words} stage cannot disconnect its output: a short draws what the source gives through choke and rectifier, whatever the controller does. ${parts.fuse ? 'Its fuse alone ends that.' : 'Fit a fuse or a disconnect switch.'}`,
    ],
    [
      rectifier === 'synchronous' && operatingMode === 'forced-pwm',
      'pumps-into-source',
      'In forced PWM a falling reference or a charged output is pumped back into the input: a source that cannot sink, such as one behind a diode, lets the input rise. Watch the start into a charged output, or clamp the input.',
    ],
    [
      control.currentLimit === undefined,
      'no-current-limit',
      'No current limit is stated: a short or a saturating choke is limited by nothing but resistance.',
    ],
    [
      control.dutyMax >= 1 && reach !== 'below',
      'no-duty-limit',
      'The maximum duty ratio is 1: a main switch that stays closed shorts the input through the choke. Limit it below 1.',
    ],
    [
      parts.reversePolarity === undefined,
      'input-polarity',
      `Reversed at the input, the stage conducts through its body diodes or its rectifier: check the polarity of the ${volts(max)} supply first, with its current limit low.`,
    ],
    [
      kinds.includes('tantalum'),
      'tantalum-surge',
      'Tantalum capacitors can burn under surge: limit the inrush and derate their voltage.',
    ],
    [
      kinds.includes('electrolytic'),
      'electrolytic-polarity',
      'Electrolytic capacitors burst when reversed: check their polarity before the first power-up.',
    ],
  ];
  return cautions.flatMap(([holds, code, sentence]) => (holds ? [{ code, sentence }] : []));
}

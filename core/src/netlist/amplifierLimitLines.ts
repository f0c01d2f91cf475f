import type { Element } from '../circuit/elements.js';
import type { Clamp } from '../controller/controllerOf.js';
import { amplifierLimits } from '../transient/amplifierLimits.js';
import { AMPLIFIER_GAIN } from './elementLines.js';
import { number } from './spiceValue.js';

/** The limits of an amplifier as lines of SPICE, and the element whose own lines they take the place of. */
export interface LimitLines {
  readonly replaces: string | undefined;
  readonly lines: readonly string[];
}

/** Of what stands for an ideal limiter beside a node that a current drives, S: 50 nV for 50 µA. */
const LIMITER_CONDUCTANCE = 1e3;

/**
 * What holds an amplifier between its limits: an ideal one is a source that stops at them, its feedback node free meanwhile; a node that
 * a transconductance drives has what carries the current off beyond them, so that a network about it charges on. It is the circuit that
 * the simulator switches to.
 *
 * @param sign of the output: a negative one mirrors the limits.
 */
export function amplifierLimitLines(elements: readonly Element[], clamp: Clamp, sign: 1 | -1): LimitLines | undefined {
  const limits = amplifierLimits(elements, clamp, sign);
  if (!limits) return undefined;
  const { node, low, high, inputs } = limits;
  if (limits.letsGoBy === 'limiter-current')
    return {
      replaces: undefined,
      lines: [
        `blimit ${node} 0 I = ${number(LIMITER_CONDUCTANCE)}*(max(0, v(${node}) - ${number(high)}) + min(0, v(${node}) - ${number(low)}))`,
      ],
    };
  const [plus, minus] = inputs;
  return {
    replaces: limits.replaced,
    lines: [
      `blimit ${node} 0 V = max(${number(low)}, min(${number(high)}, ${number(AMPLIFIER_GAIN)}*(v(${plus})-v(${minus}))))`,
    ],
  };
}

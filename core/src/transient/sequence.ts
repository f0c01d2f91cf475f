import { formatQuantity } from '../quantity/engineering.js';
import type { Happening, Scenario } from './scenario.js';

/** A step of a sequence that a designer composes: what goes where, when. @public */
export interface SequenceStep {
  /** s from time 0 */
  readonly at: number;
  /** The load current, A; the input voltage, V; a resistance across the output, ohm; or that resistance taken away. */
  readonly what: 'load' | 'line' | 'short' | 'release';
  /** Where it goes to; of no meaning when a short is taken away. */
  readonly to: number;
  /** s that it takes; at once where nothing is said. */
  readonly within?: number | undefined;
}

/** Steps of a sequence, and clock periods it may last. @public */
export const SEQUENCE_LIMITS = { steps: 24, cycles: 200_000 } as const;

/**
 * A sequence as a scenario that begins with the settled stage.
 *
 * @param before input voltage, V, and load current, A, before the first step.
 * @param tail s for which the stage is watched after the last step.
 * @returns a sentence where a step cannot be.
 * @public
 */
export function sequenceScenario(
  steps: readonly SequenceStep[],
  before: { readonly inputVoltage: number; readonly outputCurrent: number },
  switchingFrequency: number,
  tail: number,
): Scenario | string {
  if (steps.length === 0) return 'the sequence has no steps: add one';
  if (steps.length > SEQUENCE_LIMITS.steps)
    return `the sequence has ${String(steps.length)} steps; at most ${String(SEQUENCE_LIMITS.steps)} are run`;
  const happenings: Happening[] = [];
  let { inputVoltage, outputCurrent } = before;
  let shorted = false;
  let end = 0;
  for (const { at, what, to, within } of [...steps].sort((a, b) => a.at - b.at)) {
    const when = `the step at ${formatQuantity(at, 's', 3)}`;
    if (!(at >= 0)) return `${when} comes before time 0`;
    if (within !== undefined && !(within >= 0)) return `${when} takes less than no time`;
    end = Math.max(end, at + (within ?? 0));
    switch (what) {
      case 'load': {
        const by = to - outputCurrent;
        const slewRate = within !== undefined && within > 0 && by !== 0 ? Math.abs(by) / within : undefined;
        if (by !== 0) happenings.push({ kind: 'load', at, by, slewRate });
        outputCurrent = to;
        break;
      }
      case 'line':
        if (!(to > 0))
          return `${when} takes the input to ${formatQuantity(to, 'V', 3)}; a stage needs an input above 0 V`;
        if (to !== inputVoltage) happenings.push({ kind: 'line', at, by: to - inputVoltage, within });
        inputVoltage = to;
        break;
      case 'short':
        if (!(to >= 0)) return `${when} is a short of ${formatQuantity(to, 'ohm', 3)}; a resistance is 0 Ω or more`;
        happenings.push({ kind: 'short', at, resistance: to });
        shorted = true;
        break;
      case 'release':
        if (!shorted) return `${when} takes away a short that there is not`;
        happenings.push({ kind: 'short', at, resistance: undefined });
        shorted = false;
        break;
    }
  }
  const cycles = Math.ceil((end + tail) * switchingFrequency);
  if (cycles > SEQUENCE_LIMITS.cycles)
    return `the sequence lasts ${String(cycles)} clock periods; at most ${String(SEQUENCE_LIMITS.cycles)} are run: ${formatQuantity(SEQUENCE_LIMITS.cycles / switchingFrequency, 's', 3)} here`;
  return { start: 'settled', happenings, cycles: Math.max(1, cycles) };
}

/** How often a load that alternates goes up. */
const REPEATS = 8;

/**
 * A load that alternates between two currents, half of the time at each.
 *
 * @param frequency Hz, at which it goes up.
 * @public
 */
export function alternatingLoad(
  { from, to, slewRate }: { readonly from: number; readonly to: number; readonly slewRate?: number | undefined },
  frequency: number,
  switchingFrequency: number,
): Scenario {
  const half = 1 / (2 * frequency);
  const happenings = Array.from({ length: 2 * REPEATS }, (_, k): Happening => ({
    kind: 'load',
    at: k * half,
    by: k % 2 === 0 ? to - from : from - to,
    slewRate,
  }));
  return { start: 'settled', happenings, cycles: Math.ceil(2 * REPEATS * half * switchingFrequency) };
}

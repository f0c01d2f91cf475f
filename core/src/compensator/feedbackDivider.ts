import type { Stage } from '../stage/schema.js';

/** Lower divider resistor where the stage gives none, ohm: its impedance hardly matters beside the load. */
const LOWER = 10e3;
/** Least upper resistor, ohm, where reference and output are equal. */
const LEAST = 1e-3;

/** The divider from the output to the feedback node where no amplifier's network hangs on it. */
export function feedbackDivider(
  { reference, compensator }: Stage['control'],
  outputVoltage: number,
): { readonly rUpper: number; readonly rLower: number } {
  const output = Math.abs(outputVoltage);
  const { rUpper, rLower = LOWER } = compensator?.components ?? {};
  return { rUpper: Math.max(rUpper ?? rLower * (output / (reference ?? output) - 1), LEAST), rLower };
}

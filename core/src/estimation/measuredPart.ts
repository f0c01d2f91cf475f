import type { PartOf } from '../library/libraryPart.js';
import type { FittedRamp } from './currentRamp.js';
import type { FittedRing } from './ringDown.js';
import { sixDigits } from '../quantity/sixDigits.js';

/**
 * A choke as it was measured, as a part of the library: its inductance is that of the ramp where there is one, else of the ring; its
 * tolerance the interval of the fit.
 *
 * @param resistance Ω of the winding, with four wires.
 * @public
 */
export function measuredPart(
  name: string,
  resistance: number,
  { ramp, ring }: { readonly ramp?: FittedRamp | undefined; readonly ring?: FittedRing | undefined },
): PartOf<'inductor'> | undefined {
  const figure = ramp?.inductance ?? ring?.inductance;
  if (!figure) return undefined;
  return {
    name,
    inductance: sixDigits(figure.value),
    resistance: sixDigits(resistance),
    tolerance: sixDigits((figure.high - figure.low) / 2 / figure.value),
    ...(ramp && { inductanceCurve: ramp.curve.map(([i, l]): [number, number] => [sixDigits(i), sixDigits(l)]) }),
    ...(ramp?.saturation && { saturationCurrent: sixDigits(ramp.saturation.value), saturationDrop: 0.3 }),
    ...(ring && { alternatingResistance: sixDigits(Math.max(resistance, ring.resistance.value)) }),
    notes: `Measured: ${[
      ramp && 'a ramp of its current',
      ring &&
        `a ring at ${(ring.frequency / 1e3).toPrecision(3)} kHz, whose loss stands as its alternating resistance, core included`,
    ]
      .filter((one) => one !== undefined)
      .join(', ')}.`,
  };
}

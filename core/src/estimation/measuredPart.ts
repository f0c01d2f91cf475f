import type { PartOf } from '../library/libraryPart.js';
import type { FittedRamp } from './currentRamp.js';
import type { FittedRing } from './ringDown.js';

const digits = (value: number): number => Number(value.toPrecision(6));

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
    inductance: digits(figure.value),
    resistance: digits(resistance),
    tolerance: digits((figure.high - figure.low) / 2 / figure.value),
    ...(ramp && { inductanceCurve: ramp.curve.map(([i, l]): [number, number] => [digits(i), digits(l)]) }),
    ...(ramp?.saturation && { saturationCurrent: digits(ramp.saturation.value), saturationDrop: 0.3 }),
    ...(ring && { alternatingResistance: digits(Math.max(resistance, ring.resistance.value)) }),
    notes: `Measured: ${[
      ramp && 'a ramp of its current',
      ring &&
        `a ring at ${(ring.frequency / 1e3).toPrecision(3)} kHz, whose loss stands as its alternating resistance, core included`,
    ]
      .filter((one) => one !== undefined)
      .join(', ')}.`,
  };
}

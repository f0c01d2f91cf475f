import type { Inductor } from '../stage/partsSchema.js';

/** Temperature coefficient of copper about 20 °C, 1/K: IEC 60028. */
export const COPPER = 0.00393;
/** Temperature at which a winding resistance is stated, °C. Common practice in data sheets. */
export const STATED_AT = 25;

/** A winding resistance at a temperature, °C, from the stated one. */
export const copperAt = (resistance: number, temperature: number): number =>
  resistance * (1 + COPPER * (temperature - STATED_AT));

/** What the coefficient is stated for: Hz, and V s of flux linkage peak to peak. */
const AT_FREQUENCY = 100e3;
const AT_SWING = 1e-6;

/**
 * Core loss from volt-seconds and frequency, W: P = k (f/100 kHz)^α (Δλ/1 µWb)^β, the power law of C. P. Steinmetz (On the
 * Law of Hysteresis, 1892) in the quantities of the winding. Undefined where the part states no coefficient.
 *
 * @param swing of the flux linkage over a period, V s peak to peak.
 */
export function coreLossOf(part: Inductor, frequency: number, swing: number): number | undefined {
  const { coreLossCoefficient, coreLossFrequencyExponent, coreLossFluxExponent } = part;
  if (coreLossCoefficient === undefined) return undefined;
  return (
    coreLossCoefficient *
    (frequency / AT_FREQUENCY) ** (coreLossFrequencyExponent ?? 1) *
    (swing / AT_SWING) ** (coreLossFluxExponent ?? 2)
  );
}

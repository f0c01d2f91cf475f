import { COPPER } from '../parts/inductorLoss.js';

/** Magnetic constant, H/m. */
export const MU_0 = 4e-7 * Math.PI;
/** Resistivity of annealed copper at 20 °C, Ω m: IEC 60028, 1/58 Ω mm²/m. */
const RESISTIVITY = 1e-6 / 58;
/** kg/m³: IEC 60028. */
export const COPPER_DENSITY = 8890;

/** Resistivity of copper at a temperature, °C, in Ω m: ρ = ρ₂₀ (1 + α (T − 20 °C)), IEC 60028. */
export const resistivityAt = (temperature: number): number => RESISTIVITY * (1 + COPPER * (temperature - 20));

/**
 * Skin depth of copper, m: δ = √(ρ/(π μ₀ f)).
 *
 * R. W. Erickson, D. Maksimović, Fundamentals of Power Electronics, 2nd ed., section 13.4.
 *
 * @param frequency Hz
 * @param temperature °C
 * @public
 */
export const skinDepth = (frequency: number, temperature: number): number =>
  Math.sqrt(resistivityAt(temperature) / (Math.PI * MU_0 * frequency));

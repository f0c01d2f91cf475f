import { MU_0 } from './copper.js';

/** Two windings on the outer legs of one core, gaps in the outer legs and in the middle one. */
export interface PairGeometry {
  readonly turns: number;
  /** m², of an outer leg and of the middle one. */
  readonly outerArea: number;
  readonly middleArea: number;
  /** m, of core in an outer and in the middle way, and relative permeability. */
  readonly outerLength: number;
  readonly middleLength: number;
  readonly permeability: number;
  /** m, of the gap in each outer leg and in the middle one, what bulges out taken off. */
  readonly outerGap: number;
  readonly middleGap: number;
}

/** What such a pair does. @public */
export interface PairOnCore {
  /** H */
  readonly inductance: number;
  readonly leakage: number;
  readonly coefficient: number;
  /** T, of an outer leg and of the middle one. */
  readonly outerDensity: number;
  readonly middleDensity: number;
}

/**
 * Two windings on the outer legs, each driving its flux the same way along its own leg, so that both add in the middle leg and cancel in the
 * ring of the outer ones (inverse coupling). With the reluctances R₀ of an outer way and R_m of the middle one:
 *
 *     Φ₁ = N ((R₀ + R_m) i₁ − R_m i₂)/(R₀ (R₀ + 2 R_m)),  L = N² (R₀ + R_m)/(R₀ (R₀ + 2 R_m)),  k = R_m/(R₀ + R_m)
 *
 * by Ampère's law and continuity of flux (derived here). Equal steady currents leave N I/(R₀ + 2 R_m) in an outer leg; what they differ by
 * drives flux round the outer legs, which nothing but their own gaps limits.
 *
 * @param currents A, of both windings.
 * @public
 */
export function pairOnCore(of: PairGeometry, currents: readonly [number, number]): PairOnCore {
  const reluctance = (length: number, gap: number, area: number): number =>
    (length / of.permeability + gap) / (MU_0 * area);
  const outer = reluctance(of.outerLength, of.outerGap, of.outerArea);
  const middle = reluctance(of.middleLength, of.middleGap, of.middleArea);
  const all = outer * (outer + 2 * middle);
  const flux = (own: number, other: number): number => (of.turns * ((outer + middle) * own - middle * other)) / all;
  const [first, second] = [flux(currents[0], currents[1]), flux(currents[1], currents[0])];
  const inductance = (of.turns ** 2 * (outer + middle)) / all;
  const coefficient = middle / (outer + middle);
  return {
    inductance,
    leakage: (1 - coefficient) * inductance,
    coefficient,
    outerDensity: Math.max(Math.abs(first), Math.abs(second)) / of.outerArea,
    middleDensity: Math.abs(first + second) / of.middleArea,
  };
}

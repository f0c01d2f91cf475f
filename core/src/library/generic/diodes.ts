import type { PartOf } from '../libraryPart.js';
import { gradeOf, rounded } from './grade.js';

interface DiodeKind {
  readonly mark: string;
  readonly rated: number;
  /** V at the rated current, 25 °C, and how much of it is resistive. */
  readonly forward: number;
  readonly slope: number;
  /** A per ampere of rating, at the rated voltage and 25 °C, and the rise that doubles it, K. */
  readonly leakage: number;
  readonly doubling: number;
  /** F per ampere, at half the rating. */
  readonly capacitance: number;
  /** C per ampere, at the rated current and 100 A/µs. */
  readonly recovery: number;
  readonly price: readonly [base: number, perAmpere: number];
}

const kind = (
  mark: string,
  rated: number,
  [forward, slope]: readonly [number, number],
  [leakage, doubling]: readonly [microamperes: number, kelvin: number],
  [picofarads, nanocoulombs]: readonly [number, number],
  price: readonly [number, number],
): DiodeKind => ({
  mark,
  rated,
  forward,
  slope,
  leakage: leakage * 1e-6,
  doubling,
  capacitance: picofarads * 1e-12,
  recovery: nanocoulombs * 1e-9,
  price,
});

/**
 * Schottky, fast and silicon-carbide rectifiers by rating: drop, leakage, capacitance and recovery for an ampere of rating. From memory of
 * usual data sheets. A junction diode always has a recovery; what a Schottky has in its place is a capacitance.
 */
const KINDS: readonly DiodeKind[] = [
  kind('DS', 20, [0.38, 0.1], [70, 11], [55, 0], [0.03, 0.03]),
  kind('DS', 30, [0.43, 0.1], [30, 11], [50, 0], [0.03, 0.03]),
  kind('DS', 40, [0.49, 0.1], [10, 11], [38, 0], [0.03, 0.03]),
  kind('DS', 60, [0.6, 0.1], [7, 11], [27, 0], [0.03, 0.03]),
  kind('DS', 100, [0.75, 0.18], [3, 11], [13, 0], [0.03, 0.03]),
  kind('DS', 150, [0.82, 0.18], [2, 11], [10, 1], [0.03, 0.04]),
  kind('DS', 200, [0.86, 0.18], [1, 11], [8, 2], [0.03, 0.05]),
  kind('DJ', 200, [0.93, 0.25], [0.2, 15], [6, 9], [0.05, 0.04]),
  kind('DJ', 400, [1.1, 0.25], [0.3, 15], [4, 18], [0.05, 0.04]),
  kind('DJ', 600, [1.35, 0.25], [0.4, 15], [2.5, 32], [0.05, 0.04]),
  kind('DH', 600, [1.9, 0.6], [0.6, 15], [2.5, 11], [0.05, 0.06]),
  kind('DC', 650, [1.4, 0.45], [0.6, 30], [5, 0], [0.4, 0.12]),
];

/** Packages by the current they carry: board outline, m, and thermal resistances, K/W. */
const PACKAGES: readonly (readonly [
  current: number,
  outline: readonly [length: number, width: number, height: number],
  toCase: number,
  toAmbient: number,
])[] = [
  [1, [3.7e-3, 1.6e-3, 1e-3], 60, 150],
  [2, [5.2e-3, 2.6e-3, 2.3e-3], 24, 80],
  [3, [5.3e-3, 3.6e-3, 2.3e-3], 17, 62],
  [5, [7.9e-3, 5.9e-3, 2.3e-3], 11, 50],
  [10, [6.5e-3, 5.4e-3, 1.1e-3], 3, 50],
  [20, [10e-3, 9e-3, 4.4e-3], 1.3, 40],
];

/** Generic diodes, 20 to 650 V and 1 to 20 A. */
export function diodes(): readonly PartOf<'diode'>[] {
  return KINDS.flatMap(({ mark, rated, forward, slope, leakage, doubling, capacitance, recovery, price }) =>
    PACKAGES.map(([current, [length, width, height], junctionToCase, junctionToAmbient]): PartOf<'diode'> => {
      const name = `${mark}${String(rated)}-${String(current)}`;
      const { scatter, price: premium } = gradeOf(name);
      // At one rating 60 mV less of drop is ten times the leakage [physics]: what one has less, the other has more.
      const lower = 0.02 * Math.log(scatter('drop')) * 12;
      return {
        name,
        forwardVoltage: rounded(forward - slope + lower),
        dynamicResistance: rounded(slope / current),
        reverseVoltageMax: rated,
        currentMax: current,
        junctionCapacitance: rounded(capacitance * current * scatter('capacitance')),
        recoveryCharge: rounded(recovery * current * scatter('recovery')),
        leakageCurrent: rounded(leakage * current * 10 ** (-lower / 0.06)),
        leakageDoubling: doubling,
        junctionToCase,
        junctionToAmbient,
        length,
        width,
        height,
        price: rounded((price[0] + price[1] * current) * premium),
      };
    }),
  );
}

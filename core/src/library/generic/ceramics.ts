import { PREFERRED_SERIES } from '../../quantity/preferredValues.js';
import type { PartOf } from '../libraryPart.js';
import { gradeOf, rounded } from './grade.js';
import { seriesValues, valueCode } from './values.js';

/** A case of multilayer ceramics: body, series inductance, heat path on a board and price, with the most that is pressed into it. */
interface CeramicCase {
  readonly name: string;
  /** m; the height from the volume of the body. */
  readonly length: number;
  readonly width: number;
  readonly volume: number;
  readonly esl: number;
  /** K/W */
  readonly toAmbient: number;
  readonly price: number;
  /** Largest usual capacitance at each rating, µF; none where it is not made. */
  readonly most: readonly (number | undefined)[];
}

const RATINGS = [4, 6.3, 10, 16, 25, 35, 50, 100, 250, 630];

const made = (
  name: string,
  [length, width, volume]: readonly [number, number, number],
  [nanohenries, toAmbient, price]: readonly [number, number, number],
  most: readonly (number | undefined)[],
): CeramicCase => ({
  name,
  length: length * 1e-3,
  width: width * 1e-3,
  volume: volume * 1e-9,
  esl: nanohenries * 1e-9,
  toAmbient,
  price,
  most,
});

/** From memory of usual parts. */
const CASES: readonly CeramicCase[] = [
  made('0402', [1, 0.5, 0.25], [0.3, 450, 0.012], [22, 10, 4.7, 2.2, 1, 1, 0.47, 0.022, 0.001]),
  made('0603', [1.6, 0.8, 1], [0.4, 300, 0.012], [47, 22, 22, 10, 10, 4.7, 2.2, 0.1, 0.01, 0.001]),
  made('0805', [2, 1.25, 3.1], [0.5, 220, 0.025], [100, 47, 22, 22, 22, 10, 4.7, 1, 0.047, 0.01]),
  made('1206', [3.2, 1.6, 8.2], [0.75, 160, 0.06], [100, 100, 47, 47, 22, 22, 10, 2.2, 0.1, 0.033]),
  made('1210', [3.2, 2.5, 20], [0.7, 120, 0.15], [220, 220, 100, 47, 47, 22, 10, 4.7, 0.22, 0.068]),
  made('1812', [4.5, 3.2, 36], [1, 90, 0.3], [undefined, undefined, undefined, undefined, 22, 22, 10, 4.7, 0.47, 0.15]),
  made('2220', [5.7, 5, 71], [1.3, 60, 0.6], [undefined, undefined, undefined, undefined, 47, 22, 22, 15, 1, 0.33]),
]; // prettier-ignore

/** From the largest of a case downward, in the E3 series. */
const DOWN_TO = 1 / 25;

/**
 * Energy density at which class 2 material has lost half of its capacitance, J/m³: r = 1/(1 + C₀V²/(volume x₀)), as it is the field in
 * its layers that takes it. Thin layers give way sooner. From memory of usual bias curves.
 */
const fieldOf = (rated: number): number => (rated <= 10 ? 1.5e5 : rated <= 100 ? 3e5 : 5e5);
const BIASED_AT = [0, 0.15, 0.3, 0.5, 0.75, 1];
/** Loss tangent, resistance of the terminals, Ω, and the frequency at which the ESR is stated, Hz. From memory. */
const LOSS_TANGENT = 0.025;
const TERMINALS = 2e-3;
const STATED_AT = 100e3;
/** Rise at the rated ripple current, K. Common practice in data sheets. */
const RATED_RISE = 20;

/** Generic class 2 ceramics by case, 4 to 630 V. */
export function ceramics(): readonly PartOf<'capacitor'>[] {
  return CASES.flatMap(({ name: case_, length, width, volume, esl, toAmbient, price, most }) =>
    RATINGS.flatMap((ratedVoltage, r) => {
      const largest = (most[r] ?? 0) * 1e-6;
      if (largest === 0) return [];
      return seriesValues(largest * DOWN_TO, largest, PREFERRED_SERIES.E3).map((capacitance): PartOf<'capacitor'> => {
        const name = `CK${String(ratedVoltage).replace('.', 'V')}-${valueCode(capacitance)}-${case_}`;
        const { scatter, price: premium } = gradeOf(name);
        const esr = rounded(LOSS_TANGENT / (2 * Math.PI * STATED_AT * capacitance) + TERMINALS);
        const filled = (capacitance * ratedVoltage ** 2) / (volume * fieldOf(ratedVoltage) * scatter('field'));
        const large = capacitance >= 22e-6 * 0.999;
        return {
          name,
          kind: 'ceramic',
          capacitance,
          esr,
          esl,
          ratedVoltage,
          rippleCurrentRating: rounded(Math.sqrt(RATED_RISE / (toAmbient * esr))),
          tolerance: large ? 0.2 : 0.1,
          temperatureDrop: 0.15,
          agingDrop: 0.06,
          biasCurve: BIASED_AT.map((share): [number, number] => [
            Number((share * ratedVoltage).toPrecision(4)),
            rounded(1 / (1 + filled * share ** 2)),
          ]),
          length,
          width,
          height: rounded(volume / (length * width)),
          price: rounded(price * (0.4 + 0.6 * (capacitance / largest)) * premium),
        };
      });
    }),
  );
}

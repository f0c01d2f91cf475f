import type { PartOf } from '../libraryPart.js';
import { gradeOf, rounded } from './grade.js';
import { valueCode } from './values.js';

/** What is wound or pressed into one body: by rating, its capacitance, µF. */
interface CanSize {
  /** m; the board it takes. */
  readonly outline: readonly [length: number, width: number, height: number];
  readonly held: Readonly<Record<number, readonly number[]>>;
  /** Ω of the largest, and A of ripple. */
  readonly esr: number;
  readonly ripple: number;
}

interface CanFamily {
  readonly kind: PartOf<'capacitor'>['kind'];
  readonly mark: string;
  readonly esl: number;
  readonly tolerance: number;
  readonly life?: readonly [hours: number, degrees: number];
  /** Price of a part, and of a cubic centimetre. */
  readonly price: readonly [base: number, volume: number];
  readonly sizes: readonly CanSize[];
}

const size = (
  [length, width, height]: readonly [number, number, number],
  [milliohms, ripple]: readonly [number, number],
  held: CanSize['held'],
): CanSize => ({ outline: [length * 1e-3, width * 1e-3, height * 1e-3], esr: milliohms * 1e-3, ripple, held });

/** From memory of usual data sheets, in the middle of their spans. */
const FAMILIES: readonly CanFamily[] = [
  {
    kind: 'polymer',
    mark: 'CP',
    esl: 1.5e-9,
    tolerance: 0.2,
    life: [2000, 105],
    price: [0.5, 8],
    sizes: [
      size([7.3, 4.3, 1.9], [7, 4.5], { 2.5: [220, 330, 470], 4: [150, 220, 330] }),
      size([7.3, 4.3, 1.9], [12, 3.5], { 6.3: [100, 150, 220, 330] }),
      size([7.3, 4.3, 1.9], [28, 2.8], { 10: [47, 68, 100], 16: [33, 47, 100] }),
      size([7.3, 4.3, 1.9], [40, 2.5], { 25: [15, 22, 33] }),
    ],
  },
  {
    kind: 'polymer',
    mark: 'CQ',
    esl: 4e-9,
    tolerance: 0.2,
    life: [3000, 105],
    price: [0.2, 0.35],
    sizes: [
      size([6.6, 6.6, 6], [27, 2.5], { 16: [100], 25: [47], 35: [27], 63: [8.2] }),
      size([8.3, 8.3, 10], [20, 4], { 16: [270], 25: [150], 35: [82], 63: [22] }),
      size([10.3, 10.3, 11], [16, 5], { 16: [470], 25: [270], 35: [150], 63: [47] }),
      size([10.3, 10.3, 16], [14, 5.5], { 16: [820], 25: [470], 35: [270], 63: [68] }),
    ],
  },
  {
    kind: 'polymer',
    mark: 'CH',
    esl: 5e-9,
    tolerance: 0.2,
    life: [4000, 125],
    price: [0.35, 0.5],
    sizes: [
      size([6.6, 6.6, 6], [80, 1.2], { 25: [56], 35: [47], 50: [22], 63: [10] }),
      size([8.3, 8.3, 10], [33, 1.8], { 25: [220], 35: [150], 50: [68], 63: [33] }),
      size([10.3, 10.3, 11], [25, 2.5], { 25: [330], 35: [270], 50: [100], 63: [56] }),
      size([10.3, 10.3, 16], [17, 3.5], { 25: [560], 35: [470], 50: [150], 63: [100] }),
    ],
  },
  {
    kind: 'electrolytic',
    mark: 'CE',
    esl: 12e-9,
    tolerance: 0.2,
    life: [5000, 105],
    price: [0.06, 0.12],
    sizes: [
      size([6.6, 6.6, 6], [300, 0.27], { 25: [68], 35: [47], 50: [22] }),
      size([8.3, 8.3, 10], [130, 0.7], { 6.3: [680], 10: [470], 16: [470], 25: [220, 330], 35: [220], 50: [100], 100: [22] }),
      size([10.3, 10.3, 12], [90, 1], { 25: [560], 35: [330], 50: [220], 100: [33] }),
      size([10.3, 10.3, 16], [60, 1.4], { 16: [1000], 25: [820], 35: [560], 50: [330], 100: [68] }),
      size([12.5, 12.5, 22], [35, 2.5], { 25: [1500], 35: [1000], 50: [680], 100: [220] }),
      size([16, 16, 25], [25, 3.3], { 25: [3300], 35: [2200], 50: [1500], 100: [470] }),
    ],
  },
  {
    kind: 'electrolytic',
    mark: 'CV',
    esl: 18e-9,
    tolerance: 0.2,
    life: [8000, 105],
    price: [0.3, 0.12],
    sizes: [
      size([12.5, 12.5, 25], [1500, 0.5], { 250: [68], 450: [27] }),
      size([18, 18, 35], [500, 1.4], { 250: [240], 450: [100] }),
      size([25, 25, 45], [300, 2.2], { 250: [600], 450: [220] }),
      size([30, 30, 50], [150, 3.4], { 250: [1100], 450: [430] }),
    ],
  },
  {
    kind: 'film',
    mark: 'CF',
    esl: 12e-9,
    tolerance: 0.1,
    price: [0.1, 0.12],
    sizes: [
      size([13, 6, 12], [25, 1.5], { 63: [2.2, 4.7], 250: [0.47, 1] }),
      size([18, 9, 15], [13, 3], { 63: [10], 250: [2.2] }),
      size([26, 11, 20], [10, 5], { 450: [1, 2.2], 630: [1] }),
      size([32, 20, 30], [7, 8], { 450: [4.7, 10], 630: [4.7] }),
    ],
  },
  {
    kind: 'tantalum',
    mark: 'CT',
    esl: 2e-9,
    tolerance: 0.2,
    price: [0.4, 12],
    sizes: [
      size([7.3, 4.3, 2.9], [60, 1.6], { 6.3: [220], 10: [100, 150], 16: [47, 100], 25: [22, 47], 35: [10, 22] }),
    ],
  },
]; // prettier-ignore

/** Generic polymer, hybrid, electrolytic, film and tantalum capacitors. */
export function cans(): readonly PartOf<'capacitor'>[] {
  return FAMILIES.flatMap(({ kind, mark, esl, tolerance, life, price, sizes }) =>
    sizes.flatMap(({ outline: [length, width, height], held, esr, ripple }) =>
      Object.entries(held).flatMap(([rated, values]) =>
        values.map((microfarads): PartOf<'capacitor'> => {
          const name = `${mark}${rated.replace('.', 'V')}-${valueCode(microfarads * 1e-6)}`;
          const { scatter, price: premium } = gradeOf(name);
          // Of one body the fuller has more plate: less resistance, more ripple current, by the root.
          const fill = Math.sqrt(microfarads / Math.max(...values));
          // Thick foil and thin electrolyte of a high rating: more resistance for less capacitance.
          const wet = kind === 'electrolytic' && Number(rated) === 100 ? 2.2 : 1;
          return {
            name,
            kind,
            capacitance: Number((microfarads * 1e-6).toPrecision(3)),
            esr: rounded(((esr * wet) / fill) * scatter('esr')),
            esl,
            ratedVoltage: Number(rated),
            rippleCurrentRating: rounded(ripple * fill * scatter('ripple')),
            tolerance,
            length,
            width,
            height,
            price: rounded((price[0] + price[1] * length * width * height * 1e6) * premium),
            ...(life && { ratedLife: life[0] * 3600, ratedTemperature: life[1] }),
          };
        }),
      ),
    ),
  );
}

import { nearestPreferred, PREFERRED_SERIES } from '../quantity/preferredValues.js';
import type { PartKind, PartOf } from './libraryPart.js';
import { typicalMosfet, typicalPrice } from './typicalMosfet.js';

/**
 * Generic invented parts, consistent in themselves: every figure follows from size, value and rating by the laws that make
 * real parts alike. No maker's part is meant by any of them.
 */

const round = (value: number): number => Number(value.toPrecision(3));
const decades = (from: number, to: number, series: readonly number[]): readonly number[] => {
  const values: number[] = [];
  for (let decade = Math.floor(Math.log10(from)) - 1; decade <= Math.ceil(Math.log10(to)); decade += 1)
    for (const digits of series) {
      const value = Number((digits * 10 ** (decade - 1)).toPrecision(3));
      if (value >= from * 0.999 && value <= to * 1.001) values.push(value);
    }
  return [...new Set(values)].sort((a, b) => a - b);
};
/** `6R8`, `150n`, `22u`: a value as a part name writes it. */
function code(value: number): string {
  const [prefix, scale] = (
    [
      ['p', 1e-12],
      ['n', 1e-9],
      ['u', 1e-6],
      ['m', 1e-3],
      ['R', 1],
    ] as const
  ).findLast(([, at]) => value >= at * 0.999) ?? ['p', 1e-12];
  const digits = String(Number((value / scale).toPrecision(3)));
  return digits.includes('.') ? digits.replace('.', prefix) : `${digits}${prefix}`;
}

/** Shielded chokes of pressed powder: energy, copper and cooling follow the size. Edge length and height, m. */
const CHOKE_SIZES = [
  [4e-3, 2e-3],
  [5e-3, 3e-3],
  [6e-3, 3e-3],
  [7e-3, 4e-3],
  [10e-3, 4e-3],
  [13e-3, 5e-3],
  [17e-3, 7e-3],
] as const;
/** Energy a choke stores at its saturation current, J/m³, and heat it sheds for 40 K, W/m² of its surface. */
const CHOKE_ENERGY = 2200;
const CHOKE_HEAT = 2000;
/** Winding resistance, ohm, of 6.8 µH in 0.4 cm³: it goes with the inductance and, turns against window, volume^(−2/3). */
const CHOKE_COPPER = 9e-3;

/** Loss density of pressed powder, W/m³ at 100 kHz and an amplitude of 0.1 T, with its exponents, and its flux density at the
 * saturation current, T. From memory of usual powders. */
const CORE_DENSITY = 4e5;
const CORE_FREQUENCY_EXPONENT = 1.4;
const CORE_FLUX_EXPONENT = 2.2;
const CHOKE_FLUX = 0.8;

/** Core loss of a choke at 100 kHz and a swing of 1 µWb of its flux linkage, W. */
function chokeCoreLoss(inductance: number, saturationCurrent: number, volume: number): number {
  const amplitude = (CHOKE_FLUX * 1e-6) / 2 / (inductance * saturationCurrent);
  return CORE_DENSITY * volume * (amplitude / 0.1) ** CORE_FLUX_EXPONENT;
}

function inductors(): readonly PartOf<'inductor'>[] {
  return CHOKE_SIZES.flatMap(([edge, height], s) => {
    const volume = edge * edge * height;
    const surface = 2 * edge * edge + 4 * edge * height;
    const lowest = [0.1e-6, 0.15e-6, 0.22e-6, 0.22e-6, 0.33e-6, 0.47e-6, 1e-6][s] ?? 1e-6;
    return decades(lowest, lowest * 330, PREFERRED_SERIES.E6).map((inductance): PartOf<'inductor'> => {
      const saturationCurrent = round(Math.sqrt((2 * CHOKE_ENERGY * volume) / inductance));
      const resistance = round(CHOKE_COPPER * (inductance / 6.8e-6) * (4e-7 / volume) ** (2 / 3));
      return {
        name: `LX${String(Math.round(edge * 1e3)).padStart(2, '0')}-${code(inductance)}`,
        inductance,
        resistance,
        tolerance: 0.2,
        saturationCurrent,
        saturationDrop: 0.2,
        heatingCurrent: round(Math.sqrt((CHOKE_HEAT * surface) / resistance)),
        coreLossCoefficient: Number(chokeCoreLoss(inductance, saturationCurrent, volume).toPrecision(3)),
        coreLossFrequencyExponent: CORE_FREQUENCY_EXPONENT,
        coreLossFluxExponent: CORE_FLUX_EXPONENT,
        length: edge,
        width: edge,
        height,
        price: round(0.08 + volume * 1.1e6),
      };
    });
  });
}

/** Class 2 ceramics: what they keep at half and full rated voltage, by how much is pressed into a case. */
function ceramics(): readonly PartOf<'capacitor'>[] {
  const most: readonly (readonly [rated: number, largest: number])[] = [
    [6.3, 100e-6],
    [10, 47e-6],
    [16, 22e-6],
    [25, 22e-6],
    [35, 10e-6],
    [50, 10e-6],
    [100, 4.7e-6],
  ];
  return most.flatMap(([rated, largest]) =>
    decades(largest / 215, largest, PREFERRED_SERIES.E3).map((capacitance): PartOf<'capacitor'> => {
      const fill = Math.sqrt(capacitance / largest);
      const half = round(1 - 0.45 * fill);
      const full = round(1 - 0.8 * fill);
      return {
        name: `CK${String(rated).replace('.', 'V')}-${code(capacitance)}`,
        kind: 'ceramic',
        capacitance,
        esr: round(2e-3 + 2e-9 / capacitance),
        esl: round(0.4e-9 + 0.4e-9 * fill),
        ratedVoltage: rated,
        rippleCurrentRating: round(1.5 + 2.5 * fill),
        tolerance: 0.1,
        temperatureDrop: 0.15,
        agingDrop: 0.05,
        biasCurve: [
          [0, 1],
          [rated / 2, half],
          [rated, full],
        ],
        price: round(0.02 + 0.25 * fill ** 2),
      };
    }),
  );
}

interface CanFamily {
  readonly kind: PartOf<'capacitor'>['kind'];
  readonly mark: string;
  readonly ratings: readonly (readonly [rated: number, values: readonly number[]])[];
  /** ESR of 100 µF at 10 V, ohm; it goes with the root of capacitance and voltage. */
  readonly esr: number;
  readonly esl: number;
  /** Ripple rating of 100 µF at 10 V, A RMS. */
  readonly ripple: number;
  readonly life?: readonly [hours: number, degrees: number];
}

const CANS: readonly CanFamily[] = [
  {
    kind: 'polymer',
    mark: 'CP',
    ratings: [
      [2.5, [220e-6, 330e-6, 470e-6, 680e-6]],
      [4, [150e-6, 220e-6, 330e-6, 470e-6]],
      [6.3, [100e-6, 150e-6, 220e-6, 330e-6]],
      [10, [68e-6, 100e-6, 150e-6]],
      [16, [47e-6, 68e-6, 100e-6]],
      [25, [22e-6, 33e-6, 56e-6]],
      [35, [15e-6, 22e-6, 33e-6]],
    ],
    esr: 14e-3,
    esl: 1.5e-9,
    ripple: 2.8,
    life: [2000, 105],
  },
  {
    kind: 'electrolytic',
    mark: 'CE',
    ratings: [
      [6.3, [470e-6, 1000e-6]],
      [10, [330e-6, 680e-6]],
      [16, [220e-6, 470e-6, 1000e-6]],
      [25, [100e-6, 220e-6, 470e-6, 1000e-6]],
      [35, [100e-6, 220e-6, 470e-6]],
      [50, [47e-6, 100e-6, 220e-6, 470e-6]],
      [100, [22e-6, 47e-6, 100e-6]],
    ],
    esr: 0.2,
    esl: 12e-9,
    ripple: 0.45,
    life: [5000, 105],
  },
  {
    kind: 'film',
    mark: 'CF',
    ratings: [
      [63, [1e-6, 2.2e-6, 4.7e-6, 10e-6]],
      [100, [0.47e-6, 1e-6, 2.2e-6, 4.7e-6]],
      [250, [0.22e-6, 0.47e-6, 1e-6]],
    ],
    esr: 0.4e-3,
    esl: 10e-9,
    ripple: 30,
  },
  {
    kind: 'tantalum',
    mark: 'CT',
    ratings: [
      [6.3, [47e-6, 100e-6, 220e-6]],
      [10, [33e-6, 68e-6, 150e-6]],
      [16, [22e-6, 47e-6, 100e-6]],
      [25, [10e-6, 22e-6, 47e-6]],
    ],
    esr: 60e-3,
    esl: 2e-9,
    ripple: 1.1,
  },
];

function cans(): readonly PartOf<'capacitor'>[] {
  return CANS.flatMap(({ kind, mark, ratings, esr, esl, ripple, life }) =>
    ratings.flatMap(([rated, values]) =>
      values.map((capacitance): PartOf<'capacitor'> => {
        // A larger can, by the root of its stored charge and voltage, has more plate and more surface.
        const size = Math.sqrt((capacitance * rated) / (100e-6 * 10));
        return {
          name: `${mark}${String(rated).replace('.', 'V')}-${code(capacitance)}`,
          kind,
          capacitance,
          esr: round(esr / size),
          esl,
          ratedVoltage: rated,
          rippleCurrentRating: round(ripple * size),
          tolerance: kind === 'film' ? 0.1 : 0.2,
          price: round(0.1 + 0.25 * size),
          ...(life && { ratedLife: life[0] * 3600, ratedTemperature: life[1] }),
        };
      }),
    ),
  );
}

/** Vertical silicon switches: on-resistance times gate charge grows with the blocking voltage. */
const SWITCH_CLASSES: readonly (readonly [rated: number, lowest: number])[] = [
  [20, 1e-3],
  [25, 1e-3],
  [30, 1.2e-3],
  [40, 1.5e-3],
  [60, 2.2e-3],
  [80, 3.3e-3],
  [100, 4.7e-3],
  [150, 10e-3],
  [200, 18e-3],
];

function mosfets(): readonly PartOf<'mosfet'>[] {
  return SWITCH_CLASSES.flatMap(([rated, lowest]) =>
    Array.from({ length: 8 }, (_, i): PartOf<'mosfet'> => {
      const onResistance = nearestPreferred(lowest * 1.62 ** i, 'E24');
      return {
        name: `MQ${String(rated)}-${code(onResistance)}`,
        ...typicalMosfet(rated, onResistance, lowest),
        price: typicalPrice(rated, onResistance, lowest),
      };
    }),
  );
}

function diodes(): readonly PartOf<'diode'>[] {
  const ratings: readonly (readonly [rated: number, drop: number])[] = [
    [20, 0.32],
    [30, 0.34],
    [40, 0.36],
    [60, 0.42],
    [100, 0.5],
    [200, 0.75],
    [400, 0.85],
  ];
  return ratings.flatMap(([rated, drop]) =>
    [1, 3, 5, 10].map((current): PartOf<'diode'> => ({
      name: `${rated <= 100 ? 'DS' : 'DJ'}${String(rated)}-${String(current)}`,
      forwardVoltage: drop,
      dynamicResistance: round(0.12 / current),
      reverseVoltageMax: rated,
      currentMax: current,
      junctionCapacitance: round(70e-12 * current * Math.sqrt(40 / rated)),
      junctionToAmbient: round(25 + 55 / current),
      price: round(0.05 + 0.04 * current),
    })),
  );
}

function cores(): readonly PartOf<'core'>[] {
  const sizes = [6, 8, 10, 13, 16, 20];
  const materials = [
    ['ferrite', 'FE', 60, 0.38],
    ['iron-powder', 'IP', 75, 1.2],
    ['alloy-powder', 'AP', 125, 1],
  ] as const;
  return materials.flatMap(([material, mark, relativePermeability, saturationFluxDensity]) =>
    sizes.map((size): PartOf<'core'> => ({
      name: `K${mark}${String(size).padStart(2, '0')}`,
      material,
      effectiveArea: round((size * 1e-3) ** 2 * 0.22),
      effectiveLength: round(size * 1e-3 * 2.4),
      relativePermeability,
      saturationFluxDensity,
    })),
  );
}

/** The generic parts that ship with Yundro, by kind. @public */
export function genericParts(): { readonly [K in PartKind]: readonly PartOf<K>[] } {
  return {
    inductor: inductors(),
    capacitor: [...ceramics(), ...cans()],
    mosfet: mosfets(),
    diode: diodes(),
    core: cores(),
  };
}

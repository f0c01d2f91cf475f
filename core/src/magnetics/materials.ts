import type { MaterialKey } from '../library/coreKinds.js';

/** Loss of a material over a range of frequency: P/V = k (f/100 kHz)^α (B/100 mT)^β, B the amplitude. */
interface LossRange {
  /** Hz, to which the exponent holds. */
  readonly to: number;
  readonly frequencyExponent: number;
}

/** A core material, as the data of such materials have it. Invented grades; typical values from memory. @public */
export interface CoreMaterial {
  readonly words: string;
  /** Powder gives way over a wide range of current and needs no gap; ferrite all at once, and stores next to nothing without. */
  readonly kind: 'powder' | 'ferrite';
  /** T, at 25 and at 100 °C. */
  readonly saturation: readonly [cold: number, hot: number];
  /** W/m³ at 100 kHz and an amplitude of 0.1 T, at the temperature of least loss. */
  readonly lossDensity: number;
  readonly fluxExponent: number;
  /** Joined at their ends. */
  readonly ranges: readonly LossRange[];
  /** °C of least loss, and how far from it loss has doubled; undefined where it hardly depends on it. */
  readonly best?: readonly [at: number, doublesWithin: number];
  /** How much more is lost with the steady flux at the limit of the material: P = P₀ (1 + k (B/B_sat)²). */
  readonly biasRise: number;
  /** A/m times relative permeability, at which half the permeability of a powder is left, and the exponent of its fall. */
  readonly rollOff?: { readonly field: number; readonly exponent: number };
  /** °C, up to which it may be used: a powder's binder ages. */
  readonly hottest: number;
  /** Of a litre, in the currency of the library. */
  readonly price: number;
}

/** @public */
export const MATERIALS: Readonly<Record<MaterialKey, CoreMaterial>> = {
  ferrite: {
    words: 'power ferrite',
    kind: 'ferrite',
    saturation: [0.48, 0.38],
    lossDensity: 5e4,
    fluxExponent: 2.6,
    ranges: [
      { to: 300e3, frequencyExponent: 1.4 },
      { to: Infinity, frequencyExponent: 1.9 },
    ],
    best: [90, 70],
    biasRise: 0.6,
    hottest: 120,
    price: 45,
  },
  'megahertz-ferrite': {
    words: 'ferrite for megahertz',
    kind: 'ferrite',
    saturation: [0.45, 0.36],
    lossDensity: 8e4,
    fluxExponent: 2.7,
    ranges: [
      { to: 500e3, frequencyExponent: 1.2 },
      { to: Infinity, frequencyExponent: 1.8 },
    ],
    best: [90, 80],
    biasRise: 0.6,
    hottest: 120,
    price: 70,
  },
  'iron-powder': {
    words: 'iron powder',
    kind: 'powder',
    saturation: [1.3, 1.3],
    lossDensity: 3e6,
    fluxExponent: 2.05,
    ranges: [{ to: Infinity, frequencyExponent: 1.2 }],
    biasRise: 0.1,
    rollOff: { field: 3.6e5, exponent: 1.5 },
    hottest: 100,
    price: 12,
  },
  'alloy-powder': {
    words: 'iron, silicon and aluminium powder',
    kind: 'powder',
    saturation: [1, 1],
    lossDensity: 5.5e5,
    fluxExponent: 1.9,
    ranges: [{ to: Infinity, frequencyExponent: 1.4 }],
    biasRise: 0.1,
    rollOff: { field: 4.8e5, exponent: 1.8 },
    hottest: 125,
    price: 40,
  },
  'nickel-powder': {
    words: 'iron and nickel powder',
    kind: 'powder',
    saturation: [1.5, 1.5],
    lossDensity: 9e5,
    fluxExponent: 2.2,
    ranges: [{ to: Infinity, frequencyExponent: 1.35 }],
    biasRise: 0.1,
    rollOff: { field: 8.6e5, exponent: 2 },
    hottest: 125,
    price: 150,
  },
};

/** °C, to which data of saturation go. */
const KNOWN_TO = 140;

/** Flux density at which a material is saturated, T, at a temperature, °C. */
export function saturationAt({ saturation: [cold, hot] }: CoreMaterial, temperature: number): number {
  // Beyond what data state nothing is known but that it falls: a core that hot is refused for its temperature.
  return cold + ((hot - cold) * (Math.min(KNOWN_TO, temperature) - 25)) / 75;
}

/** Steinmetz figures of a material about a frequency: W/m³ at 100 kHz and 0.1 T as that range has it, and its exponents. */
export interface LossLaw {
  readonly density: number;
  readonly frequencyExponent: number;
  readonly fluxExponent: number;
}

const AT = 100e3;

/** The law of the range that a frequency lies in, at a temperature, °C; ranges meet where they end. */
export function lossLaw(material: CoreMaterial, frequency: number, temperature: number): LossLaw {
  const { ranges, lossDensity, fluxExponent, best } = material;
  const away = best ? (temperature - best[0]) / best[1] : 0;
  let density = lossDensity * (1 + away * away);
  let [range = { to: Infinity, frequencyExponent: 1 }] = ranges;
  for (const next of ranges.slice(1)) {
    if (frequency <= range.to) break;
    // Equal at the end of one and the beginning of the other.
    density *= (range.to / AT) ** (range.frequencyExponent - next.frequencyExponent);
    range = next;
  }
  return { density, frequencyExponent: range.frequencyExponent, fluxExponent };
}

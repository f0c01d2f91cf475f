import { keptShare } from '../../parts/inductanceCurve.js';
import { PREFERRED_SERIES } from '../../quantity/preferredValues.js';
import type { PartOf } from '../libraryPart.js';
import { gradeOf, rounded } from './grade.js';
import { seriesValues, valueCode } from './values.js';

interface ChokeCase {
  /** m */
  readonly outline: readonly [length: number, width: number, height: number];
  /** H, of what is wound into it. */
  readonly from: number;
  readonly to: number;
  /** L I² at the saturation current, J: what the gap holds. */
  readonly energy: number;
  /** L over R of the winding, s. */
  readonly time: number;
  /** Ω, of the terminals and the first turn. */
  readonly terminals: number;
  /** Heat that warms it by 40 K on a board, W. */
  readonly heat: number;
  /** Resistance at 500 kHz over that at rest. */
  readonly skin: number;
}

const size = (
  [length, width, height]: readonly [number, number, number],
  [from, to]: readonly [number, number],
  [microjoules, microseconds, heat]: readonly [number, number, number],
  [milliohms, skin]: readonly [number, number],
): ChokeCase => ({
  outline: [length * 1e-3, width * 1e-3, height * 1e-3],
  from: from * 1e-6,
  to: to * 1e-6,
  energy: microjoules * 1e-6,
  time: microseconds * 1e-6,
  terminals: milliohms * 1e-3,
  heat,
  skin,
});

/** Moulded chokes by case: energy, copper and cooling in the middle of what is usual. From memory of usual data sheets. */
const MOULDED: readonly ChokeCase[] = [
  size([2, 1.6, 1], [0.1, 4.7], [9, 13, 0.5], [1.5, 2]),
  size([3, 3, 2], [0.22, 15], [55, 43, 0.85], [1.2, 2]),
  size([4, 4, 2], [0.1, 33], [90, 60, 1], [1, 2]),
  size([5, 5, 3], [0.15, 47], [210, 107, 1.2], [0.8, 4]),
  size([6.4, 6.4, 3], [0.18, 68], [350, 150, 1.5], [0.6, 4]),
  size([7.3, 7.3, 5], [0.22, 100], [750, 250, 1.8], [0.5, 4]),
  size([10, 10, 4], [0.22, 100], [1100, 330, 2.1], [0.4, 8]),
  size([12.5, 12.5, 6.5], [0.33, 220], [2800, 600, 2.6], [0.3, 8]),
  size([17, 17, 7], [0.47, 330], [5600, 950, 3.2], [0.25, 8]),
  size([22, 22, 13], [1, 470], [17000, 2000, 4.3], [0.2, 8]),
];
/** Ferrite: one-turn blocks for hundreds of amperes a microsecond, flat wire for tens of amperes, drums for much inductance. */
const BLOCKS: readonly ChokeCase[] = [
  size([6.5, 6.5, 6], [0.07, 0.15], [150, 600, 1.6], [0.1, 3]),
  size([10, 7, 8], [0.07, 0.3], [540, 900, 2], [0.1, 3]),
  size([11, 11, 11], [0.1, 0.47], [1300, 1500, 2.6], [0.1, 3]),
];
const FLAT: readonly ChokeCase[] = [size([30, 28, 15], [1, 100], [12000, 4000, 5.3], [0.15, 12])];
const DRUMS: readonly ChokeCase[] = [
  size([7.3, 7.3, 4.5], [33, 470], [95, 290, 1.8], [1, 4]),
  size([12.5, 12.5, 8], [68, 1000], [640, 770, 2.6], [1, 8]),
];

/**
 * Materials: share of inductance lost at the saturation current, loss density at 100 kHz and 0.1 T, W/m³, with the exponents of
 * C. P. Steinmetz (On the Law of Hysteresis, 1892), and flux density at the saturation current, T. From memory.
 */
interface Material {
  readonly drop: number;
  readonly density: number;
  readonly frequencyExponent: number;
  readonly fluxExponent: number;
  readonly flux: number;
  /** Exponent of the fall of inductance with current: powder gives way slowly, ferrite at once. */
  readonly knee: number;
  readonly tolerance: number;
}
const COMPOSITE: Material = {
  drop: 0.3,
  density: 8e5,
  frequencyExponent: 1.3,
  fluxExponent: 2.2,
  flux: 0.6,
  knee: 2,
  tolerance: 0.2,
};
const FERRITE: Material = {
  drop: 0.2,
  density: 5e4,
  frequencyExponent: 1.4,
  fluxExponent: 2.6,
  flux: 0.34,
  knee: 8,
  tolerance: 0.15,
};
/** Of the body that is core, the rest being copper. */
const CORE_SHARE = 0.65;
/** What ferrite keeps when it is all saturated, and shares of the saturation current its curve is drawn at. */
const AIR = 0.07;
const CURVE = [0, 0.4, 0.7, 0.85, 1, 1.15, 1.3, 1.6, 2, 3];

/** What a material keeps of its inductance at a share of the saturation current; what is all saturated is as air. */
const keptAt = ({ drop, knee }: Material, share: number): number => Math.max(AIR, keptShare(share, drop, knee));

function choke(mark: string, of: ChokeCase, inductance: number, material: Material): PartOf<'inductor'> {
  const [length, width, height] = of.outline;
  const name = `${mark}${String(Math.floor(length * 1e3)).padStart(2, '0')}-${valueCode(inductance)}`;
  const { level, scatter, price } = gradeOf(name);
  // A new one holds a third more energy than an old one of its size, and has a third less copper in the way.
  const better = 1.25 - 0.45 * Math.min(1, level);
  const volume = length * width * height;
  const saturationCurrent = rounded(Math.sqrt((of.energy * better * scatter('energy')) / inductance));
  const resistance = rounded(of.terminals + inductance / (of.time * better * scatter('copper')));
  const amplitude = (material.flux * 1e-6) / (2 * inductance * saturationCurrent);
  return {
    name,
    inductance,
    resistance,
    tolerance: material.tolerance,
    saturationCurrent,
    saturationDrop: material.drop,
    ...(material.knee > 2 && {
      inductanceCurve: CURVE.map((share): [number, number] => [
        rounded(share * saturationCurrent),
        rounded(inductance * keptAt(material, share)),
      ]),
    }),
    heatingCurrent: rounded(Math.sqrt((of.heat * scatter('heat')) / resistance)),
    alternatingResistance: rounded(resistance * of.skin),
    coreLossCoefficient: rounded(
      material.density * CORE_SHARE * volume * (amplitude / 0.1) ** material.fluxExponent * scatter('core'),
    ),
    coreLossFrequencyExponent: material.frequencyExponent,
    coreLossFluxExponent: material.fluxExponent,
    length,
    width,
    height,
    price: rounded((0.12 + 0.9 * (volume * 1e6) ** 0.85) * price),
  };
}

/** Pairs of windings of one turn on one ferrite core: the body of the pair. From memory of usual data sheets. */
const PAIRS: readonly (Pick<ChokeCase, 'outline' | 'energy' | 'terminals' | 'heat' | 'skin'> & {
  readonly leakages: readonly number[];
})[] = [
  {
    outline: [10e-3, 7e-3, 7e-3],
    leakages: [47e-9, 68e-9, 82e-9, 100e-9],
    energy: 180e-6,
    terminals: 0.15e-3,
    heat: 2.2,
    skin: 3,
  },
  {
    outline: [11e-3, 11e-3, 8e-3],
    leakages: [68e-9, 100e-9, 120e-9, 150e-9],
    energy: 420e-6,
    terminals: 0.15e-3,
    heat: 2.6,
    skin: 3,
  },
  {
    outline: [16e-3, 11e-3, 10e-3],
    leakages: [100e-9, 150e-9, 180e-9, 220e-9],
    energy: 700e-6,
    terminals: 0.2e-3,
    heat: 3.2,
    skin: 3,
  },
  {
    outline: [22e-3, 16e-3, 12e-3],
    leakages: [330e-9, 470e-9, 680e-9, 1e-6],
    energy: 2300e-6,
    terminals: 0.3e-3,
    heat: 4.3,
    skin: 5,
  },
];
/** Leakage over resistance of one of two windings in a body of 1 cm³, s: half that of a single winding in flat wire. */
const PAIR_TIME = 400e-6;
/** Shares of a winding's flux that the other takes. */
const COEFFICIENTS = [0.4, 0.5, 0.6, 0.7, 0.8];

/**
 * A pair of windings wound against each other. The steady flux of both together is that of the leakage, (1 − k) L, which saturates at the
 * rated current of both; the core goes through the whole flux linkage of a winding.
 */
function pair(of: (typeof PAIRS)[number], leakage: number, coefficient: number): PartOf<'inductor'> {
  const [length, width, height] = of.outline;
  const inductance = rounded(leakage / (1 - coefficient));
  const name = `LC${String(Math.floor(length * 1e3)).padStart(2, '0')}-${valueCode(leakage)}-${String(10 * coefficient)}`;
  const { level, scatter, price } = gradeOf(name);
  const better = 1.25 - 0.45 * Math.min(1, level);
  const volume = length * width * height;
  // Both windings at once: 2 · ½ (1 − k) L I².
  const saturationCurrent = rounded(Math.sqrt((of.energy * better * scatter('energy')) / leakage));
  // Turns go with what leaks, which the gap holds; self-inductance comes of the tighter core, not of copper.
  const resistance = rounded(
    of.terminals + leakage / (PAIR_TIME * (volume * 1e6) ** (2 / 3) * better * scatter('copper')),
  );
  // T for a swing of 1 µWb: the rated current makes the flux density of the material with the leakage alone.
  const amplitude = (FERRITE.flux * 1e-6) / (2 * leakage * saturationCurrent);
  return {
    name,
    inductance,
    couplingCoefficient: coefficient,
    resistance,
    tolerance: FERRITE.tolerance,
    saturationCurrent,
    // Both are warm at once.
    heatingCurrent: rounded(Math.sqrt((of.heat * scatter('heat')) / (2 * resistance))),
    alternatingResistance: rounded(resistance * of.skin),
    // Half of the core for each winding.
    coreLossCoefficient: rounded(
      ((FERRITE.density * CORE_SHARE * volume) / 2) * (amplitude / 0.1) ** FERRITE.fluxExponent * scatter('core'),
    ),
    coreLossFrequencyExponent: FERRITE.frequencyExponent,
    coreLossFluxExponent: FERRITE.fluxExponent,
    length,
    width,
    height,
    price: rounded((0.25 + 1.1 * (volume * 1e6) ** 0.85) * price),
  };
}

const { E6 } = PREFERRED_SERIES;
const wound = (marks: readonly string[], cases: readonly ChokeCase[], material: Material) =>
  cases.flatMap((of) =>
    seriesValues(of.from, of.to, E6).flatMap((inductance) =>
      marks.map((mark) => choke(mark, of, inductance, material)),
    ),
  );

/** Generic chokes, 70 nH to 1 mH and to 60 A, and pairs of windings on one core. */
export const chokes = (): readonly PartOf<'inductor'>[] => [
  ...wound(['LX', 'LY'], MOULDED, COMPOSITE),
  ...wound(['LB'], BLOCKS, FERRITE),
  ...wound(['LF'], FLAT, FERRITE),
  ...wound(['LD'], DRUMS, FERRITE),
  ...PAIRS.flatMap((of) => of.leakages.flatMap((leakage) => COEFFICIENTS.map((k) => pair(of, leakage, k)))),
];

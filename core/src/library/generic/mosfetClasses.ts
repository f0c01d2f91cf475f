/**
 * Power MOSFETs by voltage class: what a square millimetre of die conducts, and what its charges are for that. All from memory of usual
 * data sheets, but for the law that on-resistance and area of plain silicon go with the blocking voltage to the power of 2.5
 * (B. J. Baliga, Fundamentals of Power Semiconductor Devices), which charge-balanced parts beat. Products of on-resistance and charge
 * in Ω C, from the best to the ordinary.
 */
export interface MosfetClass {
  readonly rated: number;
  readonly material: 'silicon' | 'superjunction' | 'gallium-nitride';
  /** Ω m² of the die. */
  readonly specificResistance: readonly [number, number];
  readonly drive: number;
  readonly gate: readonly [number, number];
  readonly gateDrain: readonly [number, number];
  /** Stated at a voltage. */
  readonly output: readonly [number, number];
  readonly outputAt: number;
  /** Exponent m of C ∝ v^−m well above the knee: energy over charge times voltage is (1−m)/(2−m). */
  readonly outputExponent: number;
  readonly recovery: readonly [number, number];
  /** R(T) = R (T/298 K)^n */
  readonly warmExponent: number;
  readonly threshold: number;
  readonly plateau: number;
  readonly bodyDiode: number;
  /** On-resistances that are usual, Ω. */
  readonly from: number;
  readonly to: number;
  /** Price of a square millimetre. */
  readonly die: number;
}

const MOHM_MM2 = 1e-9;
const MOHM_NC = 1e-12;

type Row = readonly [
  rated: number,
  specific: readonly [number, number],
  drive: number,
  gate: readonly [number, number],
  gateDrain: readonly [number, number],
  output: readonly [number, number],
  outputAt: number,
  exponent: number,
  recovery: readonly [number, number],
  warm: number,
  gateLevels: readonly [threshold: number, plateau: number],
  range: readonly [from: number, to: number],
  die: number,
];

const SILICON: readonly Row[] = [
  [20, [3, 6], 4.5, [25, 50], [4, 12], [30, 60], 10, 0.42, [15, 40], 1.3, [1.1, 2.1], [0.6, 60], 0.05],
  [25, [3.5, 6.5], 4.5, [27, 60], [5, 14], [40, 65], 15, 0.42, [15, 45], 1.3, [1.6, 2.6], [0.5, 60], 0.05],
  [30, [3.5, 6.5], 4.5, [27, 60], [5, 14], [40, 65], 15, 0.42, [15, 45], 1.3, [1.6, 2.6], [0.5, 60], 0.05],
  [40, [5.5, 10], 10, [65, 120], [10, 18], [55, 85], 20, 0.45, [25, 70], 1.5, [2.2, 3.6], [0.7, 40], 0.05],
  [60, [11, 20], 10, [75, 140], [12, 22], [100, 160], 30, 0.5, [60, 200], 1.6, [3, 4.6], [0.9, 120], 0.08],
  [80, [20, 32], 10, [105, 180], [18, 38], [170, 300], 40, 0.5, [120, 400], 1.7, [3, 4.6], [1.2, 80], 0.1],
  [100, [28, 45], 10, [135, 230], [25, 42], [210, 380], 50, 0.53, [150, 700], 1.8, [3, 4.6], [1.5, 250], 0.1],
  [150, [60, 110], 10, [210, 380], [40, 80], [450, 800], 75, 0.6, [350, 3000], 1.9, [3.2, 4.8], [3.5, 300], 0.12],
  [200, [170, 340], 10, [420, 750], [70, 140], [1100, 2000], 100, 0.67, [1500, 8000], 2.1, [3.2, 4.8], [7, 400], 0.13],
  [250, [400, 650], 10, [900, 1300], [130, 240], [2000, 3000], 125, 0.7, [5000, 15000], 2.1, [3.2, 4.8], [16, 600], 0.13],
]; // prettier-ignore
const SUPERJUNCTION: readonly Row[] = [
  // Charge at 400 V; E/(QV) of 0.05 there, which the exponent stands for.
  [650, [900, 1800], 10, [3400, 6000], [1000, 2000], [20000, 40000], 400, 0.947, [30000, 60000], 2.4, [3.5, 5.5], [18, 1500], 0.2],
]; // prettier-ignore
const GALLIUM_NITRIDE: readonly Row[] = [
  [100, [15, 22], 5, [25, 42], [3.5, 8], [110, 170], 50, 0.4, [0, 0], 1.7, [1.2, 2.2], [1.5, 25], 0.3],
  [150, [25, 35], 5, [45, 60], [6, 11], [230, 350], 75, 0.45, [0, 0], 1.7, [1.2, 2.2], [2.5, 30], 0.3],
  [200, [40, 60], 5, [65, 85], [10, 16], [400, 570], 100, 0.5, [0, 0], 1.8, [1.2, 2.2], [3.5, 50], 0.3],
  [650, [400, 600], 6, [280, 330], [70, 110], [2300, 3000], 400, 0.54, [0, 0], 2.6, [1.6, 3], [25, 500], 0.35],
]; // prettier-ignore

const scaled = ([a, b]: readonly [number, number], unit: number): readonly [number, number] => [a * unit, b * unit];

const classes = (rows: readonly Row[], material: MosfetClass['material'], bodyDiode: number): readonly MosfetClass[] =>
  rows.map(([rated, specific, drive, gate, gateDrain, output, at, exponent, recovery, warm, levels, range, die]) => ({
    rated,
    material,
    specificResistance: scaled(specific, MOHM_MM2),
    drive,
    gate: scaled(gate, MOHM_NC),
    gateDrain: scaled(gateDrain, MOHM_NC),
    output: scaled(output, MOHM_NC),
    outputAt: at,
    outputExponent: exponent,
    recovery: scaled(recovery, MOHM_NC),
    warmExponent: warm,
    threshold: levels[0],
    plateau: levels[1],
    bodyDiode,
    from: range[0] * 1e-3,
    to: range[1] * 1e-3,
    die,
  }));

/** Classes by material, rising in voltage. */
export const MOSFET_CLASSES: readonly MosfetClass[] = [
  ...classes(SILICON, 'silicon', 0.8),
  ...classes(SUPERJUNCTION, 'superjunction', 0.9),
  ...classes(GALLIUM_NITRIDE, 'gallium-nitride', 2.2),
];

/** A package: what it takes on a board and what it does to a die in it. From memory of usual packages. */
export interface MosfetPackage {
  readonly name: string;
  /** m */
  readonly length: number;
  readonly width: number;
  readonly height: number;
  /** Largest die, m². */
  readonly die: number;
  /** Ω */
  readonly resistance: number;
  /** K/W to air, on 6 cm² of copper. */
  readonly toAmbient: number;
  /** A */
  readonly current: number;
  readonly price: number;
}

const mm = (
  name: string,
  [length, width, height]: readonly [number, number, number],
  [die, resistance, toAmbient, current, price]: readonly [number, number, number, number, number],
): MosfetPackage => ({
  name,
  length: length * 1e-3,
  width: width * 1e-3,
  height: height * 1e-3,
  die: die * 1e-6,
  resistance: resistance * 1e-3,
  toAmbient,
  current,
  price,
});

/** Rising in the die they hold. */
export const SILICON_PACKAGES: readonly MosfetPackage[] = [
  mm('2x2', [2, 2, 0.8], [1.4, 2, 65, 15, 0.08]),
  mm('3x3', [3.3, 3.3, 1], [5, 0.5, 55, 60, 0.12]),
  mm('5x6', [5.15, 6.15, 1], [14, 0.25, 50, 150, 0.18]),
  mm('8x8', [8, 8, 1], [26, 0.5, 45, 50, 0.5]),
  mm('tab', [9.9, 11.7, 2.3], [45, 0.22, 40, 300, 0.6]),
];

/** Thermal resistance from junction to case of a die, K/W: 0.1 + 10/A^0.9 with A in mm². From memory of usual parts. */
export const junctionToCaseOf = (die: number): number => 0.1 + 10 * (die * 1e6) ** -0.9;

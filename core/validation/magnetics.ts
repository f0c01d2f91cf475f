import { shapeOverSine } from '../src/losses/waveformShape.js';
import { MU_0, resistivityAt, skinDepth } from '../src/magnetics/copper.js';
import { dowellRatio } from '../src/magnetics/dowell.js';
import { fringingFactor } from '../src/magnetics/fringing.js';
import { pathState, type FluxPath } from '../src/magnetics/magneticPath.js';
import { MATERIALS } from '../src/magnetics/materials.js';
import { pairOnCore } from '../src/magnetics/pairOnCore.js';
import { gaugeDiameter } from '../src/magnetics/wires.js';
import { ring } from '../src/library/generic/coreShapes.js';
import type { OutsideCheck } from './outsideCheck.js';

const ERICKSON = 'R. W. Erickson, D. Maksimović, Fundamentals of Power Electronics, 2nd ed., ch. 13';
const DOWELL = `P. L. Dowell, Effects of Eddy Currents in Transformer Windings, Proc. IEE 1966, in the form of ${ERICKSON}, section 13.4`;
const IGSE =
  'K. Venkatachalam, C. R. Sullivan, T. Abdallah, H. Tacca, Accurate Prediction of Ferrite Core Loss with Nonsinusoidal Waveforms Using Only Steinmetz Parameters, IEEE COMPEL 2002';
const COPPER = 'IEC 60028, International standard of resistance for copper';
const WONG =
  'P.-L. Wong, P. Xu, B. Yang, F. C. Lee, Performance Improvements of Interleaving VRMs with Coupling Inductors, IEEE Trans. Power Electronics 16(4), 2001';

const check = (
  source: string,
  quantity: string,
  unit: string,
  expected: number,
  computed: () => number,
  relative = 1e-5,
): OutsideCheck => ({ source, quantity, unit, expected, computed, relative });

/** 10 turns on 40 mm² and 40 mm of relative permeability 2300, far from saturation. */
const gapped = (gap: number): FluxPath => ({
  material: { ...MATERIALS.ferrite, saturation: [100, 100] },
  permeability: 2300,
  saturation: 100,
  area: 4e-5,
  length: 0.04,
  gap,
  gaps: 1,
  leg: { width: 1e3, depth: 1e3, window: 1e3 },
  fringing: 'edge',
});

const triangle = (duty: number): number =>
  shapeOverSine(1.5, [
    { swing: 1, share: duty },
    { swing: 1, share: 1 - duty },
  ]);

/** A pair whose coupling and self-inductance are those of the paper: 500 nH, 0.6. */
const pair = () =>
  pairOnCore(
    {
      turns: 1,
      outerArea: 1e-4,
      middleArea: 1e-4,
      outerLength: 0,
      middleLength: 0,
      permeability: 1,
      // k = R_m/(R₀ + R_m) = 0.6 and L = (1 + 1.5)/(R₀ (1 + 3)) at R_m = 1.5 R₀
      outerGap: (MU_0 * 1e-4 * 2.5) / (4 * 5e-7),
      middleGap: (1.5 * MU_0 * 1e-4 * 2.5) / (4 * 5e-7),
    },
    [20, 20],
  );

/** Published figures of chokes that are wound. */
export const magneticsChecks: readonly OutsideCheck[] = [
  check(
    `${ERICKSON} (gapped inductor)`,
    'inductance of 10 turns, gap 485.26 µm',
    'H',
    1e-5,
    () => 100 * pathState(gapped(0.48526352e-3), 0, 25).permeance,
  ),
  check(
    `${ERICKSON} (gapped inductor)`,
    'flux density at 12 A',
    'T',
    0.3,
    () => pathState(gapped(0.48526352e-3), 120, 25).density,
    1e-3,
  ),
  check(
    'C. W. T. McLyman, Transformer and Inductor Design Handbook, fringing flux factor (from memory)',
    '1 mm gap in 1 cm² under a window of 20 mm',
    '',
    1.3688879,
    () => fringingFactor('logarithm', 1e-3, { width: 1e-2, depth: 1e-2, window: 0.02 }),
  ),
  check(COPPER, 'resistivity at 20 °C', 'Ω m', 1.7241379e-8, () => resistivityAt(20)),
  check(COPPER, 'resistivity at 100 °C', 'Ω m', 2.2662069e-8, () => resistivityAt(100)),
  check(`${ERICKSON}, section 13.4`, 'skin depth at 60 Hz, 20 °C', 'm', 0.0085316005, () => skinDepth(60, 20)),
  check(`${ERICKSON}, section 13.4`, 'skin depth at 100 kHz, 100 °C', 'm', 0.00023959067, () => skinDepth(1e5, 100)),
  check(`${ERICKSON}, section 13.4`, 'skin depth at 1 MHz, 20 °C', 'm', 6.6085493e-5, () => skinDepth(1e6, 20)),
  ...(
    [
      [0.5, 4, 1.1094462],
      [1, 1, 1.0856357],
      [1, 3, 1.9399647],
      [2, 2, 5.1464894],
    ] as const
  ).map(([phi, layers, expected]) =>
    check(DOWELL, `resistance over that at rest, φ = ${String(phi)}, ${String(layers)} layers`, '', expected, () =>
      dowellRatio(phi, layers),
    ),
  ),
  ...(
    [
      [0.5, 0.91289136],
      [0.3, 0.97503585],
      [0.1, 1.3608581],
    ] as const
  ).map(([duty, expected]) =>
    check(IGSE, `triangle of duty ratio ${String(duty)} over a sine of equal swing, α = 1.5`, '', expected, () =>
      triangle(duty),
    ),
  ),
  ...(
    [
      [1.2, 0.074504318],
      [1.5, 0.05705571],
      [1.8, 0.043266],
    ] as const
  ).map(([alpha, expected]) =>
    // A symmetric triangle: P = k_i B_pp^β f^α (2 · 2^(α−1)), over k B̂^β f^α
    check(
      IGSE,
      `k_i over k, α = ${String(alpha)}, β = 2.5`,
      '',
      expected,
      () => {
        const shape = shapeOverSine(alpha, [
          { swing: 1, share: 0.5 },
          { swing: 1, share: 0.5 },
        ]);
        return shape / (2 ** 2.5 * 2 * 0.5 ** (1 - alpha));
      },
      1e-4,
    ),
  ),
  check(
    'K. Venkatachalam and others, IEEE COMPEL 2002, closed approximation of k_i (from memory)',
    'k_i over k, α = 1.5, β = 2.5',
    '',
    0.057063976,
    () =>
      shapeOverSine(1.5, [
        { swing: 1, share: 0.5 },
        { swing: 1, share: 0.5 },
      ]) /
      (2 ** 2.5 * 2 * 0.5 ** -0.5),
    2e-3,
  ),
  check('ASTM B258, diameters of wire gauges', 'gauge 20', 'm', 0.8118e-3, () => gaugeDiameter(20), 1e-4),
  check('ASTM B258, diameters of wire gauges', 'gauge 10', 'm', 2.588e-3, () => gaugeDiameter(10), 1e-4),
  check('ASTM B258, diameters of wire gauges', 'gauge 36', 'm', 0.127e-3, () => gaugeDiameter(36)),
  check(
    'IEC 60205, ring cores: a thin ring is its section and mean circumference',
    'area of a ring of 101 to 99 mm, 2 mm high',
    'm²',
    2e-6,
    () => ring(0.101, 0.099, 2e-3).effectiveArea,
    1e-3,
  ),
  check(
    'IEC 60205, ring cores: a thin ring is its section and mean circumference',
    'its path',
    'm',
    0.1 * Math.PI,
    () => ring(0.101, 0.099, 2e-3).effectiveLength,
    1e-3,
  ),
  check(WONG, 'self-inductance of the pair, from its reluctances', 'H', 5e-7, () => pair().inductance),
  check(WONG, 'transient inductance L (1 − k) of the pair', 'H', 2e-7, () => pair().leakage),
];

import { completeStage } from '../src/stage/completeStage.js';
import { stageFromDocument } from '../src/stage/readStage.js';
import { problemsSentence } from '../src/stage/problemSentence.js';
import { operatingPoint, type OperatingPoint } from '../src/steady/operatingPoint.js';
import type { OutsideCheck } from './outsideCheck.js';

interface Drawn {
  readonly topology: string;
  readonly vIn: number;
  readonly vOut?: number;
  readonly duty?: number;
  readonly load: { readonly ohms: number } | { readonly amperes: number };
  readonly fSw: number;
  readonly l: number;
  readonly rL?: number;
  readonly c: number;
  readonly esr?: number;
  readonly main?: number;
  readonly rectifier?: number;
  readonly diode?: { readonly forwardVoltage: number; readonly dynamicResistance: number };
  readonly phases?: number;
  readonly coupling?: object;
  readonly legs?: 'regions' | 'simultaneous';
}

/** The engine's operating point of a circuit as a source states it. */
function engineAt(drawn: Drawn): OperatingPoint {
  const { topology, vIn, duty, load, fSw, l, rL = 0, c, esr = 0, main = 0, rectifier = 0 } = drawn;
  const guess =
    { buck: 0.5 * vIn, boost: 2 * vIn, 'inverting-buck-boost': -vIn, 'four-switch-buck-boost': vIn }[topology] ?? vIn;
  const stage = stageFromDocument({
    format: 'yundro-stage',
    version: 1,
    topology,
    rectifier: drawn.diode ? 'diode' : 'synchronous',
    phases: drawn.phases ?? 1,
    coupling: drawn.coupling ?? { kind: 'none' },
    legs: drawn.legs,
    switchingFrequency: fSw,
    targets: { inputVoltage: { min: vIn, max: vIn }, outputVoltage: drawn.vOut ?? guess, outputCurrent: { max: 1 } },
    parts: {
      inductor: { inductance: l, resistance: rL },
      outputCapacitors: [{ capacitance: c, esr }],
      ...(topology === 'boost'
        ? { lowSide: { onResistance: main }, highSide: { onResistance: rectifier } }
        : { highSide: { onResistance: main }, lowSide: { onResistance: rectifier } }),
      ...(topology === 'four-switch-buck-boost' && {
        outputLowSide: { onResistance: main },
        outputHighSide: { onResistance: rectifier },
      }),
      ...(drawn.diode && { diode: drawn.diode }),
    },
  });
  if (!stage.ok) throw new Error(problemsSentence(stage.problems));
  const complete = completeStage(stage.value);
  if (!complete.ok) throw new Error(problemsSentence(complete.problems));
  const found = operatingPoint(
    complete.value,
    {
      inputVoltage: vIn,
      load: 'ohms' in load ? { kind: 'resistance', resistance: load.ohms } : { kind: 'current', current: load.amperes },
    },
    { fixedDuty: duty },
  );
  if (found.kind !== 'solved') throw new Error(found.reason);
  return found.point;
}

type Reading = readonly [quantity: string, unit: string, expected: number, of: (p: OperatingPoint) => number];

function checks(source: string, relative: number, drawn: Drawn, readings: readonly Reading[]): readonly OutsideCheck[] {
  let point: OperatingPoint | undefined;
  return readings.map(([quantity, unit, expected, of]) => ({
    source,
    quantity: `engine: ${quantity}`,
    unit,
    expected,
    relative,
    computed: () => of((point ??= engineAt(drawn))),
  }));
}

const BOOK = 'R. W. Erickson, D. Maksimović, Fundamentals of Power Electronics, 2nd ed.';
/** Printed to five or six digits; the engine's ripple, made small, is what remains. */
const SMALL_RIPPLE = 1e-4;
const vOut: Reading[3] = (p) => Math.abs(p.outputVoltage);
const iL: Reading[3] = (p) => p.inductorCurrent.average;
const quiet = { fSw: 200e3, l: 10e-3, c: 10e-3 };

/** The load resistor beside the feedback divider, which the reference designs draw too. */
const withDivider = (ohms: number, divider: number) => ({ ohms: 1 / (1 / ohms + 1 / divider) });

/** Operating points of the loop design set: exact periodic steady states of another program, 0.01 %. */
const LOOP = 'Reference loop designs (exact periodic steady state by an independent program)';
const LOOP_TOLERANCE = 1e-4;
const buck500k = {
  topology: 'buck',
  vIn: 12,
  fSw: 500e3,
  l: 2.2e-6,
  rL: 5e-3,
  c: 100e-6,
  esr: 3e-3,
  main: 0.01,
  rectifier: 0.008,
} as const;

/** The engine against published worked examples and an independent program. */
export const engineChecks: readonly OutsideCheck[] = [
  ...checks(
    `${BOOK}, ch. 3 (boost with inductor copper loss)`,
    SMALL_RIPPLE,
    { topology: 'boost', vIn: 10, duty: 0.5, load: { ohms: 10 }, rL: 0.2, ...quiet },
    [
      ['output voltage', 'V', 18.518519, vOut],
      ['efficiency', '', 0.92592593, (p) => p.efficiency],
    ],
  ),
  ...checks(
    `${BOOK}, ch. 3 (boost with inductor copper loss)`,
    SMALL_RIPPLE,
    { topology: 'boost', vIn: 10, duty: 0.85857864, load: { ohms: 10 }, rL: 0.2, ...quiet },
    [
      ['output voltage at the peak of the conversion ratio', 'V', 35.355339, vOut],
      ['efficiency at the peak', '', 0.5, (p) => p.efficiency],
    ],
  ),
  ...checks(
    `${BOOK}, ch. 3, section 3.5 (semiconductor conduction losses in the boost)`,
    SMALL_RIPPLE,
    {
      topology: 'boost',
      vIn: 12,
      duty: 0.6,
      load: { ohms: 20 },
      rL: 0.05,
      main: 0.03,
      diode: { forwardVoltage: 0.5, dynamicResistance: 0.02 },
      ...quiet,
    },
    [
      ['output voltage', 'V', 28.815629, vOut],
      ['inductor current', 'A', 3.6019536, iL],
      ['efficiency', '', 0.96052096, (p) => p.efficiency],
    ],
  ),
  ...checks(
    `${BOOK}, ch. 3 method applied to the inverting buck-boost`,
    SMALL_RIPPLE,
    {
      topology: 'inverting-buck-boost',
      vIn: 24,
      duty: 0.4,
      load: { ohms: 8 },
      rL: 0.04,
      main: 0.025,
      diode: { forwardVoltage: 0.45, dynamicResistance: 0.01 },
      ...quiet,
    },
    [
      ['output voltage magnitude', 'V', 15.253406, vOut],
      ['inductor current', 'A', 3.1777929, iL],
      ['efficiency', '', 0.95333787, (p) => p.efficiency],
    ],
  ),
  ...checks(
    'Volt-second balance of the four-switch buck-boost (standard result), input leg at 0.9',
    SMALL_RIPPLE,
    { topology: 'four-switch-buck-boost', vIn: 12, vOut: 12, load: { amperes: 4 }, legs: 'regions', ...quiet },
    [
      ['duty ratio of the output leg', '', 0.1, (p) => p.duty],
      ['inductor current', 'A', 4.4444444, iL],
      ['input current', 'A', 4, (p) => p.inputCurrent],
    ],
  ),
  ...checks(
    'Volt-second balance of the four-switch buck-boost (standard result), one duty ratio',
    SMALL_RIPPLE,
    { topology: 'four-switch-buck-boost', vIn: 12, vOut: 12, load: { amperes: 4 }, legs: 'simultaneous', ...quiet },
    [
      ['duty ratio', '', 0.5, (p) => p.duty],
      ['inductor current', 'A', 8, iL],
    ],
  ),
  ...checks(
    `${BOOK}, ch. 5, Table 5.2 (buck in discontinuous conduction)`,
    SMALL_RIPPLE,
    {
      topology: 'buck',
      vIn: 24,
      duty: 0.4,
      load: { ohms: 20 },
      fSw: 200e3,
      l: 1e-5,
      c: 10e-3,
      diode: { forwardVoltage: 0, dynamicResistance: 1e-6 },
    },
    [
      ['output voltage', 'V', 13.915102, vOut],
      ['peak inductor current', 'A', 2.0169797, (p) => p.inductorCurrent.peak],
    ],
  ),
  ...checks(
    `${BOOK}, ch. 11, section 11.2 (boost in discontinuous conduction; printed figures from memory)`,
    1e-3,
    {
      topology: 'boost',
      vIn: 24,
      vOut: 36,
      load: { ohms: 12 },
      fSw: 100e3,
      l: 5e-6,
      c: 10e-3,
      diode: { forwardVoltage: 0, dynamicResistance: 1e-6 },
    },
    [['duty ratio', '', 0.25, (p) => p.duty]],
  ),
  ...checks(
    `${BOOK}, ch. 5, Table 5.2 (buck-boost in discontinuous conduction), K = 0.16`,
    SMALL_RIPPLE,
    // K = 2L/(RT): 10 µH, 100 kHz, 12.5 Ω.
    {
      topology: 'inverting-buck-boost',
      vIn: 10,
      duty: 0.3,
      load: { ohms: 12.5 },
      fSw: 100e3,
      l: 1e-5,
      c: 10e-3,
      diode: { forwardVoltage: 0, dynamicResistance: 1e-6 },
    },
    [['conversion ratio', '', 0.75, (p) => vOut(p) / 10]],
  ),
  ...checks(
    `${BOOK}, ch. 2 (boost ripple)`,
    0.01,
    { topology: 'boost', vIn: 12, vOut: 24, load: { amperes: 2 }, fSw: 300e3, l: 1e-5, c: 47e-6, esr: 0 },
    [
      ['duty ratio', '', 0.5, (p) => p.duty],
      ['inductor ripple current', 'A', 2, (p) => p.inductorCurrent.ripple],
      ['output ripple', 'V', 0.070921986, (p) => p.outputRipple],
    ],
  ),
  ...checks(
    'RMS current of the boost output capacitor (standard)',
    1e-3,
    // 1.5 A of ripple at D = 0.6: 12 V, 100 kHz, 48 µH.
    { topology: 'boost', vIn: 12, duty: 0.6, load: { amperes: 2 }, fSw: 100e3, l: 48e-6, c: 10e-3 },
    [
      ['output capacitor RMS current', 'A', 2.4647515, (p) => p.outputCapacitorRms],
      ['input capacitor RMS current', 'A', 0.4330127, (p) => p.inputCapacitorRms],
    ],
  ),
  ...checks(
    'RMS currents of the inverting buck-boost capacitors (standard)',
    1e-3,
    // 2 A of ripple at D = 0.45: 12 V, 100 kHz, 27 µH.
    { topology: 'inverting-buck-boost', vIn: 12, duty: 0.45, load: { amperes: 3 }, fSw: 100e3, l: 27e-6, c: 10e-3 },
    [
      ['input capacitor RMS current', 'A', 2.7411013, (p) => p.inputCapacitorRms],
      ['output capacitor RMS current', 'A', 2.7471749, (p) => p.outputCapacitorRms],
    ],
  ),
  ...checks(
    'P.-L. Wong, P. Xu, B. Yang, F. C. Lee, Performance Improvements of Interleaving VRMs with Coupling Inductors, IEEE Trans. Power Electronics 16(4), 2001',
    1e-3,
    {
      topology: 'buck',
      vIn: 12,
      duty: 0.2,
      load: { amperes: 40 },
      fSw: 500e3,
      l: 5e-7,
      c: 10e-3,
      phases: 2,
      coupling: { kind: 'inverse', coefficient: 0.6 },
    },
    [
      ['phase ripple of inversely coupled phases', 'A', 10.2, (p) => p.inductorCurrent.ripple],
      ['their summed ripple, set by the leakage alone', 'A', 14.4, (p) => p.totalInductorRipple],
    ],
  ),
  ...checks(
    // ΔI = Vo/(L fs) · ((1 − D) − k D)/(1 − k²) for D < ½ and a partner half a period away.
    'P.-L. Wong et al. (2001), six phases joined in pairs half a period apart',
    2e-3,
    {
      topology: 'buck',
      vIn: 12,
      duty: 1 / 12,
      load: { amperes: 60 },
      fSw: 500e3,
      l: 470e-9,
      c: 10e-3,
      phases: 6,
      coupling: { kind: 'inverse', coefficient: 0.5 },
    },
    [['phase ripple', 'A', 4.9645, (p) => p.inductorCurrent.ripple]],
  ),
  ...(
    [
      [12220, 0.2826926970517882, 3.302702702701694, 1.8679390680322876, 6.6056756756737],
      [55e3, 0.2823576560018745, 3.2987954910870227, 1.8634592260502367, 6.5976509602741595],
      [120e3, 0.6166420966726585, 7.194888919706847, 8.874174503170197, 14.389837796822754],
    ] as const
  ).flatMap(([divider, duty, output, input, inductor]) =>
    checks(LOOP, LOOP_TOLERANCE, { ...buck500k, duty, load: withDivider(0.5, divider) }, [
      [`output voltage of the buck at D = ${duty.toFixed(4)}`, 'V', output, vOut],
      ['input current', 'A', input, (p) => p.inputCurrent],
      ['inductor current', 'A', inductor, iL],
    ]),
  ),
  ...checks(
    LOOP,
    LOOP_TOLERANCE,
    {
      topology: 'boost',
      vIn: 5,
      duty: 0.588466127037984,
      fSw: 500e3,
      l: 4.7e-6,
      rL: 0.01,
      c: 44e-6,
      esr: 2e-3,
      main: 0.015,
      rectifier: 0.015,
      load: withDivider(12, 200e3),
    },
    [
      ['output voltage of the boost', 'V', 11.998044072923605, vOut],
      ['input current of the boost', 'A', 2.4301202608531733, (p) => p.inputCurrent],
    ],
  ),
  ...checks(
    LOOP,
    LOOP_TOLERANCE,
    {
      topology: 'buck',
      vIn: 12,
      duty: 0.24305338840486737,
      fSw: 500e3,
      l: 4.7e-6,
      rL: 5e-3,
      c: 47e-6,
      esr: 3e-3,
      main: 0.01,
      diode: { forwardVoltage: 0.4, dynamicResistance: 0.01 },
      load: withDivider(25, 11360),
    },
    [
      ['output voltage of the diode buck in discontinuous conduction', 'V', 5.011764705885444, vOut],
      ['input current', 'A', 0.08781513701763238, (p) => p.inputCurrent],
      ['inductor current', 'A', 0.2009117647208435, iL],
    ],
  ),
];

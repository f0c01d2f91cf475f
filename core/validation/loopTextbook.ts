import { completeCompensator, type Compensator } from '../src/controller/compensatorCircuit.js';
import { compensatorResponse } from '../src/controller/compensatorResponse.js';
import { componentsOf, kFactor, shapeOf, type Components } from '../src/controller/shape.js';
import {
  buckDutyGain,
  currentLoopMultiplier,
  esrZero,
  halfFrequencyQuality,
  plantQuality,
  plantResonance,
  steppedDutyGain,
} from '../src/firstcut/plantForms.js';
import { rightHalfPlaneZero } from '../src/firstcut/rightHalfPlaneZero.js';
import { marginsOf, type Margin } from '../src/smallsignal/margins.js';
import { loopAt } from '../src/smallsignal/loopResponse.js';
import { openOrbit } from '../src/smallsignal/openOrbit.js';
import { linearPeriod } from '../src/smallsignal/linearPeriod.js';
import { floquet } from '../src/smallsignal/monodromy.js';
import { magnitude, type Complex } from '../src/linalg/complex.js';
import { discontinuousPlantChecks } from './discontinuousPlants.js';
import { plantOf, solved } from './loopStage.js';
import type { OutsideCheck } from './outsideCheck.js';

const EXACT = 1e-5;
const VENABLE =
  'H. D. Venable, The K Factor: A New Mathematical Tool for Stability Analysis and Synthesis, Powercon 10 (1983)';
const CANONICAL =
  'R. W. Erickson, D. Maksimović, Fundamentals of Power Electronics, 2nd ed., ch. 8 (canonical small-signal parameters)';
const REGULATOR =
  'R. W. Erickson, D. Maksimović, Fundamentals of Power Electronics, 2nd ed., ch. 9, section 9.5.4 (regulator design example)';
const OSCILLATION =
  'R. W. Erickson, D. Maksimović, Fundamentals of Power Electronics, 2nd ed., ch. 12, section 12.1 (oscillation for D > 0.5)';
const OTA_EXACT = 'Transconductance amplifier, type II, with finite output resistance (standard algebra)';
const RIDLEY =
  'R. B. Ridley, A New, Continuous-Time Model for Current-Mode Control, IEEE Trans. Power Electron. 6 (1991)';

type Expected = readonly [quantity: string, unit: string, expected: number, computed: () => number];
const checks = (source: string, list: readonly Expected[], relative = EXACT, absolute?: number): OutsideCheck[] =>
  list.map(([quantity, unit, expected, computed]) => ({
    source,
    quantity,
    unit,
    expected,
    relative,
    ...(absolute !== undefined && { absolute }),
    computed,
  }));

type Parts = Readonly<Record<keyof Components, number>>;
/** Components by the K factor for a boost at a crossover with a gain. */
function byKFactor(network: 'type-2' | 'type-3', crossover: number, boost: number, gain: number): Parts {
  const corners = kFactor(network, crossover, boost);
  const frame = { network, amplifier: { kind: 'op-amp' as const }, rUpper: 10e3, rLower: 1e3 };
  const found = corners && componentsOf({ ...corners, at: crossover, gain }, frame);
  if (!found) throw new Error('The network cannot lift the phase so far.');
  const value = (key: keyof Components): number => found[key] ?? NaN;
  return {
    rUpper: value('rUpper'),
    rLower: value('rLower'),
    rZero: value('rZero'),
    cZero: value('cZero'),
    cPole: value('cPole'),
    rFeedforward: value('rFeedforward'),
    cFeedforward: value('cFeedforward'),
  };
}

const compensator = (part: Compensator, reference = 0.8) => {
  const whole = completeCompensator({
    scheme: 'voltage-mode',
    dutyMax: 1,
    minimumOnTime: 0,
    slopeCompensation: 0,
    onTime: 0,
    reference,
    compensator: part,
  });
  if (!whole.ok) throw new Error(whole.lacks.join(', '));
  return whole.value;
};

const TYPE_3 = compensator({
  network: 'type-3',
  amplifier: { kind: 'op-amp' },
  components: {
    rUpper: 20e3,
    rLower: 1e3,
    rZero: 8200,
    rFeedforward: 510,
    cZero: 4.7e-9,
    cPole: 1e-10,
    cFeedforward: 1e-9,
  },
});
const OTA = compensator({
  network: 'type-2',
  amplifier: { kind: 'ota', transconductance: 1e-3, outputResistance: 2e6 },
  components: { rUpper: 31.25e3, rLower: 10e3, rZero: 12e3, cZero: 3.3e-9, cPole: 4.7e-11 },
});
const OTA_LEAD = compensator({
  network: 'type-3',
  amplifier: { kind: 'ota', transconductance: 1e-3, outputResistance: 2e6 },
  components: {
    rUpper: 45.3e3,
    rLower: 10e3,
    rZero: 1e3,
    cZero: 1e-9,
    cPole: 1e-11,
    rFeedforward: 1e3,
    cFeedforward: 1e-10,
  },
});

const compensatorChecks: readonly OutsideCheck[] = [
  ...checks(`${VENABLE}, type II`, [
    ['zero', 'Hz', 5358.9838, () => kFactor('type-2', 20e3, 60)?.zeros[0] ?? NaN],
    ['pole', 'Hz', 74641.016, () => kFactor('type-2', 20e3, 60)?.poles[0] ?? NaN],
    ['pole capacitor', 'F', 5.3306798e-11, () => byKFactor('type-2', 20e3, 60, 4).cPole],
    ['zero capacitor', 'F', 6.8916112e-10, () => byKFactor('type-2', 20e3, 60, 4).cZero],
    ['zero resistor', 'ohm', 43094.011, () => byKFactor('type-2', 20e3, 60, 4).rZero],
  ]),
  ...checks(`${VENABLE}, type III`, [
    ['double zero', 'Hz', 13397.46, () => kFactor('type-3', 50e3, 120)?.zeros[1] ?? NaN],
    ['double pole', 'Hz', 186602.54, () => kFactor('type-3', 50e3, 120)?.poles[1] ?? NaN],
    ['pole capacitor', 'F', 1.2732395e-10, () => byKFactor('type-3', 50e3, 120, 2.5).cPole],
    ['zero capacitor', 'F', 1.64607e-9, () => byKFactor('type-3', 50e3, 120, 2.5).cZero],
    ['zero resistor', 'ohm', 7216.8784, () => byKFactor('type-3', 50e3, 120, 2.5).rZero],
    ['feed-forward resistor', 'ohm', 773.50269, () => byKFactor('type-3', 50e3, 120, 2.5).rFeedforward],
    ['feed-forward capacitor', 'F', 1.1026578e-9, () => byKFactor('type-3', 50e3, 120, 2.5).cFeedforward],
  ]),
  ...checks('Op-amp type III network, exact factorisation (standard algebra)', [
    ['first zero', 'Hz', 4129.6041, () => shapeOf(TYPE_3).zeros[0] ?? NaN],
    ['second zero', 'Hz', 7759.8705, () => shapeOf(TYPE_3).zeros[1] ?? NaN],
    ['second pole', 'Hz', 312068.52, () => shapeOf(TYPE_3).poles[1] ?? NaN],
    ['first pole', 'Hz', 198221.0, () => shapeOf(TYPE_3).poles[0] ?? NaN],
    ['gain at 1 Hz, where the integrator is alone', 'ratio', 1657.864, () => magnitude(compensatorResponse(TYPE_3)(1))],
  ]),
  ...checks(OTA_EXACT, [
    ['gain at low frequency', 'ratio', 484.84848, () => magnitude(compensatorResponse(OTA)(1e-3))],
    ['zero', 'Hz', 4019.0642, () => shapeOf(OTA).zeros[0] ?? NaN],
    ['high pole, without the output resistance', 'Hz', 286208.68, () => shapeOf(OTA).poles[0] ?? NaN],
    // The response itself has the output resistance: at its low pole the gain is down by the root of two but for the zero.
    [
      'gain at the low pole',
      'ratio',
      (484.84848 * Math.hypot(1, 23.637877 / 4019.0642)) / Math.SQRT2,
      () => magnitude(compensatorResponse(OTA)(23.637877)),
    ],
  ]),
  ...checks('Feed-forward capacitor on the divider of a transconductance amplifier (exact)', [
    ['zero', 'Hz', 34374.718, () => shapeOf(OTA_LEAD).zeros[1] ?? NaN],
    ['pole', 'Hz', 173151.06, () => shapeOf(OTA_LEAD).poles[1] ?? NaN],
  ]),
];

const boostish = { complement: 0.4, inductance: 160e-6, capacitance: 160e-6, resistance: 10, series: 0, esr: 0 };
const boost = { complement: 0.5, inductance: 20e-6, capacitance: 100e-6, resistance: 24, series: 0, esr: 0 };
const lossy = { complement: 1, inductance: 1.5e-6, capacitance: 220e-6, resistance: 0.5, series: 0.01, esr: 0.008 };

const canonicalChecks: readonly OutsideCheck[] = [
  ...checks(`${CANONICAL}, buck-boost example of section 8.2.1`, [
    ['duty to output', 'V', 187.5, () => steppedDutyGain.compute({ outputVoltage: 45, complement: 0.4, share: 0.6 })],
    ['resonance', 'Hz', 397.88736, () => plantResonance.compute(boostish)],
    ['quality factor', 'ratio', 4, () => plantQuality.compute(boostish)],
    [
      'right-half-plane zero',
      'Hz',
      2652.5824,
      () => rightHalfPlaneZero.compute({ resistance: 10, duty: 0.6, inductance: 160e-6, share: 0.6 }),
    ],
  ]),
  ...checks(`${CANONICAL}, boost row of Table 8.2`, [
    ['duty to output', 'V', 96, () => steppedDutyGain.compute({ outputVoltage: 48, complement: 0.5, share: 1 })],
    ['resonance', 'Hz', 1779.4064, () => plantResonance.compute(boost)],
    ['quality factor', 'ratio', 26.832816, () => plantQuality.compute(boost)],
    [
      'right-half-plane zero',
      'Hz',
      47746.483,
      () => rightHalfPlaneZero.compute({ resistance: 24, duty: 0.5, inductance: 20e-6, share: 1 }),
    ],
  ]),
  ...checks(`${CANONICAL}, buck row with series resistance and ESR`, [
    ['duty to output', 'V', 11.764706, () => buckDutyGain.compute({ inputVoltage: 12, resistance: 0.5, series: 0.01 })],
    ['resonance', 'Hz', 8778.4208, () => plantResonance.compute(lossy)],
    ['quality factor', 'ratio', 2.6436489, () => plantQuality.compute(lossy)],
    ['quality factor without losses', 'ratio', 6.0553007, () => plantQuality.compute({ ...lossy, series: 0, esr: 0 })],
    ['ESR zero', 'Hz', 90428.945, () => esrZero.compute(lossy)],
  ]),
];

/** The regulator of the example as a stage: 28 V to 15 V at 100 kHz, ramp 4 V, feedback divided by three. */
let regulator: ((frequency: number) => Complex) | undefined;
function regulatorLoop(frequency: number): Complex {
  regulator ??= plantOf(
    {
      topology: 'buck',
      switchingFrequency: 100e3,
      targets: { inputVoltage: { min: 28, max: 28 }, outputVoltage: 15, outputCurrent: { max: 5 } },
      parts: {
        inductor: { inductance: 50e-6, resistance: 0 },
        outputCapacitors: [{ capacitance: 500e-6, esr: 0 }],
        highSide: { onResistance: 0 },
        lowSide: { onResistance: 0 },
      },
      control: { scheme: 'voltage-mode', rampAmplitude: 4 },
    },
    28,
    3,
  );
  const { re, im } = regulator(frequency);
  return { re: re / 3, im: im / 3 };
}
const uncompensated = () =>
  marginsOf(
    Array.from({ length: 60 }, (_, i) => 10 * 10 ** (i / 16)).map((frequency) => ({
      frequency,
      value: regulatorLoop(frequency),
    })),
    regulatorLoop,
  );
const valueOf = (margin: Margin): number => (margin.kind === 'found' ? margin.value : NaN);

const regulatorChecks: readonly OutsideCheck[] = [
  ...checks(
    REGULATOR,
    [
      ['uncompensated loop gain at low frequency', 'ratio', 2.3333333, () => magnitude(regulatorLoop(1))],
      ['uncompensated crossover', 'Hz', 1835.5754, () => valueOf(uncompensated().crossover)],
      [
        'resonance',
        'Hz',
        1006.5842,
        () =>
          plantResonance.compute({
            complement: 1,
            inductance: 50e-6,
            capacitance: 500e-6,
            resistance: 3,
            series: 0,
            esr: 0,
          }),
      ],
      [
        'loop gain at the resonance, Q times that at low frequency',
        'ratio',
        2.3333333 * 9.486833,
        () => magnitude(regulatorLoop(1006.5842)),
      ],
      ['zero of the lead', 'Hz', 1721.6381, () => kFactor('type-2', 5e3, 52)?.zeros[0] ?? NaN],
      ['pole of the lead', 'Hz', 14521.054, () => kFactor('type-2', 5e3, 52)?.poles[0] ?? NaN],
    ],
    1e-4,
  ),
  ...checks(
    REGULATOR,
    [['uncompensated phase margin', 'degrees', 4.7254061, () => valueOf(uncompensated().phaseMargin)]],
    0,
    0.01,
  ),
];

/** Multiplier of the current loop alone, the output held still by a large capacitor. */
function currentMultiplier(slopeShare: number): number {
  const inductance = 10e-6;
  const sense = 0.05;
  const { complete, condition, found } = solved(
    {
      topology: 'buck',
      switchingFrequency: 400e3,
      targets: { inputVoltage: { min: 10, max: 10 }, outputVoltage: 6, outputCurrent: { max: 6 } },
      parts: {
        inductor: { inductance, resistance: 0 },
        outputCapacitors: [{ capacitance: 0.5, esr: 0 }],
        highSide: { onResistance: 0 },
        lowSide: { onResistance: 0 },
      },
      control: {
        scheme: 'peak-current-mode',
        currentSenseGain: sense,
        slopeCompensation: (slopeShare * sense * 6) / inductance,
      },
    },
    10,
    1,
  );
  const orbit = openOrbit(complete, condition, found);
  if (typeof orbit === 'string') throw new Error(orbit);
  // The other multiplier is that of the capacitor, next to one.
  return floquet(linearPeriod(orbit, 'current')).multipliers.reduce((a, b) =>
    Math.abs(b.re - 1) > Math.abs(a.re - 1) ? b : a,
  ).re;
}

const RIDLEY_STAGE = {
  topology: 'buck',
  switchingFrequency: 500e3,
  targets: { inputVoltage: { min: 12, max: 12 }, outputVoltage: 5, outputCurrent: { max: 5 } },
  parts: {
    inductor: { inductance: 4.7e-6, resistance: 0 },
    outputCapacitors: [{ capacitance: 100e-6, esr: 0 }],
    highSide: { onResistance: 0 },
    lowSide: { onResistance: 0 },
  },
  control: { scheme: 'peak-current-mode', currentSenseGain: 0.05, slopeCompensation: 26595.744680851065 },
};

const currentModeChecks: readonly OutsideCheck[] = [
  ...([0, 0.25, 0.5, 0.6, 1] as const).flatMap((slopeShare, k) => {
    const expected = [-1.5, -0.81818182, -0.42857143, -0.31578947, 0][k] ?? NaN;
    return [
      ...checks(
        OSCILLATION,
        [
          [
            `multiplier at D = 0.6 with a ramp of ${String(slopeShare)} m₂, closed form`,
            '',
            expected,
            () => currentLoopMultiplier.compute({ duty: 0.6, slopeShare }),
          ],
        ],
        0,
        1e-6,
      ),
      ...checks(
        OSCILLATION,
        [
          [
            `multiplier at D = 0.6 with a ramp of ${String(slopeShare)} m₂, of the circuit`,
            '',
            expected,
            () => currentMultiplier(slopeShare),
          ],
        ],
        0,
        1e-3,
      ),
    ];
  }),
  ...checks(RIDLEY, [
    [
      'quality factor at half the switching frequency, D = 5/12, half the down-slope',
      '',
      1.0913482,
      () => halfFrequencyQuality.compute({ duty: 5 / 12, slopeShare: 0.5 }),
    ],
  ]),
  ...checks(
    `${RIDLEY}: buck, control to output`,
    [
      ['gain at low frequency', 'ratio', 17.791798, () => magnitude(plantOf(RIDLEY_STAGE, 12, 1)(1))],
      [
        'gain at the low pole, over that',
        'ratio',
        Math.SQRT1_2,
        () => magnitude(plantOf(RIDLEY_STAGE, 12, 1)(1789.0822)) / magnitude(plantOf(RIDLEY_STAGE, 12, 1)(1)),
      ],
    ],
    1e-3,
  ),
];

const RIPPLE =
  'R. Redl, J. Sun, Ripple-Based Control of Switching Regulators – An Overview, IEEE Trans. Power Electron. 24 (2009): stable where ESR · C is over half the on-time; multiplier by charge balance';

/** Multiplier of a constant on-time stage, 12 V to 2.16 V at 600 kHz with 220 µF, by the ESR. */
function onTimeMultiplier(esr: number): number {
  const { complete, condition } = solved(
    {
      topology: 'buck',
      switchingFrequency: 600e3,
      targets: { inputVoltage: { min: 12, max: 12 }, outputVoltage: 2.16, outputCurrent: { max: 5 } },
      parts: {
        inductor: { inductance: 1e-6, resistance: 0 },
        outputCapacitors: [{ capacitance: 220e-6, esr }],
        highSide: { onResistance: 0 },
        lowSide: { onResistance: 0 },
      },
      control: { scheme: 'constant-on-time', onTime: 300e-9, reference: 2.16 },
    },
    12,
    2.16 / 5,
  );
  const found = loopAt(complete, { ...condition, load: { kind: 'current', current: 5 } }, []);
  return found.kind === 'solved' ? (found.floquetMultipliers[0]?.re ?? NaN) : NaN;
}

/** The ESR at which the multiplier is minus one, found between two others. */
function onTimeBoundary(): number {
  let [low, high] = [0.6e-3, 0.8e-3];
  for (let step = 0; step < 14; step += 1) {
    const middle = (low + high) / 2;
    if (onTimeMultiplier(middle) < -1) low = middle;
    else high = middle;
  }
  return (low + high) / 2;
}

const onTimeChecks: readonly OutsideCheck[] = [
  ...checks(
    RIPPLE,
    [
      ['multiplier with an ESR of 0.3 mΩ', '', -1.2241993, () => onTimeMultiplier(0.3e-3)],
      ['multiplier with an ESR of 1 mΩ', '', -0.84501845, () => onTimeMultiplier(1e-3)],
      ['multiplier with an ESR of 5 mΩ', '', 0.065420561, () => onTimeMultiplier(5e-3)],
    ],
    0,
    5e-3,
  ),
  ...checks(RIPPLE, [['ESR at the border of stability', 'ohm', 0.68181818e-3, onTimeBoundary]], 0.01),
];

/** Compensators, plants in both conduction modes, a regulator and current-mode control as textbooks work them. */
export const loopTextbookChecks: readonly OutsideCheck[] = [
  ...compensatorChecks,
  ...canonicalChecks,
  ...regulatorChecks,
  ...currentModeChecks,
  ...onTimeChecks,
  ...discontinuousPlantChecks,
];

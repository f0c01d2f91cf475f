import { modeInductances, steadyInductance, windingRipple } from '../src/firstcut/coupledRipple.js';
import {
  buckIdealDuty,
  buckInductance,
  buckInputCapacitorRms,
  buckRipple,
  inductorRms,
  outputCapacitorRms,
  peakCurrent,
  summedRipple,
  switchRms,
} from '../src/firstcut/buckForms.js';
import { peakWithin } from '../src/linalg/goldenSection.js';
import {
  buckDrivenImpedance,
  buckNullImpedance,
  dampedPeak,
  dampingMultiple,
  dampingResistance,
  filterResistance,
  filterResonance,
  inputResistance,
} from '../src/firstcut/inputFilterForms.js';
import {
  bandwidthCapacitance,
  energyCapacitance,
  slewLimitedCapacitance,
  stepDeviation,
  unloadingOvershoot,
} from '../src/firstcut/loadStepForms.js';
import { boostIdealDuty, buckBoostIdealDuty } from '../src/firstcut/boostForms.js';
import { linearDissipation, linearEfficiency } from '../src/firstcut/linearForms.js';
import { pulseRatio } from '../src/firstcut/pulseRatio.js';
import { dividerOutput } from '../src/firstcut/dividerForms.js';
import { electrolyticLife } from '../src/firstcut/capacitorLifeForms.js';
import { chargeAverageAtBias, onCurve } from '../src/parts/capacitorBank.js';
import { nearestPreferred, PREFERRED_SERIES } from '../src/quantity/preferredValues.js';
import type { OutsideCheck } from './outsideCheck.js';

const PRINTED = 1e-6;

const check = (
  source: string,
  quantity: string,
  unit: string,
  expected: number,
  computed: () => number,
  absolute = 0,
): OutsideCheck => ({
  source,
  quantity,
  unit,
  expected,
  relative: PRINTED,
  absolute,
  computed,
});

const RIPPLE_RULE =
  'Inductor from the ripple ratio ΔI/I (standard rule; R. W. Erickson, D. Maksimović, Fundamentals of Power Electronics, 2nd ed., ch. 2)';
const RMS = 'RMS of a trapezoidal waveform (standard result)';
const INPUT_RMS = 'RMS current of the buck input capacitor (standard; recomputed by integration)';
const CANCELLATION = 'Ripple cancellation of the interleaved buck (standard result, by summing the phase triangles)';
const INTERLEAVED_RMS = 'Interleaved buck input RMS current with inductor ripple (by waveform integration)';

const COUPLED =
  'P.-L. Wong, P. Xu, B. Yang, F. C. Lee, Performance Improvements of Interleaving VRMs with Coupling Inductors, IEEE Trans. Power Electronics 16(4), 2001 (two inverse windings of 500 nH)';
const coupledPair = { inductance: 500e-9, kind: 'inverse', coefficient: 0.6, windings: 2 } as const;

const ripple = buckRipple.compute({ vOut: 5, duty: 5 / 12, fSw: 400e3, inductance: 6.0763889e-6 });

const FILTER =
  'R. W. Erickson, D. Maksimović, Fundamentals of Power Electronics, 2nd ed., ch. 10, section 10.4.1; R. W. Erickson, Optimal Single Resistors Damping of Input Filters, IEEE APEC 1999';
const CONSTANT_POWER =
  'R. D. Middlebrook, Input Filter Considerations in Design and Application of Switching Regulators, IEEE IAS 1976 (constant-power input resistance)';
const filter = { inductance: 330e-6, capacitance: 470e-6 };
const characteristic = filterResistance.compute(filter);
const multiple = dampingMultiple.compute({ characteristic, peak: 1 });

const BUCK_INPUT =
  'R. W. Erickson, D. Maksimović, Fundamentals of Power Electronics, 2nd ed., ch. 10, section 10.3 (buck example)';
const drivenAt = (frequency: number): number =>
  buckDrivenImpedance.compute({ load: 3, duty: 0.5, stageInductance: 100e-6, stageCapacitance: 100e-6, frequency });
const drivenMinimum = peakWithin((frequency) => -drivenAt(frequency), 1000, 2500, 60);

const filterChecks: readonly OutsideCheck[] = [
  check(BUCK_INPUT, 'input impedance of the example with an ideal loop, magnitude', 'ohm', 12, () =>
    buckNullImpedance.compute({ load: 3, duty: 0.5 }),
  ),
  check(BUCK_INPUT, 'input impedance at constant duty ratio, at 1.59 kHz', 'ohm', 1.2649111, () => drivenAt(1591.5494)),
  check(BUCK_INPUT, 'its minimum', 'ohm', 1.2647345, () => -drivenMinimum.value),
  { ...check(BUCK_INPUT, 'where the minimum lies', 'Hz', 1587.109, () => drivenMinimum.at), relative: 1e-4 },
  check(FILTER, 'corner of a filter of 330 µH and 470 µF', 'Hz', 404.12362, () => filterResonance.compute(filter)),
  check(FILTER, 'its characteristic resistance', 'ohm', 0.83793058, () => characteristic),
  check(FILTER, 'damping over filter capacitance for a peak of 1 Ω', '', 2.519129, () => multiple),
  check(FILTER, 'optimum damping resistance', 'ohm', 0.6657406, () =>
    dampingResistance.compute({ characteristic, multiple }),
  ),
  check(FILTER, 'damping capacitance', 'F', 0.0011839906, () => multiple * filter.capacitance),
  check(FILTER, 'peak output impedance of the damped filter', 'ohm', 1, () =>
    dampedPeak.compute({ characteristic, multiple }),
  ),
  check(CONSTANT_POWER, 'input resistance of 60 W at 12 V, magnitude', 'ohm', 2.4, () =>
    inputResistance.compute({ vIn: 12, power: 60 }),
  ),
  check(CONSTANT_POWER, 'corner of a filter of 1 µH and 22 µF', 'Hz', 33931.948, () =>
    filterResonance.compute({ inductance: 1e-6, capacitance: 22e-6 }),
  ),
];

const STEP_SOURCE = 'Charge balance of the inductor ramp (worked example; energy form for unloading)';
const unloading = { inductance: 1e-6, step: 10, deviation: 0.05 };
const ESR_SOURCE = 'Load step with a linear inductor ramp into C and ESR (worked example)';
const esrStep = (esr: number): number =>
  stepDeviation.compute({ step: 10, inductance: 500e-9, rampVoltage: 1.2, capacitance: 400e-6, esr });
const DIVIDER = 'Feedback divider (definition, worked example)';
const LIFE = 'Electrolytic capacitor life, doubling per 10 K (common rule)';
const HOUR = 3600;
const life = (temperature: number, rise: number): number =>
  electrolyticLife.compute({ rated: 2000 * HOUR, ratedTemperature: 105, temperature, rise }) / HOUR;
const BIAS = 'DC-bias curve by linear interpolation (invented example, not a part)';
const biasCurve: readonly (readonly [number, number])[] = [
  [0, 22e-6],
  [2, 21.5e-6],
  [4, 19e-6],
  [6.3, 14e-6],
  [10, 8e-6],
  [16, 4e-6],
];
const INPUT_PHASES = 'Interleaved buck input capacitor RMS without inductor ripple (standard result)';
const inputRms = (phases: number, duty: number): number =>
  buckInputCapacitorRms.compute({ loadCurrent: 1, duty, phases, ripple: 0 });
const SERIES = 'IEC 60063 (preferred numbers; table from memory)';

const selectionChecks: readonly OutsideCheck[] = [
  check(STEP_SOURCE, 'capacitance for unloading 10 A, 1 µH, 1.8 V, 50 mV', 'F', 0.00055555556, () =>
    slewLimitedCapacitance.compute({ ...unloading, rampVoltage: 1.8 }),
  ),
  check(STEP_SOURCE, 'the same by energy, exact', 'F', 0.00054794521, () =>
    energyCapacitance.compute({ ...unloading, vOut: 1.8 }),
  ),
  check(STEP_SOURCE, 'capacitance for loading from 12 V', 'F', 9.8039216e-5, () =>
    slewLimitedCapacitance.compute({ ...unloading, rampVoltage: 12 - 1.8 }),
  ),
  {
    ...check(STEP_SOURCE, 'overshoot from 15 A to 5 A, 470 µF', 'V', 0.058161984, () =>
      unloadingOvershoot.compute({ inductance: 1e-6, step: 10, capacitance: 470e-6, vOut: 1.8 }),
    ),
    relative: 1e-5,
  },
  check(
    'Output impedance at crossover (standard estimate)',
    'capacitance for 5 A, 50 kHz, 0.1 V',
    'F',
    0.00015915494,
    () => bandwidthCapacitance.compute({ step: 5, crossover: 50e3, deviation: 0.1 }),
  ),
  check(ESR_SOURCE, 'deviation with 0.5 mΩ', 'V', 0.052203333, () => esrStep(0.5e-3)),
  check(ESR_SOURCE, 'deviation with 3 mΩ', 'V', 0.056403333, () => esrStep(3e-3)),
  check(ESR_SOURCE, 'deviation with 12 mΩ: the ESR alone', 'V', 0.12, () => esrStep(12e-3)),
  check(DIVIDER, 'upper resistor for 3.3 V from 0.6 V and 10 kΩ, nearest E96', 'ohm', 45300, () =>
    nearestPreferred(45000, 'E96'),
  ),
  check(DIVIDER, 'output voltage with it', 'V', 3.318, () =>
    dividerOutput.compute({ reference: 0.6, upper: 45300, lower: 10e3, bias: 0 }),
  ),
  check(DIVIDER, 'output voltage with 100 nA into the pin', 'V', 3.32253, () =>
    dividerOutput.compute({ reference: 0.6, upper: 45300, lower: 10e3, bias: 100e-9 }),
  ),
  check(LIFE, 'life of 2,000 h at 105 °C, at 85 °C', 'h', 8000, () => life(85, 0)),
  check(LIFE, 'life at 65 °C', 'h', 32000, () => life(65, 0)),
  check(LIFE, 'life at 65 °C with 5 K of ripple heating', 'h', 22627.417, () => life(65, 5)),
  check(BIAS, 'capacitance at 5 V', 'F', 1.6826087e-5, () => onCurve(biasCurve, 5)),
  check(BIAS, 'charge average from 0 to 5 V', 'F', 2.0382609e-5, () => chargeAverageAtBias(biasCurve, 5)),
  check(INPUT_PHASES, 'two phases, D = 0.1', 'A per A', 0.2, () => inputRms(2, 0.1)),
  check(INPUT_PHASES, 'three phases, D = 0.1', 'A per A', 0.15275252, () => inputRms(3, 0.1)),
  check(INPUT_PHASES, 'four phases, D = 0.3', 'A per A', 0.1, () => inputRms(4, 0.3)),
  check(INPUT_PHASES, 'six phases, D = 0.2', 'A per A', 0.066666667, () => inputRms(6, 0.2)),
  check(SERIES, 'sum of the E96 decade', '', 37070, () => PREFERRED_SERIES.E96.reduce((sum, value) => sum + value, 0)),
  check(SERIES, 'sum of the E192 decade', '', 74599, () =>
    PREFERRED_SERIES.E192.reduce((sum, value) => sum + value, 0),
  ),
  check(SERIES, 'nearest E192 to 919', '', 920, () => nearestPreferred(919, 'E192')),
];

const PULSE_RATIO = 'Pulse ratio q = T/ton (definition), put into the ideal conversion ratios';
const LINEAR = 'Linear series regulator, energy balance (standard; worked example)';
const linearAt = (quiescent: number) => ({ vIn: 5, vOut: 3.3, current: 0.5, quiescent });

const conventionChecks: readonly OutsideCheck[] = [
  check(PULSE_RATIO, 'buck, 12 V to 3 V', '', 4, () =>
    pulseRatio.compute({ duty: buckIdealDuty.compute({ vIn: 12, vOut: 3 }) }),
  ),
  check(PULSE_RATIO, 'boost, 12 V to 16 V', '', 4, () =>
    pulseRatio.compute({ duty: boostIdealDuty.compute({ vIn: 12, vOut: 16 }) }),
  ),
  check(PULSE_RATIO, 'buck-boost, 12 V to 4 V', '', 4, () =>
    pulseRatio.compute({ duty: buckBoostIdealDuty.compute({ vIn: 12, vOut: 4 }) }),
  ),
  check(LINEAR, 'efficiency, 5 V to 3.3 V', '', 0.66, () => linearEfficiency.compute(linearAt(0))),
  check(LINEAR, 'efficiency with 5 mA of its own at 0.5 A', '', 0.65346535, () =>
    linearEfficiency.compute(linearAt(0.005)),
  ),
  check(LINEAR, 'dissipation', 'W', 0.875, () => linearDissipation.compute(linearAt(0.005))),
];

/** Closed forms against published and worked figures. */
export const textbookChecks: readonly OutsideCheck[] = [
  ...conventionChecks,
  ...filterChecks,
  ...selectionChecks,
  check(RIPPLE_RULE, 'duty ratio, 12 V to 5 V', '', 0.41666667, () => buckIdealDuty.compute({ vIn: 12, vOut: 5 })),
  check(RIPPLE_RULE, 'inductance for ripple ratio 0.3, 5 V, 4 A, 400 kHz', 'H', 6.0763889e-6, () =>
    buckInductance.compute({ vOut: 5, duty: 5 / 12, fSw: 400e3, ratio: 0.3, phaseCurrent: 4 }),
  ),
  check(RIPPLE_RULE, 'inductor ripple current', 'A', 1.2, () => ripple),
  check(RIPPLE_RULE, 'peak inductor current', 'A', 4.6, () => peakCurrent.compute({ phaseCurrent: 4, ripple })),
  check(RIPPLE_RULE, 'inductor RMS current', 'A', 4.014972, () => inductorRms.compute({ phaseCurrent: 4, ripple })),
  check(INPUT_RMS, 'input capacitor RMS current, D = 0.275, no ripple', 'A', 4.4651428, () =>
    buckInputCapacitorRms.compute({ loadCurrent: 10, duty: 0.275, phases: 1, ripple: 0 }),
  ),
  check(INPUT_RMS, 'input capacitor RMS current, D = 0.275, 3 A ripple', 'A', 4.4881789, () =>
    buckInputCapacitorRms.compute({ loadCurrent: 10, duty: 0.275, phases: 1, ripple: 3 }),
  ),
  check(INPUT_RMS, 'input capacitor RMS current at its worst, D = 0.5', 'A', 5, () =>
    buckInputCapacitorRms.compute({ loadCurrent: 10, duty: 0.5, phases: 1, ripple: 0 }),
  ),
  check(INPUT_RMS, 'output capacitor RMS current, 3 A ripple', 'A', 0.8660254, () =>
    outputCapacitorRms.compute({ ripple: 3 }),
  ),
  check(RMS, 'high-side RMS current', 'A', 5.2788888, () =>
    switchRms.compute({ share: 0.275, phaseCurrent: 10, ripple: 4 }),
  ),
  check(RMS, 'low-side RMS current', 'A', 8.5712698, () =>
    switchRms.compute({ share: 0.725, phaseCurrent: 10, ripple: 4 }),
  ),
  ...(
    [
      [2, 0.1, 0.88888889],
      [2, 0.25, 0.66666667],
      [2, 0.5, 0],
      [3, 0.25, 0.33333333],
      [3, 1 / 3, 0],
      [4, 0.1, 0.66666667],
      [4, 0.3, 0.19047619],
      [6, 0.15, 0.11764706],
    ] as const
  ).map(([phases, duty, expected]) =>
    check(
      CANCELLATION,
      `summed over phase ripple, ${String(phases)} phases, D = ${duty.toFixed(3)}`,
      '',
      expected,
      () => summedRipple.compute({ ripple: 1, duty, phases }),
      1e-8,
    ),
  ),
  ...(
    [
      [3, 0.15, 12.75, 9.9498744, 10.251639],
      [4, 0.3, 10.5, 6, 6.2825817],
    ] as const
  ).flatMap(([phases, duty, phaseRipple, without, withRipple]) => [
    check(INTERLEAVED_RMS, `${String(phases)} phases, D = ${String(duty)}, no ripple`, 'A', without, () =>
      buckInputCapacitorRms.compute({ loadCurrent: 60, duty, phases, ripple: 0 }),
    ),
    check(INTERLEAVED_RMS, `${String(phases)} phases, D = ${String(duty)}, with ripple`, 'A', withRipple, () =>
      buckInputCapacitorRms.compute({ loadCurrent: 60, duty, phases, ripple: phaseRipple }),
    ),
  ]),
  check(COUPLED, 'steady-state inductance, k = 0.6, D = 0.2', 'H', 3.7647059e-7, () =>
    steadyInductance(coupledPair, 0.2),
  ),
  check(COUPLED, 'transient inductance', 'H', 2e-7, () => modeInductances(coupledPair).common),
  check(COUPLED, 'phase ripple at 12 V', 'A', 10.2, () => windingRipple(coupledPair, 12, 0.2, 2e-6)),
  check(COUPLED, 'the same of uncoupled inductors of the transient inductance', 'A', 19.2, () =>
    windingRipple({ ...coupledPair, kind: 'none', inductance: 2e-7 }, 12, 0.2, 2e-6),
  ),
];

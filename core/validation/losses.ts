import { edgeOverlap, outputChargeLoss, periodicCharge } from '../src/firstcut/edgeForms.js';
import { bootstrapCapacitance, inducedGateVoltage } from '../src/firstcut/gateForms.js';
import { boostPulseFrequency, buckBoostPulseFrequency, buckPulseFrequency } from '../src/firstcut/pulseForms.js';
import {
  ringingCapacitance,
  ringingInductance,
  SNUBBER_MULTIPLE,
  snubberLoss,
  snubberResistance,
} from '../src/firstcut/snubberForms.js';
import { copperToAir, finEfficiency, junctionRise, linearJunction } from '../src/firstcut/thermalForms.js';
import { diodeOutputCharge, mosfetOutputCharge } from '../src/losses/outputCharge.js';
import { shapeOverSine } from '../src/losses/waveformShape.js';
import { settledJunction } from '../src/thermal/junction.js';
import type { OutsideCheck } from './outsideCheck.js';

const PRINTED = 1e-6;
const check = (
  source: string,
  quantity: string,
  unit: string,
  expected: number,
  computed: () => number,
  relative = PRINTED,
): OutsideCheck => ({ source, quantity, unit, expected, relative, absolute: 0, computed });

const OVERLAP =
  'R. W. Erickson, D. Maksimović, Fundamentals of Power Electronics, 2nd ed., ch. 4, section 4.3 (clamped inductive switching transition)';
const OUTPUT =
  'R. W. Erickson, D. Maksimović, Fundamentals of Power Electronics, 2nd ed., ch. 4, section 4.3.3 (nonlinear output capacitance)';
const CHARGES =
  'R. W. Erickson, D. Maksimović, Fundamentals of Power Electronics, 2nd ed., ch. 4 (diode stored charge), with the standard drive term';
const THERMAL = 'Electro-thermal fixed point with a linear resistance (worked example)';
const SNUBBER =
  'RC snubber from the ringing frequency (standard bench method; W. McMurray, Optimum Snubbers for Power Semiconductors, IEEE Trans. Ind. Appl. 1972)';
const BOOTSTRAP = 'Bootstrap capacitor, charge balance (standard)';
const INDUCED = 'Gate voltage induced by a drain ramp, linear capacitances (worked example)';
const PULSES = 'Pulses that stand alone, charge balance of a triangle (worked example)';
const STEINMETZ =
  'K. Venkatachalam, C. R. Sullivan, T. Abdallah, H. Tacca, Accurate Prediction of Ferrite Core Loss with Nonsinusoidal Waveforms Using Only Steinmetz Parameters, IEEE COMPEL 2002';
const TWO_RESISTORS = 'Junction over case and copper area (convection, definition)';
const FIN = 'Efficiency of a straight fin with an adiabatic tip (standard heat-transfer result)';

const edge = { voltage: 12, fSw: 500e3, devices: 1 };
/** 200 pF at 48 V, as charge at that voltage. */
const junctionOf48V = diodeOutputCharge({ forwardVoltage: 0, dynamicResistance: 0, junctionCapacitance: 200e-12 }, 48);
const halfBridge = mosfetOutputCharge({ onResistance: 0, outputCharge: 19.2e-9, outputChargeVoltage: 48 }, 48);
const channel = 100 * 0.01;
const hot = { ambient: 50, thermal: 40, channel, coefficient: 0.004, other: 0.5 };
const ringing = { frequency: 120e6, capacitance: ringingCapacitance.compute({ added: 600e-12 }) };
const loop = { ...ringing, inductance: ringingInductance.compute(ringing) };
const pulse = { load: 0.005, inductance: 10e-6, peak: 1, vIn: 12 };
const triangle = (duty: number): number =>
  shapeOverSine(1.5, [
    { swing: 1, share: duty },
    { swing: -1, share: 1 - duty },
  ]);
const induced = { resistance: 3, gateDrain: 50e-12, gateSource: 1e-9, slope: 2e9, voltage: 12 };
const foil = { convection: 10, conductivity: 390, thickness: 70e-6, sides: 2 };

/** Losses, gates and heat against published and worked figures. */
export const lossChecks: readonly OutsideCheck[] = [
  check(OVERLAP, 'turn-on at 8 A, 8 ns, 12 V, 500 kHz', 'W', 0.192, () =>
    edgeOverlap.compute({ ...edge, current: 8, time: 8e-9 }),
  ),
  check(OVERLAP, 'turn-off at 12 A, 12 ns', 'W', 0.432, () =>
    edgeOverlap.compute({ ...edge, current: 12, time: 12e-9 }),
  ),
  check(OUTPUT, 'charge of 200 pF at 48 V', 'C', 1.92e-8, () => junctionOf48V.charge),
  check(OUTPUT, 'energy in it', 'J', 3.072e-7, () => junctionOf48V.energy),
  check(OUTPUT, 'hard turn-on of a half bridge of two such devices, at 1 Hz', 'W', 9.216e-7, () =>
    outputChargeLoss.compute({
      share: 0,
      ownEnergy: halfBridge.energy,
      otherCharge: halfBridge.charge,
      otherEnergy: halfBridge.energy,
      voltage: 48,
      fSw: 1,
      devices: 1,
    }),
  ),
  check(CHARGES, 'gate of 25 nC at 5 V, 500 kHz', 'W', 0.0625, () =>
    periodicCharge.compute({ charge: 25e-9, voltage: 5, fSw: 500e3, devices: 1 }),
  ),
  check(CHARGES, 'recovery of 30 nC from 12 V', 'W', 0.18, () =>
    periodicCharge.compute({ charge: 30e-9, voltage: 12, fSw: 500e3, devices: 1 }),
  ),
  check(THERMAL, 'junction at 10 A RMS, closed form', '°C', 126.19048, () => linearJunction.compute(hot)),
  check(THERMAL, 'the same by the search for the lowest solution', '°C', 126.19048, () => {
    const junction = settledJunction((t) => 0.5 + channel * (1 + 0.004 * (t - 25)), 40, 50);
    return junction.kind === 'settled' ? junction.temperature : NaN;
  }),
  check(SNUBBER, 'capacitance that rings, 600 pF halve 120 MHz', 'F', 2e-10, () => ringing.capacitance),
  check(SNUBBER, 'inductance of the loop', 'H', 8.7952416e-9, () => loop.inductance, 1e-5),
  check(SNUBBER, 'snubber resistor', 'ohm', 6.631456, () => snubberResistance.compute(loop), 1e-5),
  check(SNUBBER, 'loss of three times the capacitance at 12 V and 500 kHz', 'W', 0.0432, () =>
    snubberLoss.compute({ capacitance: SNUBBER_MULTIPLE * ringing.capacitance, voltage: 12, fSw: 500e3 }),
  ),
  check(BOOTSTRAP, '20 nC and 50 µA over 20 µs, 100 mV', 'F', 2.1e-7, () =>
    bootstrapCapacitance.compute({ gateCharge: 20e-9, leakage: 50e-6, onTime: 20e-6, recovery: 0, droop: 0.1 }),
  ),
  check(INDUCED, 'at 2 V/ns, 50 pF, 1 nF and 3 Ω', 'V', 0.25534258, () => inducedGateVoltage.compute(induced)),
  check(PULSES, 'buck, 12 V to 3.3 V, 5 mA', 'Hz', 2392.5, () => buckPulseFrequency.compute({ ...pulse, vOut: 3.3 })),
  check(PULSES, 'boost, 12 V to 24 V', 'Hz', 12000, () => boostPulseFrequency.compute({ ...pulse, vOut: 24 })),
  check(PULSES, 'buck-boost to 5 V', 'Hz', 5000, () => buckBoostPulseFrequency.compute({ ...pulse, vOut: 5 })),
  check(STEINMETZ, 'triangle over sine, D = 0.5, exponent 1.5', '', 0.91289136, () => triangle(0.5), 1e-5),
  check(STEINMETZ, 'triangle over sine, D = 0.3', '', 0.97503585, () => triangle(0.3), 1e-5),
  check(STEINMETZ, 'triangle over sine, D = 0.1', '', 1.3608581, () => triangle(0.1), 1e-5),
  check(TWO_RESISTORS, 'two sides of 25 cm² to air', 'K/W', 20, () =>
    copperToAir.compute({ convection: 10, area: 25e-4, sides: 2, efficiency: 1 }),
  ),
  check(TWO_RESISTORS, 'junction of 1.2 W over 23 K/W from 45 °C', '°C', 72.6, () =>
    junctionRise.compute({ ambient: 45, thermal: 23, loss: 1.2 }),
  ),
  check(FIN, '10 mm', '', 0.97627497, () => finEfficiency.compute({ ...foil, length: 0.01 }), 1e-5),
  check(FIN, '25 mm', '', 0.87095835, () => finEfficiency.compute({ ...foil, length: 0.025 }), 1e-5),
  check(FIN, '50 mm', '', 0.64643289, () => finEfficiency.compute({ ...foil, length: 0.05 }), 1e-5),
];

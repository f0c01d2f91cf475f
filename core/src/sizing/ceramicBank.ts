import { onCurve } from '../parts/capacitorBank.js';
import { preferredAtLeast } from '../quantity/preferredValues.js';
import type { CapacitorBank } from '../stage/partsSchema.js';
import {
  CERAMIC_BIAS,
  CERAMIC_ESL,
  CERAMIC_ESR,
  CERAMIC_VOLTAGE_CLASSES,
  MOST_EVER,
  MOST_IN_PARALLEL,
  VOLTAGE_MARGIN,
  voltageClass,
} from '../rules/rules.js';

/** Smallest and largest single ceramic considered, F. */
const SMALLEST = 1e-6;
const LARGEST = 100e-6;

/** A bank of equal ceramics that has at least a wanted capacitance at its bias, in parts of an E6 value. */
export function ceramicBank(wanted: number, bias: number, maxVoltage: number): CapacitorBank {
  const ratedVoltage = voltageClass(maxVoltage * VOLTAGE_MARGIN, CERAMIC_VOLTAGE_CLASSES);
  const biasCurve = CERAMIC_BIAS.map(([share, remaining]): [number, number] => [share * ratedVoltage, remaining]);
  const keep = onCurve(biasCurve, Math.abs(bias));
  const each = Math.min(LARGEST, Math.max(SMALLEST, preferredAtLeast(wanted / keep / 4, 'E6')));
  const count = Math.min(MOST_EVER, Math.max(1, Math.ceil(wanted / keep / each - 1e-9)));
  return { kind: 'ceramic', capacitance: each, esr: CERAMIC_ESR, esl: CERAMIC_ESL, count, ratedVoltage, biasCurve };
}

/** The next larger bank: one part more, or the next E6 value once there are many. */
export function enlarged(bank: CapacitorBank): CapacitorBank {
  if (bank.count < MOST_IN_PARALLEL) return { ...bank, count: bank.count + 1 };
  const larger = preferredAtLeast(bank.capacitance * 1.01, 'E6');
  return larger > LARGEST
    ? { ...bank, count: bank.count + 2 }
    : { ...bank, capacitance: larger, count: Math.ceil(MOST_IN_PARALLEL / 2) };
}

/** A bank with at least `factor` times the capacitance, and more than before: ripple goes about as one over it. */
export function enlargedBy(bank: CapacitorBank, factor: number): CapacitorBank {
  const wanted = bank.capacitance * bank.count * factor;
  let larger = enlarged(bank);
  while (larger.capacitance * larger.count < wanted && larger.count < MOST_EVER) larger = enlarged(larger);
  return larger;
}

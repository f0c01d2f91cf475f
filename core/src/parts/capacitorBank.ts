import type { CapacitorBank } from '../stage/partsSchema.js';
import { incrementalTable, type IncrementalTable } from './incrementalTable.js';

/** A bank as the one capacitor the circuit sees. */
export interface BankModel {
  /** F, at the bias voltage, all parts together. */
  readonly capacitance: number;
  readonly esr: number;
  readonly esl: number;
}

/** Value of a curve of [x, y] points at x: linear between points, level beyond its ends. */
export function onCurve(points: readonly (readonly [number, number])[], x: number): number {
  const first = points[0];
  const last = points.at(-1);
  if (!first || !last) throw new RangeError('A curve needs at least one point.');
  if (x <= first[0]) return first[1];
  for (let i = 1; i < points.length; i += 1) {
    const right = points[i];
    const left = points[i - 1];
    if (left && right && x <= right[0]) return left[1] + ((right[1] - left[1]) * (x - left[0])) / (right[0] - left[0]);
  }
  return last[1];
}

/** Average of a curve from 0 to x: the charge average, which counts for energy and hold-up. Straight lines between points. */
export function chargeAverageAtBias(points: readonly (readonly [number, number])[], x: number): number {
  const inside = [0, ...points.map(([at]) => at).filter((at) => at > 0 && at < x), x];
  const area = inside.reduce((sum, at, i) => {
    const before = inside[i - 1];
    return before === undefined ? sum : sum + ((at - before) * (onCurve(points, at) + onCurve(points, before))) / 2;
  }, 0);
  return x === 0 ? onCurve(points, 0) : area / x;
}

/** Share of its capacitance that a part keeps at a DC bias, V. One where no curve is given. */
export function remainingAtBias(bank: CapacitorBank, bias: number): number {
  return bank.biasCurve ? onCurve(bank.biasCurve, Math.abs(bias)) : 1;
}

/** Share of its stated capacitance that a part may be down to: tolerance, temperature and aging together. */
export function leastShare({
  tolerance = 0,
  temperatureDrop = 0,
  agingDrop = 0,
}: Pick<CapacitorBank, 'tolerance' | 'temperatureDrop' | 'agingDrop'>): number {
  return (1 - Math.min(tolerance, LARGEST_LOSS)) * (1 - temperatureDrop) * (1 - agingDrop);
}

/** A tolerance may take a value down, never to nothing. */
const LARGEST_LOSS = 0.99;

/**
 * The bank at a DC bias: small-signal capacitance (what counts for ripple and loop), ESR and ESL of `count` equal parts in
 * parallel.
 *
 * @public
 */
export function bankModel(bank: CapacitorBank, bias: number): BankModel {
  return {
    capacitance: bank.capacitance * bank.count * remainingAtBias(bank, bias),
    esr: bank.esr / bank.count,
    esl: bank.esl / bank.count,
  };
}

/** The capacitance of a bank over its voltage, F over V, with charge and energy; undefined where no curve of it is known. */
export function capacitanceCurveOf({ biasCurve, capacitance, count }: CapacitorBank): IncrementalTable | undefined {
  return biasCurve && incrementalTable(biasCurve.map(([bias, share]) => [bias, share * capacitance * count] as const));
}

/** Energy of banks together at a voltage, J: ∫ v C dv over their curves, C V²/2 where there is none. */
export const energyOf = (banks: readonly CapacitorBank[], voltage: number): number =>
  banks.reduce(
    (sum, bank) =>
      sum + (capacitanceCurveOf(bank)?.energy(Math.abs(voltage)) ?? (bank.capacitance * bank.count * voltage ** 2) / 2),
    0,
  );

/** Capacitance of banks together at a bias, F. */
export const capacitanceOf = (banks: readonly CapacitorBank[], bias: number): number =>
  banks.reduce((sum, bank) => sum + bankModel(bank, bias).capacitance, 0);

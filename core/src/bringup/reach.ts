import { operatingPointIn } from '../modes/operatingMode.js';
import type { Instruments } from '../instruments/instruments.js';
import type { CompleteStage } from '../stage/completeStage.js';
import { formatQuantity } from '../quantity/engineering.js';

/** A point at which a board is to be measured. @public */
export interface PlannedPoint {
  readonly inputVoltage: number;
  readonly outputCurrent: number;
}

/** Whether the instruments reach a point. @public */
export interface Reach extends PlannedPoint {
  /** A and W from the supply; undefined where the stage has no steady state there. */
  readonly inputCurrent: number | undefined;
  readonly reached: boolean;
  /** What is in the way. */
  readonly because?: string;
  /** The nearest point that is within reach: at less load, or at less input. */
  readonly nearest?: PlannedPoint;
  /** Which of the two was given up. */
  readonly nearestBy?: 'load' | 'input';
}

/** A supply is used up to so much of its limit: nearer, the ripple of its current makes it limit now and then. Common practice. */
const USED = 0.95;
/** Halvings in which the largest load within reach is found. */
const HALVINGS = 24;

/** Whether instruments reach a point of a stage, and what comes nearest. @public */
export function reachOf(complete: CompleteStage, { supply, load, leads }: Instruments, point: PlannedPoint): Reach {
  const output = Math.abs(complete.stage.targets.outputVoltage);
  const { min } = complete.stage.targets.inputVoltage;
  const drawn = (inputVoltage: number, current: number): number | undefined => {
    const found = operatingPointIn(complete.stage.operatingMode, complete, {
      inputVoltage,
      load: { kind: 'current', current },
    });
    return found.kind === 'solved' ? found.point.inputPower / inputVoltage : undefined;
  };
  const supplyLimit = (inputVoltage: number): number =>
    Math.min(
      USED * supply.currentMax,
      supply.powerMax === undefined ? Infinity : (USED * supply.powerMax) / inputVoltage,
    );
  const loadLimit = Math.min(load.currentMax, load.powerMax / output);
  const { inputVoltage, outputCurrent } = point;
  const inputCurrent = drawn(inputVoltage, outputCurrent);
  const volts = (value: number): string => formatQuantity(value, 'V', 3);
  const amps = (value: number): string => formatQuantity(value, 'A', 3);
  // The supply stands above the board by what its lead drops.
  const terminal = inputVoltage + leads.input * (inputCurrent ?? 0);
  const reasons: string[] = [];
  if (terminal > supply.voltageMax)
    reasons.push(`the supply ends at ${volts(supply.voltageMax)} and would have to stand at ${volts(terminal)}`);
  if (inputCurrent !== undefined && inputCurrent > supplyLimit(inputVoltage))
    reasons.push(`the stage draws ${amps(inputCurrent)} and the supply gives ${amps(supplyLimit(inputVoltage))}`);
  if (outputCurrent > loadLimit) reasons.push(`the load draws ${amps(loadLimit)} at most at this output`);
  if (output > load.voltageMax) reasons.push(`the load bears ${volts(load.voltageMax)}`);
  if (output < load.voltageMin) reasons.push(`the load needs ${volts(load.voltageMin)} to draw its current`);
  if (inputCurrent === undefined) reasons.push('the stage has no steady state there');
  if (reasons.length === 0) return { ...point, inputCurrent, reached: true };
  const unreached = { ...point, inputCurrent, reached: false, because: reasons.join('; ') };
  // What the load cannot bear at all, no other point mends.
  if (output > load.voltageMax || output < load.voltageMin || inputCurrent === undefined) return unreached;
  const voltage = Math.min(inputVoltage, supply.voltageMax - leads.input * supplyLimit(inputVoltage));
  if (voltage < min) return unreached;
  const fits = (current: number): boolean => {
    const needed = drawn(voltage, current);
    return current <= loadLimit && needed !== undefined && needed <= supplyLimit(voltage);
  };
  if (fits(outputCurrent))
    return { ...unreached, nearest: { inputVoltage: voltage, outputCurrent }, nearestBy: 'input' };
  let low = 0;
  let high = outputCurrent;
  for (let k = 0; k < HALVINGS; k += 1) {
    const middle = (low + high) / 2;
    if (fits(middle)) low = middle;
    else high = middle;
  }
  return low > 0.001 * outputCurrent
    ? { ...unreached, nearest: { inputVoltage: voltage, outputCurrent: low }, nearestBy: 'load' }
    : unreached;
}

import { zeros } from '../linalg/zeros.js';
import type { Rows } from '../circuit/rows.js';
import type { StateEquations } from '../circuit/stateEquations.js';

/** A waveform to measure: for each configuration, the row that gives its value from the augmented state. */
export type Signal = (equations: StateEquations) => Float64Array;

function rowOf(rows: Rows, name: string, what: string): Float64Array {
  const row = rows.get(name);
  if (!row) throw new Error(`The circuit has no ${what} ${name}.`);
  return row;
}

/** Current through an element, from its node `a` to its node `b`. @public */
export const currentOf =
  (name: string): Signal =>
  (equations) =>
    rowOf(equations.current, name, 'element');
/** Voltage across an element. @public */
export const voltageOf =
  (name: string): Signal =>
  (equations) =>
    rowOf(equations.voltage, name, 'element');
/** Voltage of a node against ground. @public */
export const nodeVoltage =
  (name: string): Signal =>
  (equations) =>
    rowOf(equations.node, name, 'node');

/** The sum of several waveforms. */
export const sumOf = (signals: readonly Signal[]): Signal => {
  const [only] = signals;
  if (only && signals.length === 1) return only;
  return (equations) => {
    const total = zeros(equations.order + 1);
    for (const signal of signals) signal(equations).forEach((value, i) => (total[i] = (total[i] ?? 0) + value));
    return total;
  };
};

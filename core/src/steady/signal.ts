import type { StateEquations } from '../circuit/stateEquations.js';

/** A waveform to measure: for each configuration, the row that gives its value from the augmented state. */
export type Signal = (equations: StateEquations) => Float64Array;

function rowOf(rows: ReadonlyMap<string, Float64Array>, name: string, what: string): Float64Array {
  const row = rows.get(name);
  if (!row) throw new Error(`The circuit has no ${what} ${name}.`);
  return row;
}

/** Current through an element, from its node `a` to its node `b`. */
export const currentOf =
  (name: string): Signal =>
  (equations) =>
    rowOf(equations.current, name, 'element');
/** Voltage across an element. */
export const voltageOf =
  (name: string): Signal =>
  (equations) =>
    rowOf(equations.voltage, name, 'element');
/** Voltage of a node against ground. */
export const nodeVoltage =
  (name: string): Signal =>
  (equations) =>
    rowOf(equations.node, name, 'node');

/** The sum of several waveforms. */
export const sumOf =
  (signals: readonly Signal[]): Signal =>
  (equations) => {
    const total = new Float64Array(equations.order + 1);
    for (const signal of signals) signal(equations).forEach((value, i) => (total[i] = (total[i] ?? 0) + value));
    return total;
  };

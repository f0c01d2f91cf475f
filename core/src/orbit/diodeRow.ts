import type { Circuit } from '../circuit/elements.js';
import type { Rows } from '../circuit/rows.js';

/**
 * The row that tells a diode's event, which passes through zero at it: the current as it stops, and as it starts what its voltage
 * has over the forward one. Both are the diode's own, so it may carry the current of one inductor or the sum of several.
 */
export function diodeRow(
  rows: { readonly current: Rows; readonly voltage: Rows },
  diode: string,
  forwardVoltage: number,
  crossing: 'stops' | 'starts',
): Float64Array | undefined {
  if (crossing === 'stops') return rows.current.get(diode);
  const row = rows.voltage.get(diode)?.slice();
  if (row) row[row.length - 1] = (row.at(-1) ?? 0) - forwardVoltage;
  return row;
}

/** Forward voltage of a diode of a circuit, V. */
export function forwardVoltageOf({ elements }: Circuit, name: string): number {
  const found = elements.find((e) => e.name === name);
  return found?.kind === 'diode' ? found.forwardVoltage : 0;
}

import type { Rows } from '../circuit/rows.js';
import { zeros } from '../linalg/zeros.js';

/**
 * What decides an instant: it comes when ramp, sensed inductor current and reference together reach the compared voltage,
 *
 *     ramp · τ + sense · iL + sign · v(reference) − sign · v(node) = 0, rising,
 *
 * with τ the share of the period since the phase's clock. For a negative output both voltages count turned over.
 */
export interface Comparator {
  /** V over a whole period. */
  readonly ramp: number;
  /** V/A of the phase's own inductor current. */
  readonly sense: number;
  /** The node whose voltage each phase is compared with. */
  readonly nodes: readonly string[];
  /** The node it is compared against, where that is not the ramp alone. */
  readonly reference?: string;
  readonly sign: 1 | -1;
}

/** What a comparator sees without its ramp, as a row over the states and what follows them. */
export function comparatorRow(
  { sense, nodes, reference, sign }: Comparator,
  rows: { readonly current: Rows; readonly node: Rows },
  phase: number,
  inductor: string,
  width: number,
): Float64Array {
  const row = zeros(width);
  const add = (weight: number, part: Float64Array | undefined): void => {
    if (!part || weight === 0) return;
    for (let i = 0; i < width; i += 1) row[i] = (row[i] as number) + weight * (part[i] as number);
  };
  add(sense, rows.current.get(inductor));
  add(-sign, rows.node.get(nodes[phase] ?? ''));
  if (reference !== undefined) add(sign, rows.node.get(reference));
  return row;
}

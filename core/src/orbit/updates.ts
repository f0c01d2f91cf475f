import type { Rows } from '../circuit/rows.js';
import { stateLayout } from '../circuit/stateLayout.js';
import { identity } from '../linalg/dense.js';
import type { PeriodicProblem, Update } from './periodicProblem.js';

/**
 * The map of an update, width × width, over the states and whatever follows them in a row.
 *
 * @param node rows of the configuration in force.
 * @param width of a row.
 */
export function updateMap(
  { circuit }: Pick<PeriodicProblem, 'circuit'>,
  { assignments }: Update,
  node: Rows,
  width: number,
): Float64Array {
  const { indexOfCapacitor } = stateLayout(circuit);
  const map = identity(width);
  for (const { capacitor, terms } of assignments) {
    const to = (indexOfCapacitor.get(capacitor) ?? 0) * width;
    map.fill(0, to, to + width);
    for (const { node: name, weight } of terms) {
      const row = node.get(name);
      if (!row) continue;
      for (let j = 0; j < width; j += 1) map[to + j] = (map[to + j] as number) + weight * (row[j] as number);
    }
  }
  return map;
}

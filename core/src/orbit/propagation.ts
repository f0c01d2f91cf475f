import type { StateEquations } from '../circuit/stateEquations.js';
import { propagator, type Propagator } from '../linalg/propagator.js';

interface Kept {
  readonly duration: number;
  readonly result: Propagator;
}

/**
 * The last propagators of each configuration: dead times last the same in every iteration, and every segment does in the
 * first two passes and the last.
 */
const kept = new WeakMap<StateEquations, Kept[]>();
const KEPT_EACH = 3;

/**
 * The propagator of a configuration over a duration, s.
 *
 * @param inside keep the halvings that `statesWithin` and `secondMoment` need.
 */
export function propagatorOf(equations: StateEquations, duration: number, inside = false): Propagator {
  let list = kept.get(equations);
  if (!list) {
    list = [];
    kept.set(equations, list);
  }
  const known = list.find((one) => one.duration === duration && (!inside || one.result.levels > 0));
  if (known) return known.result;
  const result = propagator(equations.dynamics, equations.order + 1, duration, inside);
  list.unshift({ duration, result });
  if (list.length > KEPT_EACH) list.pop();
  return result;
}

import type { Circuit } from '../circuit/elements.js';
import { stateLayout } from '../circuit/stateLayout.js';
import { zeros } from '../linalg/zeros.js';
import type { Rotation } from '../orbit/periodicProblem.js';

/** A rotation of phases that takes further names along, phase by phase in the same order. */
export function takingAlong({ order, next }: Rotation, namesByPhase: readonly (readonly string[])[]): Rotation {
  const move = namesByPhase.length / order;
  const more = namesByPhase.flatMap((names, k) => {
    const following = namesByPhase[(k + move) % namesByPhase.length] ?? names;
    return names.map((name, i) => [name, following[i] ?? name] as const);
  });
  return { order, next: new Map([...next, ...more]) };
}

/**
 * The state at the clock of a circuit that was drawn round another: that of the circuit within, and what was drawn, at rest.
 *
 * @param first the state of the circuit within, at its clock.
 * @param rest voltage of each capacitor that was drawn, V.
 */
export function startFrom(
  circuit: Circuit,
  within: Circuit,
  first: Float64Array,
  rest: ReadonlyMap<string, number>,
): Float64Array {
  const known = stateLayout(within);
  const layout = stateLayout(circuit);
  const x = zeros(layout.names.length);
  for (const [indexOf, from] of [
    [layout.indexOfCapacitor, known.indexOfCapacitor],
    [layout.indexOfInductor, known.indexOfInductor],
  ] as const) {
    for (const [name, at] of indexOf) {
      const there = from.get(name);
      x[at] = there === undefined ? (rest.get(name) ?? 0) : (first[there] ?? 0);
    }
  }
  return x;
}

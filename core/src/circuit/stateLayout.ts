import type { Circuit } from './elements.js';

/** The state layout of a circuit: the same for all its configurations. */
export interface StateLayout {
  readonly names: readonly string[];
  readonly indexOfCapacitor: ReadonlyMap<string, number>;
  readonly indexOfInductor: ReadonlyMap<string, number>;
}

/** Which states a circuit has, in order: capacitor voltages as drawn, then inductor currents (ESL among them). */
export function stateLayout(circuit: Circuit): StateLayout {
  const names: string[] = [];
  const indexOfCapacitor = new Map<string, number>();
  const indexOfInductor = new Map<string, number>();
  for (const e of circuit.elements) {
    if (e.kind === 'capacitor') {
      indexOfCapacitor.set(e.name, names.length);
      names.push(`v(${e.name})`);
    }
  }
  for (const e of circuit.elements) {
    if (e.kind === 'inductor' || (e.kind === 'capacitor' && e.esl > 0)) {
      indexOfInductor.set(e.name, names.length);
      names.push(`i(${e.name})`);
    }
  }
  return { names, indexOfCapacitor, indexOfInductor };
}

import { GROUND, isSource, type Circuit, type Element } from './elements.js';
import { stateLayout, type StateLayout } from './stateLayout.js';

/** How the unknowns of a circuit are numbered: states, sources, nodes, and branches whose current is an unknown of its own. */
export interface NodalLayout {
  readonly states: StateLayout;
  readonly order: number;
  /** Columns of a row over [states, sources, 1]. */
  readonly columns: number;
  readonly sourceColumn: ReadonlyMap<string, number>;
  /** Node voltages first, then branch currents. */
  readonly unknowns: number;
  readonly nodeIndex: ReadonlyMap<string, number>;
  readonly branchIndex: ReadonlyMap<string, number>;
}

/** Resistance of the element as a two-terminal branch in this configuration: undefined where it carries no current. */
export function branchResistance(e: Element, conducting: ReadonlySet<string>): number | undefined {
  if (e.kind === 'resistor') return e.resistance;
  if (e.kind === 'switch') return conducting.has(e.name) ? e.onResistance : undefined;
  if (e.kind === 'diode') return conducting.has(e.name) ? e.dynamicResistance : undefined;
  return undefined;
}

const nodesOf = (e: Element): readonly string[] =>
  e.kind === 'transconductor' || e.kind === 'idealAmplifier' ? [e.a, e.b, e.plus, e.minus] : [e.a, e.b];

/** The layout of a circuit in one configuration: a branch of no resistance has a current of its own. */
export function layoutOf(circuit: Circuit, conducting: ReadonlySet<string>): NodalLayout {
  const states = stateLayout(circuit);
  const order = states.names.length;
  const sources = circuit.elements.filter(isSource);
  const nodes = [...new Set(circuit.elements.flatMap(nodesOf))].filter((node) => node !== GROUND);
  const branches = circuit.elements.filter(
    (e) =>
      e.kind === 'voltageSource' ||
      e.kind === 'idealAmplifier' ||
      e.kind === 'currentSense' ||
      (e.kind === 'capacitor' && e.esr === 0 && e.esl === 0) ||
      branchResistance(e, conducting) === 0,
  );
  return {
    states,
    order,
    columns: order + sources.length + 1,
    sourceColumn: new Map(sources.map((e, i) => [e.name, order + i])),
    unknowns: nodes.length + branches.length,
    nodeIndex: new Map(nodes.map((node, i) => [node, i])),
    branchIndex: new Map(branches.map((e, i) => [e.name, nodes.length + i])),
  };
}

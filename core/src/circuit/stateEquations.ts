import { zeros } from '../linalg/zeros.js';
import type { Circuit, Element } from './elements.js';
import type { Rows } from './rows.js';
import { nodalEquations, type NodalEquations } from './nodalEquations.js';
import { unitEquations, type UnitEquations } from './unitEquations.js';
import { UnsolvableCircuitError } from './unsolvable.js';

/**
 * The state equations of a circuit in one switch configuration, with the sources folded in.
 *
 * The augmented state is z = [x; 1]: capacitor voltages (behind their ESR) and inductor currents, then the constant one
 * that carries sources and diode drops. So dz/dt = K z, and every voltage and current of the circuit is a row times z.
 */
export interface StateEquations {
  /** Closed switches and conducting diodes. */
  readonly conducting: readonly string[];
  /** States without the constant. */
  readonly order: number;
  /** (order+1) × (order+1), last row zero. */
  readonly dynamics: Float64Array;
  /** Rows of length order+1: voltage across and current through each element, by name. */
  readonly voltage: Rows;
  readonly current: Rows;
  /** Node voltage rows, by node name (ground is absent). */
  readonly node: Rows;
  /**
   * The jump on entering this configuration, (order+1) × (order+1): charge and flux are conserved when switching closes a
   * capacitor loop or opens an inductor's only path. Undefined when entering changes nothing.
   */
  readonly entry: Float64Array | undefined;
}

/**
 * Derive the state equations of one configuration.
 *
 * Modified nodal analysis M y = N z for the node voltages and branch currents y, then the derivatives of the states from
 * y and z. Where M is singular (capacitor loops, inductor cut-sets, nodes left idle) the hidden constraint on the states is
 * found from the null vectors and differentiated once (index reduction), which also yields the jump on entry. Open
 * switches are absent, not large resistors, so nothing becomes stiff.
 *
 * @param conducting names of the closed switches and conducting diodes.
 * @throws UnsolvableCircuitError naming the elements that contradict each other.
 */
export function stateEquations(circuit: Circuit, conducting: ReadonlySet<string>): StateEquations {
  return folded(sourcedEquations(circuit, conducting), preparedOf(circuit).sources);
}

/** The same equations with a column for each source, in the order of the elements: for what a source's change brings about. */
export function sourcedEquations(circuit: Circuit, conducting: ReadonlySet<string>): UnitEquations {
  const { configurations, algebra } = preparedOf(circuit);
  const key = [...conducting].join('|');
  let unit = configurations.get(key);
  if (!unit) {
    let nodal = algebra.get(key);
    if (!nodal) {
      nodal = nodalEquations(circuit, conducting);
      algebra.set(key, nodal);
    }
    unit = unitEquations(circuit, conducting, nodal);
    configurations.set(key, unit);
  }
  return unit;
}

/** What is kept of a circuit, by what conducts. */
interface Prepared {
  /** Shared by circuits that differ only in their sources. */
  readonly configurations: Map<string, UnitEquations>;
  /** Shared by circuits that differ only in their sources, capacitances and inductances. */
  readonly algebra: Map<string, NodalEquations>;
  readonly sources: readonly number[];
}

/** The values last asked for by their keys, as many as are worth keeping; the longest unused makes room. */
class Recent<T> {
  private readonly kept = new Map<string, T>();
  constructor(private readonly most: number) {}
  get(key: string, make: () => T): T {
    const value = this.kept.get(key) ?? make();
    this.kept.delete(key);
    this.kept.set(key, value);
    const [oldest] = this.kept.keys();
    if (this.kept.size > this.most && oldest !== undefined) this.kept.delete(oldest);
    return value;
  }
}

/** Corners of a stage differ in their sources, and in the capacitance left at their bias; seldom in anything else. */
const structures = new Recent<Map<string, UnitEquations>>(60);
const algebras = new Recent<Map<string, NodalEquations>>(20);
const prepared = new WeakMap<Circuit, Prepared>();

function preparedOf(circuit: Circuit): Prepared {
  const known = prepared.get(circuit);
  if (known) return known;
  const algebraKey = circuit.elements.map(algebraOf).join(';');
  const storageKey = circuit.elements.map(storageOf).join(';');
  const couplingKey = circuit.couplings.map((c) => `${c.first} ${c.second} ${String(c.coefficient)}`).join(';');
  const made = {
    configurations: structures.get([algebraKey, storageKey, couplingKey].join('\n'), () => new Map()),
    algebra: algebras.get(algebraKey, () => new Map()),
    sources: circuit.elements.flatMap(sourceValue),
  };
  prepared.set(circuit, made);
  return made;
}

const sourceValue = (e: Element): readonly number[] =>
  e.kind === 'voltageSource' ? [e.voltage] : e.kind === 'currentSource' ? [e.current] : [];

/** What of an element shapes the algebra of a configuration: its place, and its resistance. */
function algebraOf(e: Element): string {
  const place = `${e.kind} ${e.name} ${e.a} ${e.b}`;
  switch (e.kind) {
    case 'voltageSource':
    case 'currentSource':
      return place;
    case 'resistor':
    case 'inductor':
      return `${place} ${String(e.resistance)}`;
    case 'capacitor':
      return `${place} ${String(e.esr)} ${String(e.esl > 0)}`;
    case 'switch':
      return `${place} ${String(e.onResistance)}`;
    case 'diode':
      return `${place} ${String(e.forwardVoltage)} ${String(e.dynamicResistance)}`;
    case 'transconductor':
      return `${place} ${e.plus} ${e.minus} ${String(e.transconductance)}`;
    case 'idealAmplifier':
      return `${place} ${e.plus} ${e.minus}`;
    case 'currentSense':
      return `${place} ${e.inductor} ${String(e.gain)}`;
  }
}

/** How much an element holds. */
const storageOf = (e: Element): string =>
  e.kind === 'capacitor'
    ? `${String(e.capacitance)} ${String(e.esl)}`
    : e.kind === 'inductor'
      ? String(e.inductance)
      : '';

/** Put the values of the sources into a row of `unit`: their columns join the constant one. */
function foldRow(
  unit: Float64Array,
  from: number,
  order: number,
  sources: readonly number[],
  out: Float64Array,
  to = 0,
): void {
  for (let j = 0; j < order; j += 1) out[to + j] = unit[from + j] as number;
  let constant = unit[from + order + sources.length] as number;
  for (let k = 0; k < sources.length; k += 1) constant += (unit[from + order + k] as number) * (sources[k] as number);
  out[to + order] = constant;
}

/** Rows folded when they are first asked for: of some hundred an operating point looks at a third. */
class FoldedRows implements Rows {
  private readonly done = new Map<string, Float64Array>();
  constructor(
    private readonly unit: Rows,
    private readonly order: number,
    private readonly sources: readonly number[],
  ) {}
  get(name: string): Float64Array | undefined {
    const known = this.done.get(name);
    if (known) return known;
    const row = this.unit.get(name);
    if (!row) return undefined;
    const made = zeros(this.order + 1);
    foldRow(row, 0, this.order, this.sources, made);
    this.done.set(name, made);
    return made;
  }
}

function folded(unit: UnitEquations, sources: readonly number[]): StateEquations {
  const { order } = unit;
  const size = order + 1;
  const columns = size + sources.length;
  const square = (rows: Float64Array): Float64Array => {
    const out = zeros(size * size);
    for (let i = 0; i < order; i += 1) foldRow(rows, i * columns, order, sources, out, i * size);
    return out;
  };
  for (const { row, elements } of unit.conflicts) {
    const single = zeros(size);
    foldRow(row, 0, order, sources, single);
    const largest = Math.max(...sources.map(Math.abs), Number.MIN_VALUE);
    if (Math.abs(single[order] ?? 0) > CONFLICT * largest) throw new UnsolvableCircuitError(elements);
  }
  let entry: Float64Array | undefined;
  if (unit.entry) {
    entry = square(unit.entry);
    entry[size * size - 1] = 1;
  }
  return {
    conducting: unit.conducting,
    order,
    dynamics: square(unit.dynamics),
    voltage: new FoldedRows(unit.voltage, order, sources),
    current: new FoldedRows(unit.current, order, sources),
    node: new FoldedRows(unit.node, order, sources),
    entry,
  };
}

/** Share of the largest source by which the sum of sources in a loop or cut-set may miss zero. */
const CONFLICT = 1e-9;

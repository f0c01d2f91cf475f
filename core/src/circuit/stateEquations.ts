import { equilibration, product, singularParts, solveRegular } from '../linalg/dense.js';
import { GROUND, type Circuit, type Element } from './elements.js';

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
  readonly voltage: ReadonlyMap<string, Float64Array>;
  readonly current: ReadonlyMap<string, Float64Array>;
  /** Node voltage rows, by node name (ground is absent). */
  readonly node: ReadonlyMap<string, Float64Array>;
  /**
   * The jump on entering this configuration, (order+1) × (order+1): charge and flux are conserved when switching closes a
   * capacitor loop or opens an inductor's only path. Undefined when entering changes nothing.
   */
  readonly entry: Float64Array | undefined;
}

/** The state layout of a circuit: the same for all its configurations. */
export interface StateLayout {
  readonly names: readonly string[];
  readonly indexOfCapacitor: ReadonlyMap<string, number>;
  readonly indexOfInductor: ReadonlyMap<string, number>;
}

export class UnsolvableCircuitError extends Error {
  constructor(readonly elements: readonly string[]) {
    super(
      `The circuit has no solution: ${elements.join(', ')} contradict each other ` +
        '(voltage sources in a loop, or current sources with nowhere to flow).',
    );
    this.name = 'UnsolvableCircuitError';
  }
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

/** A dense matrix being filled in by stamps. */
class Stamps {
  readonly data: Float64Array;
  constructor(
    readonly rows: number,
    readonly columns: number,
  ) {
    this.data = new Float64Array(rows * columns);
  }
  add(row: number, column: number, value: number): void {
    if (row < 0 || column < 0) return;
    const at = row * this.columns + column;
    this.data[at] = (this.data[at] ?? 0) + value;
  }
}

/** Resistance of the element as a two-terminal branch in this configuration: undefined where it carries no current. */
function branchResistance(e: Element, conducting: ReadonlySet<string>): number | undefined {
  if (e.kind === 'resistor') return e.resistance;
  if (e.kind === 'switch') return conducting.has(e.name) ? e.onResistance : undefined;
  if (e.kind === 'diode') return conducting.has(e.name) ? e.dynamicResistance : undefined;
  return undefined;
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
  const key = structureKey(circuit, conducting);
  const known = recent.get(key);
  const unit = known ?? unitEquations(circuit, conducting);
  recent.delete(key);
  recent.set(key, unit);
  const [oldest] = recent.keys();
  if (recent.size > RECENT && oldest !== undefined) recent.delete(oldest);
  return folded(unit, circuit.elements.flatMap(sourceValue));
}

/** State equations with a column for each source, of unit value, before the constant: [states, sources, 1]. */
interface UnitEquations {
  readonly conducting: readonly string[];
  readonly order: number;
  /** order × columns */
  readonly dynamics: Float64Array;
  readonly voltage: ReadonlyMap<string, Float64Array>;
  readonly current: ReadonlyMap<string, Float64Array>;
  readonly node: ReadonlyMap<string, Float64Array>;
  /** order × columns */
  readonly entry: Float64Array | undefined;
  /** The inconsistency to refuse once the sources are known: rows that must vanish, with the elements they involve. */
  readonly conflicts: readonly { readonly row: Float64Array; readonly elements: readonly string[] }[];
}

/** Configurations kept ready: corners of a stage differ in their sources, seldom in their parts. */
const RECENT = 400;
const recent = new Map<string, UnitEquations>();

const sourceValue = (e: Element): readonly number[] =>
  e.kind === 'voltageSource' ? [e.voltage] : e.kind === 'currentSource' ? [e.current] : [];

/** Everything that shapes the equations, without the values of the sources. */
function structureKey(circuit: Circuit, conducting: ReadonlySet<string>): string {
  let key = '';
  for (const e of circuit.elements) {
    key += `${e.kind} ${e.name} ${e.a} ${e.b} `;
    if (e.kind === 'resistor') key += String(e.resistance);
    else if (e.kind === 'inductor') key += `${String(e.inductance)} ${String(e.resistance)}`;
    else if (e.kind === 'capacitor') key += `${String(e.capacitance)} ${String(e.esr)} ${String(e.esl)}`;
    else if (e.kind === 'switch') key += `${String(e.onResistance)} ${String(conducting.has(e.name))}`;
    else if (e.kind === 'diode')
      key += `${String(e.forwardVoltage)} ${String(e.dynamicResistance)} ${String(conducting.has(e.name))}`;
    key += ';';
  }
  for (const { first, second, coefficient } of circuit.couplings) key += `${first} ${second} ${String(coefficient)};`;
  return key;
}

/** Put the values of the sources in: their columns join the constant one. */
function folded(unit: UnitEquations, sources: readonly number[]): StateEquations {
  const { order } = unit;
  const size = order + 1;
  const columns = size + sources.length;
  const foldRow = (rows: Float64Array, at: number, out: Float64Array, to: number): void => {
    for (let j = 0; j < order; j += 1) out[to + j] = rows[at + j] as number;
    let constant = rows[at + columns - 1] as number;
    for (let k = 0; k < sources.length; k += 1) constant += (rows[at + order + k] as number) * (sources[k] as number);
    out[to + order] = constant;
  };
  const foldAll = (rows: Float64Array): Float64Array => {
    const out = new Float64Array(size * size);
    for (let i = 0; i < order; i += 1) foldRow(rows, i * columns, out, i * size);
    return out;
  };
  const foldMap = (rows: ReadonlyMap<string, Float64Array>): ReadonlyMap<string, Float64Array> => {
    const out = new Map<string, Float64Array>();
    for (const [name, row] of rows) {
      const made = new Float64Array(size);
      foldRow(row, 0, made, 0);
      out.set(name, made);
    }
    return out;
  };
  for (const { row, elements } of unit.conflicts) {
    const single = new Float64Array(size);
    foldRow(row, 0, single, 0);
    const largest = Math.max(...sources.map(Math.abs), Number.MIN_VALUE);
    if (Math.abs(single[order] ?? 0) > CONFLICT * largest) throw new UnsolvableCircuitError(elements);
  }
  let entry: Float64Array | undefined;
  if (unit.entry) {
    entry = foldAll(unit.entry);
    entry[size * size - 1] = 1;
  }
  return {
    conducting: unit.conducting,
    order,
    dynamics: foldAll(unit.dynamics),
    voltage: foldMap(unit.voltage),
    current: foldMap(unit.current),
    node: foldMap(unit.node),
    entry,
  };
}

/** Share of its own terms below which a sum counts as zero: rounding of a cancellation, far from any real value. */
const CANCELLED = 1e-9;
/** Share of the largest source by which the sum of sources in a loop or cut-set may miss zero. */
const CONFLICT = 1e-9;

function unitEquations(circuit: Circuit, conducting: ReadonlySet<string>): UnitEquations {
  const layout = stateLayout(circuit);
  const order = layout.names.length;
  const sources = circuit.elements.filter((e) => e.kind === 'voltageSource' || e.kind === 'currentSource');
  const sourceColumn = new Map(sources.map((e, i) => [e.name, order + i]));
  const one = order + sources.length;
  const size = one + 1;
  const nodes = [...new Set(circuit.elements.flatMap((e) => [e.a, e.b]))].filter((node) => node !== GROUND);
  const nodeIndex = new Map(nodes.map((node, i) => [node, i]));
  const at = (node: string): number => nodeIndex.get(node) ?? -1;

  // Elements whose current is an unknown of its own.
  const branches = circuit.elements.filter(
    (e) =>
      e.kind === 'voltageSource' ||
      (e.kind === 'capacitor' && e.esr === 0 && e.esl === 0) ||
      branchResistance(e, conducting) === 0,
  );
  const branchIndex = new Map(branches.map((e, i) => [e.name, nodes.length + i]));
  const unknowns = nodes.length + branches.length;

  const m = new Stamps(unknowns, unknowns);
  const n = new Stamps(unknowns, size); // M y = N z
  const p = new Stamps(order, unknowns); // T dx/dt = P y + Q z
  const q = new Stamps(order, size);
  const t = new Stamps(order, order);

  for (const e of circuit.elements) {
    const a = at(e.a);
    const b = at(e.b);
    const own = branchIndex.get(e.name);
    const vState = layout.indexOfCapacitor.get(e.name) ?? -1;
    const iState = layout.indexOfInductor.get(e.name) ?? -1;
    if (own !== undefined) {
      m.add(a, own, 1);
      m.add(b, own, -1);
      m.add(own, a, 1);
      m.add(own, b, -1);
      if (e.kind === 'voltageSource') n.add(own, sourceColumn.get(e.name) ?? -1, 1);
      if (e.kind === 'diode') n.add(own, one, e.forwardVoltage);
      if (e.kind === 'capacitor') {
        n.add(own, vState, 1);
        p.add(vState, own, 1);
      }
    } else if (e.kind === 'currentSource') {
      n.add(a, sourceColumn.get(e.name) ?? -1, -1);
      n.add(b, sourceColumn.get(e.name) ?? -1, 1);
    } else if (iState >= 0) {
      n.add(a, iState, -1);
      n.add(b, iState, 1);
      p.add(iState, a, 1);
      p.add(iState, b, -1);
      if (e.kind === 'inductor') q.add(iState, iState, -e.resistance);
      if (e.kind === 'capacitor') {
        q.add(iState, iState, -e.esr);
        q.add(iState, vState, -1);
        q.add(vState, iState, 1);
      }
    } else {
      const resistance = e.kind === 'capacitor' ? e.esr : branchResistance(e, conducting);
      if (resistance === undefined) continue;
      const g = 1 / resistance;
      m.add(a, a, g);
      m.add(b, b, g);
      m.add(a, b, -g);
      m.add(b, a, -g);
      if (e.kind === 'diode') {
        n.add(a, one, g * e.forwardVoltage);
        n.add(b, one, -g * e.forwardVoltage);
      }
      if (e.kind === 'capacitor') {
        n.add(a, vState, g);
        n.add(b, vState, -g);
        p.add(vState, a, g);
        p.add(vState, b, -g);
        q.add(vState, vState, -g);
      }
    }
    if (e.kind === 'capacitor') t.add(vState, vState, e.capacitance);
    if (iState >= 0) t.add(iState, iState, e.kind === 'inductor' ? e.inductance : e.kind === 'capacitor' ? e.esl : 0);
  }
  const inductanceOf = new Map(
    circuit.elements.flatMap((e) => (e.kind === 'inductor' ? [[e.name, e.inductance] as const] : [])),
  );
  for (const { first, second, coefficient } of circuit.couplings) {
    const i = layout.indexOfInductor.get(first) ?? -1;
    const j = layout.indexOfInductor.get(second) ?? -1;
    const mutual = coefficient * Math.sqrt((inductanceOf.get(first) ?? 0) * (inductanceOf.get(second) ?? 0));
    t.add(i, j, mutual);
    t.add(j, i, mutual);
  }
  // T⁻¹P and T⁻¹Q.
  const right = concatenated(p.data, q.data, order, unknowns, size);
  const rates =
    circuit.couplings.length === 0
      ? right.map((value, at) => value / (t.data[Math.floor(at / (unknowns + size)) * (order + 1)] ?? 1))
      : solveRegular(t.data, right, order, unknowns + size);
  if (order > 0 && !rates) throw new UnsolvableCircuitError(circuit.couplings.flatMap((c) => [c.first, c.second]));
  const rateP = sliceColumns(rates ?? new Float64Array(0), order, unknowns + size, 0, unknowns);
  const rateQ = sliceColumns(rates ?? new Float64Array(0), order, unknowns + size, unknowns, size);

  const regular = solveRegular(m.data, n.data, unknowns, size);
  const { y, entry, conflicts } = regular
    ? { y: regular, entry: undefined, conflicts: [] }
    : constrained(circuit, m.data, n.data, rateP, rateQ, unknowns, order, size, [
        ...nodes,
        ...branches.map((e) => e.name),
      ]);

  const dynamics = added(product(rateP, y, order, unknowns, size), rateQ);

  const rowOf = (index: number): Float64Array =>
    index < 0 ? new Float64Array(size) : y.slice(index * size, (index + 1) * size);
  const unit = (index: number): Float64Array => {
    const row = new Float64Array(size);
    row[index] = 1;
    return row;
  };
  const node = new Map(nodes.map((name, i) => [name, rowOf(i)]));
  const voltage = new Map<string, Float64Array>();
  const current = new Map<string, Float64Array>();
  for (const e of circuit.elements) {
    const v = combined(rowOf(at(e.a)), rowOf(at(e.b)), -1);
    voltage.set(e.name, v);
    const own = branchIndex.get(e.name);
    const iState = layout.indexOfInductor.get(e.name);
    if (own !== undefined) current.set(e.name, rowOf(own));
    else if (e.kind === 'currentSource') current.set(e.name, unit(sourceColumn.get(e.name) ?? one));
    else if (iState !== undefined) current.set(e.name, unit(iState));
    else {
      const resistance = e.kind === 'capacitor' ? e.esr : branchResistance(e, conducting);
      let across = v;
      if (e.kind === 'capacitor') across = combined(v, unit(layout.indexOfCapacitor.get(e.name) ?? 0), -1);
      if (e.kind === 'diode') across = combined(v, unit(one), -e.forwardVoltage);
      current.set(
        e.name,
        across.map((value) => (resistance === undefined ? 0 : value / resistance)),
      );
    }
  }
  return { conducting: [...conducting], order, dynamics, voltage, current, node, entry, conflicts };
}

/** Solve M y = N z when M is singular: see {@link stateEquations}. */
function constrained(
  circuit: Circuit,
  m: Float64Array,
  n: Float64Array,
  rateP: Float64Array,
  rateQ: Float64Array,
  unknowns: number,
  order: number,
  size: number,
  unknownNames: readonly string[],
): Pick<UnitEquations, 'entry' | 'conflicts'> & { readonly y: Float64Array } {
  const scale = equilibration(m, unknowns);
  const scaled = m.map(
    (value, at) => value * (scale.rows[Math.floor(at / unknowns)] ?? 1) * (scale.columns[at % unknowns] ?? 1),
  );
  const parts = singularParts(scaled, unknowns, unknowns);
  const { nullity } = parts;
  const inverse = parts.pseudoInverse.map(
    (value, at) => value * (scale.columns[Math.floor(at / unknowns)] ?? 1) * (scale.rows[at % unknowns] ?? 1),
  );
  const left = parts.left.map((value, at) => value * (scale.rows[at % unknowns] ?? 1));
  const right = parts.right.map((value, at) => value * (scale.columns[Math.floor(at / nullity)] ?? 1));
  const particular = product(inverse, n, unknowns, unknowns, size);

  // Constraint rows H z = 0. A row without states is a floating node (nothing to hold) unless its source part is not zero.
  const h = product(left, n, nullity, unknowns, size);
  // An entry counts as zero against the size of the terms it is the sum of: volts beside amperes need no common scale.
  const terms = product(left.map(Math.abs), n.map(Math.abs), nullity, unknowns, size);
  h.forEach((value, at) => {
    if (Math.abs(value) < CANCELLED * (terms[at] ?? 0)) h[at] = 0;
  });
  const conflicts: { row: Float64Array; elements: readonly string[] }[] = [];
  for (let row = 0; row < nullity; row += 1) {
    const whole = h.slice(row * size, (row + 1) * size);
    if (whole.subarray(0, order).some((value) => value !== 0)) continue;
    const involved = unknownNames.filter((_, i) => Math.abs(left[row * unknowns + i] ?? 0) > 1e-6);
    const touched = circuit.elements.filter(
      (e) => involved.includes(e.name) || involved.includes(e.a) || involved.includes(e.b),
    );
    conflicts.push({ row: whole, elements: touched.filter((e) => sourceValue(e).length > 0).map((e) => e.name) });
  }
  const hStates = sliceColumns(h, nullity, size, 0, order);
  const pv = product(rateP, right, order, unknowns, nullity);
  const coupling = product(hStates, pv, nullity, order, nullity);
  const couplingInverse = singularParts(coupling, nullity, nullity).pseudoInverse;
  const drift = added(product(rateP, particular, order, unknowns, size), rateQ);
  const lambda = product(couplingInverse, product(hStates, drift, nullity, order, size), nullity, nullity, size);
  const y = added(particular, product(right, lambda, unknowns, nullity, size), -1);
  if (hStates.every((value) => value === 0)) return { y, entry: undefined, conflicts };

  const correction = product(pv, product(couplingInverse, h, nullity, nullity, size), order, nullity, size);
  const entry = new Float64Array(order * size);
  for (let i = 0; i < order; i += 1) entry[i * size + i] = 1;
  for (let i = 0; i < order * size; i += 1) entry[i] = (entry[i] ?? 0) - (correction[i] ?? 0);
  return { y, entry, conflicts };
}

function combined(a: Float64Array, b: Float64Array, factor: number): Float64Array {
  return a.map((value, i) => value + factor * (b[i] ?? 0));
}

const added = (a: Float64Array, b: Float64Array, factor = 1): Float64Array => combined(a, b, factor);

function concatenated(
  a: Float64Array,
  b: Float64Array,
  rows: number,
  aColumns: number,
  bColumns: number,
): Float64Array {
  const out = new Float64Array(rows * (aColumns + bColumns));
  for (let i = 0; i < rows; i += 1) {
    out.set(a.subarray(i * aColumns, (i + 1) * aColumns), i * (aColumns + bColumns));
    out.set(b.subarray(i * bColumns, (i + 1) * bColumns), i * (aColumns + bColumns) + aColumns);
  }
  return out;
}

function sliceColumns(a: Float64Array, rows: number, columns: number, from: number, count: number): Float64Array {
  const out = new Float64Array(rows * count);
  for (let i = 0; i < rows; i += 1) out.set(a.subarray(i * columns + from, i * columns + from + count), i * count);
  return out;
}

import { added, combined, concatenated, sliceColumns } from '../linalg/blocks.js';
import { product, solveRegular } from '../linalg/dense.js';
import { zeros } from '../linalg/zeros.js';
import { isSource, type Circuit, type Element } from './elements.js';
import { reduced, type Conflict } from './indexReduction.js';
import { Stamps, type NodalEquations } from './nodalEquations.js';
import { branchResistance } from './nodalLayout.js';
import type { Rows } from './rows.js';
import { UnsolvableCircuitError } from './unsolvable.js';

/** State equations with a column for each source, of unit value, before the constant: [states, sources, 1]. */
export interface UnitEquations {
  readonly conducting: readonly string[];
  readonly order: number;
  /** order × columns */
  readonly dynamics: Float64Array;
  readonly voltage: Rows;
  readonly current: Rows;
  readonly node: Rows;
  /** order × columns */
  readonly entry: Float64Array | undefined;
  /** The inconsistency to refuse once the sources are known: rows that must vanish, with the elements they involve. */
  readonly conflicts: readonly Conflict[];
}

/** T of T dx/dt: what capacitors and inductors hold, mutual inductances off the diagonal. */
function storage({ elements, couplings }: Circuit, { layout }: NodalEquations): Float64Array {
  const { order, states } = layout;
  const t = new Stamps(order, order);
  const inductanceOf = new Map<string, number>();
  for (const e of elements) {
    const vState = states.indexOfCapacitor.get(e.name) ?? -1;
    const iState = states.indexOfInductor.get(e.name) ?? -1;
    if (e.kind === 'capacitor') {
      t.add(vState, vState, e.capacitance);
      t.add(iState, iState, e.esl);
    }
    if (e.kind === 'inductor') {
      t.add(iState, iState, e.inductance);
      inductanceOf.set(e.name, e.inductance);
    }
  }
  for (const { first, second, coefficient } of couplings) {
    const i = states.indexOfInductor.get(first) ?? -1;
    const j = states.indexOfInductor.get(second) ?? -1;
    const mutual = coefficient * Math.sqrt((inductanceOf.get(first) ?? 0) * (inductanceOf.get(second) ?? 0));
    t.add(i, j, mutual);
    t.add(j, i, mutual);
  }
  return t.data;
}

/** dx/dt = rateP y + rateQ z: T⁻¹P and T⁻¹Q. */
function ratesOf(
  circuit: Circuit,
  nodal: NodalEquations,
): { readonly rateP: Float64Array; readonly rateQ: Float64Array } {
  const { order, unknowns, columns } = nodal.layout;
  const t = storage(circuit, nodal);
  if (circuit.couplings.length === 0) {
    const divided = (rows: Float64Array, width: number): Float64Array =>
      rows.map((value, at) => value / (t[Math.floor(at / width) * (order + 1)] ?? 1));
    return { rateP: divided(nodal.p, unknowns), rateQ: divided(nodal.q, columns) };
  }
  const width = unknowns + columns;
  const rates = solveRegular(t, concatenated(nodal.p, nodal.q, order, unknowns, columns), order, width);
  if (!rates) throw new UnsolvableCircuitError(circuit.couplings.flatMap((c) => [c.first, c.second]));
  return {
    rateP: sliceColumns(rates, order, width, 0, unknowns),
    rateQ: sliceColumns(rates, order, width, unknowns, columns),
  };
}

/**
 * The equations of one configuration; the method is told at `stateEquations`.
 *
 * @param nodal those of the same circuit and configuration, whatever its capacitances and inductances.
 */
export function unitEquations(circuit: Circuit, conducting: ReadonlySet<string>, nodal: NodalEquations): UnitEquations {
  const { layout, solved, nullSpace } = nodal;
  const { order, columns, unknowns, nodeIndex, branchIndex, sourceColumn, states } = layout;
  const { rateP, rateQ } = ratesOf(circuit, nodal);
  const { y, entry } = nullSpace
    ? reduced(nullSpace, layout, rateP, rateQ)
    : { y: solved ?? zeros(0), entry: undefined };
  const dynamics = added(product(rateP, y, order, unknowns, columns), rateQ);

  const one = columns - 1;
  const nothing = zeros(columns);
  const at = (node: string): number => nodeIndex.get(node) ?? -1;
  const rowOf = (index: number): Float64Array =>
    index < 0 ? nothing : y.subarray(index * columns, (index + 1) * columns);
  const unit = (index: number): Float64Array => {
    const row = zeros(columns);
    row[index] = 1;
    return row;
  };
  const across = (e: Element): Float64Array => combined(rowOf(at(e.a)), rowOf(at(e.b)), -1);
  const through = (e: Element): Float64Array => {
    const own = branchIndex.get(e.name);
    if (own !== undefined) return rowOf(own);
    if (e.kind === 'transconductor')
      return combined(rowOf(at(e.plus)), rowOf(at(e.minus)), -1).map((value) => value * e.transconductance);
    if (isSource(e)) return unit(sourceColumn.get(e.name) ?? one);
    const iState = states.indexOfInductor.get(e.name);
    if (iState !== undefined) return unit(iState);
    const resistance = e.kind === 'capacitor' ? e.esr : branchResistance(e, conducting);
    if (resistance === undefined) return nothing;
    const row = across(e);
    if (e.kind === 'capacitor') add(row, states.indexOfCapacitor.get(e.name) ?? 0, -1);
    if (e.kind === 'diode') add(row, one, -e.forwardVoltage);
    for (let j = 0; j < columns; j += 1) row[j] = (row[j] as number) / resistance;
    return row;
  };
  // Rows are made when asked for: the sources are folded into each only once, and most are never looked at.
  const elements = new Map(circuit.elements.map((e) => [e.name, e]));
  const rows = (row: (e: Element) => Float64Array): Rows => ({
    get: (name) => {
      const e = elements.get(name);
      return e && row(e);
    },
  });
  return {
    conducting: [...conducting],
    order,
    dynamics,
    voltage: rows(across),
    current: rows(through),
    node: { get: (name) => (nodeIndex.has(name) ? rowOf(at(name)) : undefined) },
    entry,
    conflicts: nullSpace?.conflicts ?? [],
  };
}

function add(row: Float64Array, index: number, value: number): void {
  row[index] = (row[index] ?? 0) + value;
}

import { solveRegular } from '../linalg/dense.js';
import { zeros } from '../linalg/zeros.js';
import type { Circuit } from './elements.js';
import { nullSpaceOf, type NullSpace } from './indexReduction.js';
import { branchResistance, layoutOf, type NodalLayout } from './nodalLayout.js';

/**
 * What of a configuration does not depend on how much its capacitors and inductors hold: M y = N z for the unknowns y,
 * solved or taken apart where it is singular, and T dx/dt = P y + Q z for the states. Corners and neighbouring designs that
 * differ in capacitance or inductance only share it.
 */
export interface NodalEquations {
  readonly layout: NodalLayout;
  /** order × unknowns */
  readonly p: Float64Array;
  /** order × columns */
  readonly q: Float64Array;
  /** y over [states, sources, 1], unknowns × columns, where M is regular. */
  readonly solved: Float64Array | undefined;
  /** What M cannot see, where it is singular. */
  readonly nullSpace: NullSpace | undefined;
}

/** A dense matrix being filled in by stamps. */
export class Stamps {
  readonly data: Float64Array;
  constructor(
    readonly rows: number,
    readonly columns: number,
  ) {
    this.data = zeros(rows * columns);
  }
  add(row: number, column: number, value: number): void {
    if (row < 0 || column < 0) return;
    const at = row * this.columns + column;
    this.data[at] = (this.data[at] ?? 0) + value;
  }
}

/** Modified nodal analysis of one configuration. */
export function nodalEquations(circuit: Circuit, conducting: ReadonlySet<string>): NodalEquations {
  const layout = layoutOf(circuit, conducting);
  const { states, order, columns, sourceColumn, unknowns, nodeIndex, branchIndex } = layout;
  const one = columns - 1;
  const at = (node: string): number => nodeIndex.get(node) ?? -1;
  const m = new Stamps(unknowns, unknowns);
  const n = new Stamps(unknowns, columns);
  const p = new Stamps(order, unknowns);
  const q = new Stamps(order, columns);
  for (const e of circuit.elements) {
    const a = at(e.a);
    const b = at(e.b);
    const own = branchIndex.get(e.name);
    const vState = states.indexOfCapacitor.get(e.name) ?? -1;
    const iState = states.indexOfInductor.get(e.name) ?? -1;
    if (e.kind === 'transconductor') {
      for (const [node, sign] of [
        [a, 1],
        [b, -1],
      ] as const) {
        m.add(node, at(e.plus), sign * e.transconductance);
        m.add(node, at(e.minus), -sign * e.transconductance);
      }
    } else if (own !== undefined && e.kind === 'idealAmplifier') {
      m.add(a, own, 1);
      m.add(b, own, -1);
      m.add(own, at(e.plus), 1);
      m.add(own, at(e.minus), -1);
    } else if (own !== undefined) {
      m.add(a, own, 1);
      m.add(b, own, -1);
      m.add(own, a, 1);
      m.add(own, b, -1);
      if (e.kind === 'voltageSource') n.add(own, sourceColumn.get(e.name) ?? -1, 1);
      if (e.kind === 'currentSense') n.add(own, states.indexOfInductor.get(e.inductor) ?? -1, e.gain);
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
  }
  const solved = solveRegular(m.data, n.data, unknowns, columns);
  const nullSpace = solved ? undefined : nullSpaceOf(circuit, layout, m.data, n.data);
  return { layout, p: p.data, q: q.data, solved, nullSpace };
}

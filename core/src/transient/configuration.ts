import type { Circuit } from '../circuit/elements.js';
import { isSource } from '../circuit/elements.js';
import type { Rows } from '../circuit/rows.js';
import { sourcedEquations } from '../circuit/stateEquations.js';
import { UnsolvableCircuitError } from '../circuit/unsolvable.js';
import { multiply } from '../linalg/dense.js';
import { propagator } from '../linalg/propagator.js';

/** Halvings of a grid cell down to the tick, the least step of time. */
export const LEVELS = 20;
/** Ticks in a grid cell. */
export const CELL = 2 ** LEVELS;

/** Of a cell, for inductors deep in saturation. */
const MOST_HALVINGS = 8;

/** Share of the largest source by which the sum of sources in a loop or cut-set may miss zero. */
const CONFLICT = 1e-9;

/**
 * How the augmented state of a run is laid out:
 *
 *     z = [x; ramp; ∫output; u; s; 1]
 *
 * the states of the circuit, the modulator's ramp as it would be if nothing ever set it back, the integral of the output voltage, the
 * sources that move with the rate each moves at, and the constant one. So dz/dt = K z holds with ramps of sources too, and one matrix
 * exponential serves them all.
 */
export interface RunLayout {
  /** Of the circuit. */
  readonly order: number;
  readonly ramp: number;
  readonly integral: number;
  /** Names of the sources that move. */
  readonly moving: readonly string[];
  readonly source: number;
  readonly rate: number;
  readonly one: number;
  readonly size: number;
  /** States that change by themselves, in front of all others. */
  readonly active: number;
}

export function runLayout(order: number, moving: readonly string[]): RunLayout {
  const source = order + 2;
  const rate = source + moving.length;
  const one = rate + moving.length;
  return { order, ramp: order, integral: order + 1, moving, source, rate, one, size: one + 1, active: rate };
}

/** An inductor whose inductance falls with its current. */
export interface Saturating {
  /** Its place among the states. */
  readonly state: number;
  /** Inductance that the circuit was drawn with over that at a current. */
  readonly scale: (current: number) => number;
}

/** What makes the ramp: V/s by itself, and V/s per volt of a moving source. */
export interface RampRate {
  readonly constant: number;
  readonly perSource?: { readonly name: string; readonly factor: number } | undefined;
}

/** One configuration of switches, diodes and amplifier: how the augmented state passes through it, and what it shows. */
export class Configuration {
  /** e^{Kh/2^j} − I for the grid cell and its halvings down to the tick, active rows × size. */
  readonly steps: readonly Float64Array[];
  /** K, size × size. */
  readonly dynamics: Float64Array;
  /** Jump on entry, active rows × size; undefined where there is none. */
  readonly entry: Float64Array | undefined;
  /** Vectors to work in. */
  private readonly work: Readonly<
    Record<'k1' | 'k2' | 'k3' | 'k4' | 'a' | 'ek1' | 'sum' | 'through' | 'middle', Float64Array>
  >;
  private readonly rows = new Map<string, Float64Array>();
  private readonly voltageRows: Rows;
  private readonly currentRows: Rows;
  private readonly nodeRows: Rows;

  constructor(
    private readonly circuit: Circuit,
    conducting: ReadonlySet<string>,
    private readonly layout: RunLayout,
    private readonly cell: number,
    outputNode: string,
    ramp: RampRate,
    readonly saturating: readonly Saturating[] = [],
  ) {
    const unit = sourcedEquations(circuit, conducting);
    const { order, size, active, source, rate, one, moving } = layout;
    this.voltageRows = unit.voltage;
    this.currentRows = unit.current;
    this.nodeRows = unit.node;
    const columns = unit.dynamics.length / Math.max(order, 1);
    const k = new Float64Array(size * size);
    for (let i = 0; i < order; i += 1)
      k.set(this.spread(unit.dynamics.subarray(i * columns, (i + 1) * columns)), i * size);
    k[layout.ramp * size + one] = ramp.constant;
    if (ramp.perSource) k[layout.ramp * size + source + moving.indexOf(ramp.perSource.name)] = ramp.perSource.factor;
    k.set(this.node(outputNode), layout.integral * size);
    for (let m = 0; m < moving.length; m += 1) k[(source + m) * size + rate + m] = 1;
    this.dynamics = k;
    const vector = (): Float64Array => new Float64Array(size);
    this.work = {
      k1: vector(),
      k2: vector(),
      k3: vector(),
      k4: vector(),
      a: vector(),
      ek1: vector(),
      sum: vector(),
      through: vector(),
      middle: vector(),
    };
    this.steps = halvings(k, size, active, cell);
    if (unit.entry) {
      const entry = new Float64Array(active * size);
      for (let i = 0; i < active; i += 1) entry[i * size + i] = 1;
      for (let i = 0; i < order; i += 1)
        entry.set(this.spread(unit.entry.subarray(i * columns, (i + 1) * columns)), i * size);
      this.entry = entry;
    }
    for (const { row, elements } of unit.conflicts) {
      const spread = this.spread(row);
      const stuck = spread.some((value, i) => i !== one && Math.abs(value) > CONFLICT);
      if (stuck || Math.abs(spread[one] as number) > CONFLICT) throw new UnsolvableCircuitError(elements);
    }
  }

  /** A row over [states, sources, 1] as one over the augmented state: sources that stand still join the constant. */
  private spread(row: Float64Array): Float64Array {
    const { order, source, one, moving, size } = this.layout;
    const out = new Float64Array(size);
    for (let i = 0; i < order; i += 1) out[i] = row[i] as number;
    let constant = row[row.length - 1] as number;
    let column = order;
    for (const e of this.circuit.elements) {
      if (!isSource(e)) continue;
      const weight = row[column] as number;
      const at = moving.indexOf(e.name);
      if (at >= 0) out[source + at] = weight;
      else constant += weight * (e.kind === 'voltageSource' ? e.voltage : e.kind === 'currentSource' ? e.current : 0);
      column += 1;
    }
    out[one] = constant;
    return out;
  }

  private kept(key: string, rows: Rows, name: string): Float64Array {
    const known = this.rows.get(key);
    if (known) return known;
    const row = rows.get(name);
    const made = row ? this.spread(row) : new Float64Array(this.layout.size);
    this.rows.set(key, made);
    return made;
  }

  /** Rows that give a voltage across or a current through an element, or the voltage of a node, from the augmented state. */
  voltage(name: string): Float64Array {
    return this.kept(`v ${name}`, this.voltageRows, name);
  }
  current(name: string): Float64Array {
    return this.kept(`i ${name}`, this.currentRows, name);
  }
  node(name: string): Float64Array {
    return this.kept(`n ${name}`, this.nodeRows, name);
  }

  /** out ← the state a step of a cell over 2^level later. */
  step(out: Float64Array, z: Float64Array, level: number): void {
    const { active, size } = this.layout;
    if (this.saturating.length === 0) stepped(out, z, this.steps[level] as Float64Array, active, size);
    else this.saturatingStep(out, z, level);
  }

  /** Halvings of a cell that a state asks for: the less an inductor has left of its inductance, the faster its current moves. */
  halvings(z: Float64Array): number {
    let most = 1;
    for (const { state, scale } of this.saturating) most = Math.max(most, scale(z[state] as number));
    return most <= 1 ? 0 : Math.min(MOST_HALVINGS, Math.ceil(Math.log2(most)));
  }

  /** The state in the middle of a step. The vector is used again. */
  middle(z: Float64Array, level: number): Float64Array {
    const { middle } = this.work;
    this.step(middle, z, Math.min(level + 1, LEVELS));
    return middle;
  }

  /** What saturation adds to dz/dt = K z: (L₀/L(i) − 1) times the row of each saturating inductor; all else is zero. */
  private excess(out: Float64Array, z: Float64Array): void {
    const { size } = this.layout;
    for (const { state, scale } of this.saturating) {
      let rate = 0;
      for (let j = 0, at = state * size; j < size; j += 1, at += 1)
        rate += (this.dynamics[at] as number) * (z[j] as number);
      out[state] = (scale(z[state] as number) - 1) * rate;
    }
  }

  /**
   * A step with saturating inductors: the linear part by its exponential, what saturation adds by the fourth-order Runge-Kutta rule in
   * between, so that nothing fast in the circuit limits the step.
   *
   * Source: J. D. Lawson, Generalized Runge-Kutta Processes for Stable Systems with Large Lipschitz Constants, SIAM J. Numer. Anal. 4
   * (1967).
   */
  private saturatingStep(out: Float64Array, z: Float64Array, level: number): void {
    const { active, size } = this.layout;
    const { k1, k2, k3, k4, a, ek1, sum, through } = this.work;
    const tau = this.cell / 2 ** level;
    this.excess(k1, z);
    if (level >= LEVELS) {
      stepped(out, z, this.steps[LEVELS] as Float64Array, active, size);
      for (const { state } of this.saturating) out[state] = (out[state] as number) + tau * (k1[state] as number);
      return;
    }
    const half = this.steps[level + 1] as Float64Array;
    stepped(a, z, half, active, size);
    stepped(ek1, k1, half, active, size);
    combine(sum, a, tau / 2, ek1);
    this.excess(k2, sum);
    combine(sum, a, tau / 2, k2);
    this.excess(k3, sum);
    combine(sum, a, tau, k3);
    stepped(through, sum, half, active, size);
    this.excess(k4, through);
    // E a + τ/6 (E² k1 + 2 E (k2 + k3) + k4), with what is multiplied by E gathered first.
    combine(sum, a, tau / 6, ek1);
    combine(sum, sum, tau / 3, k2);
    combine(sum, sum, tau / 3, k3);
    stepped(out, sum, half, active, size);
    combine(out, out, tau / 6, k4);
  }

  /** The derivative of what a row gives: row · K. */
  slopeOf(row: Float64Array): Float64Array {
    const { size } = this.layout;
    return multiply(new Float64Array(size), row, this.dynamics, 1, size, size);
  }

  /** A row, or rows one after another, made once for this configuration. */
  derived(key: string, make: () => Float64Array): Float64Array {
    const known = this.rows.get(key);
    if (known) return known;
    const made = make();
    this.rows.set(key, made);
    return made;
  }
}

/** e^{Kh/2^j} − I for j = 0 to LEVELS, active rows only: F ← 2F + F², from the tick up. */
function halvings(k: Float64Array, size: number, active: number, cell: number): readonly Float64Array[] {
  let whole: Float64Array = propagator(k, size, cell / CELL).excess[0] ?? new Float64Array(size * size);
  const steps = [whole.slice(0, active * size)];
  for (let level = LEVELS; level > 0; level -= 1) {
    const next = multiply(new Float64Array(size * size), whole, whole, size, size, size);
    for (let i = 0; i < next.length; i += 1) next[i] = (next[i] as number) + 2 * (whole[i] as number);
    whole = next;
    steps.push(whole.slice(0, active * size));
  }
  return steps.reverse();
}

/** out ← z + F z for the active rows; the others stay. */
export function stepped(out: Float64Array, z: Float64Array, f: Float64Array, active: number, size: number): void {
  for (let i = 0, at = 0; i < active; i += 1) {
    let sum = 0;
    for (let j = 0; j < size; j += 1, at += 1) sum += (f[at] as number) * (z[j] as number);
    out[i] = (z[i] as number) + sum;
  }
  for (let i = active; i < size; i += 1) out[i] = z[i] as number;
}

/** out ← a + factor b */
function combine(out: Float64Array, a: Float64Array, factor: number, b: Float64Array): void {
  for (let i = 0; i < out.length; i += 1) out[i] = (a[i] as number) + factor * (b[i] as number);
}

/** row · z */
export function valueOf(row: Float64Array, z: Float64Array): number {
  let sum = 0;
  for (let i = 0; i < row.length; i += 1) sum += (row[i] as number) * (z[i] as number);
  return sum;
}

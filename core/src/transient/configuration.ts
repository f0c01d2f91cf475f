import type { Circuit } from '../circuit/elements.js';
import { isSource } from '../circuit/elements.js';
import type { Rows } from '../circuit/rows.js';
import { sourcedEquations } from '../circuit/stateEquations.js';
import { UnsolvableCircuitError } from '../circuit/unsolvable.js';
import { multiply } from '../linalg/dense.js';
import { propagator } from '../linalg/propagator.js';
import { SparseRows } from './sparseRows.js';

/** Halvings of a grid cell down to the tick, the least step of time. */
export const LEVELS = 20;
/** Ticks in a grid cell. */
export const CELL = 2 ** LEVELS;

/** Of a cell, for inductors deep in saturation. */
const MOST_HALVINGS = 7;
/** Where an inductor has lost a third of its inductance the steps are halved further: what saturation adds then changes within them. */
const DEEP = 1.5;
const FURTHER = 2;

/** Steps over parts of a cell that a configuration keeps. */
const MOST_PARTS = 512;

/** Share of the largest source by which the sum of sources in a loop or cut-set may miss zero. */
const CONFLICT = 1e-9;

/**
 * How the augmented state of a run is laid out:
 *
 *     z = [x; ramp; ∫output; u; s; 1]
 *
 * the states of the circuit, the modulator's ramp as it would be if nothing ever set it back, the integral of the output voltage, the
 * sources that move with the rate each moves at, and the constant one. So dz/dt = K z holds with ramps of sources too, and with a sine
 * that is injected, and one matrix exponential serves them all.
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
  /** A source that oscillates once it is set going, rad/s: its rate changes by itself too. */
  readonly oscillation: Oscillation | undefined;
  /** States that change by themselves, in front of all others. */
  readonly active: number;
}

/** A sine among the sources: ds/dt = −ω² u. */
export interface Oscillation {
  readonly name: string;
  /** rad/s */
  readonly angular: number;
}

export function runLayout(order: number, moving: readonly string[], oscillation?: Oscillation): RunLayout {
  const source = order + 2;
  const rate = source + moving.length;
  const one = rate + moving.length;
  const active = oscillation ? one : rate;
  return { order, ramp: order, integral: order + 1, moving, source, rate, one, size: one + 1, oscillation, active };
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
  private readonly work: Readonly<Record<'n0' | 'nm' | 'n1' | 'middle' | 'other', Float64Array>>;
  /** Of each saturating inductor and level: the answer to a rate of 1, u and u² A/s over the step, active rows one after another. */
  private readonly answers: readonly (readonly Float64Array[])[];
  private readonly voltages = new Map<string, Float64Array>();
  private readonly currents = new Map<string, Float64Array>();
  private readonly nodes = new Map<string, Float64Array>();
  private readonly rows = new Map<string, Float64Array>();
  private readonly voltageRows: Rows;
  private readonly currentRows: Rows;
  private readonly nodeRows: Rows;

  constructor(
    private readonly circuit: Circuit,
    private readonly conducting: ReadonlySet<string>,
    private readonly layout: RunLayout,
    cell: number,
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
    for (let m = 0; m < moving.length; m += 1) {
      k[(source + m) * size + rate + m] = 1;
      const { oscillation } = layout;
      if (oscillation && oscillation.name === moving[m])
        k[(rate + m) * size + source + m] = -(oscillation.angular ** 2);
    }
    this.dynamics = k;
    const each = (): Float64Array => new Float64Array(saturating.length);
    this.work = {
      n0: each(),
      nm: each(),
      n1: each(),
      middle: new Float64Array(size),
      other: new Float64Array(size),
    };
    this.steps = halvings(k, size, active, cell);
    this.answers = saturating.map(({ state }) => answersOf(k, this.steps, state, { size, active, cell }));
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

  private kept(known: Map<string, Float64Array>, rows: Rows, name: string): Float64Array {
    const found = known.get(name);
    if (found) return found;
    const row = rows.get(name);
    const made = row ? this.spread(row) : new Float64Array(this.layout.size);
    known.set(name, made);
    return made;
  }

  /** Whether a switch is closed or a diode conducts. */
  closed(name: string): boolean {
    return this.conducting.has(name);
  }

  /** Rows that give a voltage across or a current through an element, or the voltage of a node, from the augmented state. */
  voltage(name: string): Float64Array {
    return this.kept(this.voltages, this.voltageRows, name);
  }
  current(name: string): Float64Array {
    return this.kept(this.currents, this.currentRows, name);
  }
  node(name: string): Float64Array {
    return this.kept(this.nodes, this.nodeRows, name);
  }

  /** Steps over parts of a cell, e^{Kh} − I, by their ticks. */
  private readonly parts = new Map<number, Float64Array>();

  /** The step over a part of a cell as one; undefined where a saturating inductor lets it only go by halvings. */
  part(ticks: number): Float64Array | undefined {
    if (this.saturating.length > 0) return undefined;
    const known = this.parts.get(ticks);
    if (known) return known;
    let whole: Float64Array | undefined;
    for (const level of levelsOf(ticks)) {
      const step = this.steps[level] as Float64Array;
      whole = whole ? inTurn(whole, step, this.layout) : step;
    }
    if (whole && this.parts.size < MOST_PARTS) this.parts.set(ticks, whole);
    return whole;
  }

  /** out ← the state a step of a cell over 2^level later. */
  step(out: Float64Array, z: Float64Array, level: number): void {
    if (this.saturating.length === 0) stepped(out, z, this.steps[level] as Float64Array, this.layout);
    else this.saturatingStep(out, z, level);
  }

  /** Halvings of a cell that a state asks for: the less an inductor has left of its inductance, the faster its current moves. */
  halvings(z: Float64Array): number {
    if (this.saturating.length === 0) return 0;
    let most = 1;
    for (const { state, scale } of this.saturating) {
      const here = scale(z[state] as number);
      if (here > most) most = here;
    }
    let halvings = most > DEEP ? FURTHER : 0;
    for (; most > 1 && halvings < MOST_HALVINGS; most /= 2) halvings += 1;
    return halvings;
  }

  /** The state in the middle of a step. The vector is used again. */
  middle(z: Float64Array, level: number): Float64Array {
    const { middle, other } = this.work;
    if (level >= LEVELS) {
      middle.set(z);
      return middle;
    }
    this.saturatingStep(other, z, level);
    return middle;
  }

  /** What saturation adds to the rate of each saturating inductor, A/s: (L₀/L(i) − 1) times its row of K z. */
  private excess(out: Float64Array, z: Float64Array): void {
    const { size } = this.layout;
    for (let s = 0; s < this.saturating.length; s += 1) {
      const { state, scale } = this.saturating[s] as Saturating;
      let rate = 0;
      for (let j = 0, at = state * size; j < size; j += 1, at += 1)
        rate += (this.dynamics[at] as number) * (z[j] as number);
      out[s] = (scale(z[state] as number) - 1) * rate;
    }
  }

  /**
   * A step with saturating inductors. What saturation adds, n(t), is taken as a parabola through its values at both ends and in the
   * middle of the step, and the circuit's answer to that is exact: nothing fast in the circuit is excited, and nothing limits the step.
   *
   * Source: S. M. Cox, P. C. Matthews, Exponential Time Differencing for Stiff Systems, J. Comput. Phys. 176 (2002).
   */
  private saturatingStep(out: Float64Array, z: Float64Array, level: number): void {
    const { n0, nm, n1, middle } = this.work;
    this.excess(n0, z);
    if (level >= LEVELS) {
      stepped(out, z, this.steps[LEVELS] as Float64Array, this.layout);
      this.answer(out, LEVELS, n0, n0, n0);
      return;
    }
    const half = this.steps[level + 1] as Float64Array;
    stepped(middle, z, half, this.layout);
    this.answer(middle, level + 1, n0, n0, n0);
    this.excess(nm, middle);
    // Again, with what was found in the middle: half-way to it lies between the two.
    stepped(middle, z, half, this.layout);
    this.answer(middle, level + 1, n0, undefined, nm);
    this.excess(nm, middle);
    const whole = this.steps[level] as Float64Array;
    stepped(out, z, whole, this.layout);
    for (let s = 0; s < n1.length; s += 1) n1[s] = 2 * (nm[s] as number) - (n0[s] as number);
    this.answer(out, level, n0, nm, n1);
    this.excess(n1, out);
    stepped(out, z, whole, this.layout);
    this.answer(out, level, n0, nm, n1);
  }

  /**
   * out += the circuit's answer to what saturation adds over a step of a cell over 2^level.
   *
   * @param first, middle, last of each saturating inductor, A/s; a straight line between first and last where there is no middle.
   */
  private answer(
    out: Float64Array,
    level: number,
    first: Float64Array,
    middle: Float64Array | undefined,
    last: Float64Array,
  ): void {
    const { active } = this.layout;
    for (let s = 0; s < this.saturating.length; s += 1) {
      const f = first[s] as number;
      const l = last[s] as number;
      const m = middle ? (middle[s] as number) : (f + l) / 2;
      // n(u) = f + u (4m − 3f − l) + u² 2 (f − 2m + l), u from 0 to 1
      const c1 = 4 * m - 3 * f - l;
      const c2 = 2 * (f - 2 * m + l);
      const answers = (this.answers[s] as readonly Float64Array[])[level] as Float64Array;
      for (let i = 0; i < active; i += 1)
        out[i] =
          (out[i] as number) +
          f * (answers[i] as number) +
          c1 * (answers[active + i] as number) +
          c2 * (answers[2 * active + i] as number);
    }
  }

  /** The derivative of what a row gives: row · K. */
  slopeOf(row: Float64Array): Float64Array {
    const { size } = this.layout;
    return multiply(new Float64Array(size), row, this.dynamics, 1, size, size);
  }

  /** Rows together, made once for this configuration. */
  sparse(key: string, make: () => readonly Float64Array[]): SparseRows {
    const known = this.together.get(key);
    if (known) return known;
    const made = new SparseRows(make());
    this.together.set(key, made);
    return made;
  }
  private readonly together = new Map<string, SparseRows>();

  /** A row, made once for this configuration. */
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

/** The halvings that a part of a cell is made of, the longest first. */
export function* levelsOf(ticks: number): Generator<number> {
  for (let level = 1; level <= LEVELS; level += 1) if ((ticks & (CELL >> level)) !== 0) yield level;
}

/** e^{K(a+b)} − I = A + B + B A of steps A and B, active rows × size each. */
function inTurn(a: Float64Array, b: Float64Array, { active, size }: RunLayout): Float64Array {
  // What does not change by itself is not among the rows: it is as it was.
  const out = multiply(new Float64Array(active * size), columns(b, active, size), a, active, active, size);
  for (let i = 0; i < out.length; i += 1) out[i] = (out[i] as number) + (a[i] as number) + (b[i] as number);
  return out;
}

/** The first columns of a matrix of active × size. */
function columns(b: Float64Array, active: number, size: number): Float64Array {
  const out = new Float64Array(active * active);
  for (let i = 0; i < active; i += 1) out.set(b.subarray(i * size, i * size + active), i * active);
  return out;
}

/** Halvings below the tick at which an answer is known by a few terms of its series, however fast the circuit. */
const BELOW_TICK = 24;

/**
 * The answer of the circuit to a rate added to one state over a step, as 1, u and u² with u from 0 to 1, at every level.
 *
 * G_k(h) = ∫₀ʰ e^{K(h−t)} b t^k dt, from a step so short that it is known, doubled: G₀(2h) = e^{Kh} G₀ + G₀,
 * G₁(2h) = e^{Kh} G₁ + G₁ + h G₀, G₂(2h) = e^{Kh} G₂ + G₂ + 2h G₁ + h² G₀.
 */
function answersOf(
  k: Float64Array,
  steps: readonly Float64Array[],
  state: number,
  { size, active, cell }: { readonly size: number; readonly active: number; readonly cell: number },
): readonly Float64Array[] {
  let h = cell / 2 ** (LEVELS + BELOW_TICK);
  let g = [new Float64Array(active), new Float64Array(active), new Float64Array(active)] as const;
  // b h, b h²/2 and b h³/3, with the first term of K behind the first.
  for (let i = 0; i < active; i += 1) {
    g[0][i] = ((k[i * size + state] as number) * h * h) / 2;
  }
  g[0][state] = (g[0][state] as number) + h;
  g[1][state] = (h * h) / 2;
  g[2][state] = (h * h * h) / 3;
  const whole = new Float64Array(size * size);
  const first = propagator(k, size, h).excess[0] ?? whole;
  let f: Float64Array = first.slice();
  const answers: Float64Array[] = [];
  for (let level = LEVELS + BELOW_TICK; level >= 0; level -= 1) {
    if (level <= LEVELS) {
      const kept = new Float64Array(3 * active);
      for (let m = 0; m < 3; m += 1)
        for (let i = 0; i < active; i += 1) kept[m * active + i] = ((g[m] as Float64Array)[i] as number) / h ** m;
      answers.push(kept);
    }
    const step = level <= LEVELS ? (steps[level] as Float64Array) : f;
    const through = (v: Float64Array): Float64Array => {
      const out = new Float64Array(active);
      for (let i = 0; i < active; i += 1) {
        let sum = 2 * (v[i] as number);
        for (let j = 0; j < active; j += 1) sum += (step[i * size + j] as number) * (v[j] as number);
        out[i] = sum;
      }
      return out;
    };
    const [g0, g1, g2] = g;
    const next = [through(g0), through(g1), through(g2)] as const;
    for (let i = 0; i < active; i += 1) {
      next[1][i] = (next[1][i] as number) + h * (g0[i] as number);
      next[2][i] = (next[2][i] as number) + 2 * h * (g1[i] as number) + h * h * (g0[i] as number);
    }
    g = next as unknown as typeof g;
    h *= 2;
    if (level > LEVELS) {
      const squared = multiply(new Float64Array(size * size), f, f, size, size, size);
      f = f.map((value, at) => 2 * value + (squared[at] as number));
    }
  }
  return answers.reverse();
}

/** out ← z + F z for the active rows; the others stay. Nothing follows from the ramp or the integral: their columns are nothing. */
export function stepped(out: Float64Array, z: Float64Array, f: Float64Array, layout: RunLayout): void {
  const { active, order, source, size } = layout;
  for (let i = 0, row = 0; i < active; i += 1, row += size) {
    let sum = 0;
    for (let j = 0; j < order; j += 1) sum += (f[row + j] as number) * (z[j] as number);
    for (let j = source; j < size; j += 1) sum += (f[row + j] as number) * (z[j] as number);
    out[i] = (z[i] as number) + sum;
  }
  for (let i = active; i < size; i += 1) out[i] = z[i] as number;
}

/** row · z */
export function valueOf(row: Float64Array, z: Float64Array): number {
  let sum = 0;
  for (let i = 0; i < row.length; i += 1) sum += (row[i] as number) * (z[i] as number);
  return sum;
}

import type { Complex } from '../linalg/complex.js';
import { ComplexSystem } from '../linalg/complexDense.js';
import { zeros } from '../linalg/zeros.js';
import type { UnitEquations } from '../circuit/unitEquations.js';
import { ShiftedSystem } from '../linalg/hessenberg.js';
import { Disturbances, sizeOf, type Drive } from './disturbances.js';
import type { LinearPeriod, LinearSegment } from './linearPeriod.js';
import { shareMap } from './monodromy.js';

/** What disturbs the orbit: a source of the circuit, or the threshold of the comparators. */
export type Disturbance =
  | { readonly kind: 'source'; readonly name: string }
  /** Raises the control voltage that the comparators see, V. */
  | { readonly kind: 'threshold' };

/** Which signal is looked at: its row in each configuration, over [states, sources, 1]. */
export type Probe = (equations: UnitEquations) => Float64Array;

export const nodeProbe =
  (name: string): Probe =>
  (equations) => {
    const row = equations.node.get(name);
    if (!row) throw new Error(`The circuit has no node ${name}.`);
    return row;
  };

export const currentProbe =
  (name: string): Probe =>
  (equations) => {
    const row = equations.current.get(name);
    if (!row) throw new Error(`The circuit has no element ${name}.`);
    return row;
  };

/**
 * The exact response of a switched circuit about its orbit, at the frequency of the disturbance itself: what an analyser measures
 * that listens at the frequency at which it injects, below half the switching frequency and above.
 *
 * For û e^{jωt} the disturbed state is followed through one share of the period with its jumps; that it must come out multiplied
 * by e^{jωT} gives where it starts. The Fourier integral of an output is taken in closed form over each stretch, together with
 * what the moved instants add where the output steps.
 *
 * Theory: harmonic balance of linear time-periodic systems, here in the time domain; N. M. Wereley, Analysis and Control of
 * Linear Periodically Time Varying Systems (1990), ch. 3.
 */
export class OrbitResponse {
  /** (e^{jωT} − M)⁻¹ */
  private readonly periodicity: ShiftedSystem;
  private readonly configurations: readonly Configuration[];
  /** The configuration of each stretch. */
  private readonly inForce: readonly Configuration[];
  private readyAt = NaN;
  private readonly prepared = new WeakMap<readonly Probe[], readonly PreparedProbe[]>();
  /** The disturbed state, its real and its imaginary part. */
  private readonly state: Disturbances;
  private readonly drives = new Map<number, Drive>();
  private readonly late = zeros(2);
  /** Value of the source now, e^{jωt}. */
  private readonly values = zeros(2);
  /** e^{jωt} at the ends of the stretches, at the frequency made ready. */
  private readonly endR: Float64Array;
  private readonly endI: Float64Array;

  constructor(private readonly period: LinearPeriod) {
    const { order, segments } = period;
    this.periodicity = new ShiftedSystem(shareMap(period), sizeOf(period));
    const distinct = [...new Set(segments.map(({ equations }) => equations))];
    this.configurations = distinct.map((equations) => ({
      equations,
      system: new ComplexSystem(order),
      pr: zeros(order),
      pi: zeros(order),
    }));
    this.inForce = segments.map(({ equations }) => {
      const found = this.configurations.find((one) => one.equations === equations);
      if (!found) throw new Error('A stretch has no configuration.');
      return found;
    });
    this.state = new Disturbances(period, 2);
    this.endR = zeros(segments.length);
    this.endI = zeros(segments.length);
  }

  /**
   * Response of each probe to a disturbance of unit size at a frequency, Hz.
   *
   * @param probes the same list every time: their rows are looked up once.
   */
  at(frequency: number, disturbance: Disturbance, probes: readonly Probe[]): readonly Complex[] {
    const omega = 2 * Math.PI * frequency;
    const { period, state } = this;
    const column = disturbance.kind === 'source' ? period.sourceColumn.get(disturbance.name) : -1;
    if (column === undefined) throw new Error('The circuit has no such source.');
    const drive = this.driveOf(column);
    this.makeReady(omega);
    this.disturb(column);
    const [xr, xi] = state.x as [Float64Array, Float64Array];
    xr.fill(0);
    xi.fill(0);
    this.follow(drive, undefined);
    state.moveOn();
    // (e^{jωT} − M) x = v
    this.periodicity.solve(Math.cos(omega * period.share), Math.sin(omega * period.share), xr, xi);
    const list = this.prepare(probes);
    for (const probe of list) this.look(probe, column);
    this.follow(drive, list);
    return list.map(({ re, im }) => ({ re: re / period.share, im: im / period.share }));
  }

  /** The source that drives, by its column: the same every time, as its value is. */
  private driveOf(column: number): Drive {
    const known = this.drives.get(column);
    if (known) return known;
    const made = { column, values: this.values };
    this.drives.set(column, made);
    return made;
  }

  /** Rows of the probes in every configuration, and what each steps by per second at the events. */
  private prepare(probes: readonly Probe[]): readonly PreparedProbe[] {
    const known = this.prepared.get(probes);
    if (known) return known;
    const { segments, order } = this.period;
    const made = probes.map((probe): PreparedProbe => {
      const rows = segments.map(({ equations }) => probe(equations));
      const steps = segments.map(({ end }, k) => {
        // The end of the last stretch, where it moves, leads into the first.
        const [here, next] = [rows[k], rows[(k + 1) % rows.length]];
        return end?.moves && here && next ? this.full(here, end.before) - this.full(next, end.after) : 0;
      });
      const seen = this.configurations.map(({ equations }) => ({
        row: probe(equations),
        gr: zeros(order),
        gi: zeros(order),
      }));
      const inForce = this.inForce
        .map((one) => seen[this.configurations.indexOf(one)])
        .filter((one) => one !== undefined);
      return { steps, seen, inForce, re: 0, im: 0 };
    });
    this.prepared.set(probes, made);
    return made;
  }

  /** Factorise jω − A of every configuration. */
  private makeReady(omega: number): void {
    if (this.readyAt === omega) return;
    this.readyAt = omega;
    const { order, columns, segments } = this.period;
    for (const { equations, system } of this.configurations) {
      const { dynamics } = equations;
      for (let i = 0; i < order; i += 1) {
        for (let j = 0; j < order; j += 1) system.re[i * order + j] = -(dynamics[i * (columns + 1) + j] as number);
      }
      system.im.fill(0);
      for (let i = 0; i < order; i += 1) system.im[i * order + i] = omega;
      system.factorise();
    }
    for (let k = 0; k < segments.length; k += 1) {
      const { start, duration } = segments[k] as LinearSegment;
      this.endR[k] = Math.cos(omega * (start + duration));
      this.endI[k] = Math.sin(omega * (start + duration));
    }
  }

  /** The particular solution p = (jω − A)⁻¹ b of every configuration, which keeps its phase. */
  private disturb(column: number): void {
    const { order, columns } = this.period;
    for (const { equations, system, pr, pi } of this.configurations) {
      pr.fill(0);
      pi.fill(0);
      if (column < 0) continue;
      for (let i = 0; i < order; i += 1) pr[i] = equations.dynamics[i * (columns + 1) + column] as number;
      system.solve(pr, pi);
    }
  }

  /** What a probe sees of a state, Fourier integral and all: g = row (jω − A)⁻¹ in every configuration. */
  private look(probe: PreparedProbe, column: number): void {
    const { order, segments } = this.period;
    probe.re = 0;
    probe.im = 0;
    const { configurations } = this;
    for (let c = 0; c < configurations.length; c += 1) {
      const { row, gr, gi } = probe.seen[c] as Seen;
      for (let i = 0; i < order; i += 1) {
        gr[i] = row[i] as number;
        gi[i] = 0;
      }
      (configurations[c] as Configuration).system.solveTransposed(gr, gi);
    }
    if (column < 0) return;
    // What goes with the source throughout: (row · p + d) τ.
    for (let k = 0; k < segments.length; k += 1) {
      const { duration } = segments[k] as LinearSegment;
      const { row } = probe.inForce[k] as Seen;
      const { pr, pi } = this.inForce[k] as Configuration;
      let re = row[column] as number;
      let im = 0;
      for (let i = 0; i < order; i += 1) {
        re += (row[i] as number) * (pr[i] as number);
        im += (row[i] as number) * (pi[i] as number);
      }
      probe.re += re * duration;
      probe.im += im * duration;
    }
  }

  /** Follow the disturbed state through the share; adds up what the probes see where they are given. */
  private follow(drive: Drive, probes: readonly PreparedProbe[] | undefined): void {
    const { segments, opening } = this.period;
    const { state, values } = this;
    values[0] = 1;
    values[1] = 0;
    state.enter(opening, drive);
    for (let k = 0; k < segments.length; k += 1) {
      const { phi, end } = segments[k] as LinearSegment;
      if (probes) this.gather(k, probes, 1);
      // x(t₁) = Φ (x(t₀) − p e^{jωt₀}) + p e^{jωt₁}
      if (drive.column >= 0) this.add(k, -1);
      state.stretch(phi);
      values[0] = this.endR[k] as number;
      values[1] = this.endI[k] as number;
      if (drive.column >= 0) this.add(k, 1);
      if (probes) this.gather(k, probes, -1);
      if (!end) continue;
      state.event(end, this.late, drive);
      if (probes && end.moves) this.step(k, probes);
    }
  }

  /** x ← x + sign · p e^{jωt} */
  private add(k: number, sign: 1 | -1): void {
    const { order } = this.period;
    const { pr, pi } = this.inForce[k] as Configuration;
    const [xr, xi] = this.state.x as [Float64Array, Float64Array];
    const ur = sign * (this.values[0] as number);
    const ui = sign * (this.values[1] as number);
    for (let i = 0; i < order; i += 1) {
      const ar = pr[i] as number;
      const ai = pi[i] as number;
      xr[i] = (xr[i] as number) + ar * ur - ai * ui;
      xi[i] = (xi[i] as number) + ar * ui + ai * ur;
    }
  }

  /**
   * One bound of ∫ e^{−jωt} row·x dt = g · (x(t₀) e^{−jωt₀} − x(t₁) e^{−jωt₁}) + (row · p) τ, which is integration by parts.
   */
  private gather(k: number, probes: readonly PreparedProbe[], sign: 1 | -1): void {
    const { order } = this.period;
    const [xr, xi] = this.state.x as [Float64Array, Float64Array];
    const ur = sign * (this.values[0] as number);
    const ui = sign * (this.values[1] as number);
    for (const probe of probes) {
      const { gr, gi } = probe.inForce[k] as Seen;
      let re = 0;
      let im = 0;
      for (let i = 0; i < order; i += 1) {
        const ar = gr[i] as number;
        const ai = gi[i] as number;
        const br = xr[i] as number;
        const bi = xi[i] as number;
        re += ar * br - ai * bi;
        im += ar * bi + ai * br;
      }
      probe.re += re * ur + im * ui;
      probe.im += im * ur - re * ui;
    }
  }

  /** What an instant that moved adds where the signal steps. */
  private step(k: number, probes: readonly PreparedProbe[]): void {
    const { values, late } = this;
    const ur = values[0] as number;
    const ui = values[1] as number;
    const lateR = late[0] as number;
    const lateI = late[1] as number;
    for (const probe of probes) {
      const step = probe.steps[k] as number;
      probe.re += step * (lateR * ur + lateI * ui);
      probe.im += step * (lateI * ur - lateR * ui);
    }
  }

  /** The whole value of a signal, not its disturbance. */
  private full(row: Float64Array, z: Float64Array): number {
    const { order, columns, sources } = this.period;
    let sum = row[columns] as number;
    for (let i = 0; i < order; i += 1) sum += (row[i] as number) * (z[i] as number);
    for (let k = 0; order + k < columns; k += 1) sum += (row[order + k] as number) * (sources[k] as number);
    return sum;
  }
}

/** A configuration at the frequency looked at. */
interface Configuration {
  readonly equations: UnitEquations;
  readonly system: ComplexSystem;
  readonly pr: Float64Array;
  readonly pi: Float64Array;
}

/** A probe in one configuration: its row, and g = row (jω − A)⁻¹ at the frequency looked at. */
interface Seen {
  readonly row: Float64Array;
  readonly gr: Float64Array;
  readonly gi: Float64Array;
}

/** A probe with its rows looked up, and the sum it gathers. */
interface PreparedProbe {
  readonly steps: readonly number[];
  /** By configuration, and by stretch. */
  readonly seen: readonly Seen[];
  readonly inForce: readonly Seen[];
  re: number;
  im: number;
}

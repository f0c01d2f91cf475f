import type { Complex } from '../linalg/complex.js';
import { ComplexSystem } from '../linalg/complexDense.js';
import { zeros } from '../linalg/zeros.js';
import type { UnitEquations } from '../circuit/unitEquations.js';
import type { LinearEvent, LinearPeriod, LinearSegment } from './linearPeriod.js';
import { memoryOf, shareMap, sizeOf } from './monodromy.js';

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
  private readonly map: Float64Array;
  private readonly size: number;
  private readonly periodicity: ComplexSystem;
  private readonly configurations: readonly Configuration[];
  /** The configuration of each stretch. */
  private readonly inForce: readonly Configuration[];
  private readyAt = NaN;
  private readonly prepared = new WeakMap<readonly Probe[], readonly PreparedProbe[]>();
  /** The disturbed state, and vectors to work with. */
  private readonly xr: Float64Array;
  private readonly xi: Float64Array;
  private readonly qr: Float64Array;
  private readonly qi: Float64Array;
  private readonly wr: Float64Array;
  private readonly wi: Float64Array;
  /** e^{jωt} at the ends of the stretches, at the frequency made ready. */
  private readonly endR: Float64Array;
  private readonly endI: Float64Array;

  constructor(private readonly period: LinearPeriod) {
    const { order, segments } = period;
    this.map = shareMap(period);
    this.size = sizeOf(period);
    this.periodicity = new ComplexSystem(this.size);
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
    this.xr = zeros(this.size);
    this.xi = zeros(this.size);
    this.qr = zeros(this.size);
    this.qi = zeros(this.size);
    this.wr = zeros(order);
    this.wi = zeros(order);
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
    const { size, xr, xi, map, periodicity, period } = this;
    const column = disturbance.kind === 'source' ? period.sourceColumn.get(disturbance.name) : -1;
    if (column === undefined) throw new Error('The circuit has no such source.');
    this.makeReady(omega);
    this.disturb(column);
    xr.fill(0);
    xi.fill(0);
    this.follow(column, undefined);
    // (e^{jωT} − M) x = v
    const cos = Math.cos(omega * period.share);
    const sin = Math.sin(omega * period.share);
    for (let k = 0; k < size * size; k += 1) {
      periodicity.re[k] = -(map[k] as number);
      periodicity.im[k] = 0;
    }
    for (let i = 0; i < size; i += 1) {
      periodicity.re[i * size + i] = (periodicity.re[i * size + i] as number) + cos;
      periodicity.im[i * size + i] = sin;
    }
    this.moveOn();
    periodicity.factorise();
    periodicity.solve(xr, xi);
    const list = this.prepare(probes);
    for (const probe of list) {
      probe.re = 0;
      probe.im = 0;
    }
    this.follow(column, list);
    return list.map(({ re, im }) => ({ re: re / period.share, im: im / period.share }));
  }

  /** Rows of the probes in every stretch, and what each steps by per second at the events. */
  private prepare(probes: readonly Probe[]): readonly PreparedProbe[] {
    const known = this.prepared.get(probes);
    if (known) return known;
    const { segments } = this.period;
    const made = probes.map((probe): PreparedProbe => {
      const rows = segments.map(({ equations }) => probe(equations));
      const steps = segments.map(({ end }, k) => {
        // The end of the last stretch, where it moves, leads into the first.
        const [here, next] = [rows[k], rows[(k + 1) % rows.length]];
        return end?.moves && here && next ? this.full(here, end.before) - this.full(next, end.after) : 0;
      });
      return { rows, steps, re: 0, im: 0 };
    });
    this.prepared.set(probes, made);
    return made;
  }

  /** Factorise jω − A of every configuration. */
  private makeReady(omega: number): void {
    if (this.readyAt === omega) return;
    this.readyAt = omega;
    const { order, columns } = this.period;
    for (const { equations, system } of this.configurations) {
      const { dynamics } = equations;
      for (let i = 0; i < order; i += 1) {
        for (let j = 0; j < order; j += 1) system.re[i * order + j] = -(dynamics[i * (columns + 1) + j] as number);
      }
      system.im.fill(0);
      for (let i = 0; i < order; i += 1) system.im[i * order + i] = omega;
      system.factorise();
    }
    const { segments } = this.period;
    for (let k = 0; k < segments.length; k += 1) {
      const { start, duration } = segments[k] as LinearSegment;
      this.endR[k] = Math.cos(omega * (start + duration));
      this.endI[k] = Math.sin(omega * (start + duration));
    }
  }

  /** The particular solution (jω − A)⁻¹ b of every configuration, which keeps its phase. */
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

  /** Put the state of each phase in the place of the one before it. */
  private moveOn(): void {
    const { xr, xi, qr, qi, size, period } = this;
    const { order, successors, phases, shares } = period;
    qr.set(xr);
    qi.set(xi);
    for (let i = 0; i < size; i += 1) {
      const to = i < order ? (successors[i] as number) : order + ((i - order + phases / shares) % phases);
      xr[i] = qr[to] as number;
      xi[i] = qi[to] as number;
    }
  }

  /** Take the state into a configuration, the source standing at ur + j ui. */
  private enter(entry: Float64Array | undefined, column: number, ur: number, ui: number): void {
    if (!entry) return;
    const { order, columns } = this.period;
    const { xr, xi, qr, qi } = this;
    for (let i = 0; i < order; i += 1) {
      let re = 0;
      let im = 0;
      for (let j = 0; j < order; j += 1) {
        const value = entry[i * (columns + 1) + j] as number;
        re += value * (xr[j] as number);
        im += value * (xi[j] as number);
      }
      if (column >= 0) {
        const value = entry[i * (columns + 1) + column] as number;
        re += value * ur;
        im += value * ui;
      }
      qr[i] = re;
      qi[i] = im;
    }
    for (let i = 0; i < order; i += 1) {
      xr[i] = qr[i] as number;
      xi[i] = qi[i] as number;
    }
  }

  /** Follow the disturbed state through the share; adds up what the probes see where they are given. */
  private follow(column: number, probes: readonly PreparedProbe[] | undefined): void {
    const { segments, opening } = this.period;
    let ur = 1;
    let ui = 0;
    this.enter(opening, column, ur, ui);
    for (let k = 0; k < segments.length; k += 1) {
      const segment = segments[k] as LinearSegment;
      const er = this.endR[k] as number;
      const ei = this.endI[k] as number;
      this.stretch(k, segment, column, ur, ui, probes);
      if (segment.end) this.event(k, segment.end, column, er, ei, probes);
      ur = er;
      ui = ei;
    }
  }

  /** @param sr, si e^{jωt} at the start of the stretch. */
  private stretch(
    k: number,
    { duration, phi }: LinearSegment,
    column: number,
    sr: number,
    si: number,
    probes: readonly PreparedProbe[] | undefined,
  ): void {
    const { order } = this.period;
    const { xr, xi, qr, qi, wr, wi } = this;
    const { system, pr, pi } = this.inForce[k] as Configuration;
    const er = this.endR[k] as number;
    const ei = this.endI[k] as number;
    // q = x − p e^{jωt₀}
    for (let i = 0; i < order; i += 1) {
      const ar = pr[i] as number;
      const ai = pi[i] as number;
      qr[i] = (xr[i] as number) - (ar * sr - ai * si);
      qi[i] = (xi[i] as number) - (ar * si + ai * sr);
    }
    for (let i = 0; i < order; i += 1) {
      let re = 0;
      let im = 0;
      for (let j = 0; j < order; j += 1) {
        const value = phi[i * order + j] as number;
        re += value * (qr[j] as number);
        im += value * (qi[j] as number);
      }
      // ∫ e^{−jωt} x dt = (jω − A)⁻¹ (q e^{−jωt₀} − Φ q e^{−jωt₁}) + p τ
      if (probes) {
        const br = qr[i] as number;
        const bi = qi[i] as number;
        wr[i] = br * sr + bi * si - (re * er + im * ei);
        wi[i] = bi * sr - br * si - (im * er - re * ei);
      }
      const ar = pr[i] as number;
      const ai = pi[i] as number;
      xr[i] = re + (ar * er - ai * ei);
      xi[i] = im + (ar * ei + ai * er);
    }
    if (!probes) return;
    system.solve(wr, wi);
    for (const probe of probes) {
      const row = probe.rows[k] as Float64Array;
      let re = column >= 0 ? (row[column] as number) * duration : 0;
      let im = 0;
      for (let i = 0; i < order; i += 1) {
        const value = row[i] as number;
        re += value * ((wr[i] as number) + (pr[i] as number) * duration);
        im += value * ((wi[i] as number) + (pi[i] as number) * duration);
      }
      probe.re += re;
      probe.im += im;
    }
  }

  /** What happens at the end of a stretch, where the source stands at ur + j ui. */
  private event(
    k: number,
    end: LinearEvent,
    column: number,
    ur: number,
    ui: number,
    probes: readonly PreparedProbe[] | undefined,
  ): void {
    const { period, xr, xi } = this;
    const { order } = period;
    const { moves, jump } = end;
    let lateR = 0;
    let lateI = 0;
    if (moves?.kind === 'with') {
      lateR = xr[memoryOf(period, moves.phase)] as number;
      lateI = xi[memoryOf(period, moves.phase)] as number;
    } else if (moves) {
      const { row, rate, compared } = moves.instant;
      for (let j = 0; j < order; j += 1) {
        lateR -= (row[j] as number) * (xr[j] as number);
        lateI -= (row[j] as number) * (xi[j] as number);
      }
      if (column >= 0) {
        lateR -= (row[column] as number) * ur;
        lateI -= (row[column] as number) * ui;
      } else if (compared) {
        lateR += ur;
        lateI += ui;
      }
      lateR /= rate;
      lateI /= rate;
    }
    this.enter(end.entry, column, ur, ui);
    if (!moves) return;
    if (moves.kind === 'itself' && moves.instant.compared && period.remembers) {
      xr[memoryOf(period, moves.phase)] = lateR;
      xi[memoryOf(period, moves.phase)] = lateI;
    }
    for (let i = 0; i < order; i += 1) {
      xr[i] = (xr[i] as number) + (jump[i] as number) * lateR;
      xi[i] = (xi[i] as number) + (jump[i] as number) * lateI;
    }
    if (!probes) return;
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

/** A probe with its rows looked up, and the sum it gathers. */
interface PreparedProbe {
  readonly rows: readonly Float64Array[];
  readonly steps: readonly number[];
  re: number;
  im: number;
}

import { ComplexSystem } from '../linalg/complexDense.js';
import { zeros } from '../linalg/zeros.js';
import type { UnitEquations } from '../circuit/unitEquations.js';
import type { LinearPeriod, LinearSegment } from './linearPeriod.js';
import { memoryOf, shareMap, sizeOf } from './monodromy.js';

/** What disturbs the orbit: a source of the circuit, or the threshold of the comparators. */
export type Disturbance =
  | { readonly kind: 'source'; readonly name: string }
  /** Raises the control voltage that the comparators see, V. */
  | { readonly kind: 'threshold' };

export interface Complex {
  readonly re: number;
  readonly im: number;
}

/** Which signal is looked at: its row in each configuration, over [states, sources, 1]. */
export type Probe = (equations: UnitEquations) => Float64Array;

export const nodeProbe =
  (name: string): Probe =>
  (equations) => {
    const row = equations.node.get(name);
    if (!row) throw new Error(`The circuit has no node ${name}.`);
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
  private readonly factors = new Map<UnitEquations, ComplexSystem>();
  private factorsAt = NaN;
  /** Disturbed state, and vectors to work with. */
  private readonly xr: Float64Array;
  private readonly xi: Float64Array;
  private readonly pr: Float64Array;
  private readonly pi: Float64Array;
  private readonly qr: Float64Array;
  private readonly qi: Float64Array;

  constructor(private readonly period: LinearPeriod) {
    this.map = shareMap(period);
    this.size = sizeOf(period);
    this.periodicity = new ComplexSystem(this.size);
    this.xr = zeros(this.size);
    this.xi = zeros(this.size);
    this.pr = zeros(period.order);
    this.pi = zeros(period.order);
    this.qr = zeros(period.order);
    this.qi = zeros(period.order);
  }

  /** Response of each probe to a disturbance of unit size at a frequency, Hz. */
  at(frequency: number, disturbance: Disturbance, probes: readonly Probe[]): readonly Complex[] {
    const omega = 2 * Math.PI * frequency;
    this.factorise(omega);
    const { size, xr, xi, map, periodicity, period } = this;
    const column = disturbance.kind === 'source' ? period.sourceColumn.get(disturbance.name) : -1;
    if (column === undefined) throw new Error('The circuit has no such source.');
    xr.fill(0);
    xi.fill(0);
    this.follow(omega, column, undefined);
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
    const sums = { re: zeros(probes.length), im: zeros(probes.length), probes };
    this.follow(omega, column, sums);
    return probes.map((_, k) => ({
      re: (sums.re[k] as number) / period.share,
      im: (sums.im[k] as number) / period.share,
    }));
  }

  /** jω − A of every configuration. */
  private factorise(omega: number): void {
    if (this.factorsAt === omega) return;
    this.factorsAt = omega;
    const { order, columns } = this.period;
    const done = new Set<UnitEquations>();
    for (const { equations } of this.period.segments) {
      if (done.has(equations)) continue;
      done.add(equations);
      let system = this.factors.get(equations);
      if (!system) {
        system = new ComplexSystem(order);
        this.factors.set(equations, system);
      }
      for (let i = 0; i < order; i += 1) {
        for (let j = 0; j < order; j += 1) {
          system.re[i * order + j] = -(equations.dynamics[i * (columns + 1) + j] as number);
          system.im[i * order + j] = i === j ? omega : 0;
        }
      }
      system.factorise();
    }
  }

  /** Put the state of each phase in the place of the one before it. */
  private moveOn(): void {
    const { xr, xi, size, period } = this;
    const { order, successors, phases, shares } = period;
    const fromR = Float64Array.from(xr);
    const fromI = Float64Array.from(xi);
    for (let i = 0; i < size; i += 1) {
      const to = i < order ? (successors[i] ?? i) : order + ((i - order + phases / shares) % phases);
      xr[i] = fromR[to] as number;
      xi[i] = fromI[to] as number;
    }
  }

  /** Take the state into a configuration, the source being at e^{jωt} with the given real and imaginary part. */
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
    xr.set(qr);
    xi.set(qi);
  }

  /** Follow the disturbed state through the share; adds up what the probes see where they are given. */
  private follow(
    omega: number,
    column: number,
    sums: { readonly re: Float64Array; readonly im: Float64Array; readonly probes: readonly Probe[] } | undefined,
  ): void {
    const { period } = this;
    const first = period.segments[0]?.start ?? 0;
    this.enter(period.opening, column, Math.cos(omega * first), Math.sin(omega * first));
    for (const segment of period.segments) {
      this.stretch(segment, omega, column, sums);
      this.event(segment, omega, column, sums);
    }
  }

  private stretch(
    { equations, start, duration, phi }: LinearSegment,
    omega: number,
    column: number,
    sums: Parameters<OrbitResponse['follow']>[2],
  ): void {
    const { order, columns } = this.period;
    const { xr, xi, pr, pi, qr, qi } = this;
    const system = this.factors.get(equations);
    if (!system) throw new Error('A configuration was not made ready.');
    // Particular solution (jω − A)⁻¹ b, which keeps its phase.
    pr.fill(0);
    pi.fill(0);
    if (column >= 0) {
      for (let i = 0; i < order; i += 1) pr[i] = equations.dynamics[i * (columns + 1) + column] as number;
      system.solve(pr, pi);
    }
    const sr = Math.cos(omega * start);
    const si = Math.sin(omega * start);
    // q = x − p e^{jωt₀}
    for (let i = 0; i < order; i += 1) {
      const ar = pr[i] as number;
      const ai = pi[i] as number;
      qr[i] = (xr[i] as number) - (ar * sr - ai * si);
      qi[i] = (xi[i] as number) - (ar * si + ai * sr);
    }
    // What is left of it at the end.
    const er = Math.cos(omega * (start + duration));
    const ei = Math.sin(omega * (start + duration));
    const endR = zeros(order);
    const endI = zeros(order);
    for (let i = 0; i < order; i += 1) {
      let re = 0;
      let im = 0;
      for (let j = 0; j < order; j += 1) {
        const value = phi[i * order + j] as number;
        re += value * (qr[j] as number);
        im += value * (qi[j] as number);
      }
      endR[i] = re;
      endI[i] = im;
      const ar = pr[i] as number;
      const ai = pi[i] as number;
      xr[i] = re + (ar * er - ai * ei);
      xi[i] = im + (ar * ei + ai * er);
    }
    if (!sums) return;
    // ∫ e^{−jωt} x dt = (jω − A)⁻¹ (q e^{−jωt₀} − Φ q e^{−jωt₁}) + p τ
    const wr = zeros(order);
    const wi = zeros(order);
    for (let i = 0; i < order; i += 1) {
      const ar = qr[i] as number;
      const ai = qi[i] as number;
      const br = endR[i] as number;
      const bi = endI[i] as number;
      wr[i] = ar * sr + ai * si - (br * er + bi * ei);
      wi[i] = ai * sr - ar * si - (bi * er - br * ei);
    }
    system.solve(wr, wi);
    sums.probes.forEach((probe, k) => {
      const row = probe(equations);
      let re = 0;
      let im = 0;
      for (let i = 0; i < order; i += 1) {
        const value = row[i] as number;
        re += value * ((wr[i] as number) + (pr[i] as number) * duration);
        im += value * ((wi[i] as number) + (pi[i] as number) * duration);
      }
      if (column >= 0) re += (row[column] as number) * duration;
      sums.re[k] = (sums.re[k] as number) + re;
      sums.im[k] = (sums.im[k] as number) + im;
    });
  }

  private event(
    segment: LinearSegment,
    omega: number,
    column: number,
    sums: Parameters<OrbitResponse['follow']>[2],
  ): void {
    const { end, equations, start, duration } = segment;
    if (!end) return;
    const { period, xr, xi } = this;
    const { order } = period;
    const time = start + duration;
    const ur = Math.cos(omega * time);
    const ui = Math.sin(omega * time);
    let lateR = 0;
    let lateI = 0;
    const { moves } = end;
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
      xr[i] = (xr[i] as number) + (end.jump[i] as number) * lateR;
      xi[i] = (xi[i] as number) + (end.jump[i] as number) * lateI;
    }
    if (!sums) return;
    const following = period.segments[period.segments.indexOf(segment) + 1];
    if (!following) return;
    sums.probes.forEach((probe, k) => {
      const step = this.full(probe(equations), end.before) - this.full(probe(following.equations), end.after);
      sums.re[k] = (sums.re[k] as number) + step * (lateR * ur + lateI * ui);
      sums.im[k] = (sums.im[k] as number) + step * (lateI * ur - lateR * ui);
    });
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

import { zeros } from '../linalg/zeros.js';
import type { LinearEvent, LinearPeriod } from './linearPeriod.js';

/** What disturbs an orbit, in each of the disturbances followed side by side. */
export interface Drive {
  /** Column of the source; −1 for the threshold of the comparators. */
  readonly column: number;
  /** Its present value in each of them. */
  readonly values: Float64Array;
}

/**
 * Small disturbances of an orbit, several side by side, followed along its period: one stepper for the share map (a unit in every
 * state), the response to a sine (its real and its imaginary part) and the step.
 *
 * At an instant that moves by dt the state goes over as x⁺ = P x⁻ + (P f⁻ − f⁺) dt. Source: R. I. Leine, H. Nijmeijer, Dynamics and
 * Bifurcations of Non-Smooth Mechanical Systems (2004), ch. 7 (fundamental solution matrix with jumps).
 */
export class Disturbances {
  /** Each disturbance by itself: the states, then how late the last decision was for each phase, where that is remembered, s. */
  readonly x: readonly Float64Array[];
  private readonly spare: Float64Array;
  private readonly order: number;

  constructor(
    private readonly period: LinearPeriod,
    count: number,
    /** `still`: the comparators' instants stay where they are, as if they saw nothing. */
    private readonly edges: 'compared' | 'still' = 'compared',
  ) {
    const size = sizeOf(period);
    this.x = Array.from({ length: count }, () => zeros(size));
    this.spare = zeros(size);
    this.order = period.order;
  }

  /** Through a map of states and sources: the entry into a configuration, registers set. */
  enter(entry: Float64Array | undefined, drive?: Drive): void {
    if (!entry) return;
    const { order, columns } = this.period;
    const { spare } = this;
    const width = columns + 1;
    for (let c = 0; c < this.x.length; c += 1) {
      const x = this.x[c] as Float64Array;
      const u = drive && drive.column >= 0 ? (drive.values[c] as number) : 0;
      for (let i = 0; i < order; i += 1) {
        let sum = drive && drive.column >= 0 ? (entry[i * width + drive.column] as number) * u : 0;
        for (let j = 0; j < order; j += 1) sum += (entry[i * width + j] as number) * (x[j] as number);
        spare[i] = sum;
      }
      for (let i = 0; i < order; i += 1) x[i] = spare[i] as number;
    }
  }

  /** Over a stretch, or a part of it: x ← Φ x. */
  stretch(phi: Float64Array): void {
    const { order, spare, x: all } = this;
    for (let c = 0; c < all.length; c += 1) {
      const x = all[c] as Float64Array;
      let at = 0;
      for (let i = 0; i < order; i += 1) {
        let sum = 0;
        for (let j = 0; j < order; j += 1) {
          sum += (phi[at] as number) * (x[j] as number);
          at += 1;
        }
        spare[i] = sum;
      }
      for (let i = 0; i < order; i += 1) x[i] = spare[i] as number;
    }
  }

  /**
   * Through an event.
   *
   * @param late takes how much later it comes in each disturbance, s.
   */
  event({ moves, entry, jump }: LinearEvent, late: Float64Array, drive?: Drive): void {
    const { period, edges, order } = this;
    const still = edges === 'still' && (moves?.kind === 'with' || moves?.instant.compared === true);
    const moving = moves && !still;
    for (let c = 0; c < this.x.length; c += 1) late[c] = moving ? this.delay(moves, c, drive) : 0;
    this.enter(entry, drive);
    if (!moving) return;
    const remembered = moves.kind === 'itself' && moves.instant.compared && period.remembers;
    for (let c = 0; c < this.x.length; c += 1) {
      const x = this.x[c] as Float64Array;
      const by = late[c] as number;
      if (remembered) x[order + moves.phase] = by;
      for (let i = 0; i < order; i += 1) x[i] = (x[i] as number) + (jump[i] as number) * by;
    }
  }

  /** How much later an event comes in a disturbance, s: dt = −(row · [x̂; û]) / rate. */
  private delay(moves: NonNullable<LinearEvent['moves']>, c: number, drive: Drive | undefined): number {
    const { order } = this;
    const x = this.x[c] as Float64Array;
    if (moves.kind === 'with') return x[order + moves.phase] as number;
    const { row, rate, compared } = moves.instant;
    let sum = 0;
    for (let j = 0; j < order; j += 1) sum += (row[j] as number) * (x[j] as number);
    if (drive && drive.column >= 0) sum += (row[drive.column] as number) * (drive.values[c] as number);
    // A higher threshold is reached later.
    else if (drive && compared) sum -= drive.values[c] as number;
    return -sum / rate;
  }

  /** At the end of the share: the phase that follows takes the place of each. */
  moveOn(): void {
    const { order, successors, phases, shares } = this.period;
    const { spare } = this;
    for (const x of this.x) {
      spare.set(x);
      for (let i = 0; i < x.length; i += 1) {
        const to = i < order ? (successors[i] as number) : order + ((i - order + phases / shares) % phases);
        x[i] = spare[to] as number;
      }
    }
  }
}

/** States and remembered instants: what a disturbance consists of. */
export const sizeOf = ({ order, phases, remembers }: LinearPeriod): number => order + (remembers ? phases : 0);

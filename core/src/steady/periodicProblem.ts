import type { Circuit } from '../circuit/elements.js';
import type { DiodeOutcome, PhaseSchedule } from './schedule.js';

/**
 * Interleaved phases are copies of each other, one after another in time: after 1/order of the period the circuit stands
 * as at its start, with every phase in the place of the one before it. Only that share of the period is then solved.
 */
export interface Rotation {
  readonly order: number;
  /** Element and node names of each phase to those of the phase that follows it by period/order; others stay. */
  readonly next: ReadonlyMap<string, string>;
}

/** Where the search may start: what is known of a like problem, such as the same stage at a neighbouring load. */
export interface Neighbour {
  readonly duty: number;
  readonly outcomes: readonly DiodeOutcome[];
  /** Instants at which diodes stop, from the phase's own clock as fractions of the period, by interval. */
  readonly instants: ReadonlyMap<number, number>;
}

export interface PeriodicProblem {
  readonly circuit: Circuit;
  readonly rotation: Rotation;
  readonly phases: readonly PhaseSchedule[];
  /** s */
  readonly period: number;
  readonly near?: Neighbour | undefined;
  /** A fixed duty ratio, or the output node and the average voltage the duty is to reach. */
  readonly control:
    | { readonly kind: 'duty'; readonly duty: number }
    | {
        readonly kind: 'regulated';
        readonly node: string;
        readonly average: number;
        readonly guess: number;
        readonly min: number;
        readonly max: number;
      };
}

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

/**
 * What turns a phase off: the command ends when ramp and sensed inductor current together reach the control voltage,
 * sense · iL + ramp · τ − v = 0 with τ the share of the period since the phase's clock.
 */
export interface Comparator {
  /** V over a whole period. */
  readonly ramp: number;
  /** V/A of the phase's own inductor current. */
  readonly sense: number;
  /** The node whose voltage each phase is compared with, and whether it counts as it is or turned over. */
  readonly nodes: readonly string[];
  readonly sign: 1 | -1;
}

/**
 * Capacitor voltages set at an instant, each to a weighted sum of node voltages as they stood just before: what a sampled
 * controller does with its registers.
 */
export interface Update {
  /** Share of the solved share of the period, 0 up to below 1. */
  readonly at: number;
  readonly assignments: readonly {
    readonly capacitor: string;
    readonly terms: readonly { readonly node: string; readonly weight: number }[];
  }[];
}

export interface PeriodicProblem {
  readonly circuit: Circuit;
  readonly rotation: Rotation;
  readonly phases: readonly PhaseSchedule[];
  /** s */
  readonly period: number;
  readonly near?: Neighbour | undefined;
  readonly control: Control;
  /** In every share of the period. */
  readonly updates?: readonly Update[];
}

/** A fixed duty ratio; or the output node and the average voltage the duty is to reach; or comparators that end each phase's command. */
export type Control = DutyControl | { readonly kind: 'compared'; readonly comparator: Comparator };

export type DutyControl =
  | { readonly kind: 'duty'; readonly duty: number }
  | {
      readonly kind: 'regulated';
      readonly node: string;
      readonly average: number;
      readonly guess: number;
      readonly min: number;
      readonly max: number;
    };

/** A problem whose phases share one duty ratio. */
export type DutyProblem = PeriodicProblem & { readonly control: DutyControl };

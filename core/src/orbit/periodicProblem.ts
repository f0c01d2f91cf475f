import type { Circuit } from '../circuit/elements.js';
import type { Comparator } from './comparator.js';
import type { Courses } from './course.js';
import type { PhaseSchedule } from './schedule.js';

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
  /** s */
  readonly period: number;
  readonly courses: Courses;
  /** Instants at which a diode of the first phase starts or stops, from its clock as shares of the period, by interval. */
  readonly instants: readonly (readonly number[])[];
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
  /** s; where the period is what the orbit makes it, the period to start from. */
  readonly period: number;
  readonly near?: Neighbour | undefined;
  readonly control: Control;
  /** Where the orbit is one of many on the way to another: what lasts shorter than most edges is then not sought. */
  readonly coarse?: boolean;
  /** In every share of the period. */
  readonly updates?: readonly Update[];
}

/** Between which duty ratios the search keeps, and where it starts. */
interface DutyRange {
  readonly guess: number;
  readonly min: number;
  readonly max: number;
}

/** What decides when the command of each phase ends, and how long the period is. */
export type Control =
  /** A fixed duty ratio. */
  | { readonly kind: 'duty'; readonly duty: number }
  /** One duty ratio for all phases, such that a node has an average voltage. */
  | ({ readonly kind: 'regulated'; readonly node: string; readonly average: number } & DutyRange)
  /** A comparator for each phase ends its command. */
  | { readonly kind: 'compared'; readonly comparator: Comparator }
  /** A comparator begins each command; the duty ratio is such that it does so with the period given. */
  | ({ readonly kind: 'begun'; readonly comparator: Comparator } & DutyRange)
  /** A comparator begins each command, which lasts a constant time; the period is what that makes it. */
  | { readonly kind: 'on-time'; readonly comparator: Comparator; readonly onTime: number };

/** Phases that are not copies of each other: the first of every set of copies. */
export const distinctPhases = ({ phases, rotation }: Pick<PeriodicProblem, 'phases' | 'rotation'>): number =>
  phases.length / rotation.order;

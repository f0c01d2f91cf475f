import type { Defect } from './defect.js';

/**
 * What happens to a stage while it is watched. Times are s from time 0, at a clock of phase 1 (constant on-time: a turn-on), just
 * before that clock's comparator decides.
 *
 * @public
 */
export type Happening =
  /** The load current changes by so much, A, at a slew rate, A/s; at once where there is none. */
  | { readonly kind: 'load'; readonly at: number; readonly by: number; readonly slewRate?: number | undefined }
  /** The input voltage changes by so much, V, within a time, s; at once where there is none. */
  | { readonly kind: 'line'; readonly at: number; readonly by: number; readonly within?: number | undefined }
  /** A resistance takes the place of the load, ohm; undefined where the load comes back. */
  | { readonly kind: 'short'; readonly at: number; readonly resistance: number | undefined }
  /** So many phases are at work, interleaved evenly from the next clock of the first on; the others rest, their switches open. */
  | { readonly kind: 'phases'; readonly at: number; readonly working: number };

/** A run of the simulator. @public */
export interface Scenario {
  /** The settled closed loop; or every state at zero, the output at its pre-bias, and the reference on its soft start. */
  readonly start: 'settled' | 'zero';
  /** In the order of their times. */
  readonly happenings: readonly Happening[];
  /** Clock periods the run lasts from time 0. */
  readonly cycles: number;
  /** Holds the duty ratio and leaves the controller out. */
  readonly fixedDuty?: number | undefined;
  /** Of a start: the source takes no current back, and stands on the input capacitors already as the stage is enabled. */
  readonly oneWaySource?: boolean | undefined;
  /** What is wrong with the board beyond the values of its parts. */
  readonly defect?: Defect | undefined;
  /** A, at which the supply limits its current. */
  readonly supplyLimit?: number | undefined;
  /** Whether the feedback node and the gates are kept too, as one probes a board. */
  readonly probed?: boolean | undefined;
  /** Hz, of a sine that can be put into the loop where the loop gain is looked at. */
  readonly injected?: number | undefined;
}

/** The load current changes once, at time 0. @public */
export const loadStep = (by: number, slewRate: number | undefined, cycles: number): Scenario => ({
  start: 'settled',
  happenings: by === 0 ? [] : [{ kind: 'load', at: 0, by, slewRate }],
  cycles,
});

/** The input voltage changes once, at time 0. @public */
export const lineStep = (by: number, cycles: number): Scenario => ({
  start: 'settled',
  happenings: by === 0 ? [] : [{ kind: 'line', at: 0, by }],
  cycles,
});

/** The output is shorted at time 0. @public */
export const shortCircuit = (resistance: number, cycles: number): Scenario => ({
  start: 'settled',
  happenings: [{ kind: 'short', at: 0, resistance }],
  cycles,
});

/** @public */
export const startUp = (cycles: number): Scenario => ({ start: 'zero', happenings: [], cycles });

/** A start on a source that cannot sink. @public */
export const oneWayStart = (cycles: number): Scenario => ({ ...startUp(cycles), oneWaySource: true });

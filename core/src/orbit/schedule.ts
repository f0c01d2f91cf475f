/**
 * When the switches of a stage change, over one period. An instant is a share of the period, plus a share that goes with the
 * duty ratio, plus a delay that stays as it is however long the period: τ = share + perDuty · D + delay / T.
 */
export interface Instant {
  readonly share: number;
  readonly perDuty: number;
  /** s */
  readonly delay: number;
}

/** What an instant depends on. */
export interface Timing {
  readonly duty: number;
  /** s */
  readonly period: number;
}

/** Where the inductor current goes while no switch takes it: rectifier diodes and body diodes. */
export interface Freewheel {
  /** Diodes that carry a positive inductor current. */
  readonly forward: readonly string[];
  /** Diodes that carry a negative one; empty where there is no such path. */
  readonly reverse: readonly string[];
}

/**
 * What begins an interval: the clock; the end of the command, which the duty ratio or a comparator decides; or a time that has
 * passed since the command ended, such as a dead time.
 */
export type Beginning = 'clock' | 'command-end' | 'after-command';

export interface Interval {
  /** From the phase's own clock. The first interval starts at zero. */
  readonly start: Instant;
  readonly begins: Beginning;
  readonly closed: readonly string[];
  /** Present when the current must find a diode. */
  readonly freewheel?: Freewheel;
}

export interface PhaseSchedule {
  /** Clock of the phase, as a fraction of the period. */
  readonly offset: number;
  /** The inductor whose current the phase's comparator senses. */
  readonly inductor: string;
  /** Every diode of the phase, in the same order in all phases. */
  readonly diodes: readonly string[];
  readonly intervals: readonly Interval[];
}

export const at = (share: number, perDuty = 0, delay = 0): Instant => ({ share, perDuty, delay });

/** An instant as a share of the period. */
export const instantAt = ({ share, perDuty, delay }: Instant, { duty, period }: Timing): number =>
  share + perDuty * duty + delay / period;

/** Start and end of an interval within its phase, as shares of the period from the phase's clock. */
export function intervalSpan(
  phase: PhaseSchedule,
  index: number,
  timing: Timing,
): { readonly from: number; readonly to: number } {
  const start = phase.intervals[index]?.start ?? at(0);
  const end = phase.intervals[index + 1]?.start ?? at(1);
  return { from: instantAt(start, timing), to: instantAt(end, timing) };
}

/** The part of a number after its whole one, from 0 to below 1: where an instant lies in its period. */
export const fraction = (value: number): number => value - Math.floor(value);

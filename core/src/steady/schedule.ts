/**
 * When the switches of a stage change, over one period. Times are fractions of the period; those that follow the duty
 * ratio D are affine in it, so that the steady-state solver can treat D as an unknown.
 */
export interface Instant {
  readonly base: number;
  readonly perDuty: number;
}

/** Where the inductor current goes while no switch takes it: rectifier diodes and body diodes. */
export interface Freewheel {
  /** Diodes that carry a positive inductor current. */
  readonly forward: readonly string[];
  /** Diodes that carry a negative one; empty where there is no such path. */
  readonly reverse: readonly string[];
}

export interface Interval {
  /** Start, measured from the phase's own clock. The first interval starts at zero. */
  readonly start: Instant;
  readonly closed: readonly string[];
  /** Present when the current must find a diode. */
  readonly freewheel?: Freewheel;
}

export interface PhaseSchedule {
  /** Clock of the phase, as a fraction of the period. */
  readonly offset: number;
  /** The inductor whose current decides what the diodes do. */
  readonly inductor: string;
  readonly intervals: readonly Interval[];
}

/** What the diodes do in a freewheel interval; the same in every phase, as all phases are alike. */
export type DiodeOutcome = 'forward' | 'forward-then-idle' | 'reverse' | 'reverse-then-idle' | 'idle';

export const at = (base: number, perDuty = 0): Instant => ({ base, perDuty });

export const instantAt = ({ base, perDuty }: Instant, duty: number): number => base + perDuty * duty;

/** Start and end of an interval within its phase, for a duty ratio. */
export function intervalSpan(
  phase: PhaseSchedule,
  index: number,
  duty: number,
): { readonly start: Instant; readonly end: Instant; readonly from: number; readonly to: number } {
  const start = phase.intervals[index]?.start ?? at(0);
  const end = phase.intervals[index + 1]?.start ?? at(1);
  return { start, end, from: instantAt(start, duty), to: instantAt(end, duty) };
}

/** The part of a number after its whole one, from 0 to below 1: where an instant lies in its period. */
export const fraction = (value: number): number => value - Math.floor(value);

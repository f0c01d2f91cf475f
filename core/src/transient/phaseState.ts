/** What ends a pulse, for the bands that show what the controller is doing. */
export type PulseEnd = 'comparator' | 'limit' | 'duty-limit' | 'on-time' | 'stopped';

/** Where a leg is being driven, and when its dead time is over. */
export interface LegState {
  target: 'on' | 'off' | 'idle';
  /** Tick. */
  settles: number;
  /** Tick at which a fixed share of the period ends. */
  until: number;
}

/** Where a phase stands: its pulse, its ramp, its switches and diodes. */
export interface PhaseState {
  on: boolean;
  /** Whether it has been shed: no pulse begins, and its switches are open. */
  resting: boolean;
  /** Ticks of the last clock, turn-on and turn-off. */
  clock: number;
  began: number;
  ended: number;
  nextClock: number;
  /** What the ramp stood at as the last clock came. */
  rampAt: number;
  limited: boolean;
  /** A bit for each conducting diode. */
  conducting: number;
  readonly legs: readonly LegState[];
}

/**
 * A copy of a phase with its ticks counted from another instant.
 *
 * @param ramp what the ramp stood at then, V.
 */
export const phaseAt = (phase: PhaseState, tick: number, ramp: number): PhaseState => ({
  ...phase,
  clock: phase.clock - tick,
  began: phase.began - tick,
  ended: phase.ended - tick,
  nextClock: phase.nextClock - tick,
  rampAt: phase.rampAt - ramp,
  legs: phase.legs.map(({ target, settles, until }) => ({ target, settles: settles - tick, until: until - tick })),
});

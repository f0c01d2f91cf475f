import { stateAfter, statesWithin } from '../linalg/propagator.js';
import type { Segment } from './segment.js';
import { propagatorOf } from './propagation.js';

/** Exact states of a segment at instants so close that a cubic between two of them is a true picture of any waveform. */
export interface Grid {
  /** s from the start of the segment, ascending, both ends included. */
  readonly times: readonly number[];
  readonly states: readonly Float64Array[];
}

/** Keyed by the state at the start: phases that are copies of each other share it. */
const grids = new WeakMap<Float64Array, Grid>();

/**
 * The grid of a segment: evenly spaced, and in octaves towards its start, where what is fast (a series inductance against
 * a load resistance, picoseconds) has its time.
 */
export function gridOf({ equations, duration, initial }: Segment): Grid {
  const known = grids.get(initial);
  if (known) return known;
  const { excess, levels } = propagatorOf(equations, duration, true);
  const n = equations.order + 1;
  const even = statesWithin(initial, n, levels, excess);
  const times: number[] = [0];
  const states: Float64Array[] = [initial];
  for (let octave = excess.length - 1; octave > levels; octave -= 1) {
    times.push(duration / 2 ** octave);
    states.push(stateAfter(initial, n, excess[octave] ?? initial));
  }
  even.slice(1).forEach((state, k) => {
    times.push((duration * (k + 1)) / 2 ** levels);
    states.push(state);
  });
  const made = { times, states };
  grids.set(initial, made);
  return made;
}

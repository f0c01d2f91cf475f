import { stateAfter, statesWithin } from '../linalg/propagator.js';
import { propagatorOf } from './propagation.js';
import { rateOf, type Segment } from './segment.js';

/** Exact states of a segment at instants so close that a cubic between two of them is a true picture of any waveform. */
export interface Grid {
  /** s from the start of the segment, ascending, both ends included. */
  readonly times: readonly number[];
  readonly states: readonly Float64Array[];
  /** dz/dt at the same instants: propagated as the states are, not worked from them (see `finalRate`). */
  readonly rates: readonly Float64Array[];
}

/** Keyed by the state at the start: phases that are copies of each other share it. */
const grids = new WeakMap<Float64Array, Grid>();

/**
 * Halvings of a segment down to the shortest instant that is looked at. What dies away faster is no waveform of a real stage: it
 * is the instant at which an inductance without anything beside it takes over a current, which a circuit of ideal switches makes a
 * layer of femtoseconds and whatever voltage it takes. What such a layer leaves behind is seen from its start.
 */
const SHORTEST = 13;

/**
 * The grid of a segment: evenly spaced, and in octaves towards its start, where what is fast (a series inductance against
 * a load resistance, a nanosecond) has its time.
 */
export function gridOf(segment: Segment): Grid {
  const { equations, duration, initial } = segment;
  const known = grids.get(initial);
  if (known) return known;
  const { excess, levels } = propagatorOf(equations, duration, true);
  const n = equations.order + 1;
  const rate = rateOf(equations, initial);
  const times: number[] = [];
  const states: Float64Array[] = [];
  const rates: Float64Array[] = [];
  const put = (time: number, state: Float64Array, slope: Float64Array): void => {
    times.push(time);
    states.push(state);
    rates.push(slope);
  };
  const deepest = Math.min(excess.length - 1, SHORTEST);
  for (let octave = deepest; octave > levels; octave -= 1) {
    const f = excess[octave] as Float64Array;
    put(duration / 2 ** octave, stateAfter(initial, n, f), stateAfter(rate, n, f));
  }
  const even = statesWithin(initial, n, levels, excess);
  const slopes = statesWithin(rate, n, levels, excess);
  even.forEach((state, k) => {
    if (k > 0) put((duration * k) / 2 ** levels, state, slopes[k] as Float64Array);
  });
  const layered = excess.length - 1 > SHORTEST;
  const [first = initial] = states;
  const [slope = rate] = rates;
  const back = times[0] ?? 0;
  const start = layered ? first.map((value, i) => value - back * (slope[i] as number)) : initial;
  const made = {
    times: [0, ...times],
    states: [start, ...states],
    rates: [layered ? slope : rate, ...rates],
  };
  grids.set(initial, made);
  return made;
}

/** The state at the start of a segment, once what dies away within its first instant has: see `gridOf`. */
export const settledStart = (segment: Segment): Float64Array => gridOf(segment).states[0] ?? segment.initial;

import type { StateEquations } from '../circuit/stateEquations.js';
import { product } from '../linalg/dense.js';
import { propagatorOf } from './propagation.js';

/** One stretch of the period in which no switch or diode changes. */
export interface Segment {
  /** s from the clock of phase 1. */
  readonly start: number;
  readonly duration: number;
  readonly equations: StateEquations;
  /** Augmented state at the start, after any jump on entry. */
  readonly initial: Float64Array;
  /** Augmented state at the end. */
  readonly final: Float64Array;
  /** ∫ z dt over the segment. */
  readonly integral: Float64Array;
}

/** The augmented state after the jump on entering a configuration, where there is one. */
export const entered = ({ entry, order }: StateEquations, z: Float64Array): Float64Array =>
  entry ? product(entry, z, order + 1, order + 1, 1) : z;

/** dz/dt = K z */
export const rateOf = ({ dynamics, order }: StateEquations, z: Float64Array): Float64Array =>
  product(dynamics, z, order + 1, order + 1, 1);

/**
 * Pass a stretch: z(t + τ) = e^{Kτ} z(t), and its integral, both from one exponential.
 *
 * @param initial the augmented state after the jump on entry.
 * @param inside keep what figures within the stretch need.
 */
export function passed(
  equations: StateEquations,
  start: number,
  duration: number,
  initial: Float64Array,
  inside: boolean,
): Segment {
  const { phi, gamma } = propagatorOf(equations, duration, inside);
  const size = equations.order + 1;
  return {
    start,
    duration,
    equations,
    initial,
    final: product(phi, initial, size, size, 1),
    integral: product(gamma, initial, size, size, 1),
  };
}

/**
 * dz/dt at the end of a stretch, as what the propagator makes of it at the start: ż(t + τ) = e^{Kτ} ż(t). Worked from the state at
 * the end instead, K would multiply its rounding: beside a series inductance of a capacitor a divider of some kilohm makes a mode of
 * femtoseconds, and of the last digit of a current a slope of the output as large as the real one.
 */
export function finalRate({ equations, duration, initial }: Segment): Float64Array {
  const { phi } = propagatorOf(equations, duration);
  const size = equations.order + 1;
  return product(phi, rateOf(equations, initial), size, size, 1);
}

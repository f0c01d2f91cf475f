import { ringingFrequency } from '../firstcut/snubberForms.js';

/** What rings when a device of a loop is left by its current. */
export interface RingingLoop {
  /** H, of the loop. */
  readonly inductance: number;
  /** Ω, of the loop: what conducts in it and what its capacitors have in series. */
  readonly resistance: number;
  /** F, of the device that blocks, at the voltage it blocks. */
  readonly capacitance: number;
  /** V */
  readonly blocked: number;
  /** s, of the edge. */
  readonly edge: number;
  /** A, that the loop carries over and above at the start: the peak of a diode's recovery. */
  readonly surplus: number;
}

/** @public */
export interface Ringing {
  /** Hz */
  readonly frequency: number;
  /** V over what the device blocks. */
  readonly overshoot: number;
  /**
   * V, the most that edges of this length can make of it: how ramp and recovery fall together is not known to a fraction of a ring. Without
   * damping, V min(1, 2/(ω₀ t_e)) + I Z₀.
   */
  readonly most: number;
  /** Share of a ring that is left after each period. */
  readonly kept: number;
}

/** Instants of a ring that are looked at. */
const INSTANTS = 720;

/**
 * What a loop rings with after an edge: a series circuit of its inductance, its resistance and the capacitance of the device that blocks, driven
 * by a ramp to the blocked voltage, with a surplus of current at the start. Linear response, from the integral of the step response of the
 * second-order circuit (K. Ogata, Modern Control Engineering, ch. 5), S(t) = t − 2ζ/ω₀ + e^(−σt)(2ζ/ω₀ cos ω_d t + (σ² − ω_d²)/(ω₀² ω_d)
 * sin ω_d t), taken twice: v(t) = V (S(t) − S(t − t_e))/t_e + I Z₀ (ω₀/ω_d) e^(−σt) sin ω_d t.
 *
 * @returns no overshoot where the resistance damps it critically or more.
 * @public
 */
export function ringingOf({ inductance, resistance, capacitance, blocked, edge, surplus }: RingingLoop): Ringing {
  const frequency = ringingFrequency.compute({ inductance, capacitance });
  const natural = 2 * Math.PI * frequency;
  const decay = resistance / (2 * inductance);
  if (decay >= natural) return { frequency, overshoot: 0, most: 0, kept: 0 };
  const damped = Math.sqrt(natural ** 2 - decay ** 2);
  const period = (2 * Math.PI) / damped;
  const integral = (t: number): number => {
    if (t <= 0) return 0;
    const lag = (2 * decay) / natural ** 2;
    const sine = (decay ** 2 - damped ** 2) / (natural ** 2 * damped);
    return t - lag + Math.exp(-decay * t) * (lag * Math.cos(damped * t) + sine * Math.sin(damped * t));
  };
  const impedance = Math.sqrt(inductance / capacitance);
  let most = 0;
  for (let k = 0; k <= INSTANTS; k += 1) {
    const t = (k / INSTANTS) * (edge + period);
    const ramp = (blocked * (integral(t) - integral(t - edge))) / edge;
    const flung = surplus * impedance * (natural / damped) * Math.exp(-decay * t) * Math.sin(damped * t);
    most = Math.max(most, ramp + flung);
  }
  return {
    frequency,
    overshoot: Math.max(0, most - blocked),
    most: blocked * Math.min(1, 2 / (natural * edge)) + surplus * impedance,
    kept: Math.exp(-decay * period),
  };
}

import { applied, type AppliedForm, type ClosedForm } from '../firstcut/closedForm.js';
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
  /** s, of the edge: the current comes and the voltage falls in as long. */
  readonly edge: number;
  /** A, that turns over. */
  readonly current: number;
  /** C, that the diode which is turned off gives back. */
  readonly recoveryCharge: number;
}

/** The edge as the switch makes it: how it takes the current over, and what stands when the other device lets go. @public */
export interface Takeover {
  /** A/s: as the gate lets the current rise, I/t_e, or as the inductance does, V/L. */
  readonly rate: number;
  /** A over what turns over, at the peak of the recovery: of a triangle, √(2 Q_rr di/dt). Common practice. */
  readonly surplus: number;
  /** V that drives the loop until then: L di/dt, the rest of the voltage still standing on the switch. */
  readonly held: number;
  /** s from the start until the other device lets go. */
  readonly time: number;
  /** s from then until nothing stands on the switch any more. */
  readonly rest: number;
}

/** @public */
export interface Ringing {
  /** Hz */
  readonly frequency: number;
  /** V over what the device blocks. */
  readonly overshoot: number;
  /**
   * V, the most that edges of this length can make of it: how ramp and recovery fall together is not known to a fraction of a ring. Without
   * damping, u₁ + (V − u₁) min(1, 2/(ω₀ t)) + I Z₀, u₁ held before the release and t the rest of the edge.
   */
  readonly most: number;
  /** Share of a ring that is left after each period. */
  readonly kept: number;
}

/** How the switch that closes takes the current of a loop over. @public */
export function takeoverOf({
  inductance,
  blocked,
  edge,
  current,
  recoveryCharge,
}: Omit<RingingLoop, 'resistance' | 'capacitance'>): Takeover {
  const rate = Math.min(current / edge, blocked / inductance);
  const surplus = surplusForm.compute({ charge: recoveryCharge, rate });
  const held = Math.min(blocked, inductance * rate);
  return { rate, surplus, held, time: (current + surplus) / rate, rest: edge * Math.max(0, 1 - held / blocked) };
}

/**
 * Transit time, s, of a junction whose charge dQ/dt = i − Q/τ (the diode of SPICE) is gone at the peak of the recovery when the current falls at
 * the rate of a takeover: from Q(0) = τ I, Q(T) = 0 gives τ (1 − e^(−T/τ)) = I_r/(di/dt). 0 where nothing recovers.
 *
 * @public
 */
export function transitTime({ rate, surplus, time }: Takeover): number {
  const asked = surplus / rate;
  if (asked === 0) return 0;
  // The left side rises with τ from 0 to T.
  let [least, most] = [asked, 2 * asked];
  const left = (transit: number): number => transit * -Math.expm1(-time / transit);
  while (left(most) < asked) most *= 2;
  for (let k = 0; k < 60; k += 1) {
    const middle = (least + most) / 2;
    if (left(middle) < asked) least = middle;
    else most = middle;
  }
  return most;
}

/** Instants of a ring that are looked at. */
const INSTANTS = 720;

/**
 * What a loop rings with after an edge: a series circuit of its inductance, its resistance and the capacitance of the device that blocks, from the
 * instant at which that device lets go: driven by what stood on the loop until then and by a ramp to the blocked voltage, with a surplus of
 * current at the start. Linear response of the second-order circuit (K. Ogata, Modern Control Engineering, ch. 5): step
 * H(t) = 1 − e^(−σt)(cos ω_d t + σ/ω_d sin ω_d t), its integral S(t) = t − 2ζ/ω₀ + e^(−σt)(2ζ/ω₀ cos ω_d t + (σ² − ω_d²)/(ω₀² ω_d) sin ω_d t);
 * v(t) = u₁ H(t) + (V − u₁)(S(t) − S(t − t_r))/t_r + I Z₀ (ω₀/ω_d) e^(−σt) sin ω_d t.
 *
 * @returns no overshoot where the resistance damps it critically or more.
 * @public
 */
export function ringingOf(loop: RingingLoop): Ringing {
  const { inductance, resistance, capacitance, blocked } = loop;
  const { surplus, held, rest } = takeoverOf(loop);
  const frequency = ringingFrequency.compute({ inductance, capacitance });
  const natural = 2 * Math.PI * frequency;
  const decay = resistance / (2 * inductance);
  if (decay >= natural) return { frequency, overshoot: 0, most: 0, kept: 0 };
  const damped = Math.sqrt(natural ** 2 - decay ** 2);
  const period = (2 * Math.PI) / damped;
  const step = (t: number): number =>
    1 - Math.exp(-decay * t) * (Math.cos(damped * t) + (decay / damped) * Math.sin(damped * t));
  const integral = (t: number): number => {
    if (t <= 0) return 0;
    const lag = (2 * decay) / natural ** 2;
    const sine = (decay ** 2 - damped ** 2) / (natural ** 2 * damped);
    return t - lag + Math.exp(-decay * t) * (lag * Math.cos(damped * t) + sine * Math.sin(damped * t));
  };
  const impedance = Math.sqrt(inductance / capacitance);
  let most = 0;
  for (let k = 0; k <= INSTANTS; k += 1) {
    const t = (k / INSTANTS) * (rest + period);
    // With no rest of the edge all of the voltage stands at once, and `held` is the whole of it.
    const ramp = rest > 0 ? ((blocked - held) * (integral(t) - integral(t - rest))) / rest : 0;
    const flung = surplus * impedance * (natural / damped) * Math.exp(-decay * t) * Math.sin(damped * t);
    most = Math.max(most, held * step(t) + ramp + flung);
  }
  return {
    frequency,
    overshoot: Math.max(0, most - blocked),
    most: mostForm.compute({ blocked, held, frequency, rest, surplus, impedance }),
    kept: Math.exp(-decay * period),
  };
}

const surplusForm: ClosedForm<'charge' | 'rate'> = {
  name: 'Peak of the recovery',
  symbol: 'I_r',
  unit: 'A',
  formula: '\\sqrt{2\\,Q_{rr}\\,\\mathrm{d}i/\\mathrm{d}t}',
  source: 'common practice: a triangle of the recovery charge that ends at its peak',
  assumption: 'The gate lets the current rise at I/t_e, or the inductance at V/L where that is less.',
  inputs: {
    charge: { symbol: 'Q_{rr}', name: 'recovery charge', unit: 'C' },
    rate: { symbol: '\\mathrm{d}i/\\mathrm{d}t', name: 'rate of the current', unit: 'A/s' },
  },
  compute: (v) => Math.sqrt(2 * v.charge * v.rate),
};

const mostForm: ClosedForm<'blocked' | 'held' | 'frequency' | 'rest' | 'surplus' | 'impedance'> = {
  name: 'The most over what is blocked',
  symbol: '\\Delta V',
  unit: 'V',
  formula: 'u_1+(V-u_1)\\min\\left(1,\\tfrac{1}{\\pi f_r t_r}\\right)+I_r Z_0',
  source:
    'Ring of a second-order circuit after a step, a ramp and an impulse of current, each at its crest (K. Ogata, Modern Control Engineering, ch. 5)',
  assumption: 'Without damping; how they fall together is not known to a fraction of a ring.',
  inputs: {
    blocked: { symbol: 'V', name: 'voltage that is blocked', unit: 'V' },
    held: { symbol: 'u_1', name: 'voltage on the loop while the current turns over, L di/dt', unit: 'V' },
    frequency: { symbol: 'f_r', name: 'ringing frequency', unit: 'Hz' },
    rest: { symbol: 't_r', name: 'rest of the edge', unit: 's' },
    surplus: { symbol: 'I_r', name: 'peak of the recovery', unit: 'A' },
    impedance: { symbol: 'Z_0', name: 'characteristic resistance, √(L/C)', unit: 'ohm' },
  },
  compute: (v) =>
    v.held + (v.blocked - v.held) * Math.min(1, 1 / (Math.PI * v.frequency * v.rest)) + v.surplus * v.impedance,
};

/** How the most that a loop rings to came about. */
export function ringingWorking(loop: RingingLoop): readonly AppliedForm[] {
  const { inductance, capacitance, blocked, recoveryCharge } = loop;
  const { rate, surplus, held, rest } = takeoverOf(loop);
  const frequency = ringingFrequency.compute({ inductance, capacitance });
  const impedance = Math.sqrt(inductance / capacitance);
  return [
    applied(ringingFrequency, { inductance, capacitance }),
    applied(surplusForm, { charge: recoveryCharge, rate }),
    applied(mostForm, { blocked, held, frequency, rest, surplus, impedance }),
  ];
}

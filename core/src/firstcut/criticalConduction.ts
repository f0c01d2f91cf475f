/** A phase in critical conduction: each pulse begins once the current has come to rest, or a little below. */
export interface CriticalPhase {
  /** H */
  readonly inductance: number;
  /** F, of the switch node: both devices, by charge. */
  readonly capacitance: number;
  /** V across the inductor while the main switch is on, and while the rectifier is, both by magnitude. */
  readonly onVoltage: number;
  readonly offVoltage: number;
  /** A, mean of the inductor current. */
  readonly average: number;
}

/** A period of it, losses left out. */
export interface CriticalPeriod {
  /** A */
  readonly peak: number;
  /** A below nothing at which the rectifier opens; 0 where it opens as the current comes to rest. */
  readonly negative: number;
  /** s, of the main switch, of the rectifier, and of the ring from its opening until the main switch closes. */
  readonly onTime: number;
  readonly offTime: number;
  readonly ringTime: number;
  readonly period: number;
  /** V left across the main switch as it closes, and J that it then has to make heat of. */
  readonly left: number;
  readonly energyLeft: number;
}

/**
 * The current below nothing, A, at which the rectifier must open so that the ring just brings the main switch to no voltage:
 * L I²/2 = C (V_on² − V_off²)/2; none where the ring gets there by itself, V_off ≥ V_on.
 *
 * Source: energy of the resonant inductor and capacitor, a standard result; derived here.
 */
export function negativeCurrent({ inductance, capacitance, onVoltage, offVoltage }: CriticalPhase): number {
  return Math.sqrt((Math.max(0, onVoltage ** 2 - offVoltage ** 2) * capacitance) / inductance);
}

/**
 * One period. As the rectifier opens at −I_n the inductor rings with the switch node about V_on: the voltage across the main switch is
 * V_on + V_off cos θ − I_n Z sin θ with Z = √(L/C), and the switch closes at its lowest, or at nothing where it gets there. With the
 * charge C ΔV that the ring takes, the mean over the period is the current asked for:
 *
 *     L Î² S/2 − L I_n²/(2 V_off) − C ΔV = I (L Î S + L I_n/V_off + t_ring),   S = 1/V_on + 1/V_off
 *
 * What is left of a negative current as the switch closes at no voltage goes back through it, and is counted with its on-time.
 *
 * @param negative A; see {@link negativeCurrent}.
 */
export function criticalPeriod(phase: CriticalPhase, negative = 0): CriticalPeriod {
  const { inductance: l, capacitance: c, onVoltage: on, offVoltage: off, average } = phase;
  const omega = 1 / Math.sqrt(l * c);
  const z = Math.sqrt(l / c);
  const amplitude = Math.hypot(off, negative * z);
  const phaseShift = Math.atan2(negative * z, off);
  const free = amplitude >= on;
  // cos(θ + δ) = −V_on/A where the switch has no voltage left; else the lowest, θ + δ = π.
  const angle = (free ? Math.acos(-on / amplitude) : Math.PI) - phaseShift;
  const ringTime = angle / omega;
  const left = free ? 0 : on - amplitude;
  const change = on + off - left;
  // A, as the switch closes: what is more than was needed to get there.
  const back = free ? Math.sqrt(Math.max(0, amplitude ** 2 - on ** 2)) / z : 0;
  const s = 1 / on + 1 / off;
  // a Î² − b Î − d = 0; the current that flows back takes L back/V_on to come to nothing.
  const a = (l * s) / 2;
  const b = average * l * s;
  const idle = (l * negative) / off + ringTime + (l * back) / on;
  const charge = (l * negative ** 2) / (2 * off) + c * change + (l * back ** 2) / (2 * on);
  const d = average * idle + charge;
  const peak = (b + Math.sqrt(b * b + 4 * a * d)) / (2 * a);
  const onTime = (l * (peak + back)) / on;
  const offTime = (l * (peak + negative)) / off;
  return {
    peak,
    negative,
    onTime,
    offTime,
    ringTime,
    period: onTime + offTime + ringTime,
    left,
    energyLeft: (c * left * left) / 2,
  };
}

/** A period as it is drawn. */
export interface CriticalWaveform {
  /** s from the main switch's closing. */
  readonly time: readonly number[];
  /** A, and V across the main switch. */
  readonly current: readonly number[];
  readonly voltage: readonly number[];
}

const RING_POINTS = 40;

/** The inductor current and the voltage across the main switch over one period. */
export function criticalWaveform(
  phase: CriticalPhase,
  { peak, negative, onTime, offTime, ringTime }: CriticalPeriod,
): CriticalWaveform {
  const { inductance: l, capacitance: c, onVoltage: on, offVoltage: off } = phase;
  const omega = 1 / Math.sqrt(l * c);
  const z = Math.sqrt(l / c);
  const begin = peak - (on * onTime) / l;
  const time = [0, onTime, onTime, onTime + offTime];
  const current = [begin, peak, peak, -negative];
  const voltage = [0, 0, on + off, on + off];
  for (let k = 1; k <= RING_POINTS; k += 1) {
    const t = (ringTime * k) / RING_POINTS;
    const angle = omega * t;
    time.push(onTime + offTime + t);
    voltage.push(on + off * Math.cos(angle) - negative * z * Math.sin(angle));
    current.push(-negative * Math.cos(angle) - (off / z) * Math.sin(angle));
  }
  return { time, current, voltage };
}

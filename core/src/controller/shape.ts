import type { Stage } from '../stage/schema.js';
import type { CompleteCompensator } from './compensatorCircuit.js';

/** @public */
export type Components = NonNullable<Stage['control']['compensator']>['components'];
type Network = CompleteCompensator['network'];

/** A compensator by what it does: an integrator with zeros and poles, Hz, and the gain at one frequency. @public */
export interface Shape {
  /** One for type 2, two for type 3, the lower one made by the network round the amplifier; none for an integrator. */
  readonly zeros: readonly number[];
  /** As many as there are zeros, in the same order. */
  readonly poles: readonly number[];
  /** Gain magnitude from output to control voltage at the frequency, Hz. */
  readonly at: number;
  readonly gain: number;
}

/** What a compensator is built round. */
export type Frame = Pick<CompleteCompensator, 'network' | 'amplifier' | 'rUpper' | 'rLower'>;

/**
 * Zeros and poles that lift the phase by `boost` at the crossover frequency, spread evenly about it: one pair for type 2, two
 * pairs that fall together for type 3.
 *
 * Source: H. D. Venable, The K Factor: A New Mathematical Tool for Stability Analysis and Synthesis, Powercon 10 (1983). For type 3
 * K is the squared tangent.
 *
 * @param boost degrees, above the −90° of the integrator.
 * @returns undefined where the network cannot lift the phase so far.
 */
export function kFactor(
  network: Network,
  crossover: number,
  boost: number,
): { readonly zeros: readonly number[]; readonly poles: readonly number[] } | undefined {
  if (network === 'integrator') return boost <= 0 ? { zeros: [], poles: [] } : undefined;
  const pairs = network === 'type-2' ? 1 : 2;
  const each = Math.max(boost, LEAST_BOOST) / pairs;
  if (each >= MOST_BOOST) return undefined;
  // tan(boost/2 + 45°) is the ratio of the crossover to the zero: K itself for one pair, its root for two.
  const ratio = Math.tan(((each / 2 + 45) * Math.PI) / 180);
  return {
    zeros: Array.from({ length: pairs }, () => crossover / ratio),
    poles: Array.from({ length: pairs }, () => crossover * ratio),
  };
}
/** Less than this is not worth a network of its own, degrees; more than that takes zero and pole too far apart to be useful. */
const LEAST_BOOST = 5;
const MOST_BOOST = 85;

const omega = (frequency: number): number => 2 * Math.PI * frequency;

/** √(1 + (f/f₀)²) */
const rise = (frequency: number, corner: number): number => Math.hypot(1, frequency / corner);

/**
 * The components that make a shape, before they are rounded.
 *
 * Source: the transfer functions of the networks with ideal amplifiers, as in A. I. Pressman, K. Billings, T. Morey, Switching Power
 * Supply Design, 3rd ed., ch. 12. The divider's lower resistor counts with a transconductor only, as an op-amp holds the feedback
 * node still.
 *
 * @returns undefined where the network cannot make it: a pole below its zero, or a feed-forward that a transconductor's divider
 *   does not give.
 * @public
 */
export function componentsOf({ zeros, poles, at, gain }: Shape, frame: Frame): Components | undefined {
  const { network, amplifier, rUpper, rLower } = frame;
  const [zero, zero2] = zeros;
  const [pole, pole2] = poles;
  let wanted = gain;
  zeros.forEach((corner) => (wanted /= rise(at, corner)));
  poles.forEach((corner) => (wanted *= rise(at, corner)));
  // Gain of the integrator alone: 1/(ω R C) about an op-amp, g R₂/(R₁+R₂)/(ω C) behind a transconductor.
  const drive = amplifier.kind === 'ota' ? (amplifier.transconductance * rLower) / (rUpper + rLower) : 1 / rUpper;
  const sum = drive / (omega(at) * wanted);
  if (network === 'integrator') return { rUpper, rLower, cZero: sum };
  if (zero === undefined || pole === undefined || pole <= zero) return undefined;
  const cPole = (sum * zero) / pole;
  const cZero = sum - cPole;
  const rZero = 1 / (omega(zero) * cZero);
  const common = { rUpper, rLower, rZero, cZero, cPole };
  if (network === 'type-2') return common;
  if (zero2 === undefined || pole2 === undefined || pole2 <= zero2) return undefined;
  // Zero at 1/(R₁+R₃)C, pole at 1/R₃C; behind the divider of a transconductor the pole sees R₁ ∥ R₂ besides.
  const besides = amplifier.kind === 'ota' ? (rUpper * rLower) / (rUpper + rLower) : 0;
  const cFeedforward = (1 / omega(zero2) - 1 / omega(pole2)) / (rUpper - besides);
  const rFeedforward = 1 / (omega(zero2) * cFeedforward) - rUpper;
  return rFeedforward < 0 ? undefined : { ...common, rFeedforward, cFeedforward };
}

/** Zeros and poles of a network with its components, Hz, in the order of `Shape`. @public */
export function shapeOf({
  network,
  amplifier,
  rUpper,
  rLower,
  rZero,
  cZero,
  cPole,
  feedforward,
}: CompleteCompensator): Pick<Shape, 'zeros' | 'poles'> {
  const corner = (r: number, c: number): number => 1 / (2 * Math.PI * r * c);
  if (network === 'integrator' || rZero === 0) return { zeros: [], poles: [] };
  const zeros = [corner(rZero, cZero)];
  const poles = cPole === undefined ? [] : [corner(rZero, (cZero * cPole) / (cZero + cPole))];
  if (feedforward) {
    const { resistance, capacitance } = feedforward;
    const besides = amplifier.kind === 'ota' ? (rUpper * rLower) / (rUpper + rLower) : 0;
    zeros.push(corner(rUpper + resistance, capacitance));
    poles.push(corner(resistance + besides, capacitance));
  }
  return { zeros, poles };
}

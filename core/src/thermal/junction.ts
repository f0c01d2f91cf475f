import { linearJunction } from '../firstcut/thermalForms.js';

/** How the temperature of a junction settles; the loss at it is that of the settled device. */
export type Junction =
  | { readonly kind: 'settled'; readonly temperature: number; readonly loss: number }
  /** Loss grows faster with the temperature than the path can carry it off. */
  | { readonly kind: 'runaway'; readonly beyond: number };

/** What a device turns into heat where only its channel follows the temperature, in a straight line. */
export interface ChannelHeat {
  /** W, with the channel at 25 °C. */
  readonly channel: number;
  /** Rise of the channel's resistance per kelvin. */
  readonly coefficient: number;
  /** W, at any temperature. */
  readonly fixed: number;
}

/** No semiconductor junction works beyond this, °C: what has not settled below it runs away. Common practice. */
const HIGHEST = 250;
const STEP = 5;
const HALVINGS = 50;

/**
 * The junction temperature at which what the device turns into heat is what its path carries off: the lowest solution of
 * T = Ta + Rθ P(T), which is the one a device warming from ambient comes to.
 *
 * @param loss heat at a junction temperature, W.
 * @param thermal junction to ambient, K/W.
 */
export function settledJunction(loss: (temperature: number) => number, thermal: number, ambient: number): Junction {
  const excess = (temperature: number): number => ambient + thermal * loss(temperature) - temperature;
  let low = ambient;
  let high = ambient;
  while (excess(high) > 0) {
    if (high >= HIGHEST) return { kind: 'runaway', beyond: HIGHEST };
    low = high;
    high += STEP;
  }
  for (let halving = 0; halving < HALVINGS && high - low > 1e-9 * (1 + Math.abs(high)); halving += 1) {
    const middle = (low + high) / 2;
    if (excess(middle) > 0) low = middle;
    else high = middle;
  }
  return { kind: 'settled', temperature: high, loss: loss(high) };
}

/** The same of a device whose channel alone follows the temperature: solved in one step. */
export function settledChannel(
  { channel, coefficient, fixed }: ChannelHeat,
  thermal: number,
  ambient: number,
): Junction {
  const temperature = linearJunction.compute({ ambient, thermal, channel, coefficient, other: fixed });
  // Beyond the pole of the solution it comes out below ambient.
  if (!(temperature >= ambient && temperature <= HIGHEST)) return { kind: 'runaway', beyond: HIGHEST };
  return { kind: 'settled', temperature, loss: fixed + channel * (1 + coefficient * (temperature - 25)) };
}

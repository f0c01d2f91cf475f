import type { Complex } from '../linalg/complex.js';
import { interpolated } from './interpolated.js';

/** Instants of a period at which the swing is looked at. */
const INSTANTS = 96;
/** Harmonics of a square wave that are followed. */
const HARMONICS = 41;

/** Output impedance over frequency, by ascending frequency. */
type Impedances = readonly { readonly frequency: number; readonly outputImpedance: Complex }[];

/** Volts from lowest to highest that a load of one ampere from low to high, half of the time at each, swings a linear stage by. */
function swing(impedanceAt: (frequency: number) => Complex, frequency: number, highest: number): number {
  const harmonics: { readonly order: number; readonly re: number; readonly im: number }[] = [];
  for (let order = 1; order <= HARMONICS && order * frequency <= highest; order += 2) {
    const { re, im } = impedanceAt(order * frequency);
    // A square wave of ±½ is Σ 2/(πk) sin kωt over odd k.
    const size = 2 / (Math.PI * order);
    harmonics.push({ order, re: size * re, im: size * im });
  }
  let low = Infinity;
  let high = -Infinity;
  for (let i = 0; i < INSTANTS; i += 1) {
    let sum = 0;
    for (const { order, re, im } of harmonics) {
      const angle = (2 * Math.PI * order * i) / INSTANTS;
      sum += re * Math.sin(angle) + im * Math.cos(angle);
    }
    low = Math.min(low, sum);
    high = Math.max(high, sum);
  }
  return high - low;
}

/**
 * The rate, Hz, at which a load that alternates between two currents swings the output farthest, by the output impedance of the closed
 * loop: the Fourier series of a square wave of current through it.
 *
 * @param points of a loop, by ascending frequency.
 * @param fastest Hz, no faster.
 * @public
 */
export function worstRate(points: Impedances, fastest: number): number {
  const highest = points.at(-1)?.frequency ?? 0;
  const impedanceAt = interpolated(
    points.map(({ frequency, outputImpedance }) => ({ frequency, value: outputImpedance })),
  );
  let worst = { frequency: fastest, swing: -Infinity };
  for (const { frequency } of points) {
    if (frequency > fastest) break;
    const found = swing(impedanceAt, frequency, highest);
    if (found > worst.swing) worst = { frequency, swing: found };
  }
  return worst.frequency;
}

import type { Complex } from '../linalg/complex.js';
import type { ResponsePoint } from './margins.js';

/**
 * A response between the frequencies it is known at, straight in the complex plane over the logarithm of the frequency; beyond
 * them it stays.
 *
 * @param points frequencies ascending.
 * @public
 */
export function interpolated(points: readonly ResponsePoint[]): (frequency: number) => Complex {
  return (frequency) => {
    let low = 0;
    let high = points.length - 1;
    while (high - low > 1) {
      const middle = (low + high) >> 1;
      if ((points[middle]?.frequency ?? 0) > frequency) high = middle;
      else low = middle;
    }
    const [below, above] = [points[low], points[high]];
    if (!below || !above) return { re: NaN, im: NaN };
    const span = Math.log(above.frequency / below.frequency);
    const share = span === 0 ? 0 : Math.log(frequency / below.frequency) / span;
    const at = Math.min(1, Math.max(0, share));
    return {
      re: below.value.re + at * (above.value.re - below.value.re),
      im: below.value.im + at * (above.value.im - below.value.im),
    };
  };
}

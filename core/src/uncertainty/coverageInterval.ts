import { random } from '../tolerance/random.js';

/** One independent error of a result, in the unit of the result. @public */
export interface ErrorSource {
  readonly words: string;
  /** Standard uncertainty that it makes of the result. */
  readonly standard: number;
  /** Within stated limits all values are taken as equally likely (JCGM 100:2008, 4.3.7); what is read again and again is normal. */
  readonly shape: 'rectangular' | 'normal';
}

/** Draws: the half width is then known to about a hundredth. */
const DRAWS = 20_000;
/** Sources that together make less than this share of the variance are taken as normal, whatever they are. */
const SMALL = 1e-3;

/**
 * Half the width of the interval that holds a share of what a sum of independent errors comes to, by propagating their distributions:
 * where limits dominate it is narrower than 1.96 u, where they are alone 1.65 u.
 *
 * Source: JCGM 101:2008, Propagation of distributions using a Monte Carlo method, clauses 5.9 and 7.7, for sums that are symmetric
 * about their mean. The draws are the same every time.
 *
 * @param share 0 to 1.
 * @public
 */
export function coverageHalfWidth(sources: readonly ErrorSource[], share = 0.95): number {
  const variance = sources.reduce((sum, { standard }) => sum + standard * standard, 0);
  if (variance === 0) return 0;
  const limits = sources.filter(
    ({ shape, standard }) => shape === 'rectangular' && standard * standard > SMALL * variance,
  );
  const rest = Math.sqrt(Math.max(0, variance - limits.reduce((sum, { standard }) => sum + standard * standard, 0)));
  const widths = limits.map(({ standard }) => standard * Math.sqrt(3));
  const next = random(20_080);
  const sums = Float64Array.from({ length: DRAWS }, () => {
    let sum = rest === 0 ? 0 : rest * normal(next);
    for (const width of widths) sum += width * (2 * next() - 1);
    return Math.abs(sum);
  }).sort();
  return sums[Math.ceil(share * DRAWS) - 1] ?? 0;
}

/** One number of the standard normal distribution, from two even ones (Box and Muller, A note on the generation of random normal deviates). */
export const normal = (next: () => number): number =>
  Math.sqrt(-2 * Math.log(1 - next())) * Math.cos(2 * Math.PI * next());

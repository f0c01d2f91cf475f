import jstat from 'jstat';

const { jStat } = jstat;

/**
 * The coverage factor k by which a standard uncertainty is multiplied for an interval that holds a share of what is expected: the
 * quantile of Student's distribution, that of the normal one with ever more degrees of freedom.
 *
 * Source: JCGM 100:2008, Guide to the expression of uncertainty in measurement, G.3 and table G.2.
 *
 * @param share of the distribution within the interval, 0 to 1.
 * @param degrees of freedom, 1 at least; Infinity for what is known from data sheets.
 */
export function coverageFactor(share: number, degrees = Infinity): number {
  const upper = (1 + share) / 2;
  return Number.isFinite(degrees) ? jStat.studentt.inv(upper, Math.max(1, degrees)) : jStat.normal.inv(upper, 0, 1);
}

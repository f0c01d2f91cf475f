/**
 * One decade of the rated currents in which fuses are sold, A: the preferred numbers R10 of ISO 3, as IEC 60127 takes them; from memory.
 */
const R10 = [1, 1.25, 1.6, 2, 2.5, 3.15, 4, 5, 6.3, 8] as const;
/** Closer than this (relative) is the same rating. */
const SAME = 1e-9;

/**
 * The smallest rated current of a fuse that is at least `current`, A.
 *
 * @throws RangeError unless `current` is positive and finite.
 * @public
 */
export function fuseRatingAtLeast(current: number): number {
  if (!(current > 0 && Number.isFinite(current)))
    throw new RangeError(`A fuse is rated for a current above 0 A, not for ${String(current)} A.`);
  const decade = Math.floor(Math.log10(current));
  const ratings = [decade, decade + 1].flatMap((power) => R10.map((one) => Number(`${String(one)}e${String(power)}`)));
  return ratings.find((one) => one >= current * (1 - SAME)) ?? current;
}

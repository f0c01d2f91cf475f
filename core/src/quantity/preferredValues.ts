/**
 * Preferred number series. The tables are stored as printed, not computed: E24 and below depart from the rounded
 * geometric series in several places, and E192 has 920 where the formula gives 919.
 *
 * Source: IEC 60063, Preferred number series for resistors and capacitors (values from memory; the tests hold the full
 * tables and their checksums).
 */
const E24 = [10, 11, 12, 13, 15, 16, 18, 20, 22, 24, 27, 30, 33, 36, 39, 43, 47, 51, 56, 62, 68, 75, 82, 91] as const;

// prettier-ignore
const E192 = [
  100, 101, 102, 104, 105, 106, 107, 109, 110, 111, 113, 114, 115, 117, 118, 120, 121, 123, 124, 126, 127, 129, 130, 132,
  133, 135, 137, 138, 140, 142, 143, 145, 147, 149, 150, 152, 154, 156, 158, 160, 162, 164, 165, 167, 169, 172, 174, 176,
  178, 180, 182, 184, 187, 189, 191, 193, 196, 198, 200, 203, 205, 208, 210, 213, 215, 218, 221, 223, 226, 229, 232, 234,
  237, 240, 243, 246, 249, 252, 255, 258, 261, 264, 267, 271, 274, 277, 280, 284, 287, 291, 294, 298, 301, 305, 309, 312,
  316, 320, 324, 328, 332, 336, 340, 344, 348, 352, 357, 361, 365, 370, 374, 379, 383, 388, 392, 397, 402, 407, 412, 417,
  422, 427, 432, 437, 442, 448, 453, 459, 464, 470, 475, 481, 487, 493, 499, 505, 511, 517, 523, 530, 536, 542, 549, 556,
  562, 569, 576, 583, 590, 597, 604, 612, 619, 626, 634, 642, 649, 657, 665, 673, 681, 690, 698, 706, 715, 723, 732, 741,
  750, 759, 768, 777, 787, 796, 806, 816, 825, 835, 845, 856, 866, 876, 887, 898, 909, 920, 931, 942, 953, 965, 976, 988,
] as const;

const every = (table: readonly number[], stride: number): readonly number[] =>
  table.filter((_, index) => index % stride === 0);

/** One decade of each series, as printed (two digits to E24, three from E48 on). @public */
export const PREFERRED_SERIES = {
  E3: every(E24, 8),
  E6: every(E24, 4),
  E12: every(E24, 2),
  E24,
  E48: every(E192, 4),
  E96: every(E192, 2),
  E192,
} as const satisfies Record<string, readonly number[]>;

/** @public */
export type PreferredSeries = keyof typeof PREFERRED_SERIES;

/** Two values closer than this (relative) are the same member: far above rounding, far below the step of E192. */
const SAME_MEMBER = 1e-9;

/** The members of the series in the decade of `value` and its two neighbours, ascending, as exact decimals. */
function membersAround(value: number, series: PreferredSeries): readonly number[] {
  if (!(value > 0 && Number.isFinite(value))) {
    throw new RangeError(`A preferred value is sought for ${String(value)}, but only positive finite values have one.`);
  }
  const decade = Math.floor(Math.log10(value));
  const digits = series === 'E48' || series === 'E96' || series === 'E192' ? 2 : 1;
  return [decade - 1, decade, decade + 1].flatMap((power) =>
    PREFERRED_SERIES[series].map((member) => Number(`${String(member)}e${String(power - digits)}`)),
  );
}

/** The member nearest by ratio. Throws RangeError unless `value` is positive and finite. @public */
export function nearestPreferred(value: number, series: PreferredSeries): number {
  return membersAround(value, series).reduce((best, member) =>
    Math.abs(Math.log(member / value)) < Math.abs(Math.log(best / value)) ? member : best,
  );
}

/** The smallest member that is at least `value` (the value itself when it is a member). @public */
export function preferredAtLeast(value: number, series: PreferredSeries): number {
  const found = membersAround(value, series).find((member) => member >= value * (1 - SAME_MEMBER));
  return found ?? value;
}

/** The largest member that is at most `value` (the value itself when it is a member). @public */
export function preferredAtMost(value: number, series: PreferredSeries): number {
  const found = membersAround(value, series).findLast((member) => member <= value * (1 + SAME_MEMBER));
  return found ?? value;
}

/** The next member strictly above `value`: what the up key steps to. @public */
export function nextPreferredUp(value: number, series: PreferredSeries): number {
  return preferredAtLeast(value * (1 + 2 * SAME_MEMBER), series);
}

/** The next member strictly below `value`: what the down key steps to. @public */
export function nextPreferredDown(value: number, series: PreferredSeries): number {
  return preferredAtMost(value * (1 - 2 * SAME_MEMBER), series);
}

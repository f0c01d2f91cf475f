/** Steps a designer counts in. */
const STEPS = [1, 2, 2.5, 5, 10];

/**
 * Round values strictly inside a range, in steps of 1, 2, 2.5 or 5 times a power of ten, at most `most` of them; so axes
 * that stand on each other never print two labels at one place.
 */
export function niceTicks(min: number, max: number, most: number): number[] {
  const span = max - min;
  if (!(span > 0)) return [];
  const power = 10 ** Math.floor(Math.log10(span / most));
  const step = (STEPS.find((one) => one * power * most >= span) ?? 10) * power;
  const ticks: number[] = [];
  for (let k = Math.ceil(min / step); k * step <= max; k += 1) {
    const value = Number((k * step).toPrecision(12));
    if (value > min + 0.04 * span && value < max - 0.04 * span) ticks.push(value);
  }
  return ticks;
}

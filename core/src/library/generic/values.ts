/** Values of a series of preferred digits between two ends, rising. */
export function seriesValues(from: number, to: number, series: readonly number[]): readonly number[] {
  const values: number[] = [];
  for (let decade = Math.floor(Math.log10(from)) - 1; decade <= Math.ceil(Math.log10(to)); decade += 1)
    for (const digits of series) {
      const value = Number((digits * 10 ** (decade - 1)).toPrecision(3));
      if (value >= from * 0.999 && value <= to * 1.001) values.push(value);
    }
  return [...new Set(values)].sort((a, b) => a - b);
}

/** `6R8`, `150n`, `22u`: a value as a part name writes it. */
export function valueCode(value: number): string {
  const [prefix, scale] = (
    [
      ['p', 1e-12],
      ['n', 1e-9],
      ['u', 1e-6],
      ['m', 1e-3],
      ['R', 1],
    ] as const
  ).findLast(([, at]) => value >= at * 0.999) ?? ['p', 1e-12];
  const digits = String(Number((value / scale).toPrecision(3)));
  return digits.includes('.') ? digits.replace('.', prefix) : `${digits}${prefix}`;
}

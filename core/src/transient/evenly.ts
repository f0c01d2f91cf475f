/** Values of a waveform at even distances, from its points. @public */
export function evenly(time: Float64Array, values: Float64Array, count: number): Float64Array {
  const first = time[0] ?? 0;
  const span = (time.at(-1) ?? 0) - first;
  const out = new Float64Array(count);
  let k = 0;
  for (let i = 0; i < count; i += 1) {
    const t = first + (span * i) / (count - 1);
    while (k + 2 < time.length && (time[k + 1] as number) < t) k += 1;
    const t0 = time[k] as number;
    const t1 = time[k + 1] as number;
    const share = t1 > t0 ? Math.min(1, Math.max(0, (t - t0) / (t1 - t0))) : 1;
    out[i] = (values[k] as number) * (1 - share) + (values[k + 1] as number) * share;
  }
  return out;
}

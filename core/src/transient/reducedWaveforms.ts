import type { Waveforms } from './recorder.js';

/** Some signals over time, by the least and the greatest at each instant. */
export interface ReducedSignal {
  /** s, of the first point of each stretch. */
  readonly time: Float64Array;
  readonly least: Float64Array;
  readonly most: Float64Array;
}

/**
 * A signal with no more than so many points: the least and the greatest of each stretch, never one of several points alone, so that no
 * peak is lost. What has fewer points stays as it is.
 *
 * @param from, end indices of the part that is asked for, the end exclusive.
 * @public
 */
export function reducedSignal(
  { time }: Pick<Waveforms, 'time'>,
  { least, most }: Pick<Waveforms['signals'][number], 'least' | 'most'>,
  [from, end]: readonly [number, number],
  points: number,
): ReducedSignal {
  const stride = Math.max(1, Math.ceil((end - from) / points));
  if (stride === 1) return { time: time.slice(from, end), least: least.slice(from, end), most: most.slice(from, end) };
  const count = Math.ceil((end - from) / stride);
  const out = { time: new Float64Array(count), least: new Float64Array(count), most: new Float64Array(count) };
  for (let k = 0, begin = from; k < count; k += 1, begin += stride) {
    let low = Infinity;
    let high = -Infinity;
    const until = Math.min(end, begin + stride);
    for (let i = begin; i < until; i += 1) {
      if ((least[i] as number) < low) low = least[i] as number;
      if ((most[i] as number) > high) high = most[i] as number;
    }
    out.time[k] = time[begin] as number;
    out.least[k] = low;
    out.most[k] = high;
  }
  return out;
}

/** Waveforms with no more than so many points each; see {@link reducedSignal}. @public */
export function reducedWaveforms(waveforms: Waveforms, points: number): Waveforms {
  const { length } = waveforms.time;
  const signals = waveforms.signals.map((signal) => ({
    ...signal,
    ...reducedSignal(waveforms, signal, [0, length], points),
  }));
  const [first] = signals;
  return {
    time: first?.time ?? new Float64Array(0),
    signals: signals.map(({ name, unit, least, most }) => ({ name, unit, least, most })),
  };
}

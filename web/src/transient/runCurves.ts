import { reducedSignal, type Waveforms } from '@yundro/core';
import type { Curve } from '../charts/curves';

/** Points of a curve at most. */
const MOST_POINTS = 6000;

/** A part of the time axis, s. */
export interface View {
  readonly from: number;
  readonly to: number;
}

/** First index at which a time is reached. */
function indexAt(time: Float64Array, at: number): number {
  let low = 0;
  let high = time.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if ((time[middle] as number) < at) low = middle + 1;
    else high = middle;
  }
  return low;
}

/**
 * A signal as a curve over a part of its time: where there are more points than a picture shows, the least and the greatest of each
 * stretch in turn, so that no peak is left out however far the picture is drawn out.
 *
 * @param shift, lift by which the signal is moved, s and V or A.
 */
export function runCurve(
  { time }: Pick<Waveforms, 'time'>,
  { least, most }: Pick<Waveforms['signals'][number], 'least' | 'most'>,
  { from, to }: View,
  { shift = 0, lift = 0 }: { readonly shift?: number; readonly lift?: number } = {},
): Pick<Curve, 'x' | 'y'> {
  // One point further on either side: a line leaves the picture where it does.
  const first = Math.max(0, indexAt(time, from - shift) - 1);
  const end = Math.min(time.length, indexAt(time, to - shift) + 1);
  const reduced = reducedSignal({ time }, { least, most }, [first, end], MOST_POINTS / 2);
  const x: number[] = [];
  const y: number[] = [];
  for (let i = 0; i < reduced.time.length; i += 1) {
    const at = (reduced.time[i] as number) + shift;
    const low = reduced.least[i] as number;
    const high = reduced.most[i] as number;
    x.push(at);
    y.push(low + lift);
    if (high !== low) {
      x.push(at);
      y.push(high + lift);
    }
  }
  return { x, y };
}

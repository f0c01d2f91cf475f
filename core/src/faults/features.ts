import type { Waveforms } from '../transient/recorder.js';
import { random } from '../tolerance/random.js';
import { normal } from '../uncertainty/coverageInterval.js';

/** What is read off the waveform at one place, as on the screen of an oscilloscope. @public */
export interface NodeFeatures {
  readonly mean: number;
  /** Levels below and above which it stays for a twentieth of the time. */
  readonly low: number;
  readonly high: number;
  readonly peak: number;
  readonly valley: number;
  /** How far its mean lies above the middle of peak and valley, over the swing: a ramp that bends upward is below it. */
  readonly bend: number;
  /** Rising edges through the middle, to a clock period; 0 where it hardly moves. */
  readonly pulses: number;
  /** How much one pulse differs from the next, over the period; 0 where they are alike. */
  readonly alternation: number;
}

/** What was read at the places that were probed, by their names. @public */
export type BoardFeatures = Readonly<Record<string, NodeFeatures>>;

/** Instants at which a period is looked at. */
const LOOKED_AT = 400;
/** Share of the time beyond each level. */
const BEYOND = 0.05;
/** A waveform that moves less than this share of the largest voltage or current about has no pulses. */
const MOVES = 0.02;

/** Noise of what is looked at by itself, as a share of that on a level. */
const ALTERNATING_NOISE = 0.05;

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

/** Instants of rising edges through a level, in samples; what wavers about it by less than a tenth of the swing is one edge. */
function risingEdges(samples: Float64Array, level: number, swing: number): readonly number[] {
  const edges: number[] = [];
  let below = (samples[0] ?? 0) < level;
  samples.forEach((value, i) => {
    if (below && value > level + swing / 10) {
      edges.push(i);
      below = false;
    } else if (!below && value < level - swing / 10) below = true;
  });
  return edges;
}

/** Lengths of the pulses above a level, in samples. */
function pulseLengths(samples: Float64Array, level: number, swing: number): readonly number[] {
  const lengths: number[] = [];
  let began: number | undefined;
  let above = (samples[0] ?? 0) > level;
  samples.forEach((value, i) => {
    if (!above && value > level + swing / 10) {
      above = true;
      began = i;
    } else if (above && value < level - swing / 10) {
      above = false;
      if (began !== undefined) lengths.push(i - began);
    }
  });
  return lengths;
}

/**
 * What is read off a waveform.
 *
 * @param scale of voltages or currents on this board: what moves by much less does not move.
 * @public
 */
export function featuresOf(
  time: Float64Array,
  least: Float64Array,
  most: Float64Array,
  period: number,
  scale: number,
): NodeFeatures {
  const span = (time.at(-1) ?? 0) - (time[0] ?? 0);
  const periods = span / period;
  const count = Math.max(2, Math.round(LOOKED_AT * periods));
  const samples = evenly(time, least, count);
  const sorted = samples.slice().sort();
  const at = (share: number): number => sorted[Math.round(share * (count - 1))] ?? 0;
  const low = at(BEYOND);
  const high = at(1 - BEYOND);
  const peak = Math.max(
    sorted.at(-1) ?? 0,
    most.reduce((a, b) => Math.max(a, b), -Infinity),
  );
  const valley = Math.min(
    sorted[0] ?? 0,
    least.reduce((a, b) => Math.min(a, b), Infinity),
  );
  const swing = high - low;
  const moves = swing > MOVES * scale;
  const middle = (high + low) / 2;
  const lengths = moves ? pulseLengths(samples, middle, swing) : [];
  const mean = samples.reduce((sum, value) => sum + value, 0) / count;
  const differences = lengths.slice(1).map((length, k) => Math.abs(length - (lengths[k] ?? length)));
  return {
    mean,
    bend: moves && peak > valley ? (mean - (peak + valley) / 2) / (peak - valley) : 0,
    low,
    high,
    peak,
    valley,
    pulses: moves ? risingEdges(samples, middle, swing).length / periods : 0,
    alternation: differences.length > 0 ? Math.max(...differences) / LOOKED_AT : 0,
  };
}

/** What the channels of the oscilloscope add, by a seed: an error of gain to each, and noise. */
export interface ScopeErrors {
  readonly seed: number;
  /** Limit of the error of gain, a ratio. */
  readonly gain: number;
  /** Standard deviation of noise on a level, over the scale. */
  readonly noise: number;
}

/** What is read at every node of a run. @public */
export function boardFeatures(
  { time, signals }: Waveforms,
  period: number,
  scales: { readonly voltage: number; readonly current: number },
  errors?: ScopeErrors,
): BoardFeatures {
  const next = random(errors?.seed ?? 1);
  return Object.fromEntries(
    signals
      .filter(({ name }) => name !== 'control voltage' && name !== 'load current')
      .map(({ name, unit, least, most }) => {
        const scale = unit === 'A' ? scales.current : scales.voltage;
        const read = featuresOf(time, least, most, period, scale);
        if (!errors) return [name, read];
        const gain = 1 + errors.gain * (2 * next() - 1);
        const seen = (value: number): number => value * gain + errors.noise * scale * normal(next);
        const mean = seen(read.mean);
        // What moves is looked at by itself, finer than the whole.
        const moved = (value: number): number =>
          mean +
          (value - read.mean) * gain +
          errors.noise * (ALTERNATING_NOISE * scale + read.peak - read.valley) * normal(next);
        const { low, high, peak, valley } = read;
        return [name, { ...read, mean, low: moved(low), high: moved(high), peak: moved(peak), valley: moved(valley) }];
      }),
  );
}

import { evenly } from '../transient/evenly.js';
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
/** Periods of a record that are looked at. */
const MOST_PERIODS = 60;
/** Share of the time beyond each level. */
const BEYOND = 0.05;
/** A waveform that moves less than this share of the largest voltage or current about has no pulses. */
const MOVES = 0.02;

/** Noise of what is looked at by itself, as a share of that on a level. */
const ALTERNATING_NOISE = 0.05;

/** The pulses above a level: how many begin, and how long each lasts that ends, in samples. What wavers by less than a tenth of the swing is one. */
function pulsesIn(
  samples: Float64Array,
  level: number,
  swing: number,
): { readonly count: number; readonly lengths: readonly number[] } {
  const lengths: number[] = [];
  let count = 0;
  let began: number | undefined;
  let above = (samples[0] ?? 0) > level;
  samples.forEach((value, i) => {
    if (!above && value > level + swing / 10) {
      above = true;
      count += 1;
      began = i;
    } else if (above && value < level - swing / 10) {
      above = false;
      if (began !== undefined) lengths.push(i - began);
    }
  });
  return { count, lengths };
}

/**
 * What is read off a waveform.
 *
 * @param scale of voltages or currents on this board: what moves by much less does not move.
 * @public
 */
export function featuresOf(
  whole: Float64Array,
  lows: Float64Array,
  highs: Float64Array,
  period: number,
  scale: number,
): NodeFeatures {
  // A long record says no more than its last periods.
  const from = Math.max(
    0,
    whole.findIndex((t) => t >= (whole.at(-1) ?? 0) - MOST_PERIODS * period),
  );
  const [time, least, most] = [whole, lows, highs].map((one) => one.subarray(from)) as [
    Float64Array,
    Float64Array,
    Float64Array,
  ];
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
  const { count: begun, lengths } = moves ? pulsesIn(samples, middle, swing) : { count: 0, lengths: [] };
  const mean = samples.reduce((sum, value) => sum + value, 0) / count;
  const differences = lengths.slice(1).map((length, k) => Math.abs(length - (lengths[k] ?? length)));
  return {
    mean,
    bend: moves && peak > valley ? (mean - (peak + valley) / 2) / (peak - valley) : 0,
    low,
    high,
    peak,
    valley,
    pulses: begun / periods,
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
    signals.map(({ name, unit, least, most }) => {
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

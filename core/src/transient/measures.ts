import type { Recorder } from './recorder.js';

/** Figures of a run; voltages and currents by magnitude, deviations positive. @public */
export interface TransientMeasures {
  /** Average of the output over the period before time 0 less its least afterwards; at start-up there is none before. */
  readonly undershoot: number;
  readonly overshoot: number;
  /** Last instant at which the output, averaged over a period about it, is out of tolerance, s. */
  readonly recoveryTime: number;
  readonly peakInductorCurrent: number;
  readonly leastInductorCurrent: number;
  /** Signed. */
  readonly finalOutputVoltage: number;
  readonly peakOutputVoltage: number;
  readonly leastOutputVoltage: number;
  /** From 10 % to 90 % of the final voltage, s; null where the run did not pass them. */
  readonly riseTime: number | null;
  readonly averageOutputCurrent: number;
  readonly averageSwitchingFrequency: number;
  readonly steadyOutputRipple: number;
  /** Square of the current out of the source over the run, A² s. */
  readonly inrushIntegral: number;
}


/** ∫ output dt between kept points: a cubic from the integral and the output, its derivative, at both ends. */
function integralAt(recorder: Recorder, at: number): number {
  const times = recorder.time.values();
  const integrals = recorder.integral.values();
  const outputs = recorder.outputs.values();
  let low = 0;
  let high = times.length - 1;
  if (at <= (times[0] as number)) return (integrals[0] as number) - (outputs[0] as number) * ((times[0] as number) - at);
  if (at >= (times[high] as number)) return integrals[high] as number;
  // The later of two points at one instant: there the output may have jumped.
  while (high - low > 1) {
    const middle = (low + high) >> 1;
    if ((times[middle] as number) <= at) low = middle;
    else high = middle;
  }
  const t0 = times[low] as number;
  const h = (times[high] as number) - t0;
  if (h <= 0) return integrals[high] as number;
  const u = (at - t0) / h;
  const y0 = integrals[low] as number;
  const y1 = integrals[high] as number;
  const m0 = (outputs[low] as number) * h;
  const m1 = (outputs[high] as number) * h;
  const d = y1 - y0;
  return y0 + u * (m0 + u * (3 * d - 2 * m0 - m1 + u * (m0 + m1 - 2 * d)));
}

/** Average of the output between two times, V, by magnitude. */
export const averageBetween = (recorder: Recorder, from: number, to: number): number =>
  (integralAt(recorder, to) - integralAt(recorder, from)) / (to - from);

/** First time at which the kept output is at or above a level; null where it never is. */
export function firstAbove(recorder: Recorder, level: number): number | null {
  const times = recorder.time.values();
  const outputs = recorder.outputs.values();
  for (let i = 0; i < times.length; i += 1) {
    if ((outputs[i] as number) < level) continue;
    if (i === 0) return times[0] as number;
    const v0 = outputs[i - 1] as number;
    const v1 = outputs[i] as number;
    const t0 = times[i - 1] as number;
    return t0 + (((times[i] as number) - t0) * (level - v0)) / (v1 - v0);
  }
  return null;
}

/**
 * Last instant at which the output, averaged over a period centred on it, lies further from the final voltage than a tolerance.
 *
 * @param before average before time 0, which holds before it.
 */
export function lastOutside(
  recorder: Recorder,
  { final, tolerance, period, before, end }: Readonly<Record<'final' | 'tolerance' | 'period' | 'before' | 'end', number>>,
): number {
  const times = recorder.time.values();
  const averaged = (at: number): number => {
    const from = at - period / 2;
    const head = from < 0 ? -from * before : 0;
    return (head + integralAt(recorder, at + period / 2) - integralAt(recorder, Math.max(0, from))) / period;
  };
  const off = (at: number): number => Math.abs(averaged(at) - final) - tolerance;
  const latest = end - period / 2;
  let later = latest;
  for (let i = times.length - 1; i >= 0; i -= 1) {
    const at = times[i] as number;
    if (at >= later) continue;
    if (off(at) > 0) {
      let inside = later;
      let outside = at;
      if (off(inside) > 0) return inside;
      for (let k = 0; k < 50; k += 1) {
        const middle = (inside + outside) / 2;
        if (off(middle) > 0) outside = middle;
        else inside = middle;
      }
      return inside;
    }
    later = at;
  }
  return 0;
}


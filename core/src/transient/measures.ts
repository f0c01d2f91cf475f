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
  /** Of the second half of the run, as are the two that follow, A. */
  readonly averageOutputCurrent: number;
  readonly averageSwitchingFrequency: number;
  readonly steadyOutputRipple: number;
  /** Square of the current out of the source over the run, A² s. */
  readonly inrushIntegral: number;
  /** The most that a switch or diode bears, V; of ideal edges, without what a layout adds. */
  readonly peakSwitchVoltage: number;
}

/** What a deviation and its recovery are judged by: all that a run needs no second half for, nor energies. @public */
export type StepMeasures = Omit<
  TransientMeasures,
  'averageOutputCurrent' | 'averageSwitchingFrequency' | 'steadyOutputRipple' | 'inrushIntegral' | 'peakSwitchVoltage'
>;

/** The kept output with its integral: what averages are taken from. */
export class KeptOutput {
  private readonly times: Float64Array;
  private readonly integrals: Float64Array;
  private readonly outputs: Float64Array;
  /** Where the last look ended: most follow each other. */
  private near = 0;

  /** Whether the points lie closer than the ripple: else a cubic through them would follow it wrongly. */
  private readonly fine: boolean;

  constructor({ averages, stride }: Recorder) {
    this.times = averages.time.values();
    this.integrals = averages.integral.values();
    this.outputs = averages.output.values();
    this.fine = stride === 1;
  }

  get count(): number {
    return this.times.length;
  }
  timeOf(i: number): number {
    return this.times[i] as number;
  }
  outputOf(i: number): number {
    return this.outputs[i] as number;
  }

  /** ∫ output dt up to a time: a cubic from the integral and the output, its derivative, at the kept points; a line where they are far apart. */
  integralAt(at: number): number {
    const { times, integrals, outputs } = this;
    const last = times.length - 1;
    if (at <= (times[0] as number))
      return (integrals[0] as number) - (outputs[0] as number) * ((times[0] as number) - at);
    if (at >= (times[last] as number)) return integrals[last] as number;
    let low = Math.min(this.near, last - 1);
    // The later of two points at one instant: there the output may have jumped.
    while (low > 0 && (times[low] as number) > at) low -= 1;
    while (low < last - 1 && (times[low + 1] as number) <= at) low += 1;
    this.near = low;
    const t0 = times[low] as number;
    const h = (times[low + 1] as number) - t0;
    if (h <= 0) return integrals[low + 1] as number;
    const u = (at - t0) / h;
    const y0 = integrals[low] as number;
    const d = (integrals[low + 1] as number) - y0;
    if (!this.fine) return y0 + u * d;
    const m0 = (outputs[low] as number) * h;
    const m1 = (outputs[low + 1] as number) * h;
    return y0 + u * (m0 + u * (3 * d - 2 * m0 - m1 + u * (m0 + m1 - 2 * d)));
  }
}

/** First time at which the kept output rises through a level; null where it never does. */
export function firstAbove(kept: KeptOutput, level: number): number | null {
  for (let i = 0; i < kept.count; i += 1) {
    if (kept.outputOf(i) < level) continue;
    if (i === 0) return null;
    const v0 = kept.outputOf(i - 1);
    const t0 = kept.timeOf(i - 1);
    return t0 + ((kept.timeOf(i) - t0) * (level - v0)) / (kept.outputOf(i) - v0);
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
  {
    final,
    tolerance,
    period,
    before,
    end,
  }: Readonly<Record<'final' | 'tolerance' | 'period' | 'before' | 'end', number>>,
): number {
  // Two looks, each at its own end of the period, so that both move on step by step.
  const head = new KeptOutput(recorder);
  const tail = new KeptOutput(recorder);
  const averaged = (at: number): number => {
    const from = at - period / 2;
    const before0 = from < 0 ? -from * before : 0;
    return (before0 + head.integralAt(at + period / 2) - tail.integralAt(Math.max(0, from))) / period;
  };
  const off = (at: number): number => Math.abs(averaged(at) - final) - tolerance;
  let later = end - period / 2;
  for (let i = head.count - 1; i >= 0; i -= 1) {
    const at = head.timeOf(i);
    if (at >= later) continue;
    if (off(at) > 0) {
      let inside = later;
      let outside = at;
      if (off(inside) > 0) return inside;
      for (let k = 0; k < BISECTIONS; k += 1) {
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
const BISECTIONS = 40;

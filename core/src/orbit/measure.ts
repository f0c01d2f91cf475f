import { alternatingRms, average, averageProduct, extremes, rms } from './measures.js';
import type { PeriodicSolution } from './periodic.js';
import type { Signal } from './signal.js';

/** A waveform with the symbol it is written with. */
export interface NamedSignal {
  /** TeX */
  readonly symbol: string;
  readonly name: string;
  readonly signal: Signal;
}

/** How a figure is taken from waveforms: what the operating point evaluates, and what the working explains. */
export type Measure =
  | {
      readonly kind: 'average' | 'rms' | 'alternating-rms' | 'max' | 'min' | 'peak-to-peak' | 'magnitude';
      readonly of: NamedSignal;
    }
  /** Sum over pairs of the average of voltage times current, times the number of copies of them that the stage has. */
  | {
      readonly kind: 'power';
      readonly of: readonly { readonly voltage: NamedSignal; readonly current: NamedSignal }[];
      readonly copies: number;
    };

/** The value of a measure on a periodic solution. */
export function evaluateMeasure(solution: PeriodicSolution, measure: Measure): number {
  switch (measure.kind) {
    case 'average':
      return average(solution, measure.of.signal);
    case 'rms':
      return rms(solution, measure.of.signal);
    case 'alternating-rms':
      return alternatingRms(solution, measure.of.signal);
    case 'max':
      return extremes(solution, measure.of.signal).max;
    case 'min':
      return extremes(solution, measure.of.signal).min;
    case 'peak-to-peak':
      return extremes(solution, measure.of.signal).peakToPeak;
    case 'magnitude': {
      const { max, min } = extremes(solution, measure.of.signal);
      return Math.max(Math.abs(max), Math.abs(min));
    }
    case 'power':
      return (
        measure.copies *
        measure.of.reduce((sum, pair) => sum + averageProduct(solution, pair.voltage.signal, pair.current.signal), 0)
      );
  }
}

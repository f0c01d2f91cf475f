import type { PhaseSpan, Segment } from './alongPeriod.js';
import type { Neighbour } from './periodicProblem.js';

/** Where the next Newton run starts. */
export type Warm = Pick<Neighbour, 'duty' | 'instants'>;

/** How a Newton run with assumed diodes ended. */
export interface Attempt {
  readonly converged: boolean;
  readonly reason: string;
  readonly iterations: number;
  readonly duty: number;
  readonly instants: readonly number[];
  readonly segments: readonly Segment[];
  readonly spans: readonly PhaseSpan[];
  /** The interval whose diode the search wants to stop before the interval begins. */
  readonly stuck?: number;
}

/** For the phase that every stage has. */
export function noPhase(): never {
  throw new Error('A stage has at least one phase.');
}

/** A value held between two others. */
export const clamp = (value: number, low: number, high: number): number =>
  Math.min(Math.max(value, low), Math.max(low, high));

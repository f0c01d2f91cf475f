import type { AmplifierState } from './amplifierLimits.js';
import type { Configuration, RunLayout } from './configuration.js';
import type { PhaseState, PulseEnd } from './phaseState.js';
import type { SimulatedStage } from './simulatedStage.js';

/** A run as those see it who drive it: the controller, the guards, and the diodes. */
export interface Running {
  readonly drawn: SimulatedStage;
  readonly layout: RunLayout;
  /** s */
  readonly tickTime: number;
  /** Ticks of a clock period. */
  readonly period: number;
  readonly tick: number;
  /** Augmented state. */
  z: Float64Array;
  amplifier: AmplifierState;
  readonly shorted: boolean;
  /** The band each biased bank is in. */
  readonly bands: readonly number[];
  /** A biased bank passes into another band. */
  readonly enterBand: (bank: number, band: number) => void;
  readonly phases: readonly PhaseState[];
  /** The configuration the run is in; before the first there is none. */
  readonly configuration: Configuration;
  /** Usual sizes, A and V: what counts as nothing is a share of them. */
  readonly scale: { readonly current: number; readonly voltage: number };
  /** Change a source that moves to a value, evenly within a time, s, or at once. */
  readonly moveSource: (name: string, to: number, within?: number) => void;
  /** The value a moving source has, or the fixed one. */
  readonly sourceNow: (name: string) => number;
  readonly tell: (phase: number, what: 'begins' | 'skipped' | PulseEnd) => void;
}

/** Relative size below which a guard counts as not yet crossed: rounding. */
export const ROUNDING = 1e-9;

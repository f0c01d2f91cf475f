import type { Circuit } from '../circuit/elements.js';
import type { Rotation } from '../orbit/periodicProblem.js';
import type { Region } from '../topology/topology.js';
import type { PhaseSchedule } from '../orbit/schedule.js';
import type { LegTiming } from './legTiming.js';

/** The names by which the measures find their elements in a circuit. */
export interface StageElements {
  readonly inductors: readonly string[];
  /** What the controller draws beside the power stage, where it is drawn. */
  readonly controller: readonly string[];
  /** One per phase, or none. */
  readonly senseResistors: readonly string[];
  readonly outputBanks: readonly string[];
  readonly inputBanks: readonly string[];
  readonly load: string;
  readonly source: string;
  /** The elements each phase consists of, phase by phase in the same order. */
  readonly byPhase: readonly (readonly string[])[];
  /** Switches and diodes by the position the designer knows them by; one entry per phase. */
  readonly positions: Readonly<Record<string, readonly SwitchPosition[]>>;
}

export interface SwitchPosition {
  /** The switch itself, or the diode of a diode rectifier. */
  readonly device: string;
  /** The diode inside the switch, where the stage has dead time. */
  readonly bodyDiode?: string;
}

/** A stage as a circuit at one operating condition, with what its controller does. */
export interface PowerStage {
  readonly circuit: Circuit;
  readonly phases: readonly PhaseSchedule[];
  /** The legs of each phase, and how each is driven here. */
  readonly legs: readonly (readonly LegTiming[])[];
  readonly rotation: Rotation;
  readonly elements: StageElements;
  readonly outputNode: string;
  /** Whether the inductors feed the output at all times, on-time and off-time alike. */
  readonly feedsThroughout: boolean;
  /** The switch node of phase 1. */
  readonly switchNode: string;
  /** Which legs of a four-switch stage switch here. */
  readonly region?: Region;
  /** Duty ratio of the leg that is not regulated, where both switch. */
  readonly fixedLegDuty?: number;
  /** Largest duty ratio at which the edges keep the order they were drawn in. */
  readonly largestDuty?: number;
  /** Duty ratio of the ideal, loss-free stage: where the search for the real one starts. */
  readonly idealDuty: number;
}

/** The input voltage and the load a stage is looked at with. @public */
export interface OperatingCondition {
  readonly inputVoltage: number;
  /** °C; room temperature where it is not given. */
  readonly ambient?: number;
  readonly load:
    | { readonly kind: 'current'; readonly current: number }
    | { readonly kind: 'resistance'; readonly resistance: number }
    /** Drawn at the regulated output voltage, W. */
    | { readonly kind: 'power'; readonly power: number };
}

/** The rotation of evenly interleaved phases, from the names each phase gives its elements and nodes, in the same order. */
export function interleaved(namesByPhase: readonly (readonly string[])[]): Rotation {
  const next = new Map<string, string>();
  namesByPhase.forEach((names, k) => {
    const following = namesByPhase[(k + 1) % namesByPhase.length] ?? names;
    names.forEach((name, i) => next.set(name, following[i] ?? name));
  });
  return { order: namesByPhase.length, next };
}

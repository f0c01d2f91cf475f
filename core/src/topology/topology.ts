import type { AppliedForm } from '../firstcut/closedForm.js';

/** A switch by its place in a stage. @public */
export type SwitchPlace = 'highSide' | 'lowSide' | 'outputHighSide' | 'outputLowSide';

/** A half bridge: the switch that is driven for the duty ratio, and what carries the current while it is off. */
export interface LegPlaces {
  readonly main: SwitchPlace;
  readonly rectifier: SwitchPlace;
}

/** Which of the canonical converters a stage works as. */
export type Converter = 'buck' | 'boost' | 'buck-boost';

/** Which legs switch, where a stage has more than one way to. */
export type Region = 'buck' | 'transition' | 'boost' | 'simultaneous';

/**
 * How a leg is driven: on from the clock until the command of its phase ends, or for a fixed share of the period; or it rests,
 * always on or always off.
 */
export type Drive = { readonly until: 'command-end' } | { readonly until: number } | { readonly resting: 'on' | 'off' };
export const COMMANDED: Drive = { until: 'command-end' };

/** What a stage converts, V, the output signed; and whether the designer has both legs follow one duty ratio. */
export interface Conversion {
  readonly inputVoltage: number;
  readonly outputVoltage: number;
  readonly legsTogether: boolean;
}

/** How a stage works at a conversion, without losses. */
export interface Operation {
  /** Of each leg, in their order. */
  readonly drives: readonly Drive[];
  /** Of the regulated leg. */
  readonly idealDuty: number;
  readonly region?: Region;
  /** Duty ratio of the leg that is not regulated, where both switch. */
  readonly fixedLegDuty?: number;
}

/** The nodes a leg stands between, each device drawn in the direction in which it carries the inductor current. */
export interface CellNodes {
  readonly main: readonly [from: string, to: string];
  readonly rectifier: readonly [from: string, to: string];
}

/** One phase as its topology draws it. */
export interface DrawnPhase {
  readonly nodes: readonly string[];
  readonly inductor: readonly [from: string, to: string];
  /** Of each leg, in their order. */
  readonly cells: readonly CellNodes[];
}

/** A stage at an operating point, as the closed forms beside the engine's figures see it. SI units; the output is signed. */
export interface FiguredPoint {
  readonly inputVoltage: number;
  /** The voltage regulated to. */
  readonly outputVoltage: number;
  readonly outputCurrent: number;
  readonly duty: number;
  readonly continuous: boolean;
  readonly region: Region | undefined;
  readonly phases: number;
  readonly switchingFrequency: number;
  readonly inductance: number;
  /** In the way of the current of each inductor: its winding and the sense resistor. */
  readonly seriesResistance: number;
  readonly deadTime: number;
  /** Of the first leg. */
  readonly mainResistance: number;
  readonly rectifier:
    | { readonly kind: 'diode'; readonly resistance: number }
    | {
        readonly kind: 'switch';
        readonly resistance: number;
        readonly bodyVoltage: number;
        readonly bodyResistance: number;
      };
  /** The output capacitors, where one bank makes them all. */
  readonly outputBank: { readonly capacitance: number; readonly esr: number } | undefined;
}

/**
 * A topology: all that sets it apart from the others. Adding one is a file with such a record and its name in the list of
 * `topologies.ts`; a piece that is missing fails the type check.
 *
 * @public
 */
export interface Topology {
  /** What it is called on the screen. */
  readonly words: string;
  readonly legs: readonly LegPlaces[];
  /** The highest voltage each switch blocks. */
  readonly blocks: Readonly<Partial<Record<SwitchPlace, 'input' | 'output' | 'both'>>>;
  /** Sign of the output against the input. */
  readonly sign: 1 | -1;
  /** Where the output lies against the input: below the lowest, above the highest, or anywhere. */
  readonly reach: 'below' | 'above' | 'any';
  /** How current is drawn from the input and pushed into the output, a sentence. */
  readonly currents: string;
  /** The canonical converter it works as in a region. */
  readonly worksAs: (region: Region | undefined) => Converter | undefined;
  /** Drawing of phase k, from 0. */
  readonly phase: (k: number) => DrawnPhase;
  readonly operation: (conversion: Conversion) => Operation;
  /** The canonical converter a loss-free stage is reckoned as where its parts are sized, and how its legs are driven then. */
  readonly sizedAs: (conversion: Conversion) => { readonly converter: Converter; readonly drives: readonly Drive[] };
  /** Input voltages at which the way the legs switch changes, V; undefined where it does not. */
  readonly borders?: (outputVoltage: number) => { readonly boostBelow: number; readonly buckAbove: number };
  /** Closed forms beside the engine's figures, by figure key: the explanation of a number and a check on it. */
  readonly figures: (point: FiguredPoint) => ReadonlyMap<string, readonly AppliedForm[]>;
}

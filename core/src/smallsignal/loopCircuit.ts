import { currentSource, GROUND, resistor, type Element } from '../circuit/elements.js';
import type { Clamp, LoopBreak } from '../controller/controllerOf.js';
import type { Modulator } from '../controller/modulator.js';
import type { Comparator } from '../orbit/comparator.js';
import type { Orbit } from '../orbit/orbitNewton.js';
import type { PeriodicProblem } from '../orbit/periodicProblem.js';
import type { SolvedCircuit } from '../steady/solveCircuit.js';
import type { OperatingCondition } from '../powerstage/powerStage.js';
import { FEED } from '../powerstage/surroundings.js';

/** A source of no current at the output, whose disturbance shows the output impedance. */
export const LOAD_TEST = 'loadTest';

/** A stage with its comparators, in its periodic steady state: what small disturbances are followed through. */
export interface LoopOrbit extends Orbit {
  readonly problem: PeriodicProblem;
  /** What each comparator sees, at this input voltage. */
  readonly comparator: Comparator;
  readonly decides: Modulator['decides'];
  /** Of the source, V: the ramp goes with it under feed-forward. */
  readonly feedforwardFrom: number | undefined;
  readonly outputNode: string;
  /** Whether a sampled controller closes the loop: its register is never what the comparator sees between samples. */
  readonly sampled: boolean;
  /** Where the compensator hands over to what it controls. */
  readonly controlNode: string;
}

/** A stage with its loop closed, in its periodic steady state. */
export interface ClosedLoop extends LoopOrbit {
  /** Where loop gain is looked at: all that hangs on the output, or the top of the divider. */
  readonly loopBreak: LoopBreak;
  /** The other place, where it shows another loop: with a ripple network beside the divider. */
  readonly otherBreak: LoopBreak | undefined;
  /** Between what its amplifier stays: not within reach in a steady state. */
  readonly clamps: readonly Clamp[];
  /** Of each pulse, s, where a comparator turns it on. */
  readonly onTime: number | undefined;
  readonly iterations: number;
}

export type ClosedLoopResult =
  | { readonly kind: 'closed'; readonly loop: ClosedLoop }
  /** The stage says too little of its control for a loop. */
  | { readonly kind: 'incomplete'; readonly reason: string }
  | { readonly kind: 'not-converged'; readonly reason: string };

/** The elements of a power stage as its loop meets them at a condition, with the source that shows the output impedance. */
export const loopElements = (
  { powerStage }: Pick<SolvedCircuit, 'powerStage'>,
  condition: OperatingCondition,
  outputVoltage: number,
): readonly Element[] => [
  ...loadElements(fedStiffly(bare(powerStage)), condition, outputVoltage),
  currentSource(LOAD_TEST, powerStage.outputNode, GROUND, 0),
];

/** The power stage without its controller, which the loop draws itself. */
function bare<T extends SolvedCircuit['powerStage']>(powerStage: T): T {
  const drawn = new Set(powerStage.elements.controller);
  if (drawn.size === 0) return powerStage;
  const { circuit } = powerStage;
  return { ...powerStage, circuit: { ...circuit, elements: circuit.elements.filter(({ name }) => !drawn.has(name)) } };
}

/**
 * The power stage as the loop sees it. Where no source impedance is stated the steady state feeds the input capacitors through a
 * choke of its own making, so that they carry the whole alternating current; a loop must not answer to a choke that nobody
 * built, so there the source is stiff and the input capacitors beside it do nothing.
 */
function fedStiffly({ circuit, elements }: SolvedCircuit['powerStage']): readonly Element[] {
  if (!circuit.elements.some(({ name }) => name === FEED)) return circuit.elements;
  const idle = new Set([FEED, ...elements.inputBanks]);
  return circuit.elements.flatMap((e) =>
    idle.has(e.name) ? [] : e.name === elements.source ? [{ ...e, a: 'in' }] : [e],
  );
}

/** A load of constant power answers a change of voltage with a negative resistance. */
function loadElements(
  elements: readonly Element[],
  { load }: OperatingCondition,
  outputVoltage: number,
): readonly Element[] {
  if (load.kind !== 'power') return elements;
  return elements.flatMap((e) =>
    e.name === 'load'
      ? [
          currentSource('load', e.a, GROUND, (2 * load.power) / outputVoltage),
          resistor('loadSlope', e.a, GROUND, -(outputVoltage ** 2) / load.power),
        ]
      : [e],
  );
}

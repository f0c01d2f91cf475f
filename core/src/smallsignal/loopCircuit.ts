import { currentSource, GROUND, resistor, type Element } from '../circuit/elements.js';
import { LOOP } from '../compensator/compensatorCircuit.js';
import { DUTY_REGISTER } from '../compensator/digitalController.js';
import { currentControlNode } from '../compensator/currentAmplifier.js';
import { nominalInput } from '../corners/corners.js';
import type { CompleteStage } from '../stage/completeStage.js';
import type { Pass } from '../steady/alongPeriod.js';
import type { Comparator, PeriodicProblem } from '../steady/periodicProblem.js';
import type { SolvedCircuit } from '../steady/solveCircuit.js';
import type { OperatingCondition } from '../topology/powerStage.js';
import { FEED } from '../topology/surroundings.js';

/** A source of no current at the output, whose disturbance shows the output impedance. */
export const LOAD_TEST = 'loadTest';

/** A stage with its loop closed, in its periodic steady state. */
export interface ClosedLoop {
  readonly problem: PeriodicProblem;
  readonly comparator: Comparator;
  /** What the comparator decides: when each phase turns off; or when it turns on, for a constant time, whenever that is. */
  readonly decides: 'turn-off' | 'turn-on';
  readonly outputNode: string;
  /** Whether a sampled controller closes the loop: its register is never what the comparator sees between samples. */
  readonly sampled: boolean;
  /** Where the compensator hands over to what it controls. */
  readonly controlNode: string;
  /** Of the source, V: the ramp goes with it under feed-forward. */
  readonly feedforwardFrom: number | undefined;
  readonly pass: Pass;
  readonly duties: readonly number[];
  readonly iterations: number;
}

export type ClosedLoopResult =
  | { readonly kind: 'closed'; readonly loop: ClosedLoop }
  /** The stage says too little of its control for a loop. */
  | { readonly kind: 'incomplete'; readonly reason: string }
  | { readonly kind: 'not-converged'; readonly reason: string };

/** What turns the phases off under the stage's scheme, or the words for what is missing. */
export function comparatorOf(
  { stage, switchingFrequency }: CompleteStage,
  inputVoltage: number,
  sign: 1 | -1,
): Comparator | string {
  const { scheme, rampAmplitude, currentSenseGain, slopeCompensation } = stage.control;
  const all = (node: string): readonly string[] => Array.from({ length: stage.phases }, () => node);
  const nodes = all(LOOP.control);
  switch (scheme) {
    case 'voltage-mode':
      return rampAmplitude === undefined
        ? 'the ramp amplitude is not given'
        : { ramp: rampAmplitude, sense: 0, nodes, sign };
    case 'voltage-mode-feedforward':
      return rampAmplitude === undefined
        ? 'the ramp amplitude is not given'
        : { ramp: (rampAmplitude * inputVoltage) / nominalInput(stage), sense: 0, nodes, sign };
    case 'peak-current-mode':
      return currentSenseGain === undefined
        ? 'the gain of the current sense is not given'
        : { ramp: slopeCompensation / switchingFrequency, sense: currentSenseGain, nodes, sign };
    case 'average-current-mode':
      return rampAmplitude === undefined
        ? 'the ramp amplitude is not given'
        : { ramp: rampAmplitude, sense: 0, nodes: nodes.map((_, k) => currentControlNode(k)), sign };
    case 'constant-on-time':
      return { ramp: 0, sense: 0, nodes: all(LOOP.feedback), sign };
    case 'digital':
      return { ramp: 1, sense: 0, nodes: all(DUTY_REGISTER), sign };
    case 'open-loop':
      return 'the stage runs open loop';
  }
}

/** The elements of a power stage as its loop meets them at a condition, with the source that shows the output impedance. */
export const loopElements = (
  { powerStage }: Pick<SolvedCircuit, 'powerStage'>,
  condition: OperatingCondition,
  outputVoltage: number,
): readonly Element[] => [
  ...loadElements(fedStiffly(powerStage), condition, outputVoltage),
  currentSource(LOAD_TEST, powerStage.outputNode, GROUND, 0),
];

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

import type { Circuit, Element } from '../circuit/elements.js';
import { stateLayout } from '../circuit/stateLayout.js';
import { completeCurrentAmplifier, currentAmplifierOf, currentAmplifierRest } from '../compensator/currentAmplifier.js';
import { dot } from '../linalg/dense.js';
import { zeros } from '../linalg/zeros.js';
import type { CompleteStage } from '../stage/completeStage.js';
import type { Comparator, Rotation } from '../steady/periodicProblem.js';
import { average } from '../steady/measures.js';
import { currentOf } from '../steady/signal.js';
import type { SolvedCircuit } from '../steady/solveCircuit.js';

/** What a scheme draws between the control voltage and the comparators, and where all that comes to rest. */
export interface InnerLoop {
  readonly elements: readonly Element[];
  /** Names that move on with the phases, phase by phase in the same order. */
  readonly namesByPhase: readonly (readonly string[])[];
  /** The control voltage at the steady state, ripple apart, V. */
  readonly control: number;
  /** Voltage that each of its capacitors stands at, V. */
  readonly rest: ReadonlyMap<string, number>;
}

/** The inner loop of a stage's scheme about its steady state; the words for what is missing. */
export function innerLoop(
  { stage }: CompleteStage,
  { sign, ramp, sense }: Comparator,
  { powerStage, solution }: SolvedCircuit,
): InnerLoop | string {
  const compared = sign * (ramp * solution.duty + sense * peakOf({ powerStage, solution }));
  if (stage.control.scheme !== 'average-current-mode')
    return { elements: [], namesByPhase: [], control: compared, rest: new Map() };
  const amplifier = completeCurrentAmplifier(stage.control);
  if (!amplifier.ok) return `what is missing is ${amplifier.lacks.join(', ')}`;
  // The integrator of the current amplifier makes the sensed average the control voltage.
  const control =
    sign * amplifier.value.senseGain * average(solution, currentOf(powerStage.elements.inductors[0] ?? ''));
  const phases = powerStage.phases.map(({ inductor }, k) => currentAmplifierOf(amplifier.value, inductor, k, sign));
  return {
    elements: phases.flatMap(({ elements }) => elements),
    namesByPhase: phases.map(({ names }) => names),
    control,
    rest: currentAmplifierRest(phases.length, control, compared),
  };
}

/** A rotation of phases that takes further names along. */
export function takingAlong({ order, next }: Rotation, namesByPhase: InnerLoop['namesByPhase']): Rotation {
  const move = namesByPhase.length / order;
  const more = namesByPhase.flatMap((names, k) => {
    const following = namesByPhase[(k + move) % namesByPhase.length] ?? names;
    return names.map((name, i) => [name, following[i] ?? name] as const);
  });
  return { order, next: new Map([...next, ...more]) };
}

/**
 * The state at the clock: that of the circuit it was drawn round, with what was drawn at rest.
 *
 * @param first the state of the circuit within, at its clock.
 */
export function startFrom(
  circuit: Circuit,
  within: Circuit,
  first: Float64Array,
  rest: ReadonlyMap<string, number>,
): Float64Array {
  const known = stateLayout(within);
  const layout = stateLayout(circuit);
  const x = zeros(layout.names.length);
  for (const [indexOf, from] of [
    [layout.indexOfCapacitor, known.indexOfCapacitor],
    [layout.indexOfInductor, known.indexOfInductor],
  ] as const) {
    for (const [name, at] of indexOf) {
      const there = from.get(name);
      x[at] = there === undefined ? (rest.get(name) ?? 0) : (first[there] ?? 0);
    }
  }
  return x;
}

/** Largest inductor current of the first phase where its configuration changes, A. */
function peakOf({ powerStage, solution }: SolvedCircuit): number {
  const inductor = powerStage.elements.inductors[0] ?? '';
  return Math.max(
    ...solution.segments.map(({ equations, final }) => {
      const row = equations.current.get(inductor);
      return row ? dot(row, final) : 0;
    }),
  );
}

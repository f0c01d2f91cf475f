import { dot } from '../linalg/dense.js';
import type { Comparator } from '../orbit/comparator.js';
import { average } from '../orbit/measures.js';
import type { PeriodicSolution } from '../orbit/periodic.js';
import { currentOf } from '../orbit/signal.js';
import type { CompleteStage } from '../stage/completeStage.js';
import type { PowerStage } from '../powerstage/powerStage.js';
import { compensatorRest, completeCompensator } from './compensatorCircuit.js';
import { completeCurrentAmplifier, currentAmplifierRest } from './currentAmplifier.js';
import { digitalRest } from './digitalController.js';
import { regulatedOutput } from './divider.js';

/** An orbit of the power stage by itself. */
interface Solved {
  readonly powerStage: Pick<PowerStage, 'elements'>;
  readonly solution: PeriodicSolution;
}

/** Where a controller stands when the stage about it is in its steady state, ripple apart. */
export interface Rest {
  /** The control voltage, V. */
  readonly control: number;
  /** Voltage that each capacitor of the controller stands at, V. */
  readonly states: ReadonlyMap<string, number>;
}

/** At what the inner loop of a stage rests. */
export function innerRest({ stage }: CompleteStage, { ramp, sense, sign }: Comparator, solved: Solved): Rest {
  // What the comparator sees as it ends the command.
  const compared = sign * (ramp * solved.solution.duty + sense * peakOf(solved));
  const amplifier =
    stage.control.scheme === 'average-current-mode' ? completeCurrentAmplifier(stage.control) : undefined;
  if (!amplifier?.ok) return { control: compared, states: new Map() };
  const { inductors } = solved.powerStage.elements;
  // The integrator of the current amplifier makes the sensed average the control voltage.
  const control = sign * amplifier.value.senseGain * average(solved.solution, currentOf(inductors[0] ?? ''));
  return { control, states: currentAmplifierRest(inductors.length, control, compared) };
}

/** At what a whole controller rests. */
export function restOf(complete: CompleteStage, comparator: Comparator, solved: Solved): Rest {
  const { stage } = complete;
  const { scheme } = stage.control;
  const inner = innerRest(complete, comparator, solved);
  if (scheme === 'digital') return { ...inner, states: digitalRest(solved.solution.duty, comparator.sign) };
  const compensator = scheme === 'constant-on-time' ? undefined : completeCompensator(stage.control);
  if (!compensator?.ok) return inner;
  const outer = compensatorRest(compensator.value, regulatedOutput(stage), inner.control, comparator.sign);
  return { ...inner, states: new Map([...inner.states, ...outer]) };
}

/** Largest inductor current of the first phase where its configuration changes, A. */
function peakOf({ powerStage, solution }: Solved): number {
  const inductor = powerStage.elements.inductors[0] ?? '';
  return Math.max(
    ...solution.segments.map(({ equations, final }) => {
      const row = equations.current.get(inductor);
      return row ? dot(row, final) : 0;
    }),
  );
}

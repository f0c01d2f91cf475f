import { formatQuantity } from '../quantity/engineering.js';
import type { CompleteStage } from '../stage/completeStage.js';
import type { OperatingCondition, PowerStage } from '../powerstage/powerStage.js';
import { powerStageOf } from '../powerstage/powerStageOf.js';
import { controllerOf } from '../controller/controllerOf.js';
import { regulatedOutput } from '../controller/divider.js';
import { modulatorOf } from '../controller/modulator.js';
import type { Comparator } from '../orbit/comparator.js';
import { solvePeriodic, type PeriodicResult, type PeriodicSolution } from '../orbit/periodic.js';
import type { Control, Neighbour } from '../orbit/periodicProblem.js';
import { regulate } from '../orbit/regulate.js';

/** A stage as a circuit at a condition, and its periodic steady state. */
export interface SolvedCircuit {
  readonly powerStage: PowerStage;
  readonly solution: PeriodicSolution;
}

/**
 * Why there is none: the target lies beyond what any duty ratio gives; or between two outputs that the duty ratio jumps over;
 * or below what the shortest on-time gives; or no steady state was found.
 */
export type Unsolvable = 'out-of-reach' | 'jumps-over' | 'below-range' | 'not-converged';

/** Why a stage has no operating point at a condition. @public */
export interface UnsolvedPoint {
  readonly kind: 'unsolved';
  readonly why: Unsolvable;
  /** The same in words, with the figures. */
  readonly reason: string;
  /** The duty ratio at which the search ended. */
  readonly duty: number;
  readonly iterations: number;
  /** Where the target is out of reach: the output farthest from zero, V; `duty` is where it occurs. */
  readonly highestOutput?: number;
}

/** How a circuit is run and where its search starts. */
export interface SolveOptions {
  /** Runs open loop at this duty ratio (0 to 1) when given. */
  readonly fixedDuty?: number | undefined;
  /** A solved circuit of the same stage at a like condition, with the duty ratio expected here where that is known better. */
  readonly near?: (SolvedCircuit & { readonly duty?: number | undefined }) | undefined;
}

/** How a comparator that begins each command decides. */
type Begun = Extract<Control, { readonly kind: 'begun' | 'on-time' }>;

/** The rectifier must have its turn between two dead times, as a share of the period, for the order of events to hold. */
const SHORTEST_TURN = 1e-6;

const unsolved = (why: Unsolvable, reason: string, duty: number, iterations: number): UnsolvedPoint => ({
  kind: 'unsolved',
  why,
  reason,
  duty,
  iterations,
});

/** A stage with its controller, whose comparator decides the period. */
function withController(complete: CompleteStage, powerStage: PowerStage): PowerStage {
  const controller = controllerOf(complete, powerStage);
  if (typeof controller === 'string') return powerStage;
  const { circuit, elements } = powerStage;
  return {
    ...powerStage,
    circuit: { ...circuit, elements: [...circuit.elements, ...controller.elements] },
    elements: { ...elements, controller: controller.elements.map(({ name }) => name) },
  };
}

/** What begins each command, where a comparator does: with a constant on-time where one is stated, else at the chosen frequency. */
function beginsBy(complete: CompleteStage): { readonly comparator: Comparator; readonly onTime: number } | undefined {
  const modulator = modulatorOf(complete);
  if (typeof modulator === 'string' || modulator.decides !== 'turn-on') return undefined;
  return { comparator: modulator.comparator, onTime: complete.stage.control.onTime };
}

/** The periodic steady state of a stage with the inductance as it stands, regulated or at a fixed duty ratio; nothing is measured. */
export function solveCircuit(
  complete: CompleteStage,
  condition: OperatingCondition,
  { fixedDuty, near }: SolveOptions,
): ({ readonly kind: 'solved' } & SolvedCircuit) | UnsolvedPoint {
  const begun = fixedDuty === undefined ? beginsBy(complete) : undefined;
  const alone = powerStageOf(complete, condition);
  const powerStage = begun ? withController(complete, alone) : alone;
  const { stage, switchingFrequency } = complete;
  const period = 1 / switchingFrequency;
  const deadShare = stage.deadTime * switchingFrequency;
  // A switch that emulates a diode is drawn without dead time.
  const shortest = Math.max(stage.control.minimumOnTime, complete.diodeEmulation ? 0 : stage.deadTime);
  const min = shortest * switchingFrequency;
  const max = Math.min(stage.control.dutyMax, 1 - deadShare - SHORTEST_TURN, powerStage.largestDuty ?? 1);
  const circuit = { circuit: powerStage.circuit, phases: powerStage.phases, rotation: powerStage.rotation, period };
  const solved = (solution: PeriodicSolution) => ({ kind: 'solved' as const, powerStage, solution });
  if (fixedDuty !== undefined) {
    const result = solvePeriodic({ ...circuit, control: { kind: 'duty', duty: fixedDuty } });
    if (result.kind === 'solved') return solved(result.solution);
    return unsolved('not-converged', result.reason, result.duty, result.iterations);
  }
  const within = (duty: number): number => Math.min(max - 1e-3, Math.max(min + 1e-3, duty));
  const like = near?.powerStage.region === powerStage.region ? near : undefined;
  const neighbour = like && {
    ...like.solution,
    duty: within(like.duty ?? (like.solution.duty * powerStage.idealDuty) / like.powerStage.idealDuty),
  };
  /** From an orbit at the average it regulates to, the one at which its comparator begins each command. */
  const begin = (from: Neighbour): PeriodicResult | undefined => {
    if (!begun) return undefined;
    const { comparator, onTime } = begun;
    const control: Begun =
      onTime > 0 ? { kind: 'on-time', comparator, onTime } : { kind: 'begun', comparator, guess: from.duty, min, max };
    // A known on-time tells the period nearer than the chosen frequency does.
    const near = onTime > 0 ? { ...from, period: onTime / from.duty } : from;
    return solvePeriodic({ ...circuit, near, control });
  };
  const quick = neighbour && begin(neighbour);
  if (quick?.kind === 'solved') return solved(quick.solution);
  const result = regulate(
    { ...circuit, near: neighbour },
    {
      node: powerStage.outputNode,
      target: regulatedOutput(stage),
      guess: within(powerStage.idealDuty + deadShare),
      rising: powerStage.idealDuty + deadShare,
      min,
      max,
    },
  );
  switch (result.kind) {
    case 'solved': {
      const own = begin(result.solution);
      if (!own) return solved(result.solution);
      if (own.kind === 'solved') return solved(own.solution);
      const reason = `no period was found at which the comparator turns the switch on (${own.reason})`;
      return unsolved('not-converged', reason, own.duty, own.iterations + result.solution.iterations);
    }
    case 'out-of-reach': {
      const { highestOutput, atDuty, iterations } = result;
      const limit =
        atDuty >= max - 1e-3 ? `, the limit of the duty ratio` : ', beyond which losses take more than the duty gives';
      const reason = `the output voltage is out of reach: the highest is ${formatQuantity(highestOutput, 'V', 4)}, at a duty ratio of ${atDuty.toFixed(3)}${limit}`;
      return { ...unsolved(result.kind, reason, atDuty, iterations), highestOutput };
    }
    case 'jumps-over': {
      const { from, to, atDuty, iterations } = result;
      const reason = `the output voltage is out of reach: at a duty ratio of ${atDuty.toFixed(3)} it jumps from ${formatQuantity(from, 'V', 4)} to ${formatQuantity(to, 'V', 4)}, as the order of the switching edges changes`;
      return unsolved(result.kind, reason, atDuty, iterations);
    }
    case 'below-range': {
      const onTime = formatQuantity(min * period, 's', 3);
      const reason = `the output voltage would need an on-time below the shortest of ${onTime}; at that it is ${formatQuantity(result.lowestOutput, 'V', 4)}`;
      return unsolved(result.kind, reason, min, result.iterations);
    }
    case 'not-converged':
      return unsolved('not-converged', result.reason, result.duty, result.iterations);
  }
}

import type { Circuit } from '../circuit/elements.js';
import { formatQuantity } from '../quantity/engineering.js';
import { restOf } from '../controller/atRest.js';
import { controllerOf, type Clamp, type LoopBreak } from '../controller/controllerOf.js';
import { regulatedOutput } from '../controller/divider.js';
import { comparatorAt } from '../controller/modulator.js';
import { zeros } from '../linalg/zeros.js';
import type { Comparator } from '../orbit/comparator.js';
import { guardsOf } from '../orbit/events.js';
import { orbitNewton, type Orbit, type OrbitStart } from '../orbit/orbitNewton.js';
import type { Control } from '../orbit/periodicProblem.js';
import { distinctPhases } from '../orbit/periodicProblem.js';
import type { PeriodicSolution } from '../orbit/periodic.js';
import type { CompleteStage } from '../stage/completeStage.js';
import type { SolvedCircuit } from '../steady/solveCircuit.js';
import type { OperatingCondition } from '../powerstage/powerStage.js';
import { RIPPLE_CAPACITOR } from '../controller/rippleInjection.js';
import { startFrom, takingAlong } from './drawnIn.js';
import { loopElements, type ClosedLoop, type ClosedLoopResult } from './loopCircuit.js';
import { openOrbit } from './openOrbit.js';

/** The steady state is near: further off lies another one. */
const LONGEST = 0.05;
const ELSEWHERE = 0.1;
/** The last step is still taken, and what remains is about its square. */
const CONVERGED = 1e-6;

/** How a loop is closed. */
export interface CloseOptions {
  readonly like?: { readonly loop: ClosedLoop; readonly precision: number } | undefined;
  readonly loopBreak?: LoopBreak;
}

/**
 * Close the loop round a solved stage: its circuit with the controller drawn in, the comparators deciding when each phase turns
 * off or on, and the steady state that the whole settles at.
 *
 * @param solved the stage at the same condition, regulated to its output: where the search starts.
 * @param options.loopBreak where loop gain is looked at; it makes a difference with a ripple injection network only.
 * @param options.like the closed loop of the same stage with other values, to start from instead, and the precision that is enough.
 * @public
 */
export function closeLoop(
  complete: CompleteStage,
  condition: OperatingCondition,
  solved: SolvedCircuit,
  { like, loopBreak = 'output' }: CloseOptions = {},
): ClosedLoopResult {
  const { stage } = complete;
  const { powerStage, solution } = solved;
  const controller = controllerOf(complete, powerStage, loopBreak);
  if (typeof controller === 'string') return { kind: 'incomplete', reason: controller };
  const { modulator, inner } = controller;
  const { decides } = modulator;
  if (decides === 'turn-on' && stage.phases > 1)
    return { kind: 'incomplete', reason: 'the loop of constant on-time control is worked for a single phase' };
  const comparator = comparatorAt(modulator, condition.inputVoltage);
  const onTime = decides === 'turn-on' ? onTimeOf(stage, solution) : undefined;
  // An inner loop is brought to rest by itself first: from afar the search would end elsewhere.
  const open = inner.elements.length > 0 && !like ? openOrbit(complete, condition, solved) : undefined;
  if (typeof open === 'string') return { kind: 'not-converged', reason: open };
  const circuit: Circuit = {
    ...powerStage.circuit,
    elements: [...loopElements(solved, condition, regulatedOutput(stage)), ...inner.elements, ...controller.elements],
  };
  const problem = {
    circuit,
    phases: powerStage.phases,
    rotation: takingAlong(powerStage.rotation, inner.namesByPhase),
    period: solution.period,
    control: controlOf(comparator, onTime),
    updates: controller.updates,
  };
  const rest = restOf(complete, comparator, solved).states;
  const first = solution.segments[0]?.initial ?? zeros(0);
  const x = open
    ? startFrom(circuit, open.problem.circuit, open.pass.x, rest)
    : startFrom(circuit, powerStage.circuit, first, rest);
  const start: OrbitStart = like
    ? { ...like.loop, x: like.loop.pass.x }
    : {
        x,
        duties: Array.from({ length: decides === 'turn-off' ? distinctPhases(problem) : 1 }, () => solution.duty),
        instants: guardsOf(problem, solution.courses).map(({ interval, step }) => solution.instants[interval]?.[step]),
        period: solution.period,
      };
  const limits = {
    duty: { min: 0, max: 1 },
    longest: LONGEST,
    precision: like?.precision ?? CONVERGED,
    polish: like === undefined,
  };
  const found = orbitNewton(problem, solution.courses, start, limits);
  const around = like?.loop.duties[0] ?? solution.duty;
  if (found.kind === 'none' || found.duties.some((duty) => Math.abs(duty - around) > ELSEWHERE))
    return { kind: 'not-converged', reason: 'no steady state of the closed loop was found' };
  const beyond = controller.clamps.map((clamp) => clampedBy(clamp, found)).find((words) => words !== undefined);
  if (beyond !== undefined) return { kind: 'not-converged', reason: beyond };
  const beside = controller.elements.some(({ name }) => name === RIPPLE_CAPACITOR);
  return {
    kind: 'closed',
    loop: {
      ...found,
      problem: { ...problem, period: found.period },
      comparator,
      decides,
      outputNode: powerStage.outputNode,
      controlNode: controller.controlNode,
      clamps: controller.clamps,
      loopBreak: beside ? loopBreak : 'divider',
      otherBreak: beside ? (loopBreak === 'output' ? 'divider' : 'output') : undefined,
      onTime,
      sampled: controller.sampled,
      feedforwardFrom: modulator.rampFollowsFrom === undefined ? undefined : condition.inputVoltage,
    },
  };
}

/** What the comparators leave open: when a command ends; or the period, the on-time being what it is at this point. */
const controlOf = (comparator: Comparator, onTime: number | undefined): Control =>
  onTime === undefined ? { kind: 'compared', comparator } : { kind: 'on-time', comparator, onTime };

/** How long a pulse lasts that a comparator turns on, s: as stated, else as at this point. */
const onTimeOf = ({ control }: CompleteStage['stage'], { duty, period }: PeriodicSolution): number =>
  control.onTime > 0 ? control.onTime : duty * period;

/** Why an orbit cannot be: its amplifier would have to stand beyond what it can reach. */
function clampedBy({ node, min, max }: Clamp, { pass }: Orbit): string | undefined {
  for (const { equations, initial, final } of pass.segments) {
    const row = equations.node.get(node);
    if (!row) continue;
    for (const state of [initial, final]) {
      const value = Math.abs(row.reduce((sum, weight, i) => sum + weight * (state[i] as number), 0));
      if (min !== undefined && value < min)
        return `the amplifier would have to stand at ${formatQuantity(value, 'V', 3)}, below its lowest output of ${formatQuantity(min, 'V', 3)}`;
      if (max !== undefined && value > max)
        return `the amplifier would have to stand at ${formatQuantity(value, 'V', 3)}, above its highest output of ${formatQuantity(max, 'V', 3)}`;
    }
  }
  return undefined;
}

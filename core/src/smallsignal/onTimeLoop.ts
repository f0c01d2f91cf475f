import { GROUND, resistor, voltageSource, type Circuit } from '../circuit/elements.js';
import { LOOP } from '../compensator/compensatorCircuit.js';
import { feedbackDivider } from '../compensator/feedbackDivider.js';
import { rippleInjectionElements } from '../compensator/rippleInjection.js';
import { dot } from '../linalg/dense.js';
import type { CompleteStage } from '../stage/completeStage.js';
import { alongPeriod, guardsOf } from '../steady/alongPeriod.js';
import { solvePeriodic } from '../steady/periodic.js';
import type { Comparator } from '../steady/periodicProblem.js';
import type { SolvedCircuit } from '../steady/solveCircuit.js';
import type { OperatingCondition } from '../topology/powerStage.js';
import { loopElements, type ClosedLoopResult } from './loopCircuit.js';

/** Times a period is tried, and the feedback voltage at the valley, as a share of the reference, that counts as met. */
const MOST_PERIODS = 40;
const VALLEY_MET = 1e-12;

/**
 * Constant on-time: the comparator turns the switch on for a fixed time whenever the divided output falls to the reference, so
 * the period is what the orbit makes it. It is sought by the secant rule; the rest is the open-loop orbit of that period.
 */
export function onTimeLoop(
  complete: CompleteStage,
  condition: OperatingCondition,
  { powerStage, solution }: SolvedCircuit,
  comparator: Comparator,
): ClosedLoopResult {
  const { control, targets, phases: count } = complete.stage;
  if (count > 1) return { kind: 'incomplete', reason: 'constant on-time control is worked for a single phase' };
  const { outputNode, phases, rotation } = powerStage;
  const injection = complete.stage.topology === 'buck' ? control.rippleInjection : undefined;
  const reference = control.reference ?? Math.abs(targets.outputVoltage);
  const { rUpper, rLower } = feedbackDivider(control, targets.outputVoltage);
  const circuit: Circuit = {
    ...powerStage.circuit,
    elements: [
      ...loopElements({ powerStage }, condition, targets.outputVoltage),
      voltageSource(LOOP.injection, outputNode, LOOP.dividerTop, 0),
      resistor('rUpper', LOOP.dividerTop, LOOP.feedback, rUpper),
      resistor('rLower', LOOP.feedback, GROUND, rLower),
      ...(injection ? rippleInjectionElements(injection, powerStage.switchNode) : []),
    ],
  };
  const onTime = control.onTime > 0 ? control.onTime : solution.duty * solution.period;
  const orbitAt = (period: number) => {
    const duty = onTime / period;
    const found = solvePeriodic({ circuit, phases, rotation, period, near: solution, control: { kind: 'duty', duty } });
    if (found.kind !== 'solved') return undefined;
    const last = found.solution.segments.at(-1);
    const row = last?.equations.node.get(LOOP.feedback);
    const valley = row && last ? comparator.sign * dot(row, last.final) : NaN;
    return { solution: found.solution, miss: valley / reference - 1 };
  };
  let earlier = solution.period;
  let before = orbitAt(earlier);
  let period = earlier * 1.01;
  for (let step = 0; step < MOST_PERIODS; step += 1) {
    const now = orbitAt(period);
    if (!now || !before) return { kind: 'not-converged', reason: 'no steady state at constant on-time was found' };
    if (Math.abs(now.miss) < VALLEY_MET || period === earlier) {
      const problem = { circuit, phases, rotation, period, control: { kind: 'duty', duty: onTime / period } as const };
      const { outcomes, instants, segments } = now.solution;
      const guards = guardsOf(problem, outcomes);
      const at = guards.map(({ interval }) => instants.get(interval) ?? 0);
      const start = segments[0]?.initial.slice(0, -1);
      const pass = alongPeriod(problem, outcomes, guards, onTime / period, at, start, new Map(), false);
      return {
        kind: 'closed',
        loop: {
          problem,
          comparator,
          controlNode: LOOP.feedback,
          decides: 'turn-on',
          outputNode,
          sampled: false,
          feedforwardFrom: undefined,
          pass,
          duties: [onTime / period],
          iterations: step,
        },
      };
    }
    const slope = (now.miss - before.miss) / (period - earlier);
    const next = slope === 0 ? period : period - now.miss / slope;
    earlier = period;
    before = now;
    // The off time stays positive.
    period = Math.max(next, onTime * 1.02, period / 2);
  }
  return { kind: 'not-converged', reason: 'no period was found at which the valley meets the reference' };
}

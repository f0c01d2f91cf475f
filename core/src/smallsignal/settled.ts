import type { StateEquations } from '../circuit/stateEquations.js';
import { solveSquare } from '../linalg/dense.js';
import { copied } from '../linalg/zeros.js';
import { alongPeriod, guardsOf } from '../steady/alongPeriod.js';
import type { Neighbour, PeriodicProblem } from '../steady/periodicProblem.js';
import type { ClosedLoop } from './loopCircuit.js';

const MAX_ITERATIONS = 30;
/** As in `solvePeriodic`: the last step is still taken, and what remains is about its square. */
const CONVERGED = 1e-6;
/** Largest share of the way to the ends of the period that a duty ratio may go in one step. */
const HELD = 0.5;
/** Largest change of a duty ratio in one step: the steady state is near, and further off lies another. */
const LONGEST = 0.05;
/** A steady state whose duty ratio is further than this from where the search began is another one. */
const ELSEWHERE = 0.1;

/**
 * The steady state of a circuit whose comparators decide, by Newton's method from a start that is near already.
 *
 * Unknowns are the state at the clock, the instants at which diodes stop, and the duty ratio of every phase that is no copy of
 * another. The instants are unknowns themselves: an integrator in the loop leaves the state alone undetermined, and only with
 * the comparators' equations is the system regular.
 *
 * @param precision relative, of states and duty ratios, where less than the utmost is enough.
 */
export function settled(
  problem: PeriodicProblem,
  near: Neighbour,
  start: Float64Array,
  precision?: number,
): Pick<ClosedLoop, 'pass' | 'duties' | 'iterations'> | undefined {
  const { outcomes } = near;
  const guards = guardsOf(problem, outcomes);
  const distinct = problem.phases.length / problem.rotation.order;
  const configurations = new Map<string, StateEquations>();
  const instants = guards.map(({ interval }) => near.instants.get(interval) ?? 0);
  const duties = Array.from({ length: distinct }, () => near.duty);
  let x: Float64Array = start;
  for (let iteration = 1; iteration <= MAX_ITERATIONS; iteration += 1) {
    const pass = alongPeriod(problem, outcomes, guards, duties, instants, x, configurations);
    const { order } = pass;
    const step = solveSquare(
      pass.jacobian,
      pass.residual.map((r) => -r),
      pass.residual.length,
    );
    if (step.some((value) => !Number.isFinite(value))) return undefined;
    const dutyStep = (p: number): number => step[order + guards.length + p] ?? 0;
    const held = Math.min(
      1,
      ...duties.map((duty, p) => {
        const most = Math.min(LONGEST, HELD * (dutyStep(p) > 0 ? 1 - duty : duty));
        return Math.abs(dutyStep(p)) > most ? most / Math.abs(dutyStep(p)) : 1;
      }),
    );
    const size = Math.max(...x.map(Math.abs), 1e-12);
    let moved = 0;
    const next = copied(pass.x);
    for (let i = 0; i < order; i += 1) {
      next[i] = (next[i] ?? 0) + held * (step[i] ?? 0);
      moved = Math.max(moved, Math.abs(step[i] ?? 0) / size);
    }
    guards.forEach((_, g) => {
      instants[g] = (instants[g] ?? 0) + held * (step[order + g] ?? 0);
      moved = Math.max(moved, Math.abs(step[order + g] ?? 0));
    });
    duties.forEach((duty, p) => {
      duties[p] = duty + held * dutyStep(p);
      moved = Math.max(moved, Math.abs(dutyStep(p)));
    });
    x = next;
    if (held === 1 && moved < (precision ?? CONVERGED)) {
      if (duties.some((duty) => Math.abs(duty - near.duty) > ELSEWHERE)) return undefined;
      // Near enough: the step that is left changes nothing that is asked for.
      if (precision !== undefined) return { pass, duties, iterations: iteration };
      const last = alongPeriod(problem, outcomes, guards, duties, instants, x, configurations, false);
      return { pass: last, duties, iterations: iteration };
    }
  }
  return undefined;
}

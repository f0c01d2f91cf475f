import type { Configurations } from './alongPeriod.js';
import { assumedCourses, type Courses } from './course.js';
import { amended, stuckCourses } from './diodes.js';
import { guardsOf } from './events.js';
import { orbitNewton, type Orbit, type OrbitLimits } from './orbitNewton.js';
import type { Neighbour, PeriodicProblem } from './periodicProblem.js';
import { expanded } from './rotation.js';
import type { PhaseSchedule } from './schedule.js';
import type { Segment } from './segment.js';

/** The exact periodic steady state of a stage. */
export interface PeriodicSolution extends Neighbour {
  readonly segments: readonly Segment[];
  readonly iterations: number;
}

export type PeriodicResult =
  | { readonly kind: 'solved'; readonly solution: PeriodicSolution }
  | { readonly kind: 'not-converged'; readonly reason: string; readonly iterations: number; readonly duty: number };

/** A problem whose phases share one duty ratio. */
type DutyProblem = PeriodicProblem & {
  readonly control: Exclude<PeriodicProblem['control'], { readonly kind: 'compared' }>;
};

/** Times the course of the diodes is mended. */
const MAX_AMENDMENTS = 16;
/** Of them, times an orbit that stands is sought finer. */
const MOST_REFINEMENTS = 4;
/** The step is still taken, and as the method converges quadratically what remains is about its square. */
const CONVERGED = 1e-5;

/** For the phase that every stage has. */
function firstPhase({ phases: [phase] }: PeriodicProblem): PhaseSchedule {
  if (!phase) throw new Error('A stage has at least one phase.');
  return phase;
}

/**
 * Solve for the periodic steady state: the course of the diodes is first assumed and then checked at every instant of the orbit
 * found, and the problem solved again with what the check found, until what blocks blocks and what conducts conducts.
 */
export function solvePeriodic(problem: DutyProblem): PeriodicResult {
  const phase = firstPhase(problem);
  if (problem.near?.courses.length === phase.intervals.length) {
    const result = searched(problem, problem.near.courses, problem.near);
    if (result.kind === 'solved') return result;
  }
  return searched(problem, assumedCourses(phase), undefined);
}

/** Where the next run starts: what a neighbour, or the run before, tells. */
interface Warm {
  readonly duty: number;
  readonly period: number;
  /** By interval and step; undefined where nothing is known. */
  readonly instants: readonly (readonly (number | undefined)[])[];
}

function searched(problem: DutyProblem, assumed: Courses, start: Warm | undefined): PeriodicResult {
  const { control } = problem;
  const configurations: Configurations = new Map();
  const limits: OrbitLimits = {
    duty: 'min' in control ? control : { min: 0, max: 1 },
    precision: CONVERGED,
    polish: true,
  };
  const dutyFrom = (warm: Warm | undefined, period: number): number =>
    control.kind === 'duty'
      ? control.duty
      : control.kind === 'on-time'
        ? control.onTime / period
        : (warm?.duty ?? control.guess);
  let courses = assumed;
  let iterations = 0;
  let warm = start;
  /** An orbit that stands, while a finer one is sought. */
  let standing: PeriodicSolution | undefined;
  const none = (reason: string, duty: number): PeriodicResult =>
    standing ? { kind: 'solved', solution: standing } : { kind: 'not-converged', reason, iterations, duty };
  let most = MAX_AMENDMENTS;
  for (let change = 0; change < most; change += 1) {
    const guards = guardsOf(problem, courses);
    const period = (control.kind === 'on-time' ? warm?.period : undefined) ?? problem.period;
    const instants = guards.map(({ interval, step }) => warm?.instants[interval]?.[step]);
    const from = { duties: [dutyFrom(warm, period)], instants, period };
    const found = orbitNewton(problem, courses, from, limits, configurations);
    iterations += found.iterations;
    const [duty = 0] = found.duties;
    if (found.kind === 'none') {
      const { reason, stuck } = found;
      if (!stuck) return none(reason, duty);
      courses = stuckCourses(firstPhase(problem), courses, stuck);
      warm = undefined;
      continue;
    }
    const orbit: Orbit = { ...found, pass: expanded(problem, found.pass, found.period) };
    const byInterval = instantsByInterval(courses, guards, found.instants);
    const check = amended(problem, courses, orbit);
    const { segments } = orbit.pass;
    const solution = { period: found.period, duty, segments, courses, instants: byInterval, iterations };
    if (check.kind === 'consistent') return { kind: 'solved', solution };
    if (check.kind === 'amiss') return none(check.reason, duty);
    if (check.refines) {
      if (problem.coarse) return { kind: 'solved', solution };
      standing = solution;
      most = Math.min(most, change + MOST_REFINEMENTS);
    }
    courses = check.courses;
    warm = {
      duty,
      period: found.period,
      instants: courses.map((course, i) =>
        course.map((_, step) => check.instants.get(`${String(i)}.${String(step)}`) ?? byInterval[i]?.[step]),
      ),
    };
  }
  return none('the diodes found no consistent sequence of conduction', warm?.duty ?? 0);
}

/** The instants found, those of the first phase standing for all. */
const instantsByInterval = (
  courses: Courses,
  guards: ReturnType<typeof guardsOf>,
  instants: readonly number[],
): Neighbour['instants'] =>
  courses.map((_, i) =>
    guards.flatMap(({ phase, interval }, g) => (phase === 0 && interval === i ? [instants[g] ?? 0] : [])),
  );

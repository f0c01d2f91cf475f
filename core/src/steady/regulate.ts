import { average } from './measures.js';
import { solvePeriodic, type PeriodicResult, type PeriodicSolution } from './periodic.js';
import type { PeriodicProblem } from './periodicProblem.js';
import { nodeVoltage } from './signal.js';

/** What the duty ratio is to bring about. */
export interface Regulation {
  readonly node: string;
  /** V, signed. */
  readonly target: number;
  readonly guess: number;
  readonly min: number;
  readonly max: number;
}

export type RegulatedResult =
  | { readonly kind: 'solved'; readonly solution: PeriodicSolution }
  | {
      readonly kind: 'out-of-reach';
      /** The output farthest from zero that the duty range allows, V, and where it occurs. */
      readonly highestOutput: number;
      readonly atDuty: number;
      readonly iterations: number;
    }
  | { readonly kind: 'below-range'; readonly lowestOutput: number; readonly iterations: number }
  | { readonly kind: 'not-converged'; readonly reason: string; readonly duty: number; readonly iterations: number };

/** Golden-section steps: the range shrinks to 0.618^24, a hundred-thousandth. */
const SEARCH_STEPS = 24;
const GOLDEN = (Math.sqrt(5) - 1) / 2;
/** Step back in duty with which the branch of a solution is told, as a share of it. */
const BRANCH_STEP = 0.01;
/** Difference from the target, as a share of it, that counts as reached. */
const REACHED = 1e-9;
const BISECTIONS = 12;
/** How far above the guess a solution is trusted to lie on the rising branch, as a share of what is left to one. */
const NEAR_SHARE = 0.1;

type Circuit = Omit<PeriodicProblem, 'control'>;

/**
 * Find the duty ratio at which the average output meets its target, on the branch where more duty gives more output.
 *
 * The lossy conversion ratio of boost and buck-boost turns over: past some duty the output falls, and a Newton search may
 * land beyond (R. W. Erickson, D. Maksimović, Fundamentals of Power Electronics, 2nd ed., ch. 3). A solution on the falling
 * branch is refused and the peak sought instead; a target above the peak is out of reach.
 */
export function regulate(circuit: Circuit, { node, target, guess, min, max }: Regulation): RegulatedResult {
  let iterations = 0;
  const counted = (result: PeriodicResult): PeriodicResult => {
    iterations += result.kind === 'solved' ? result.solution.iterations : result.iterations;
    return result;
  };
  const newton = (start: number, low: number, high: number): PeriodicResult =>
    counted(
      solvePeriodic({
        ...circuit,
        control: { kind: 'regulated', node, average: target, guess: start, min: low, max: high },
      }),
    );
  /** Magnitude of the average output at a fixed duty, counted along the target's sign. */
  const outputAt = (duty: number): number => {
    const fixed = counted(solvePeriodic({ ...circuit, control: { kind: 'duty', duty } }));
    return fixed.kind === 'solved' ? Math.sign(target) * average(fixed.solution, nodeVoltage(node)) : -Infinity;
  };
  const wanted = Math.abs(target);

  const first = newton(guess, min, max);
  if (first.kind === 'solved') {
    const { duty } = first.solution;
    // From below, Newton climbs a rising, flattening curve without overshooting; only a long way up needs the check.
    if (duty <= guess + NEAR_SHARE * (1 - guess)) return withIterations(first.solution, iterations);
    if (outputAt(Math.max(min, duty * (1 - BRANCH_STEP))) < wanted * (1 + REACHED))
      return withIterations(first.solution, iterations);
  }

  // Golden section for the peak of the conversion ratio.
  let low = min;
  let high = max;
  let left = high - GOLDEN * (high - low);
  let right = low + GOLDEN * (high - low);
  let atLeft = outputAt(left);
  let atRight = outputAt(right);
  for (let step = 0; step < SEARCH_STEPS; step += 1) {
    if (atLeft >= atRight) {
      [high, right, atRight] = [right, left, atLeft];
      left = high - GOLDEN * (high - low);
      atLeft = outputAt(left);
    } else {
      [low, left, atLeft] = [left, right, atRight];
      right = low + GOLDEN * (high - low);
      atRight = outputAt(right);
    }
  }
  // The peak may sit at the upper end of the range itself.
  const ends = [
    { duty: (low + high) / 2, output: Math.max(atLeft, atRight) },
    { duty: max, output: outputAt(max) },
  ];
  const peak = ends.reduce((best, one) => (one.output > best.output ? one : best));
  if (!(peak.output >= wanted * (1 - REACHED))) {
    if (!Number.isFinite(peak.output)) {
      const reason =
        first.kind === 'solved' ? 'only the falling branch of the conversion ratio has a solution' : first.reason;
      return {
        kind: 'not-converged',
        reason,
        duty: first.kind === 'solved' ? first.solution.duty : first.duty,
        iterations,
      };
    }
    return { kind: 'out-of-reach', highestOutput: Math.sign(target) * peak.output, atDuty: peak.duty, iterations };
  }
  const lowest = outputAt(min);
  if (lowest > wanted) return { kind: 'below-range', lowestOutput: Math.sign(target) * lowest, iterations };
  let below = min;
  let above = peak.duty;
  for (let step = 0; step < BISECTIONS; step += 1) {
    const middle = (below + above) / 2;
    if (outputAt(middle) < wanted) below = middle;
    else above = middle;
  }
  const again = newton((below + above) / 2, min, Math.min(max, peak.duty + 1e-6));
  if (again.kind === 'solved') return withIterations(again.solution, iterations);
  return { kind: 'not-converged', reason: again.reason, duty: again.duty, iterations };
}

function withIterations(solution: PeriodicSolution, iterations: number): RegulatedResult {
  return { kind: 'solved', solution: { ...solution, iterations } };
}

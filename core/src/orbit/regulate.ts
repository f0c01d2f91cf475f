import { peakWithin } from '../linalg/goldenSection.js';
import { average } from './measures.js';
import { solvePeriodic, type PeriodicResult, type PeriodicSolution } from './periodic.js';
import type { Neighbour, PeriodicProblem } from './periodicProblem.js';
import { nodeVoltage } from './signal.js';

/** What the duty ratio is to bring about. */
export interface Regulation {
  readonly node: string;
  /** V, signed. */
  readonly target: number;
  readonly guess: number;
  /** A duty ratio sure to lie on the rising branch: that of the ideal stage. */
  readonly rising: number;
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
  | {
      readonly kind: 'jumps-over';
      /** Outputs on both sides of the duty ratio at which the target is passed without being met, V. */
      readonly from: number;
      readonly to: number;
      readonly atDuty: number;
      readonly iterations: number;
    }
  | { readonly kind: 'below-range'; readonly lowestOutput: number; readonly iterations: number }
  | { readonly kind: 'not-converged'; readonly reason: string; readonly duty: number; readonly iterations: number };

/** Golden-section steps: the range shrinks to 0.618^24, a hundred-thousandth. */
const SEARCH_STEPS = 24;
/** Step back in duty with which the branch of a solution is told, as a share of it. */
const BRANCH_STEP = 0.01;
/** Difference from the target, as a share of it, that counts as reached. */
const REACHED = 1e-9;
const BISECTIONS = 12;
const MORE_BISECTIONS = 40;
/** Duty ratios closer than this cannot be told apart. */
const DUTY_RESOLUTION = 1e-14;
/** Duty ratios this close with the target between their outputs: the output jumps there. */
const JUMP_RESOLUTION = 1e-9;
/** Difference from the target, as a share of it, that closing in by halves must reach. */
const CLOSED_IN = 1e-7;
/** How far above the ideal duty a solution is trusted to lie on the rising branch, as a share of what is left to one. */
const NEAR_SHARE = 0.1;

type Circuit = Omit<PeriodicProblem, 'control'>;

/**
 * Find the duty ratio at which the average output meets its target, on the branch where more duty gives more output.
 *
 * The lossy conversion ratio of boost and buck-boost turns over: past some duty the output falls, and a Newton search may
 * land beyond (R. W. Erickson, D. Maksimović, Fundamentals of Power Electronics, 2nd ed., ch. 3). A solution on the falling
 * branch is refused and the peak sought instead; a target above the peak is out of reach.
 */
export function regulate(circuit: Circuit, { node, target, guess, rising, min, max }: Regulation): RegulatedResult {
  let iterations = 0;
  const counted = (result: PeriodicResult): PeriodicResult => {
    iterations += result.kind === 'solved' ? result.solution.iterations : result.iterations;
    return result;
  };
  const newton = (start: number, low: number, high: number, near?: Neighbour): PeriodicResult =>
    counted(
      solvePeriodic({
        ...circuit,
        near,
        control: { kind: 'regulated', node, average: target, guess: start, min: low, max: high },
      }),
    );
  const atDuty = (duty: number): PeriodicResult =>
    counted(solvePeriodic({ ...circuit, near: undefined, coarse: true, control: { kind: 'duty', duty } }));
  /** Average output, counted along the target's sign. */
  const outputOf = (solution: PeriodicSolution): number => Math.sign(target) * average(solution, nodeVoltage(node));
  const outputAt = (duty: number): number => {
    const fixed = atDuty(duty);
    return fixed.kind === 'solved' ? outputOf(fixed.solution) : -Infinity;
  };
  const wanted = Math.abs(target);

  const first = newton(guess, min, max, circuit.near);
  if (first.kind === 'solved') {
    const { duty } = first.solution;
    // From below, Newton climbs a rising, flattening curve without overshooting; only a long way up needs the check.
    if (duty <= rising + NEAR_SHARE * (1 - rising)) return withIterations(first.solution, iterations);
    if (outputAt(Math.max(min, duty * (1 - BRANCH_STEP))) < wanted * (1 + REACHED))
      return withIterations(first.solution, iterations);
  }

  const top = peakWithin(outputAt, min, max, SEARCH_STEPS);
  // The peak may sit at the upper end of the range itself.
  const ends = [
    { duty: top.at, output: top.value },
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
  let outputBelow = lowest;
  let outputAbove = peak.output;
  let nearest: PeriodicSolution | undefined;
  const bisect = (steps: number): void => {
    for (let step = 0; step < steps && above - below > DUTY_RESOLUTION; step += 1) {
      const middle = (below + above) / 2;
      const fixed = atDuty(middle);
      const output = fixed.kind === 'solved' ? outputOf(fixed.solution) : NaN;
      if (fixed.kind === 'solved') nearest = fixed.solution;
      if (output < wanted) [below, outputBelow] = [middle, output];
      else [above, outputAbove] = [middle, output];
    }
  };
  bisect(BISECTIONS);
  const again = newton((below + above) / 2, min, Math.min(max, peak.duty + 1e-6));
  if (again.kind === 'solved') return withIterations(again.solution, iterations);
  // Where the diodes' pattern changes right at the solution, Newton may step back and forth across it: close in by halves.
  bisect(MORE_BISECTIONS);
  if (nearest && Math.abs(outputOf(nearest) / wanted - 1) < CLOSED_IN) return withIterations(nearest, iterations);
  if (above - below < JUMP_RESOLUTION && outputBelow < wanted && outputAbove > wanted) {
    const sign = Math.sign(target);
    return { kind: 'jumps-over', from: sign * outputBelow, to: sign * outputAbove, atDuty: above, iterations };
  }
  const { reason } = first.kind === 'not-converged' ? first : again;
  return { kind: 'not-converged', reason, duty: again.duty, iterations };
}

function withIterations(solution: PeriodicSolution, iterations: number): RegulatedResult {
  return { kind: 'solved', solution: { ...solution, iterations } };
}

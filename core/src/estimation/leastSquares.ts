import { solveSquare } from '../linalg/dense.js';

/** A model fitted to residuals by Gauss and Newton. */
export interface Fitted {
  readonly values: Float64Array;
  readonly residuals: Float64Array;
  /** Rows of residuals, columns of parameters. */
  readonly jacobian: readonly Float64Array[];
  /** (JᵀJ)⁻¹, row by row. */
  readonly inverse: Float64Array;
}

const ROUNDS = 60;
const STEP = 1e-5;
const SETTLED = 1e-10;

/** (JᵀJ)⁻¹ Jᵀ r and the inverse itself. */
function normal(jacobian: readonly Float64Array[], residuals: Float64Array) {
  const n = jacobian.length;
  const squares = new Float64Array(n * n);
  const right = new Float64Array(n);
  for (let a = 0; a < n; a += 1) {
    const ja = jacobian[a] ?? new Float64Array();
    for (let b = 0; b < n; b += 1) {
      const jb = jacobian[b] ?? new Float64Array();
      let sum = 0;
      for (let k = 0; k < ja.length; k += 1) sum += (ja[k] as number) * (jb[k] as number);
      squares[a * n + b] = sum;
    }
    for (let k = 0; k < ja.length; k += 1)
      right[a] = (right[a] as number) + (ja[k] as number) * (residuals[k] as number);
  }
  const inverse = new Float64Array(n * n);
  for (let c = 0; c < n; c += 1) {
    const unit = new Float64Array(n);
    unit[c] = 1;
    const column = solveSquare(squares.slice(), unit, n);
    for (let a = 0; a < n; a += 1) inverse[a * n + c] = column[a] ?? 0;
  }
  const step = solveSquare(squares.slice(), right, n);
  return { step, inverse };
}

const squareOf = (of: Float64Array): number => of.reduce((sum, one) => sum + one * one, 0);

/**
 * Least squares of residuals that are not linear in their parameters (Gauss and Newton, a step halved while it does not lead down; derivatives
 * by central differences of a share of each parameter).
 *
 * @param residualsOf at parameters; undefined where there are none.
 * @param sizes of the parameters, by which steps are measured where one is near nothing.
 * @returns undefined where no step leads on, or derivatives depend on each other.
 */
export function leastSquares(
  start: readonly number[],
  residualsOf: (values: Float64Array) => Float64Array | undefined,
  sizes: readonly number[] = start,
): Fitted | undefined {
  let values: Float64Array = Float64Array.from(start);
  let residuals = residualsOf(values);
  if (!residuals) return undefined;
  const derivative = (of: Float64Array, a: number): Float64Array | undefined => {
    const by = STEP * Math.max(Math.abs(of[a] ?? 0), Math.abs(sizes[a] ?? 0));
    const [up, down] = [1, -1].map((sign) => {
      const moved = of.slice();
      moved[a] = (moved[a] ?? 0) + sign * by;
      return residualsOf(moved);
    });
    return up && down ? up.map((one, k) => (one - (down[k] ?? 0)) / (2 * by)) : undefined;
  };
  for (let round = 0; ; round += 1) {
    const jacobian: Float64Array[] = [];
    for (let a = 0; a < values.length; a += 1) {
      const column = derivative(values, a);
      if (!column) return undefined;
      jacobian.push(column);
    }
    // Scaled, so that henries and amperes stand beside each other.
    const scales = jacobian.map((column) => Math.sqrt(squareOf(column)));
    if (scales.some((one) => !(one > 0))) return undefined;
    const scaled = jacobian.map((column, a) => column.map((one) => one / (scales[a] ?? 1)));
    const { step, inverse } = normal(scaled, residuals);
    const real = step.map((one, a) => one / (scales[a] ?? 1));
    const before = squareOf(residuals);
    let share = 1;
    let next: Float64Array | undefined;
    let after: Float64Array | undefined;
    for (; share > 1e-4; share /= 2) {
      next = values.map((one, a) => one - share * (real[a] ?? 0));
      after = residualsOf(next);
      if (after && squareOf(after) <= before) break;
    }
    const small = real.every((one, a) => Math.abs(one) <= SETTLED * Math.max(Math.abs(values[a] ?? 0), 1e-15));
    if (next && after && squareOf(after) <= before) {
      values = next;
      const gained = before - squareOf(after);
      residuals = after;
      if (!small && gained > 1e-12 * before && round < ROUNDS) continue;
    } else if (!small && round === 0) return undefined;
    const n = values.length;
    return {
      values,
      residuals,
      jacobian,
      inverse: inverse.map((one, k) => one / ((scales[Math.floor(k / n)] ?? 1) * (scales[k % n] ?? 1))),
    };
  }
}

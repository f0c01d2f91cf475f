import { dot, multiply, product } from '../linalg/dense.js';
import { zeros } from '../linalg/zeros.js';
import { propagatorOf } from './propagation.js';
import { finalRate, type Segment } from './segment.js';

/**
 * How the augmented state moves with every unknown of the problem, followed along the period beside it: S = dz/dy, one row for
 * each state, one column for each unknown.
 */
export class Sensitivity {
  private s: Float64Array;
  /** How the instant reached moves with every unknown, s. */
  private instant: Float64Array;

  /** At the clock: the states are unknowns themselves, and the clock does not move. */
  constructor(
    private readonly size: number,
    private readonly columns: number,
  ) {
    this.s = zeros(size * columns);
    for (let i = 0; i < size - 1; i += 1) this.s[i * columns + i] = 1;
    this.instant = zeros(columns);
  }

  /** Through a linear map of the augmented state: a jump on entry, registers set. */
  map(matrix: Float64Array | undefined): void {
    if (matrix) this.s = product(matrix, this.s, this.size, this.size, this.columns);
  }

  /**
   * Over a stretch whose end moves: S⁻ = Φ S + ż (dt₁ − dt₀)/dy.
   *
   * @param end how the instant at its end moves with the unknowns, s.
   * @returns the same for the integral of a row over the stretch, where a row is given: ∫ row·S dt + (row·z) (dt₁ − dt₀)/dy.
   */
  stretch(segment: Segment, end: Float64Array, row?: Float64Array): Float64Array | undefined {
    const { size, columns, s, instant } = this;
    const { equations, duration, final } = segment;
    const { phi, gamma } = propagatorOf(equations, duration);
    const swept = row && product(product(row, gamma, 1, size, size), s, 1, size, columns);
    const endValue = row ? dot(row, final) : 0;
    const rate = finalRate(segment);
    const next = zeros(size * columns);
    multiply(next, phi, s, size, size, columns);
    for (let j = 0; j < columns; j += 1) {
      const longer = (end[j] as number) - (instant[j] as number);
      if (longer === 0) continue;
      for (let i = 0; i < size; i += 1)
        next[i * columns + j] = (next[i * columns + j] as number) + (rate[i] as number) * longer;
      if (swept) swept[j] = (swept[j] as number) + endValue * longer;
    }
    this.s = next;
    this.instant = end;
    return swept;
  }

  /** How the value of a row moves with the unknowns. */
  of(row: Float64Array): Float64Array {
    return product(row, this.s, 1, this.size, this.columns);
  }

  /** How one state moves with an unknown. */
  at(state: number, column: number): number {
    return this.s[state * this.columns + column] as number;
  }
}

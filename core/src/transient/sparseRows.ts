/** Rows over a state of which most entries are nothing, as those of voltages and currents are: only what counts is multiplied. */
export class SparseRows {
  private readonly ends: Int32Array;
  private readonly columns: Int32Array;
  private readonly weights: Float64Array;

  constructor(rows: readonly Float64Array[]) {
    const columns: number[] = [];
    const weights: number[] = [];
    this.ends = Int32Array.from(rows, (row) => {
      row.forEach((weight, column) => {
        if (weight === 0) return;
        columns.push(column);
        weights.push(weight);
      });
      return columns.length;
    });
    this.columns = Int32Array.from(columns);
    this.weights = Float64Array.from(weights);
  }

  /** out ← the value of each row at a state. */
  at(out: Float64Array, z: Float64Array): void {
    const { ends, columns, weights } = this;
    for (let row = 0, k = 0; row < ends.length; row += 1) {
      const end = ends[row] as number;
      let sum = 0;
      for (; k < end; k += 1) sum += (weights[k] as number) * (z[columns[k] as number] as number);
      out[row] = sum;
    }
  }
}

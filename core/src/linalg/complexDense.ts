import { zeros } from './zeros.js';

/**
 * A square system of complex equations that is made anew for every frequency: real and imaginary parts apart, row after row,
 * solved by Gaussian elimination with partial pivoting in place.
 */
export class ComplexSystem {
  readonly re: Float64Array;
  readonly im: Float64Array;
  private readonly pivots: Int32Array;
  /** Columns of the pivot row that are not zero: circuits leave most of them empty. */
  private readonly filled: Int32Array;
  constructor(readonly order: number) {
    this.re = zeros(order * order);
    this.im = zeros(order * order);
    this.pivots = new Int32Array(order);
    this.filled = new Int32Array(order);
  }

  /** Factorise; afterwards `solve` may be called any number of times. A singular matrix gives non-finite solutions. */
  factorise(): void {
    const { order: n, re, im, pivots, filled } = this;
    for (let k = 0; k < n; k += 1) {
      let best = k;
      let size = -1;
      for (let i = k; i < n; i += 1) {
        const here = Math.abs(re[i * n + k] as number) + Math.abs(im[i * n + k] as number);
        if (here > size) {
          size = here;
          best = i;
        }
      }
      pivots[k] = best;
      if (best !== k) {
        for (let j = 0; j < n; j += 1) {
          swap(re, k * n + j, best * n + j);
          swap(im, k * n + j, best * n + j);
        }
      }
      const pr = re[k * n + k] as number;
      const pi = im[k * n + k] as number;
      const scale = 1 / (pr * pr + pi * pi);
      let count = 0;
      for (let j = k + 1; j < n; j += 1) {
        if (re[k * n + j] === 0 && im[k * n + j] === 0) continue;
        filled[count] = j;
        count += 1;
      }
      for (let i = k + 1; i < n; i += 1) {
        const ar = re[i * n + k] as number;
        const ai = im[i * n + k] as number;
        if (ar === 0 && ai === 0) continue;
        const fr = (ar * pr + ai * pi) * scale;
        const fi = (ai * pr - ar * pi) * scale;
        re[i * n + k] = fr;
        im[i * n + k] = fi;
        for (let c = 0; c < count; c += 1) {
          const j = filled[c] as number;
          const br = re[k * n + j] as number;
          const bi = im[k * n + j] as number;
          re[i * n + j] = (re[i * n + j] as number) - (fr * br - fi * bi);
          im[i * n + j] = (im[i * n + j] as number) - (fr * bi + fi * br);
        }
      }
    }
  }

  /** Solve in place for a right-hand side given by its real and imaginary parts. */
  solve(xr: Float64Array, xi: Float64Array): void {
    const { order: n, re, im, pivots } = this;
    // The rows of the factors were exchanged as a whole, so all exchanges come first.
    for (let k = 0; k < n; k += 1) {
      const p = pivots[k] as number;
      if (p === k) continue;
      swap(xr, k, p);
      swap(xi, k, p);
    }
    for (let k = 0; k < n; k += 1) {
      const vr = xr[k] as number;
      const vi = xi[k] as number;
      for (let i = k + 1; i < n; i += 1) {
        const fr = re[i * n + k] as number;
        const fi = im[i * n + k] as number;
        xr[i] = (xr[i] as number) - (fr * vr - fi * vi);
        xi[i] = (xi[i] as number) - (fr * vi + fi * vr);
      }
    }
    for (let k = n - 1; k >= 0; k -= 1) {
      let vr = xr[k] as number;
      let vi = xi[k] as number;
      for (let j = k + 1; j < n; j += 1) {
        const br = re[k * n + j] as number;
        const bi = im[k * n + j] as number;
        vr -= br * (xr[j] as number) - bi * (xi[j] as number);
        vi -= br * (xi[j] as number) + bi * (xr[j] as number);
      }
      const pr = re[k * n + k] as number;
      const pi = im[k * n + k] as number;
      const scale = 1 / (pr * pr + pi * pi);
      xr[k] = (vr * pr + vi * pi) * scale;
      xi[k] = (vi * pr - vr * pi) * scale;
    }
  }

  /** Solve with the transposed matrix, in place. */
  solveTransposed(xr: Float64Array, xi: Float64Array): void {
    const { order: n, re, im, pivots } = this;
    for (let k = 0; k < n; k += 1) {
      const pr = re[k * n + k] as number;
      const pi = im[k * n + k] as number;
      const scale = 1 / (pr * pr + pi * pi);
      const wr = xr[k] as number;
      const wi = xi[k] as number;
      const vr = (wr * pr + wi * pi) * scale;
      const vi = (wi * pr - wr * pi) * scale;
      xr[k] = vr;
      xi[k] = vi;
      if (vr === 0 && vi === 0) continue;
      for (let j = k + 1; j < n; j += 1) {
        const br = re[k * n + j] as number;
        const bi = im[k * n + j] as number;
        xr[j] = (xr[j] as number) - (br * vr - bi * vi);
        xi[j] = (xi[j] as number) - (br * vi + bi * vr);
      }
    }
    for (let i = n - 1; i > 0; i -= 1) {
      const vr = xr[i] as number;
      const vi = xi[i] as number;
      for (let k = 0; k < i; k += 1) {
        const fr = re[i * n + k] as number;
        const fi = im[i * n + k] as number;
        xr[k] = (xr[k] as number) - (fr * vr - fi * vi);
        xi[k] = (xi[k] as number) - (fr * vi + fi * vr);
      }
    }
    for (let k = n - 1; k >= 0; k -= 1) {
      const p = pivots[k] as number;
      if (p === k) continue;
      swap(xr, k, p);
      swap(xi, k, p);
    }
  }
}

function swap(list: Float64Array, i: number, j: number): void {
  const held = list[i] as number;
  list[i] = list[j] as number;
  list[j] = held;
}

import { copied, zeros } from './zeros.js';
import { identity } from './dense.js';

/**
 * A real matrix A as Q H Qᵀ with H zero below its first subdiagonal, so that (s − A) x = b costs n² for every further s.
 *
 * Source: A. J. Laub, Efficient Multivariable Frequency Response Computations, IEEE Trans. Automatic Control 26 (1981); the
 * reduction by Householder reflections is that of G. H. Golub, C. F. Van Loan, Matrix Computations, 4th ed., section 7.4.
 */
export class ShiftedSystem {
  private readonly h: Float64Array;
  private readonly q: Float64Array;
  /** s − H, eliminated in place: real and imaginary parts. */
  private readonly re: Float64Array;
  private readonly im: Float64Array;
  private readonly workR: Float64Array;
  private readonly workI: Float64Array;

  constructor(
    a: Float64Array,
    readonly order: number,
  ) {
    const n = order;
    this.h = copied(a);
    this.q = identity(n);
    this.re = zeros(n * n);
    this.im = zeros(n * n);
    this.workR = zeros(n);
    this.workI = zeros(n);
    const v = zeros(n);
    for (let k = 0; k + 2 < n; k += 1) {
      let norm = 0;
      for (let i = k + 1; i < n; i += 1) norm = Math.hypot(norm, this.h[i * n + k] as number);
      if (norm === 0) continue;
      const first = this.h[(k + 1) * n + k] as number;
      const alpha = first > 0 ? -norm : norm;
      let square = 0;
      for (let i = k + 1; i < n; i += 1) {
        v[i] = (this.h[i * n + k] as number) - (i === k + 1 ? alpha : 0);
        square += (v[i] as number) ** 2;
      }
      if (square === 0) continue;
      reflectRows(this.h, n, k + 1, v, 2 / square);
      reflectColumns(this.h, n, k + 1, v, 2 / square);
      reflectColumns(this.q, n, k + 1, v, 2 / square);
      for (let i = k + 2; i < n; i += 1) this.h[i * n + k] = 0;
    }
  }

  /** Solve (s − A) x = b in place, for s and b given by their real and imaginary parts. */
  solve(sr: number, si: number, xr: Float64Array, xi: Float64Array): void {
    const { order: n, h, q, re, im, workR: br, workI: bi } = this;
    for (let j = 0; j < n; j += 1) {
      let sumR = 0;
      let sumI = 0;
      for (let i = 0; i < n; i += 1) {
        const value = q[i * n + j] as number;
        sumR += value * (xr[i] as number);
        sumI += value * (xi[i] as number);
      }
      br[j] = sumR;
      bi[j] = sumI;
    }
    for (let i = 0; i < n; i += 1) {
      for (let j = Math.max(0, i - 1); j < n; j += 1) {
        re[i * n + j] = -(h[i * n + j] as number);
        im[i * n + j] = 0;
      }
      re[i * n + i] = (re[i * n + i] as number) + sr;
      im[i * n + i] = si;
    }
    for (let k = 0; k + 1 < n; k += 1) {
      const top = k * n;
      const low = top + n;
      const size = Math.abs(re[top + k] as number) + Math.abs(im[top + k] as number);
      if (Math.abs(re[low + k] as number) + Math.abs(im[low + k] as number) > size) {
        for (let j = k; j < n; j += 1) {
          swap(re, top + j, low + j);
          swap(im, top + j, low + j);
        }
        swap(br, k, k + 1);
        swap(bi, k, k + 1);
      }
      const pr = re[top + k] as number;
      const pi = im[top + k] as number;
      const ar = re[low + k] as number;
      const ai = im[low + k] as number;
      if (ar === 0 && ai === 0) continue;
      const scale = 1 / (pr * pr + pi * pi);
      const fr = (ar * pr + ai * pi) * scale;
      const fi = (ai * pr - ar * pi) * scale;
      for (let j = k + 1; j < n; j += 1) {
        const cr = re[top + j] as number;
        const ci = im[top + j] as number;
        re[low + j] = (re[low + j] as number) - (fr * cr - fi * ci);
        im[low + j] = (im[low + j] as number) - (fr * ci + fi * cr);
      }
      const dr = br[k] as number;
      const di = bi[k] as number;
      br[k + 1] = (br[k + 1] as number) - (fr * dr - fi * di);
      bi[k + 1] = (bi[k + 1] as number) - (fr * di + fi * dr);
    }
    for (let k = n - 1; k >= 0; k -= 1) {
      let vr = br[k] as number;
      let vi = bi[k] as number;
      for (let j = k + 1; j < n; j += 1) {
        const cr = re[k * n + j] as number;
        const ci = im[k * n + j] as number;
        vr -= cr * (br[j] as number) - ci * (bi[j] as number);
        vi -= cr * (bi[j] as number) + ci * (br[j] as number);
      }
      const pr = re[k * n + k] as number;
      const pi = im[k * n + k] as number;
      const scale = 1 / (pr * pr + pi * pi);
      br[k] = (vr * pr + vi * pi) * scale;
      bi[k] = (vi * pr - vr * pi) * scale;
    }
    for (let i = 0; i < n; i += 1) {
      let sumR = 0;
      let sumI = 0;
      for (let j = 0; j < n; j += 1) {
        const value = q[i * n + j] as number;
        sumR += value * (br[j] as number);
        sumI += value * (bi[j] as number);
      }
      xr[i] = sumR;
      xi[i] = sumI;
    }
  }
}

/** (I − β v vᵀ) A, v zero before `from`. */
function reflectRows(a: Float64Array, n: number, from: number, v: Float64Array, beta: number): void {
  for (let j = 0; j < n; j += 1) {
    let sum = 0;
    for (let i = from; i < n; i += 1) sum += (v[i] as number) * (a[i * n + j] as number);
    for (let i = from; i < n; i += 1) a[i * n + j] = (a[i * n + j] as number) - beta * sum * (v[i] as number);
  }
}

/** A (I − β v vᵀ) */
function reflectColumns(a: Float64Array, n: number, from: number, v: Float64Array, beta: number): void {
  for (let i = 0; i < n; i += 1) {
    let sum = 0;
    for (let j = from; j < n; j += 1) sum += (a[i * n + j] as number) * (v[j] as number);
    for (let j = from; j < n; j += 1) a[i * n + j] = (a[i * n + j] as number) - beta * sum * (v[j] as number);
  }
}

function swap(list: Float64Array, i: number, j: number): void {
  const held = list[i] as number;
  list[i] = list[j] as number;
  list[j] = held;
}

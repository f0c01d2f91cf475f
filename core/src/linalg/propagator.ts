import { GAUSS_NODES } from './gaussLegendre.js';
import { identity, multiply } from './dense.js';
import { copied, zeros } from './zeros.js';

/** Largest norm of K·h at which the series below is exact to rounding: 0.7^16 / 17! is below 1e-17. */
const SERIES_NORM = 0.7;
/** Coefficients 1/(k+1)! of ∫e^{Xs}ds = Σ X^k/(k+1)!, k = 0 to 15, evaluated in four blocks of four. */
const SERIES = Float64Array.from({ length: 16 }, (_, k) => {
  let factorial = 1;
  for (let m = 2; m <= k + 1; m += 1) factorial *= m;
  return 1 / factorial;
});
/** Doublings beyond which a matrix is too stiff for the interval to mean anything (2^60 time constants). */
const MAX_DOUBLINGS = 60;
const BALANCING_PASSES = 4;
/** Halvings of an interval already short enough for the series, and the most there are. */
const FINEST_LEVELS = 2;
const MOST_LEVELS = 4;

/** The solution of dz/dt = K z over an interval h, and its integral. */
export interface Propagator {
  /** e^{Kh}, n × n. */
  readonly phi: Float64Array;
  /** ∫₀ʰ e^{Ks} ds, n × n. */
  readonly gamma: Float64Array;
  /** e^{Kh/2^j} − I at index j, down to the step of the series; only index 0 unless the inside was asked for. */
  readonly excess: readonly Float64Array[];
  /** Halvings after which a cubic between two states is a true picture of any waveform; 0 unless asked for. */
  readonly levels: number;
}

/**
 * Powers of two that, as scales of the states, bring rows and columns of K to like size (volts beside amperes through a
 * fraction of a nanohenry differ by many orders). A state without a row of its own, such as the constant one, is scaled
 * until its column no longer counts.
 */
function balance(scale: Float64Array, k: Float64Array, n: number): void {
  scale.fill(1);
  for (let pass = 0; pass < BALANCING_PASSES; pass += 1) {
    for (let i = 0; i < n; i += 1) {
      let row = 0;
      let column = 0;
      for (let j = 0; j < n; j += 1) {
        if (j === i) continue;
        row += Math.abs(k[i * n + j] as number) * (scale[j] as number);
        column += Math.abs(k[j * n + i] as number) / (scale[j] as number);
      }
      const own = scale[i] as number;
      row /= own;
      column *= own;
      if (column === 0) continue;
      const change = row === 0 ? 2 ** -20 : 2 ** Math.round(0.5 * Math.log2(row / column));
      scale[i] = own * change;
    }
  }
}

function infinityNorm(k: Float64Array, n: number): number {
  let norm = 0;
  for (let i = 0; i < n; i += 1) {
    let sum = 0;
    for (let j = 0; j < n; j += 1) sum += Math.abs(k[i * n + j] as number);
    norm = Math.max(norm, sum);
  }
  return norm;
}

/** Undo the balancing of a result, in place. */
function unbalanced(a: Float64Array, scale: Float64Array, n: number): Float64Array {
  for (let i = 0; i < n; i += 1) {
    for (let j = 0; j < n; j += 1)
      a[i * n + j] = ((a[i * n + j] as number) * (scale[i] as number)) / (scale[j] as number);
  }
  return a;
}

/** Buffers of one matrix size, used again and again: a profile showed allocation costing more than the arithmetic. */
interface Workspace {
  readonly scale: Float64Array;
  readonly x: Float64Array;
  readonly x2: Float64Array;
  readonly x3: Float64Array;
  readonly x4: Float64Array;
  readonly scratch: Float64Array;
}

const workspaces = new Map<number, Workspace>();

function workspaceOf(n: number): Workspace {
  const known = workspaces.get(n);
  if (known) return known;
  const square = (): Float64Array => new Float64Array(n * n);
  const made = { scale: new Float64Array(n), x: square(), x2: square(), x3: square(), x4: square(), scratch: square() };
  workspaces.set(n, made);
  return made;
}

/** a ← 2a + f·a, the doubling of either F or G, in place. */
function double(a: Float64Array, f: Float64Array, scratch: Float64Array, n: number): void {
  multiply(scratch, f, a, n, n, n);
  for (let i = 0; i < a.length; i += 1) a[i] = (scratch[i] as number) + 2 * (a[i] as number);
}

/**
 * Matrix exponential and its integral by a Taylor series on a short step and doubling.
 *
 * The doubling works on F = e^{Kh} − I and G = ∫e^{Ks}ds (F ← 2F + F², G ← 2G + F G): squaring e^{Kh} itself would lose
 * the digits of a small step against the one it stands beside. K may be singular (integrators, projections).
 * Method: C. Moler, C. Van Loan, Nineteen Dubious Ways to Compute the Exponential of a Matrix, SIAM Review 45 (2003),
 * method 3 (scaling and squaring).
 *
 * @param inside keep the halvings in `excess`, for states inside the interval.
 */
export function propagator(k: Float64Array, n: number, h: number, inside = false): Propagator {
  const size = n * n;
  const { scale, x, x2, x3, x4, scratch } = workspaceOf(n);
  balance(scale, k, n);
  for (let i = 0; i < n; i += 1) {
    const rowScale = h / (scale[i] as number);
    for (let j = 0; j < n; j += 1) x[i * n + j] = (k[i * n + j] as number) * rowScale * (scale[j] as number);
  }
  const norm = infinityNorm(x, n);
  const needed = norm > SERIES_NORM ? Math.ceil(Math.log2(norm / SERIES_NORM)) : 0;
  const levels = inside ? Math.min(needed + FINEST_LEVELS, MOST_LEVELS) : 0;
  const doublings = Math.min(Math.max(needed, levels), MAX_DOUBLINGS);
  const shrink = 2 ** -doublings;
  for (let i = 0; i < size; i += 1) x[i] = (x[i] as number) * shrink;

  // p(X) = Σ X^k/(k+1)! in blocks of four powers, by Horner's rule in X⁴ (Paterson and Stockmeyer).
  multiply(x2, x, x, n, n, n);
  multiply(x3, x2, x, n, n, n);
  multiply(x4, x2, x2, n, n, n);
  const g = zeros(size);
  for (let block = 3; block >= 0; block -= 1) {
    if (block < 3) {
      multiply(scratch, g, x4, n, n, n);
      g.set(scratch);
    }
    const c1 = SERIES[4 * block + 1] as number;
    const c2 = SERIES[4 * block + 2] as number;
    const c3 = SERIES[4 * block + 3] as number;
    for (let i = 0; i < size; i += 1) {
      g[i] = (g[i] as number) + c1 * (x[i] as number) + c2 * (x2[i] as number) + c3 * (x3[i] as number);
    }
    const c0 = SERIES[4 * block] as number;
    for (let i = 0; i < n; i += 1) g[i * n + i] = (g[i * n + i] as number) + c0;
  }
  let f: Float64Array = multiply(zeros(size), x, g, n, n, n);
  const step = h * shrink;
  for (let i = 0; i < size; i += 1) g[i] = (g[i] as number) * step;
  const kept: Float64Array[] = [];
  for (let d = 0; d < doublings; d += 1) {
    double(g, f, scratch, n);
    if (inside) {
      kept.push(f);
      f = copied(f);
    }
    double(f, f, scratch, n);
  }
  const excess = [f, ...kept.reverse()].map((one) => unbalanced(one, scale, n));
  const phi = copied(f);
  for (let i = 0; i < n; i += 1) phi[i * n + i] = (phi[i * n + i] as number) + 1;
  return { phi, gamma: unbalanced(g, scale, n), excess, levels };
}

const VECTOR_TERMS = 16;

/**
 * The second moment ∫₀ʰ z zᵀ dt of the solution of dz/dt = K z from z0: every average of a product of two waveforms,
 * RMS values and powers among them, is a bilinear form in it.
 *
 * On the short step of the propagator by Gauss-Legendre points of the exact solution, then W(2h) = W(h) + e^{Kh} W(h) e^{Kᵀh}
 * with the propagator's own e^{Kh/2^j} − I.
 *
 * @param excess as kept by `propagator(…, true)` for the same K and h.
 */
export function secondMoment(
  k: Float64Array,
  n: number,
  h: number,
  z0: Float64Array,
  excess: readonly Float64Array[],
): Float64Array {
  const doublings = excess.length - 1;
  const step = h / 2 ** doublings;
  // Taylor vectors (K·step)^m z0 / m! of the short step.
  const terms: Float64Array[] = [z0];
  for (let m = 1; m < VECTOR_TERMS; m += 1) {
    const next = multiply(zeros(n), k, terms[m - 1] as Float64Array, n, n, 1);
    for (let i = 0; i < n; i += 1) next[i] = ((next[i] as number) * step) / m;
    terms.push(next);
  }
  const w = zeros(n * n);
  const z = zeros(n);
  for (const [node, weight] of GAUSS_NODES) {
    z.fill(0);
    for (let m = VECTOR_TERMS - 1; m >= 0; m -= 1) {
      const term = terms[m] as Float64Array;
      for (let i = 0; i < n; i += 1) z[i] = (z[i] as number) * node + (term[i] as number);
    }
    for (let i = 0; i < n; i += 1) {
      const left = weight * step * (z[i] as number);
      for (let j = 0; j < n; j += 1) w[i * n + j] = (w[i * n + j] as number) + left * (z[j] as number);
    }
  }
  const fw = zeros(n * n);
  for (let d = doublings; d > 0; d -= 1) {
    const f = excess[d] as Float64Array;
    // e^{Kh} W e^{Kᵀh} = W + F W + (F W)ᵀ + F W Fᵀ.
    multiply(fw, f, w, n, n, n);
    for (let i = 0; i < n; i += 1) {
      for (let j = 0; j <= i; j += 1) {
        let both = 0;
        for (let m = 0; m < n; m += 1) both += (fw[i * n + m] as number) * (f[j * n + m] as number);
        const value = 2 * (w[i * n + j] as number) + (fw[i * n + j] as number) + (fw[j * n + i] as number) + both;
        w[i * n + j] = value;
        w[j * n + i] = value;
      }
    }
  }
  return w;
}

/** The state z0 + F z0 after the interval whose F = e^{Kh} − I is given. */
export function stateAfter(z0: Float64Array, n: number, f: Float64Array): Float64Array {
  const next = multiply(zeros(n), f, z0, n, n, 1);
  for (let i = 0; i < n; i += 1) next[i] = (next[i] as number) + (z0[i] as number);
  return next;
}

/** Exact states at 2^levels + 1 equally spaced instants of the interval, from the propagator's kept halvings. */
export function statesWithin(
  z0: Float64Array,
  n: number,
  levels: number,
  excess: readonly Float64Array[],
): readonly Float64Array[] {
  const f = excess[levels] ?? identity(n);
  const states: Float64Array[] = [z0];
  for (let k = 1; k <= 2 ** levels; k += 1) {
    states.push(stateAfter(states[k - 1] as Float64Array, n, f));
  }
  return states;
}

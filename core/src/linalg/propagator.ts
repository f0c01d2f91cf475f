import { identity, multiply } from './dense.js';

/** Largest norm of K·h at which the Taylor series below is exact to rounding. */
const SERIES_NORM = 0.25;
/** Terms of the series: 0.25^15 / 15! is below 1e-21. */
const SERIES_TERMS = 14;
/** Doublings beyond which a matrix is too stiff for the interval to mean anything (2^60 time constants). */
const MAX_DOUBLINGS = 60;

/** The solution of dz/dt = K z over an interval h, and its integral. */
export interface Propagator {
  /** e^{Kh}, n × n. */
  readonly phi: Float64Array;
  /** ∫₀ʰ e^{Ks} ds, n × n. */
  readonly gamma: Float64Array;
}

function infinityNorm(k: Float64Array, n: number): number {
  let norm = 0;
  for (let i = 0; i < n; i += 1) {
    let sum = 0;
    for (let j = 0; j < n; j += 1) sum += Math.abs(k[i * n + j] ?? 0);
    norm = Math.max(norm, sum);
  }
  return norm;
}

/**
 * Matrix exponential and its integral by a Taylor series on a short step and doubling.
 *
 * The doubling works on F = e^{Kh} − I and G = ∫e^{Ks}ds (F ← 2F + F², G ← 2G + F G): squaring e^{Kh} itself would lose
 * the digits of a small step against the one it stands beside. K may be singular (integrators, projections).
 * Method: C. Moler, C. Van Loan, Nineteen Dubious Ways to Compute the Exponential of a Matrix, SIAM Review 45 (2003),
 * method 3 (scaling and squaring).
 */
export function propagator(k: Float64Array, n: number, h: number): Propagator {
  const norm = infinityNorm(k, n) * h;
  let doublings = norm > SERIES_NORM ? Math.ceil(Math.log2(norm / SERIES_NORM)) : 0;
  doublings = Math.min(doublings, MAX_DOUBLINGS);
  const step = h / 2 ** doublings;
  const size = n * n;
  let term: Float64Array = identity(n);
  for (let i = 0; i < size; i += 1) term[i] = (term[i] ?? 0) * step;
  let g: Float64Array = term.slice();
  let scratch: Float64Array = new Float64Array(size);
  for (let order = 1; order <= SERIES_TERMS; order += 1) {
    multiply(scratch, term, k, n, n, n);
    const factor = step / (order + 1);
    for (let i = 0; i < size; i += 1) {
      scratch[i] = (scratch[i] ?? 0) * factor;
      g[i] = (g[i] ?? 0) + (scratch[i] ?? 0);
    }
    [term, scratch] = [scratch, term];
  }
  let f = multiply(new Float64Array(size), k, g, n, n, n);
  for (let d = 0; d < doublings; d += 1) {
    multiply(scratch, f, g, n, n, n);
    for (let i = 0; i < size; i += 1) scratch[i] = (scratch[i] ?? 0) + 2 * (g[i] ?? 0);
    [g, scratch] = [scratch, g];
    multiply(scratch, f, f, n, n, n);
    for (let i = 0; i < size; i += 1) scratch[i] = (scratch[i] ?? 0) + 2 * (f[i] ?? 0);
    [f, scratch] = [scratch, f];
  }
  for (let i = 0; i < n; i += 1) f[i * n + i] = (f[i * n + i] ?? 0) + 1;
  return { phi: f, gamma: g };
}

/**
 * The second moment ∫₀ʰ z zᵀ dt of the solution of dz/dt = K z from z0: every average of a product of two waveforms,
 * RMS values and powers among them, is a bilinear form in it.
 *
 * Series of W' = K W + W Kᵀ + z0 z0ᵀ on a short step, then W(2h) = W(h) + e^{Kh} W(h) e^{Kᵀh}.
 */
export function secondMoment(k: Float64Array, n: number, h: number, z0: Float64Array): Float64Array {
  const norm = 2 * infinityNorm(k, n) * h;
  const doublings = Math.min(MAX_DOUBLINGS, norm > SERIES_NORM ? Math.ceil(Math.log2(norm / SERIES_NORM)) : 0);
  const step = h / 2 ** doublings;
  const size = n * n;
  const term = new Float64Array(size);
  for (let i = 0; i < n; i += 1) for (let j = 0; j < n; j += 1) term[i * n + j] = (z0[i] ?? 0) * (z0[j] ?? 0) * step;
  const w = term.slice();
  const left = new Float64Array(size);
  for (let order = 1; order <= SERIES_TERMS; order += 1) {
    multiply(left, k, term, n, n, n);
    const factor = step / (order + 1);
    for (let i = 0; i < n; i += 1) {
      for (let j = 0; j < n; j += 1) {
        // term is symmetric, so term · Kᵀ is the transpose of K · term.
        const value = ((left[i * n + j] ?? 0) + (left[j * n + i] ?? 0)) * factor;
        term[i * n + j] = value;
        w[i * n + j] = (w[i * n + j] ?? 0) + value;
      }
    }
  }
  if (doublings === 0) return w;
  const shortStep = propagator(k, n, step).phi;
  // F = e^{Kh} − I, doubled as in `propagator`; e^{Kh} W e^{Kᵀh} = W + F W + (F W)ᵀ + F W Fᵀ.
  let f: Float64Array = shortStep;
  for (let i = 0; i < n; i += 1) f[i * n + i] = (f[i * n + i] ?? 0) - 1;
  let scratch: Float64Array = new Float64Array(size);
  for (let d = 0; d < doublings; d += 1) {
    multiply(left, f, w, n, n, n);
    for (let i = 0; i < n; i += 1) {
      for (let j = 0; j < n; j += 1) {
        let both = 0;
        for (let m = 0; m < n; m += 1) both += (left[i * n + m] ?? 0) * (f[j * n + m] ?? 0);
        scratch[i * n + j] = 2 * (w[i * n + j] ?? 0) + (left[i * n + j] ?? 0) + (left[j * n + i] ?? 0) + both;
      }
    }
    w.set(scratch);
    multiply(scratch, f, f, n, n, n);
    for (let i = 0; i < size; i += 1) scratch[i] = (scratch[i] ?? 0) + 2 * (f[i] ?? 0);
    [f, scratch] = [scratch, f];
  }
  return w;
}

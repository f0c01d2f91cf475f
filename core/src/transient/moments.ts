import { multiply } from '../linalg/dense.js';
import { CELL, LEVELS, levelsOf, type Configuration, type RunLayout } from './configuration.js';

/**
 * The second moment ∫ z zᵀ dt of a run, by configuration: every average of a product of two waveforms, powers among them, is a
 * bilinear form in it.
 *
 * While the run goes only the outer products of the states at which steps begin are added up, by configuration and length of step.
 * What a step of h makes of it, W(h) = ∫₀ʰ e^{Ks} z zᵀ e^{Kᵀs} ds, is linear in z zᵀ, so it is worked once, at the end, by
 * W(2h) = W(h) + e^{Kh} W(h) e^{Kᵀh} read backwards: exact however stiff the circuit.
 */
export class Moments {
  private readonly sums = new Map<Configuration, (Float64Array | undefined)[]>();
  /** Energy that left capacitors and inductors in jumps, by the states before and after. */
  readonly jumps: { readonly before: Float64Array; readonly after: Float64Array }[] = [];

  /**
   * @param cell s, of the grid.
   * @param counted whether anything is added up at all.
   */
  constructor(
    private readonly layout: RunLayout,
    private readonly cell: number,
    private readonly counted: boolean,
  ) {}

  /** A step of a cell over 2^level leads from a state to another. */
  add(configuration: Configuration, level: number, z: Float64Array, end: Float64Array): void {
    if (!this.counted) return;
    const { size } = this.layout;
    if (configuration.saturating.length > 0) {
      this.addBySimpson(configuration, level, z, end);
      return;
    }
    let levels = this.sums.get(configuration);
    if (!levels) {
      levels = new Array<Float64Array | undefined>(LEVELS + 1).fill(undefined);
      this.sums.set(configuration, levels);
    }
    let sum = levels[level];
    if (!sum) {
      sum = new Float64Array(size * size);
      levels[level] = sum;
    }
    addOuter(sum, z, size);
  }

  /** A step over a part of a cell, in ticks, leads on from a state. */
  addPart(configuration: Configuration, ticks: number, z: Float64Array): void {
    if (!this.counted) return;
    let parts = this.parts.get(configuration);
    if (!parts) {
      parts = new Map();
      this.parts.set(configuration, parts);
    }
    const { size } = this.layout;
    let sum = parts.get(ticks);
    if (!sum) {
      sum = new Float64Array(size * size);
      parts.set(ticks, sum);
    }
    addOuter(sum, z, size);
  }
  private readonly parts = new Map<Configuration, Map<number, Float64Array>>();

  /** With saturation a step is no linear map: its moment by Simpson's rule, the middle from a step of half the length. */
  private addBySimpson(configuration: Configuration, level: number, z: Float64Array, end: Float64Array): void {
    const { size } = this.layout;
    let sum = this.direct.get(configuration);
    if (!sum) {
      sum = new Float64Array(size * size);
      this.direct.set(configuration, sum);
    }
    const h = this.cell / 2 ** level;
    const middle = configuration.middle(z, level);
    for (let i = 0; i < size; i += 1)
      for (let j = 0; j <= i; j += 1)
        sum[i * size + j] =
          (sum[i * size + j] as number) +
          (h / 6) *
            ((z[i] as number) * (z[j] as number) +
              4 * (middle[i] as number) * (middle[j] as number) +
              (end[i] as number) * (end[j] as number));
  }
  private readonly direct = new Map<Configuration, Float64Array>();

  jump(before: Float64Array, after: Float64Array): void {
    this.jumps.push({ before: before.slice(), after: after.slice() });
  }

  /** ∫ z zᵀ dt in each configuration, size × size. */
  integrals(): ReadonlyMap<Configuration, Float64Array> {
    this.known ??= new Map([
      ...[...new Set([...this.sums.keys(), ...this.parts.keys()])].map(
        (configuration) =>
          [configuration, this.integral(configuration, this.byLevel(configuration), this.cell)] as const,
      ),
      ...[...this.direct].map(([configuration, lower]) => {
        const whole = new Float64Array(lower.length);
        addSymmetric(whole, lower, this.layout.size);
        return [configuration, whole] as const;
      }),
    ]);
    return this.known;
  }
  private known: ReadonlyMap<Configuration, Float64Array> | undefined;

  /** What was added up by level, with the parts taken apart into theirs: each begins at the state that the one before leads to. */
  private byLevel(configuration: Configuration): readonly (Float64Array | undefined)[] {
    const { size } = this.layout;
    const levels = [...(this.sums.get(configuration) ?? [])];
    for (const [ticks, sum] of this.parts.get(configuration) ?? []) {
      let here: Float64Array = new Float64Array(size * size);
      addSymmetric(here, sum, size);
      for (const level of levelsOf(ticks)) {
        levels[level] = addLower(levels[level] ?? new Float64Array(size * size), here, size);
        const both = withStepBehind(here, configuration.steps[level] as Float64Array, size);
        here = both.map((value, at) => value - (here[at] as number));
      }
    }
    return levels;
  }

  private integral(
    configuration: Configuration,
    levels: readonly (Float64Array | undefined)[],
    cell: number,
  ): Float64Array {
    const { size } = this.layout;
    let sum: Float64Array = new Float64Array(size * size);
    for (let level = 0; level <= LEVELS; level += 1) {
      if (level > 0) sum = withStepBehind(sum, configuration.steps[level] as Float64Array, size);
      const own = levels[level];
      if (own) addSymmetric(sum, own, size);
    }
    return overTick(sum, configuration.dynamics, size, cell / CELL);
  }
}

/** sum += z zᵀ, its lower triangle. */
function addOuter(sum: Float64Array, z: Float64Array, size: number): void {
  for (let i = 0; i < size; i += 1) {
    const left = z[i] as number;
    if (left === 0) continue;
    for (let j = 0, at = i * size; j <= i; j += 1, at += 1) sum[at] = (sum[at] as number) + left * (z[j] as number);
  }
}

/** The lower triangle of a matrix with that of a symmetric one added. */
function addLower(lower: Float64Array, symmetric: Float64Array, size: number): Float64Array {
  const out = lower.slice();
  for (let i = 0; i < size; i += 1)
    for (let j = 0, at = i * size; j <= i; j += 1, at += 1) out[at] = (out[at] as number) + (symmetric[at] as number);
  return out;
}

/** target += the symmetric matrix of which `lower` holds the lower triangle. */
function addSymmetric(target: Float64Array, lower: Float64Array, size: number): void {
  for (let i = 0; i < size; i += 1)
    for (let j = 0; j <= i; j += 1) {
      const value = lower[i * size + j] as number;
      target[i * size + j] = (target[i * size + j] as number) + value;
      if (j < i) target[j * size + i] = (target[j * size + i] as number) + value;
    }
}

/** S + e^{Kh} S e^{Kᵀh}: what begins at the start of a step, and at its middle. */
function withStepBehind(s: Float64Array, step: Float64Array, size: number): Float64Array {
  // Rows of sources that stand still are not kept with the step: they are zero.
  const f = new Float64Array(size * size);
  f.set(step);
  const fs = multiply(new Float64Array(size * size), f, s, size, size, size);
  const out = new Float64Array(size * size);
  for (let i = 0; i < size; i += 1)
    for (let j = 0; j < size; j += 1) {
      let both = 0;
      for (let m = 0; m < size; m += 1) both += (fs[i * size + m] as number) * (f[j * size + m] as number);
      out[i * size + j] =
        2 * (s[i * size + j] as number) + (fs[i * size + j] as number) + (fs[j * size + i] as number) + both;
    }
  return out;
}

/** Terms of the series over the shortest step. */
const TERMS = 8;
/** Norm of K·h below which they are exact to rounding. */
const SHORT = 0.05;

/** ∫₀ʰ e^{Ks} S e^{Kᵀs} ds, halving h until a short series serves. */
function overTick(s: Float64Array, k: Float64Array, size: number, h: number): Float64Array {
  let norm = 0;
  for (let i = 0; i < size; i += 1) {
    let row = 0;
    for (let j = 0; j < size; j += 1) row += Math.abs(k[i * size + j] as number);
    norm = Math.max(norm, row);
  }
  const halvings = Math.min(60, Math.max(0, Math.ceil(Math.log2((norm * h) / SHORT))));
  const step = h / 2 ** halvings;
  // Short steps first: W of the shortest, then doubled.
  let w = series(s, k, size, step);
  if (halvings === 0) return w;
  let f = excessOf(k, size, step);
  for (let d = 0; d < halvings; d += 1) {
    w = doubled(w, f, size);
    const ff = multiply(new Float64Array(size * size), f, f, size, size, size);
    f = f.map((value, at) => 2 * value + (ff[at] as number));
  }
  return w;
}

/** W + e^{Kh} W e^{Kᵀh} */
function doubled(w: Float64Array, f: Float64Array, size: number): Float64Array {
  return withStepBehind(w, f, size);
}

/** h S + h²/2 (K S + S Kᵀ) + …: each term is the one before in the bracket X → K X + X Kᵀ, times h over its number. */
function series(s: Float64Array, k: Float64Array, size: number, h: number): Float64Array {
  let term = s.map((value) => value * h);
  const out = term.slice();
  for (let n = 2; n <= TERMS; n += 1) {
    const ks = multiply(new Float64Array(size * size), k, term, size, size, size);
    term = ks.map((value, at) => ((value + (ks[(at % size) * size + Math.floor(at / size)] as number)) * h) / n);
    for (let i = 0; i < out.length; i += 1) out[i] = (out[i] as number) + (term[i] as number);
  }
  return out;
}

/** e^{Kh} − I by its series. */
function excessOf(k: Float64Array, size: number, h: number): Float64Array {
  let term = k.map((value) => value * h);
  const out = term.slice();
  for (let n = 2; n <= TERMS; n += 1) {
    term = multiply(new Float64Array(size * size), term, k, size, size, size).map((value) => (value * h) / n);
    for (let i = 0; i < out.length; i += 1) out[i] = (out[i] as number) + (term[i] as number);
  }
  return out;
}

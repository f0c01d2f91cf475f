/** Windings on one core: how many, which way they are wound, and how much of a winding's flux the others take. */
export interface CoupledWindings {
  /** Self-inductance of each, H. */
  readonly inductance: number;
  readonly kind: 'none' | 'inverse' | 'direct';
  /** 0 to below 1. */
  readonly coefficient: number;
  /** Windings on the core, evenly interleaved over a period. */
  readonly windings: number;
}

/** The two inductances that a core of like windings has, H. */
export interface ModeInductances {
  /** Each winding's to what drives all of them alike: what a load step sees. */
  readonly common: number;
  /** Each winding's to what drives it otherwise than the mean of all. */
  readonly difference: number;
}

/**
 * Mutual over self-inductance of any two windings of a core. The coefficient k is the share of a winding's flux that the others take: with
 * n of them wound inversely each of the other n − 1 takes its part of it, −k / (n − 1), so that (1 − k) L leaks whatever n is; wound
 * directly all of it passes through every other, k.
 */
export const mutualCoefficient = ({
  kind,
  coefficient: k,
  windings: n,
}: Omit<CoupledWindings, 'inductance'>): number =>
  kind === 'none' || n < 2 ? 0 : kind === 'direct' ? k : -k / (n - 1);

/**
 * The inductances of the common and of the difference mode, with M between any two of n windings: L + (n − 1) M and L − M.
 *
 * Source: P.-L. Wong, P. Xu, B. Yang, F. C. Lee, Performance Improvements of Interleaving VRMs with Coupling Inductors, IEEE Trans. Power
 * Electronics 16(4), 2001, for two windings (L_eq2 = L + M); for more from the eigenvalues of the inductance matrix (derived here).
 */
export function modeInductances(of: CoupledWindings): ModeInductances {
  const { inductance: l, windings: n } = of;
  const mutual = mutualCoefficient(of) * l;
  return { common: l + (n - 1) * mutual, difference: l - mutual };
}

/**
 * Ripple of the current of each winding, peak to peak, in volt-seconds per henry of `volts` · period: A for V and s. Without losses and
 * with constant terminal voltages: every winding is driven by `volts` for the share `duty` of a period and by nothing for the rest, less
 * its mean, and di/dt = v̄ / L_common + (v − v̄) / L_difference, with v̄ the mean over the windings of the core.
 *
 * @param volts what the switch swings by, V: the input voltage of a buck.
 * @param duty 0 to 1.
 * @param period s.
 */
export function windingRipple(of: CoupledWindings, volts: number, duty: number, period: number): number {
  const { windings: n } = of;
  const { common, difference } = modeInductances(of);
  // Winding j is on from j/n to j/n + D; the first is looked at.
  const on = (j: number, at: number): number => ((at - j / n + 1) % 1 < duty ? 1 : 0);
  const edges = Array.from({ length: n }, (_, j) => [j / n, (j / n + duty) % 1])
    .flat()
    .sort((a, b) => a - b);
  const instants = [0, ...edges, 1];
  let current = 0;
  let [least, most] = [0, 0];
  for (let e = 1; e < instants.length; e += 1) {
    const [from = 0, to = 0] = [instants[e - 1], instants[e]];
    if (to - from < 1e-12) continue;
    const at = (from + to) / 2;
    let mean = 0;
    for (let j = 0; j < n; j += 1) mean += on(j, at) / n;
    current += volts * period * (to - from) * ((mean - duty) / common + (on(0, at) - mean) / difference);
    least = Math.min(least, current);
    most = Math.max(most, current);
  }
  return most - least;
}

/**
 * The inductance of an uncoupled choke with the same ripple in its winding, H: that of the steady state. Where the others drive a winding
 * up while it is off, the slope turns round within a stretch and no single inductance is meant by it; its ripple still is.
 */
export function steadyInductance(of: CoupledWindings, duty: number): number {
  return (duty * (1 - duty)) / windingRipple(of, 1, duty, 1);
}

import type { Inductor } from '../stage/partsSchema.js';
import { incrementalTable } from './incrementalTable.js';

/**
 * How the incremental inductance of a part falls with its current, with the flux linkage that follows from it. Both are even
 * and odd in the current: a core does not know its sign.
 */
export interface InductanceCurve {
  /** Incremental inductance at a current, H. */
  readonly inductance: (current: number) => number;
  /** Flux linkage at a current, V s: the integral of the inductance. */
  readonly flux: (current: number) => number;
  /** Energy held at a current, J: the integral of current times inductance. */
  readonly energy: (current: number) => number;
}

/**
 * What is left of an inductance at a share of its saturation current, L/L₀ = 1/(1 + d/(1 − d) (i/I_s)ᵖ): through its drop there, giving way
 * slowly as a powder, p about 2, or at once as a ferrite, p about 8. Common practice.
 *
 * @param drop share that is gone at the saturation current.
 */
export const keptShare = (share: number, drop: number, exponent: number): number =>
  1 / (1 + (drop / (1 - drop)) * share ** exponent);

/**
 * L(i) = L₀/(1 + (i/I₀)²), so that the flux L₀I₀·arctan(i/I₀) levels off: a soft saturation through the two points a data
 * sheet gives, the inductance at no current and its drop at the saturation current. Common practice; a table is better.
 */
function softSaturation(inductance: number, saturationCurrent: number, drop: number): InductanceCurve {
  const knee = saturationCurrent * Math.sqrt((1 - drop) / drop);
  return {
    inductance: (current) => inductance / (1 + (current / knee) ** 2),
    flux: (current) => inductance * knee * Math.atan(current / knee),
    energy: (current) => ((inductance * knee * knee) / 2) * Math.log1p((current / knee) ** 2),
  };
}

/** Straight lines between the points of a table of incremental inductance, level beyond its ends. */
function tabulated(table: readonly (readonly [number, number])[]): InductanceCurve {
  const { value, integral, energy } = incrementalTable(table);
  return { inductance: value, flux: integral, energy };
}

/** The curve of an inductor, from its table or from its saturation current and drop; undefined where neither is given. @public */
export function inductanceCurveOf(part: Inductor): InductanceCurve | undefined {
  const { inductance, inductanceCurve, saturationCurrent, saturationDrop } = part;
  if (inductanceCurve) return tabulated(inductanceCurve);
  if (saturationCurrent === undefined || saturationDrop === undefined) return undefined;
  return softSaturation(inductance, saturationCurrent, saturationDrop);
}

const MOST_STEPS = 100;
const NEAR_ENOUGH = 1e-12;

/** The value between two bounds at which a rising function crosses zero: regula falsi with the Illinois rule. */
function rootOf(rising: (x: number) => number, low: number, high: number): number {
  let below = low;
  let above = high;
  let atBelow = rising(below);
  let atAbove = rising(above);
  let last = 0;
  for (let i = 0; i < MOST_STEPS; i += 1) {
    if (above - below <= NEAR_ENOUGH * Math.max(Math.abs(above), Math.abs(below))) break;
    const x = atAbove > atBelow ? (below * atAbove - above * atBelow) / (atAbove - atBelow) : (below + above) / 2;
    const value = rising(x);
    if (value === 0 || x === below || x === above) return x;
    // An end that stays is given half its weight, so that the other end comes in too.
    if (value < 0) {
      below = x;
      atBelow = value;
      if (last < 0) atAbove /= 2;
    } else {
      above = x;
      atAbove = value;
      if (last > 0) atBelow /= 2;
    }
    last = value;
  }
  return (below + above) / 2;
}

/** Parts of a flux swing over which its average current is taken. */
const PARTS = 64;

/** Peak and valley of a saturating inductor. */
export interface SaturatedSwing {
  readonly peak: number;
  readonly valley: number;
}

/**
 * Peak and valley of the current for a swing of the flux linkage about a given average current. Where the winding sees flat
 * voltages the flux moves in straight lines, so the average current is the average over the flux, and the winding voltage
 * hardly knows of the saturation: the swing is that of the linear circuit.
 *
 * @param stopped whether the current stays at zero for part of the period (discontinuous conduction): the valley is zero then.
 */
export function saturatedSwing(
  curve: InductanceCurve,
  swing: number,
  average: number,
  stopped: boolean,
): SaturatedSwing {
  const reach = Math.abs(average) + (4 * swing) / curve.inductance(average);
  /** The current at which the flux is a swing above that of a valley. */
  const peakAbove = (valley: number): number => {
    const target = curve.flux(valley) + swing;
    let high = valley + reach;
    for (let i = 0; i < MOST_STEPS && curve.flux(high) < target && high < MOST_CURRENT; i += 1) high += high - valley;
    return rootOf((current) => curve.flux(current) - target, valley, high);
  };
  if (stopped) return { valley: 0, peak: peakAbove(0) };
  /** Average of the current over the flux, by ∫ i dλ = ∫ i L di: Simpson's rule. */
  const averageAbove = (valley: number): number => {
    const peak = peakAbove(valley);
    const step = (peak - valley) / PARTS;
    let sum = 0;
    for (let k = 0; k <= PARTS; k += 1) {
      const current = valley + k * step;
      const weight = k === 0 || k === PARTS ? 1 : k % 2 === 1 ? 4 : 2;
      sum += weight * current * curve.inductance(current);
    }
    return (sum * step) / 3 / swing;
  };
  const valley = rootOf((current) => averageAbove(current) - average, average - reach, average);
  return { valley, peak: peakAbove(valley) };
}

/** A current no converter carries, A: a flux that is not reached below it is not reached at all. */
const MOST_CURRENT = 1e7;

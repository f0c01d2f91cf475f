import type { CompleteStage } from '../stage/completeStage.js';
import { operatingPoint } from './operatingPoint.js';

/** Highest load looked at, and lowest, as multiples of the full load. */
const HIGHEST = 64;
const LOWEST = 1e-5;
const MOST_STEPS = 40;
/** Relative change of the load at which the search ends. */
const SETTLED = 1e-6;

/**
 * The load current at the border between continuous and discontinuous conduction, A. With a diode rectifier conduction is
 * discontinuous below it; in a synchronous stage the inductor current reverses below it.
 *
 * Searched on the continuous side, where the valley of the inductor current is nearly linear in the load.
 *
 * @returns 0 where conduction is continuous down to (practically) no load, undefined where no operating point is found.
 */
export function boundaryLoad(complete: CompleteStage, inputVoltage: number): number | undefined {
  const full = complete.stage.targets.outputCurrent.max;
  /** Valley of the inductor current, A; undefined where there is none above zero. */
  const valley = (current: number): number | undefined => {
    const found = operatingPoint(complete, { inputVoltage, load: { kind: 'current', current } });
    if (found.kind !== 'solved' || found.point.conductionMode === 'DCM') return undefined;
    return found.point.inductorCurrent.valley;
  };
  let above = full;
  let last = valley(above);
  while (last === undefined || last <= 0) {
    above *= 2;
    if (above > HIGHEST * full) return undefined;
    last = valley(above);
  }
  let below = 0;
  let earlier: { readonly load: number; readonly valley: number } | undefined;
  for (let step = 0; step < MOST_STEPS && above > LOWEST * full; step += 1) {
    const lowest = { load: above, valley: last };
    const slope = earlier ? (earlier.valley - lowest.valley) / (earlier.load - lowest.load) : 0;
    const extrapolated = slope > 0 ? lowest.load - lowest.valley / slope : NaN;
    const next =
      extrapolated > below && extrapolated < above ? extrapolated : below > 0 ? (below + above) / 2 : above / 2;
    if (above - next < SETTLED * above) return next;
    const found = valley(next);
    if (found === undefined || found < 0) {
      if (above - next < 1e-3 * above && Number.isFinite(extrapolated)) return extrapolated;
      below = next;
      // From just above what is known to lie below, the line through two points is nearly exact.
      const beside = next + 0.1 * (above - next);
      const again = valley(beside);
      if (again !== undefined && again >= 0) {
        earlier = lowest;
        above = beside;
        last = again;
      }
    } else {
      earlier = lowest;
      above = next;
      last = found;
    }
  }
  return above > LOWEST * full ? above : 0;
}

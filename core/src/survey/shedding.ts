import type { CompleteStage } from '../stage/completeStage.js';
import { windingsOf } from '../stage/coupling.js';
import { nominalInput } from '../stage/nominalInput.js';
import { ambientOf, loadsOf, LoadSweep } from './efficiency.js';

/** A load with all phases at work and with as many as lose least. @public */
export interface ShedPoint {
  /** A */
  readonly load: number;
  readonly active: number;
  /** W */
  readonly lossOfAll: number;
  readonly loss: number;
  readonly efficiencyOfAll: number;
  readonly efficiency: number;
}

/** Where a phase is added as the load rises, and dropped as it falls. @public */
export interface Threshold {
  readonly from: number;
  readonly to: number;
  /** A */
  readonly add: number;
  readonly drop: number;
}

/** The best number of phases at work over load. @public */
export interface Shedding {
  readonly inputVoltage: number;
  /** Loads at which all phases at work have an operating point, ascending. */
  readonly points: readonly ShedPoint[];
  readonly thresholds: readonly Threshold[];
  /** Mean over the hours at each load, W, with all at work and with as many as lose least; undefined where no hours are given, or one of their loads has no point. */
  readonly mean: { readonly lossOfAll: number; readonly loss: number } | undefined;
}

/** Hours at a share of the full load. @public */
export interface LoadShare {
  readonly share: number;
  readonly hours: number;
}

const LOADS = 18;
/** Half the distance between adding and dropping, over the load at which both lose the same. Common practice: 5 to 10 %. @public */
export const HYSTERESIS = 0.08;
const HALVINGS = 12;

/** Numbers of phases that can be at work: cores are shed whole. */
function counts({ stage: { phases, coupling } }: CompleteStage): readonly number[] {
  const together = coupling.kind === 'none' ? 1 : windingsOf(phases, coupling.core);
  return Array.from({ length: phases / together }, (_, k) => together * (k + 1));
}

/**
 * How many phases should be at work over load at the nominal input: those that lose least, none of them carrying more than its share
 * of full load with all at work. A phase that rests loses nothing; those at work are interleaved evenly among themselves.
 *
 * @param profile hours at shares of the full load, over which the gain is averaged.
 * @returns the words for why there is nothing to shed.
 * @public
 */
export function shedding(complete: CompleteStage, profile: readonly LoadShare[] = []): Shedding | string {
  const { stage } = complete;
  const numbers = counts(complete);
  if (numbers.length < 2)
    return stage.phases < 2
      ? 'A single phase cannot be shed.'
      : 'All phases share a core: none of them can rest by itself.';
  const inputVoltage = nominalInput(stage);
  const ambient = ambientOf(complete);
  const full = stage.targets.outputCurrent.max;
  const carries = (active: number): number => (full * active) / stage.phases;
  const sweeps = new Map(
    numbers.map((active) => {
      const at = { ...complete, stage: { ...stage, phases: active } };
      return [active, new LoadSweep(at, stage.operatingMode, inputVoltage, ambient)] as const;
    }),
  );
  const lossOf = (active: number, load: number): number =>
    load > carries(active) * (1 + 1e-9) ? Infinity : (sweeps.get(active)?.at(load)?.point.losses['total'] ?? Infinity);
  const best = (load: number): { readonly active: number; readonly loss: number } =>
    numbers.map((active) => ({ active, loss: lossOf(active, load) })).reduce((a, b) => (b.loss < a.loss ? b : a));
  const efficiency = (load: number, loss: number): number => {
    const power = Math.abs(stage.targets.outputVoltage) * load;
    return power / (power + loss);
  };
  const at = (load: number): ShedPoint | undefined => {
    const { active, loss } = best(load);
    const lossOfAll = active === stage.phases ? loss : lossOf(stage.phases, load);
    if (!Number.isFinite(lossOfAll)) return undefined;
    const [efficiencyOfAll, efficient] = [efficiency(load, lossOfAll), efficiency(load, loss)];
    return { load, active, lossOfAll, loss, efficiencyOfAll, efficiency: efficient };
  };
  // From full load down, as far as each leads to the next.
  const points = [...loadsOf(complete, LOADS)].reverse().flatMap((load) => at(load) ?? []);
  points.reverse();
  if (points.length === 0) return 'The stage has no operating point at any load.';
  const thresholds: Threshold[] = [];
  for (let k = 1; k < points.length; k += 1) {
    const [below, above] = [points[k - 1], points[k]];
    if (!below || !above || above.active <= below.active) continue;
    // Several may be added between two loads looked at: each where it begins to pay.
    for (let n = numbers.indexOf(below.active); n < numbers.indexOf(above.active); n += 1) {
      const [from = 1, to = 1] = [numbers[n], numbers[n + 1]];
      let [low, high] = [Math.max(thresholds.at(-1)?.add ?? 0, below.load), above.load];
      for (let h = 0; h < HALVINGS; h += 1) {
        const middle = (low + high) / 2;
        if (lossOf(from, middle) <= lossOf(to, middle)) low = middle;
        else high = middle;
      }
      const even = (low + high) / 2;
      // None is kept at work beyond what it carries.
      thresholds.push({
        from,
        to,
        add: Math.min(even * (1 + HYSTERESIS), carries(from)),
        drop: even * (1 - HYSTERESIS),
      });
    }
  }
  return { inputVoltage, points, thresholds, mean: meanOf(profile, (share) => at(share * full)) };
}

/** Losses averaged over the hours at each share of the load. */
function meanOf(profile: readonly LoadShare[], at: (share: number) => ShedPoint | undefined): Shedding['mean'] {
  const total = profile.reduce((sum, { hours }) => sum + hours, 0);
  if (total <= 0) return undefined;
  let [lossOfAll, loss] = [0, 0];
  for (const { share, hours } of profile) {
    if (hours === 0) continue;
    const point = at(share);
    if (!point) return undefined;
    lossOfAll += (point.lossOfAll * hours) / total;
    loss += (point.loss * hours) / total;
  }
  return { lossOfAll, loss };
}

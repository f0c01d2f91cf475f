import type { CompleteStage } from '../stage/completeStage.js';
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
  readonly points: readonly ShedPoint[];
  readonly thresholds: readonly Threshold[];
}

const LOADS = 18;
/** Half the distance between adding and dropping, over the load at which both lose the same. Common practice: 5 to 10 %. */
const HYSTERESIS = 0.08;
const HALVINGS = 12;

/** Numbers of phases that can be at work: cores are shed whole. */
function counts({ stage: { phases, coupling } }: CompleteStage): readonly number[] {
  const together = coupling.kind === 'none' ? 1 : coupling.core === 'all' ? phases : 2;
  return Array.from({ length: phases / together }, (_, k) => together * (k + 1));
}

/**
 * How many phases should be at work over load at the nominal input: those that lose least, none of them carrying more than its share
 * of full load with all at work. A phase that rests loses nothing; those at work are interleaved evenly among themselves.
 *
 * @returns the words for why there is nothing to shed.
 * @public
 */
export function shedding(complete: CompleteStage): Shedding | string {
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
  const points = [...loadsOf(complete, LOADS)].reverse().map((load): ShedPoint => {
    const { active, loss } = best(load);
    const lossOfAll = active === stage.phases ? loss : lossOf(stage.phases, load);
    return {
      load,
      active,
      lossOfAll,
      loss,
      efficiencyOfAll: efficiency(load, lossOfAll),
      efficiency: efficiency(load, loss),
    };
  });
  points.reverse();
  const thresholds: Threshold[] = [];
  for (let k = 1; k < points.length; k += 1) {
    const [below, above] = [points[k - 1], points[k]];
    if (!below || !above || above.active <= below.active) continue;
    // Several may be added between two loads looked at: each where it begins to pay.
    for (let n = numbers.indexOf(below.active); n < numbers.indexOf(above.active); n += 1) {
      const [from = 1, to = 1] = [numbers[n], numbers[n + 1]];
      let [low, high] = [thresholds.at(-1)?.add ?? below.load, above.load];
      low = Math.max(low, below.load);
      for (let h = 0; h < HALVINGS; h += 1) {
        const middle = (low + high) / 2;
        if (lossOf(from, middle) <= lossOf(to, middle)) low = middle;
        else high = middle;
      }
      const at = (low + high) / 2;
      // None is kept at work beyond what it carries.
      thresholds.push({ from, to, add: Math.min(at * (1 + HYSTERESIS), carries(from)), drop: at * (1 - HYSTERESIS) });
    }
  }
  return { inputVoltage, points, thresholds };
}

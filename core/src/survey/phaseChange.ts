import type { OperatingCondition } from '../powerstage/powerStage.js';
import { phasesAtWork } from '../stage/coupling.js';
import type { CompleteStage } from '../stage/completeStage.js';
import type { Scenario } from '../transient/scenario.js';
import { simulate } from '../transient/simulate.js';
import type { Waveforms } from '../transient/recorder.js';

/** What changing the number of phases at work does to the output, simulated. @public */
export interface PhaseChange {
  readonly from: number;
  readonly to: number;
  /** A */
  readonly load: number;
  /** V, how far the output goes below and above what its ripple reached before and reaches in the end. */
  readonly below: number;
  readonly above: number;
  /** s until the least loaded phase at work carries nine tenths of its share, over a clock period; undefined where none does while it is watched. */
  readonly shared: number | undefined;
  readonly waveforms: Waveforms;
  /** s, of the change. */
  readonly at: number;
}

/** Clock periods in which those that were shed come to rest, and for which the change is watched; and how many of them at most. */
const PERIODS = 300;
const MOST_PERIODS = 2700;
/** Share of what the change does by which the output may still move before it. */
const RESTED = 0.1;
/** Periods whose ripple is what the output does at rest. */
const AT_REST = 20;
const SHARED = 0.9;

/**
 * The output as the number of phases at work changes, at a constant load, from a settled stage: the loop and the controller as they are,
 * clocks spread evenly among those at work at once, a phase that comes in starting without current.
 *
 * @param inputVoltage V.
 * @returns the words for why it cannot be simulated.
 * @public
 */
export function phaseChange(
  complete: CompleteStage,
  inputVoltage: number,
  load: number,
  { from, to }: { readonly from: number; readonly to: number },
): PhaseChange | string {
  const { clock } = complete;
  const condition: OperatingCondition = { inputVoltage, load: { kind: 'current', current: load } };
  const changedAfter = (periods: number): Watched | string => {
    const at = periods / clock;
    const scenario: Scenario = {
      start: 'settled',
      happenings: [
        { kind: 'phases', at: 0, working: from },
        { kind: 'phases', at, working: to },
      ],
      cycles: 2 * periods,
    };
    const run = simulate(complete, condition, scenario);
    if (run.kind === 'failed') return run.reason;
    const { waveforms } = run;
    const rest = AT_REST / clock;
    const before = reached(waveforms, at - rest, at);
    const after = reached(waveforms, at, 2 * at);
    const last = reached(waveforms, 2 * at - rest, 2 * at);
    const below = Math.max(0, Math.min(before.least, last.least) - after.least);
    const above = Math.max(0, after.most - Math.max(before.most, last.most));
    const earlier = reached(waveforms, at - 2 * rest, at - rest);
    const moving = Math.abs(before.least - earlier.least) + Math.abs(before.most - earlier.most);
    return { at, below, above, waveforms, rested: moving < RESTED * (below + above) };
  };
  let watched = changedAfter(PERIODS);
  // A slow loop takes longer to come to rest.
  for (
    let periods = 3 * PERIODS;
    typeof watched !== 'string' && !watched.rested && periods <= MOST_PERIODS;
    periods *= 3
  )
    watched = changedAfter(periods);
  if (typeof watched === 'string') return watched;
  const { at, below, above, waveforms } = watched;
  const shared = sharedAfter(waveforms, {
    from: at,
    period: 1 / clock,
    working: phasesAtWork(complete.stage, to) ?? [],
  });
  return { from, to, load, below, above, shared, waveforms, at };
}

/** A change that was watched, and whether the stage had come to rest before it. */
type Watched = Pick<PhaseChange, 'at' | 'below' | 'above' | 'waveforms'> & { readonly rested: boolean };

/** Least and greatest output, by magnitude, from one time to another. */
function reached(
  { time, signals }: Waveforms,
  from: number,
  to: number,
): { readonly least: number; readonly most: number } {
  const [output] = signals;
  let [least, most] = [Infinity, -Infinity];
  time.forEach((at, i) => {
    if (at < from || at > to) return;
    // A negative output is drawn as it is: its magnitude counts.
    const [low = NaN, high = NaN] = [output?.least[i], output?.most[i]]
      .map((value) => Math.abs(value ?? NaN))
      .sort((a, b) => a - b);
    least = Math.min(least, low);
    most = Math.max(most, high);
  });
  return { least, most };
}

/** s from the change until each phase at work carries its share; undefined where they do not while they are watched. */
function sharedAfter(
  { time, signals }: Waveforms,
  { from, period, working }: { readonly from: number; readonly period: number; readonly working: readonly number[] },
): number | undefined {
  const all = signals.filter(({ name }) => name.startsWith('inductor current'));
  const currents = all.filter((_, k) => working.includes(k));
  const periods = Math.floor(((time.at(-1) ?? 0) - from) / period + 1e-6);
  let k = time.findIndex((at) => at >= from);
  for (let p = 0; p < periods && k >= 0; p += 1) {
    const areas = currents.map(() => 0);
    let span = 0;
    for (; k + 1 < time.length && (time[k] as number) < from + (p + 1) * period; k += 1) {
      const h = (time[k + 1] as number) - (time[k] as number);
      span += h;
      // By trapezia between points: currents are nearly straight there.
      currents.forEach(
        ({ most }, c) => (areas[c] = (areas[c] ?? 0) + (h * ((most[k] as number) + (most[k + 1] as number))) / 2),
      );
    }
    const means = areas.map((area) => Math.abs(area) / span);
    const total = means.reduce((sum, one) => sum + one, 0);
    const share = total / working.length;
    if (means.every((one) => one >= SHARED * share)) return (p + 1) * period;
  }
  return undefined;
}

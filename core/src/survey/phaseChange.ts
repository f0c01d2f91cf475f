import type { OperatingCondition } from '../powerstage/powerStage.js';
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

/** Clock periods in which the phases that rest come to rest, and for which the change is watched. */
const BEFORE = 300;
const AFTER = 300;
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
  const at = BEFORE / clock;
  const condition: OperatingCondition = { inputVoltage, load: { kind: 'current', current: load } };
  const scenario: Scenario = {
    start: 'settled',
    happenings: [
      { kind: 'phases', at: 0, working: from },
      { kind: 'phases', at, working: to },
    ],
    cycles: BEFORE + AFTER,
  };
  const run = simulate(complete, condition, scenario);
  if (run.kind === 'failed') return run.reason;
  const { waveforms } = run;
  const rest = AT_REST / clock;
  const end = (BEFORE + AFTER) / clock;
  const before = reached(waveforms, at - rest, at);
  const after = reached(waveforms, at, end);
  const last = reached(waveforms, end - rest, end);
  return {
    from,
    to,
    load,
    below: Math.max(0, Math.min(before.least, last.least) - after.least),
    above: Math.max(0, after.most - Math.max(before.most, last.most)),
    shared: sharedAfter(waveforms, { from: at, period: 1 / clock, working: to, load: Math.abs(load) }),
    waveforms,
    at,
  };
}

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
  {
    from,
    period,
    working,
    load,
  }: { readonly from: number; readonly period: number; readonly working: number; readonly load: number },
): number | undefined {
  const currents = signals.filter(({ name }) => name.startsWith('inductor current')).slice(0, working);
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
    const share = (load > 0 ? total : NaN) / working;
    if (means.every((one) => one >= SHARED * share)) return (p + 1) * period;
  }
  return undefined;
}

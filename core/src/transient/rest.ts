import type { OperatingCondition } from '../powerstage/powerStage.js';
import { LOAD_TEST } from '../smallsignal/loopCircuit.js';
import { Run, type RunSnapshot, type RunStart } from './run.js';
import type { Scenario } from './scenario.js';
import { settledStart, type SettledStart } from './settled.js';
import { unloaded, type SimulatedStage } from './simulatedStage.js';

/** Clock periods within which a stage may settle: one whose steady state was found, and one that starts near it at best. */
const MOST_SETTLING = { exact: 400, near: 1000 };
/** Relative change of the states from clock to clock at which it has: what the tick leaves of a turn-off is a tenth of it. */
const SETTLED = 1e-6;

/** A stage at rest as its clock comes: where a run starts, and the last period before it. */
export interface Rest {
  readonly start: RunStart;
  readonly snapshot: RunSnapshot;
  /** V, of the output, by magnitude. */
  readonly average: number;
  /** Whether the stage repeats itself from clock to clock. */
  readonly periodic: boolean;
}

/** Stages brought to rest, by condition: a step is looked at from eight instants of one. */
const known = new WeakMap<SimulatedStage, Map<string, Rest | string>>();

/**
 * A stage brought to rest, or what keeps it from it.
 *
 * @param settling clock periods it may take.
 */
export function restOfStage(
  drawn: SimulatedStage,
  condition: OperatingCondition,
  scenario: Scenario,
  settling: number | undefined,
): Rest | string {
  const rests = known.get(drawn) ?? new Map<string, Rest | string>();
  known.set(drawn, rests);
  const key = JSON.stringify([condition.load, settling]);
  const kept = rests.get(key) ?? broughtToRest(drawn, condition, scenario, settling);
  rests.set(key, kept);
  return kept;
}

function broughtToRest(
  drawn: SimulatedStage,
  condition: OperatingCondition,
  scenario: Scenario,
  settling: number | undefined,
): Rest | string {
  const { fixedDuty } = scenario;
  const found = settledStart(drawn, condition, fixedDuty);
  if (typeof found === 'string') return found;
  const carried = unloaded(condition, scenario) !== condition && condition.load.kind === 'current';
  const start: RunStart = {
    ...found.start,
    onTime: found.onTime,
    fixedDuty,
    ...(carried && { sources: { [LOAD_TEST]: drawn.sign * condition.load.current } }),
  };
  const run = new Run(drawn, start, { step: () => undefined }, false);
  const last = settle(run, found, settling);
  return { start, snapshot: run.snapshot(), ...last };
}

/** Let a run go on until it repeats itself. Returns its average output over the last period, and whether it does. */
function settle(
  run: Run,
  { exact }: SettledStart,
  settling: number | undefined,
): { readonly average: number; readonly periodic: boolean } {
  const { drawn } = run;
  const { integral } = run.layout;
  const most = settling ?? (exact ? MOST_SETTLING.exact : MOST_SETTLING.near);
  // Steps count, not periods alone: far in saturation a period takes hundreds of times as many.
  const patience = most * run.cells * 2;
  let periodic = false;
  let average = 0;
  for (let cycle = 0; cycle < most && run.steps < patience && !periodic; cycle += 1) {
    const before = run.z.slice(0, drawn.order);
    const from = run.tick;
    const area = run.z[integral] as number;
    if (drawn.decides === 'turn-on') {
      // From turn-on to turn-on; where none comes the clock has to do.
      run.settle();
      run.advance(run.tick + 1);
      run.advanceToBegin(from + 64 * run.period);
    } else run.advance(from + run.period);
    average = ((run.z[integral] as number) - area) / ((run.tick - from) * run.tickTime);
    periodic = differ(run.z, before) <= SETTLED;
  }
  return { average: drawn.sign * average, periodic };
}

/** The largest difference of two states of the circuit, relative to the largest of them. */
function differ(z: Float64Array, other: Float64Array): number {
  let change = 0;
  let size = 1e-12;
  for (let i = 0; i < other.length; i += 1) {
    change = Math.max(change, Math.abs((z[i] as number) - (other[i] as number)));
    size = Math.max(size, Math.abs(z[i] as number));
  }
  return change / size;
}

/** A stage has come to rest when for so many clocks in a row … */
const QUIET_CLOCKS = 30;
/** … its states have been no further from their rest than this, relative to the largest, and … */
const QUIET_STATES = 3e-3;
/** … its output, averaged over the period, no further than this share of its tolerance. */
const QUIET_OUTPUT = 0.2;

/**
 * Sees at each clock whether a run has come to a rest: the output deep in its tolerance and all states near theirs for many clocks, so
 * that neither a slow oscillation on its way through zero nor a slow mode that has yet to show at the output is taken for it.
 *
 * @param tolerance of the output, V.
 */
export function restWatch(run: Run, { snapshot, average }: Rest, tolerance: number): () => boolean {
  const { integral } = run.layout;
  const states = snapshot.z.subarray(0, run.drawn.order);
  let quiet = 0;
  let area = NaN;
  return () => {
    const before = area;
    area = run.z[integral] as number;
    const off = Math.abs((run.drawn.sign * (area - before)) / (run.period * run.tickTime) - average);
    const stands = off <= QUIET_OUTPUT * tolerance && differ(run.z, states) <= QUIET_STATES;
    quiet = stands ? quiet + 1 : 0;
    return quiet >= QUIET_CLOCKS;
  };
}

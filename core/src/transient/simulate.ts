import { bilinear } from '../linalg/dense.js';
import { LOAD_TEST } from '../smallsignal/loopCircuit.js';
import type { OperatingCondition } from '../powerstage/powerStage.js';
import type { CompleteStage } from '../stage/completeStage.js';
import { LEVELS, type Configuration } from './configuration.js';
import { energyBalance, type EnergyBalance } from './energy.js';
import { averageBetween, firstAbove, KeptOutput, lastOutside, type TransientMeasures } from './measures.js';
import { Recorder, type Kept, type Occurrence, type Waveforms } from './recorder.js';
import { Run, StalledRun, type RunStart, type RunWatch } from './run.js';
import type { Happening, Scenario } from './scenario.js';
import { settledStart, zeroStart, type SettledStart } from './settled.js';
import { asSimulated, SHORT, simulatedStage, type SimulatedStage } from './simulatedStage.js';

/** Clock periods within which a stage may settle: one whose steady state was found, and one that starts near it at best. */
const MOST_SETTLING = { exact: 400, near: 1000 };
/** Relative change of the states from clock to clock at which it has: what the tick leaves of a turn-off is a tenth of it. */
const SETTLED = 1e-6;

/** A run and what it showed. @public */
export interface SimulatedRun {
  readonly kind: 'run';
  readonly measures: TransientMeasures;
  readonly energy: EnergyBalance;
  readonly waveforms: Waveforms;
  readonly occurrences: readonly Occurrence[];
  /** Whether the stage repeated itself from clock to clock before time 0. */
  readonly settled: boolean;
  /** Changes of switches, diodes and amplifier. */
  readonly changes: number;
}

/** @public */
export type SimulationResult = SimulatedRun | { readonly kind: 'failed'; readonly reason: string };

/** What a caller may ask of a run. @public */
export interface SimulationOptions {
  /** Called now and then with the share that is done; ends the run where it returns false. */
  readonly progress?: ((share: number) => boolean) | undefined;
  /** Without it energies, losses and inrush are not added up, and are zero. */
  readonly energy?: boolean | undefined;
  /** Clock periods that a stage may take to settle before time 0. */
  readonly settling?: number | undefined;
}

/** A watch that hands on to whichever is set. */
class Relay implements RunWatch {
  to: RunWatch | undefined;
  step: RunWatch['step'] = (...told) => this.to?.step(...told);
  changed = (run: Run): void => this.to?.changed?.(run);
  pulse: NonNullable<RunWatch['pulse']> = (...told) => this.to?.pulse?.(...told);
}

/** Cancelled from outside. */
class Cancelled extends Error {}

/**
 * Simulate a stage with its controller through a scenario, switch by switch. It is the circuit that the loop and the netlist draw;
 * definitions of the figures are those of the stage file's `simulate`.
 *
 * @public
 */
export function simulate(
  complete: CompleteStage,
  condition: OperatingCondition,
  scenario: Scenario,
  options: SimulationOptions = {},
): SimulationResult {
  try {
    return simulated(asSimulated(complete), condition, scenario, options);
  } catch (error) {
    if (error instanceof StalledRun) return { kind: 'failed', reason: error.message };
    if (error instanceof Cancelled) return { kind: 'failed', reason: 'the run was stopped' };
    throw error;
  }
}

function simulated(
  complete: CompleteStage,
  condition: OperatingCondition,
  scenario: Scenario,
  options: SimulationOptions,
): SimulationResult {
  const drawn = simulatedStage(complete, condition, scenario);
  if (typeof drawn === 'string') return { kind: 'failed', reason: drawn };
  const relay = new Relay();
  const begun =
    scenario.start === 'zero' ? fromZero(drawn, scenario, relay) : atRest(drawn, condition, scenario, relay, options);
  if (typeof begun === 'string') return { kind: 'failed', reason: begun };
  const { run, before } = begun;
  run.counted = options.energy !== false;
  run.restart();
  const recorder = watched(run, drawn, scenario);
  relay.to = recorder;
  const first = run.z.slice();
  const moments = { first: run.moments, half: undefined as Run['moments'] | undefined };
  play(run, scenario, options, () => {
    moments.half = run.splitMoments();
  });
  return report(run, { drawn, recorder, before, first, firstMoments: moments.first });
}

/** A run at its time 0, and what came before. */
interface Begun {
  readonly run: Run;
  readonly before: Before | undefined;
}

/** The last period before time 0: its average output, and whether the stage repeats itself. */
interface Before {
  readonly average: number;
  readonly periodic: boolean;
}

function fromZero(drawn: SimulatedStage, { fixedDuty }: Scenario, relay: Relay): Begun {
  const { start, onTime } = zeroStart(drawn);
  return { run: new Run(drawn, { ...start, onTime, fixedDuty }, relay), before: undefined };
}

/** Stages brought to rest, by condition: a step is looked at from eight instants of one. */
const rested = new WeakMap<CompleteStage, Map<string, { readonly rest: RunStart; readonly before: Before }>>();

/** A run of a stage that has settled. */
function atRest(
  drawn: SimulatedStage,
  condition: OperatingCondition,
  { fixedDuty }: Scenario,
  relay: Relay,
  options: SimulationOptions,
): Begun | string {
  const known = rested.get(drawn.complete) ?? new Map<string, { rest: RunStart; before: Before }>();
  rested.set(drawn.complete, known);
  const key = JSON.stringify([condition, fixedDuty, options.settling]);
  const kept = known.get(key);
  if (kept) return { run: new Run(drawn, kept.rest, relay, false), before: kept.before };
  const start = settledStart(drawn, condition, fixedDuty);
  if (typeof start === 'string') return start;
  const { onTime } = start;
  const run = new Run(drawn, { ...start.start, onTime, fixedDuty }, relay, false);
  const before = settle(run, drawn, relay, start, options);
  const running = run.phases.map(({ on, clock }) => ({ on, sinceClock: (run.tick - clock) * run.tickTime }));
  known.set(key, {
    rest: {
      x: run.z.slice(0, drawn.order),
      running,
      amplifier: run.amplifier,
      atWork: true,
      onTime,
      fixedDuty,
    },
    before,
  });
  return { run, before };
}

/** Bring a stage to rest before time 0. Returns its average output over the last period, and whether it repeats itself. */
function settle(
  run: Run,
  drawn: SimulatedStage,
  relay: Relay,
  { exact }: SettledStart,
  { settling }: SimulationOptions,
): Before {
  const { integral } = run.layout;
  relay.to = undefined;
  const most = settling ?? (exact ? MOST_SETTLING.exact : MOST_SETTLING.near);
  let periodic = false;
  let average = 0;
  // Steps count, not periods alone: far in saturation a period takes hundreds of times as many.
  const patience = most * run.cells * 2;
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
    let change = 0;
    let size = 1e-12;
    for (let i = 0; i < drawn.order; i += 1) {
      change = Math.max(change, Math.abs((run.z[i] as number) - (before[i] as number)));
      size = Math.max(size, Math.abs(run.z[i] as number));
    }
    periodic = change <= SETTLED * size;
  }
  return { average: drawn.sign * average, periodic };
}

/** Signals kept before those of the inductors. */
const BEFORE_INDUCTORS = 2;

/** What of a run is kept for pictures. */
function keptSignals({ powerStage, sign, controller, phases }: SimulatedStage): readonly Kept[] {
  const sum = (configuration: Configuration): Float64Array => {
    const row = new Float64Array(configuration.node(powerStage.outputNode).length);
    for (const name of ['load', LOAD_TEST, 'loadSlope', SHORT])
      configuration.current(name).forEach((value, i) => (row[i] = (row[i] as number) + sign * value));
    return row;
  };
  return [
    { name: 'output voltage', unit: 'V', row: (c) => c.node(powerStage.outputNode) },
    { name: 'load current', unit: 'A', row: sum },
    ...phases.map(({ inductor }, k): Kept => ({
      name: phases.length === 1 ? 'inductor current' : `inductor current ${String(k + 1)}`,
      unit: 'A',
      row: (c) => c.current(inductor),
    })),
    ...(controller
      ? [{ name: 'control voltage', unit: 'V' as const, row: (c: Configuration) => c.node(controller.controlNode) }]
      : []),
    { name: 'input current', unit: 'A', row: (c) => c.current(powerStage.elements.source).map((value) => -value) },
    { name: 'switch node', unit: 'V', row: (c) => c.node(powerStage.switchNode) },
  ];
}

/** Level of the step, some tenths of a nanosecond, over which an edge of ideal switches is no waveform of a real stage. */
const EDGE = 8;

/**
 * After which step a change is looked at. Where every capacitor at the output has a series inductance, a current that changes at once has
 * nowhere to go for an instant but the divider: a spike of kilovolts and femtoseconds that no real edge, which takes nanoseconds, would
 * show. Elsewhere the tick will do.
 */
function lookedAtAfter({ complete }: SimulatedStage): number {
  const banks = complete.stage.parts.outputFilter?.capacitors ?? complete.outputCapacitors;
  return banks.every(({ esl }) => esl > 0) ? EDGE : LEVELS;
}

function watched(run: Run, drawn: SimulatedStage, { cycles }: Scenario): Recorder {
  return new Recorder(
    drawn.sign,
    keptSignals(drawn),
    { from: BEFORE_INDUCTORS, to: BEFORE_INDUCTORS + drawn.phases.length },
    (cycles * run.period) / 2,
    cycles * (run.cells + 8 * drawn.phases.length),
    run.layout.size,
    lookedAtAfter(drawn),
  );
}

/** Let everything happen at its time. */
function play(run: Run, { happenings, cycles }: Scenario, { progress }: SimulationOptions, atHalf: () => void): void {
  const end = cycles * run.period;
  const ticksOf = (at: number): number => Math.min(end, Math.max(0, Math.round(at / run.tickTime)));
  const events = [...happenings].sort((a, b) => a.at - b.at);
  const stops = [
    ...events.map((one) => ({ tick: ticksOf(one.at), act: () => happen(run, one) })),
    { tick: Math.round(end / 2), act: atHalf },
  ].sort((a, b) => a.tick - b.tick);
  if (stops[0]?.tick !== 0) run.settle();
  const slice = Math.max(run.period, Math.round(end / 100 / run.period) * run.period);
  const goTo = (tick: number): void => {
    while (run.tick < tick) {
      run.advance(Math.min(tick, run.tick + slice));
      if (progress && !progress(run.tick / end)) throw new Cancelled();
    }
  };
  for (const { tick, act } of stops) {
    goTo(tick);
    act();
  }
  goTo(end);
}

/** An event of the scenario, with what it changes at once. */
function happen(run: Run, happening: Happening): void {
  const { drawn } = run;
  switch (happening.kind) {
    case 'load': {
      const { by, slewRate } = happening;
      const within = slewRate === undefined ? 0 : Math.abs(by) / slewRate;
      run.moveSource(LOAD_TEST, run.sourceTarget(LOAD_TEST) + drawn.sign * by, within);
      break;
    }
    case 'line':
      run.moveSource('source', run.sourceTarget('source') + happening.by, happening.within ?? 0);
      break;
    case 'short': {
      run.shorted = happening.resistance !== undefined;
      if (run.layout.moving.includes('load')) run.moveSource('load', run.shorted ? 0 : run.sourceAtRest('load'));
      break;
    }
  }
  run.settle();
}

interface Finished {
  readonly drawn: SimulatedStage;
  readonly recorder: Recorder;
  readonly before: Before | undefined;
  readonly first: Float64Array;
  readonly firstMoments: Run['moments'];
}

function report(run: Run, { drawn, recorder, before, first, firstMoments }: Finished): SimulatedRun {
  const { stage } = drawn.complete;
  const period = run.period * run.tickTime;
  const end = run.tick * run.tickTime;
  const halves = [firstMoments, run.moments];
  const loads = ['load', LOAD_TEST, 'loadSlope', SHORT];
  let inrush = 0;
  let charge = 0;
  let lateTime = 0;
  const one = new Float64Array(run.layout.size);
  one[run.layout.one] = 1;
  halves.forEach((moments, half) => {
    for (const [configuration, moment] of moments.integrals()) {
      const current = configuration.current(drawn.powerStage.elements.source);
      inrush += bilinear(current, moment, current);
      if (half === 0) continue;
      for (const name of loads) charge += drawn.sign * bilinear(configuration.current(name), moment, one);
      lateTime += bilinear(one, moment, one);
    }
  });
  const energies = halves.map((moments, half) =>
    energyBalance(drawn, moments, half === 0 ? first : run.halfState, half === 0 ? run.halfState : run.z),
  );
  const slow = drawn.decides === 'turn-on' || stage.operatingMode === 'pulse-skipping';
  const last = slow ? end / 10 : period;
  const kept = new KeptOutput(recorder);
  const final = averageBetween(kept, end - last, end);
  const { whole, late } = recorder.output;
  const reference = before?.average ?? Math.abs(final);
  const tenth = firstAbove(kept, 0.1 * Math.abs(final));
  const nine = firstAbove(kept, 0.9 * Math.abs(final));
  const turnOns = recorder.turnOns.filter((tick) => tick >= run.tick / 2);
  const [firstOn = 0] = turnOns;
  const span = ((turnOns.at(-1) ?? 0) - firstOn) * run.tickTime;
  const tolerance = (stage.targets.outputVoltageTolerance ?? 0.01) * Math.abs(stage.targets.outputVoltage);
  return {
    kind: 'run',
    measures: {
      undershoot: reference - whole.least,
      overshoot: whole.most - reference,
      recoveryTime: lastOutside(recorder, { final, tolerance, period, before: reference, end }),
      peakInductorCurrent: recorder.inductor.most,
      leastInductorCurrent: recorder.inductor.least,
      finalOutputVoltage: drawn.sign * final,
      peakOutputVoltage: whole.most,
      leastOutputVoltage: whole.least,
      riseTime: tenth === null || nine === null ? null : nine - tenth,
      averageOutputCurrent: lateTime > 0 ? charge / lateTime : 0,
      averageSwitchingFrequency: span > 0 ? (turnOns.length - 1) / span : 0,
      steadyOutputRipple: late.most - late.least,
      inrushIntegral: inrush,
    },
    energy: summed(energies),
    waveforms: recorder.waveforms(),
    occurrences: recorder.occurrences,
    settled: before?.periodic ?? true,
    changes: run.changes,
  };
}

/** The balance of the two halves of a run together. */
function summed(parts: readonly EnergyBalance[]): EnergyBalance {
  const sum = (of: (part: EnergyBalance) => number): number => parts.reduce((total, part) => total + of(part), 0);
  const names = [...new Set(parts.flatMap(({ byElement }) => Object.keys(byElement)))];
  return {
    source: sum((p) => p.source),
    load: sum((p) => p.load),
    losses: sum((p) => p.losses),
    control: sum((p) => p.control),
    stored: sum((p) => p.stored),
    residual: sum((p) => p.residual),
    byElement: Object.fromEntries(names.map((name) => [name, sum((p) => p.byElement[name] ?? 0)])),
  };
}

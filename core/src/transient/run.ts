import { stateLayout } from '../circuit/stateLayout.js';
import { LOOP } from '../controller/loopNames.js';
import { comparatorRow } from '../orbit/comparator.js';
import { forwardVoltageOf } from '../orbit/diodeRow.js';
import { ABOVE_AUDIO } from '../modes/operatingMode.js';
import { LIMITER, type AmplifierState } from './amplifierLimits.js';
import { CELL, Configuration, LEVELS, runLayout, valueOf, type RunLayout } from './configuration.js';
import { Moments } from './moments.js';
import { SHORT, sourceValue, type SimulatedStage } from './simulatedStage.js';

/** Grid cells in a clock period at least; a multiple of the phases, so that every clock lies on the grid. */
const LEAST_CELLS = 32;
/** As many with a saturating inductor, whose step is not exact. */
const LEAST_CELLS_SATURATING = 64;
/** Relative size below which a guard counts as not yet crossed: rounding. */
const ROUNDING = 1e-9;
/** Share of its usual size by which an inductor current may jump as a configuration is entered. */
const JUMP = 1e-4;
/** Changes at one instant, for each phase, after which the rest wait for the next tick. */
const AT_ONCE = 12;
/** Changes in one clock period, for each phase, beyond which a run makes no headway. */
const MOST_CHANGES = 2000;
/**
 * Least off-time of constant on-time control after a pulse that the current limit ended, as a share of the clock period, where no longer
 * one is stated: without any the comparator and the limit would answer each other at once. Common practice.
 */
const OFF_AFTER_LIMIT = 0.05;
/** In critical conduction the next pulse begins no sooner than this share of the clock period, and no later than so many. */
const SOONEST = 0.25;
const LATEST = 20;

/** Current of an ideal limiter that counts as none, A: that of an amplifier is of microamperes. */
const LIMITER_AMPS = 1e-15;
const to = (state: AmplifierState) => (run: Run) => {
  run.amplifier = state;
};
const TO_HIGH = to('high');
const TO_LOW = to('low');
const TO_FREE = to('free');

/** Why a run cannot go on, in a sentence. */
export class StalledRun extends Error {}

/** What ends a pulse, for the bands that show what the controller is doing. */
export type PulseEnd = 'comparator' | 'limit' | 'duty-limit' | 'on-time' | 'stopped';

/** Where a leg is being driven, and when its dead time is over. */
interface LegState {
  target: 'on' | 'off' | 'idle';
  /** Tick. */
  settles: number;
  /** Tick at which a fixed share of the period ends. */
  until: number;
}

interface PhaseState {
  on: boolean;
  /** Ticks of the last clock, turn-on and turn-off. */
  clock: number;
  began: number;
  ended: number;
  nextClock: number;
  /** What the ramp stood at as the last clock came. */
  rampAt: number;
  limited: boolean;
  /** A bit for each conducting diode. */
  conducting: number;
  readonly legs: readonly LegState[];
}

/** Something that may become due between two instants: it has when its row over the state, and what is added, rise above nothing. */
interface Guard {
  readonly row: Float64Array;
  readonly offset: number;
  readonly tolerance: number;
  readonly trips: (run: Run) => void;
}

/** What is told of a run as it goes: each step from one accepted state to the next, and each change in between. */
export interface RunWatch {
  readonly step: (run: Run, from: number, before: Float64Array, to: number, after: Float64Array) => void;
  /** The state right after a change, with the tick. */
  readonly changed?: (run: Run) => void;
  readonly pulse?: (run: Run, phase: number, what: 'begins' | 'skipped' | PulseEnd) => void;
}

/** How a run begins. */
export interface RunStart {
  /** States of the circuit. */
  readonly x: Float64Array;
  /** Of each phase: whether a pulse is running, and for how long it has, s, as its clock came. */
  readonly running?: readonly { readonly on: boolean; readonly sinceClock: number }[];
  /** Whether the controller has been at work: else its soft start and its lock-out come first. */
  readonly atWork: boolean;
  /** Where its amplifier stands; free where it is not said. */
  readonly amplifier?: AmplifierState;
  /** s, of each pulse, where a comparator turns it on. */
  readonly onTime?: number;
  /** Of every pulse, whatever a comparator says. */
  readonly fixedDuty?: number | undefined;
}

/**
 * A stage simulated switch by switch. Between two changes the state moves by matrix exponentials, exactly; comparators, diodes and
 * limits are rows over the state, looked at on a grid of the clock period, and the instant at which one crosses is found by halving
 * the step down to a tick of some 10⁻⁸ of the period. Time is counted in ticks, whole numbers, so nothing is ever nearly due.
 *
 * Method of the location: descending dyadic steps. The circuit, its comparators and its limits are those that the loop draws.
 */
export class Run {
  readonly layout: RunLayout;
  /** s */
  readonly tickTime: number;
  readonly cells: number;
  /** Ticks of a clock period. */
  readonly period: number;
  tick = 0;
  /** Augmented state. */
  z: Float64Array;
  amplifier: AmplifierState = 'free';
  /** Whether pulses may start; a lock-out and a hiccup keep them from it. */
  enabled = false;
  shorted = false;
  readonly phases: readonly PhaseState[];
  moments: Moments;
  /** Set by the first `placeDiodes`. */
  configuration!: Configuration;
  private placed = false;
  changes = 0;
  /** Steps taken between changes and grid points. */
  steps = 0;
  /** Whether the next pulse begins as the current has come to rest. */
  private readonly critical: boolean;
  /** Ticks. */
  private readonly blanking: number;
  private readonly minimumOff: number;
  private readonly onTime: number;
  private readonly fixedDuty: number | undefined;

  private guards: readonly Guard[] = [];
  /** Rows of the guards one after another, and the value above which each is due. */
  private guardRows = new Float64Array(64);
  private guardLimits = new Float64Array(8);
  /** The next tick at which something is due by the clock; found anew after every change. */
  private due = -Infinity;
  private next: Float64Array;
  private readonly trial: Float64Array;
  private readonly names: { readonly comparator: readonly string[] };
  private readonly forward: ReadonlyMap<string, number>;
  /** States on the way through a part of a cell, by its binary digits. */
  private readonly path: readonly Float64Array[];
  private readonly first: Float64Array;
  private readonly codes: number;
  private readonly scaleCurrent: number;
  private readonly scaleVoltage: number;
  private hiccupCount = 0;
  private resumes = Infinity;
  private softStartEnds = Infinity;
  private readonly rateEnds: number[];
  private readonly rateTargets: number[];
  private nextUpdates: number[] = [];
  /** Changes since a tick, within a period. */
  private changesSince = 0;
  private countedFrom = 0;
  private chattered = 0;

  constructor(
    readonly drawn: SimulatedStage,
    start: RunStart,
    private readonly watch: RunWatch,
    /** Whether energies and squares are added up: a run that is asked for voltages alone is half again as quick without. */
    public counted = true,
  ) {
    const { complete, moving, circuits, phases } = drawn;
    this.layout = runLayout(drawn.order, moving);
    const { size, source, one } = this.layout;
    const least = drawn.saturating.length > 0 ? LEAST_CELLS_SATURATING : LEAST_CELLS;
    this.cells = phases.length * Math.ceil(least / phases.length);
    this.period = this.cells * CELL;
    this.tickTime = 1 / complete.clock / this.period;
    this.z = new Float64Array(size);
    this.z.set(start.x.subarray(0, drawn.order));
    this.z[one] = 1;
    moving.forEach((name, m) => (this.z[source + m] = sourceValue(circuits.free, name)));
    const { minimumOnTime, minimumOffTime = 0 } = complete.stage.control;
    this.amplifier = start.amplifier ?? 'free';
    this.blanking = Math.round(minimumOnTime / this.tickTime);
    this.minimumOff = Math.round(minimumOffTime / this.tickTime);
    this.onTime = start.onTime ?? 0;
    this.fixedDuty = start.fixedDuty;
    this.names = { comparator: phases.map((_, k) => `comparator ${String(k)}`) };
    this.forward = new Map(
      phases.flatMap(({ diodes }) => diodes.map((name) => [name, forwardVoltageOf(circuits.free, name)] as const)),
    );
    this.path = Array.from({ length: LEVELS + 2 }, () => new Float64Array(size));
    this.first = new Float64Array(size);
    this.codes = Math.max(...phases.map(({ legs, diodes }) => 3 ** legs.length * 2 ** diodes.length), 1);
    this.next = new Float64Array(size);
    this.trial = new Float64Array(size);
    this.rateEnds = moving.map(() => Infinity);
    this.rateTargets = moving.map((_, m) => this.z[source + m] as number);
    const { targets } = complete.stage;
    this.scaleVoltage = Math.max(Math.abs(targets.outputVoltage), targets.inputVoltage.max);
    this.scaleCurrent = Math.max(targets.outputCurrent.max / phases.length, 1e-3);
    this.moments = new Moments(this.layout, CELL * this.tickTime, this.counted);
    const slope = this.rampSlope();
    this.critical = drawn.decides === 'turn-off' && complete.stage.operatingMode === 'critical-conduction';
    this.phases = phases.map(({ legs }, k) => {
      const running = start.running?.[k];
      const sinceClock = Math.round((running?.sinceClock ?? 0) / this.tickTime);
      const on = running?.on === true && sinceClock > 0;
      const next = this.clockOffset(k);
      return {
        on,
        clock: -sinceClock,
        began: on ? -sinceClock : -Infinity,
        ended: -Infinity,
        nextClock: drawn.decides === 'turn-off' ? next : Infinity,
        rampAt: -slope * sinceClock * this.tickTime,
        limited: false,
        conducting: 0,
        legs: legs.map(() => ({ target: 'idle' as const, settles: 0, until: Infinity })),
      };
    });
    if (start.atWork) this.enabled = true;
    else this.awaken();
    this.driveLegs();
    this.nextUpdates = (drawn.controller?.updates ?? []).map(({ at }) =>
      Math.round((at * this.period) / phases.length),
    );
    this.settle();
  }

  /** s from time 0. */
  get time(): number {
    return this.tick * this.tickTime;
  }

  /** Time 0 is now: ticks and integrals are counted anew, the state stays. */
  restart(): void {
    const { tick } = this;
    const { ramp, integral } = this.layout;
    for (const phase of this.phases) {
      phase.clock -= tick;
      phase.began -= tick;
      phase.ended -= tick;
      phase.nextClock -= tick;
      phase.rampAt -= this.z[ramp] as number;
      for (const leg of phase.legs) {
        leg.settles -= tick;
        leg.until -= tick;
      }
    }
    this.resumes -= tick;
    this.softStartEnds -= tick;
    for (let m = 0; m < this.rateEnds.length; m += 1) this.rateEnds[m] = (this.rateEnds[m] as number) - tick;
    this.nextUpdates = this.nextUpdates.map((at) => at - tick);
    this.z[ramp] = 0;
    this.z[integral] = 0;
    this.tick = 0;
    this.moments = new Moments(this.layout, CELL * this.tickTime, this.counted);
    this.refreshGuards();
  }

  /** The moments so far are left as they are; what follows is added up anew. Returns the new ones. */
  splitMoments(): Moments {
    this.halfState = this.z.slice();
    this.moments = new Moments(this.layout, CELL * this.tickTime, this.counted);
    return this.moments;
  }
  /** Augmented state at the split. */
  halfState: Float64Array = new Float64Array(0);

  /** Where a source that moves is on its way to. */
  sourceTarget(name: string): number {
    return this.rateTargets[this.layout.moving.indexOf(name)] ?? 0;
  }
  /** The value of a source as it was drawn. */
  sourceAtRest(name: string): number {
    return sourceValue(this.drawn.circuits.free, name);
  }

  /** Go on until a tick. Nothing that becomes due at that very tick has happened yet. */
  advance(until: number): void {
    while (this.tick < until) this.proceed(until);
  }

  /** Go on until a pulse of phase 1 is about to begin; false where none does in time. */
  advanceToBegin(until: number): boolean {
    this.heldBack = true;
    this.reached = false;
    while (this.tick < until && !this.hasReached()) this.proceed(until);
    this.heldBack = false;
    return this.hasReached();
  }
  /** While set, a turn-on by the comparator is only noted. */
  private heldBack = false;
  private reached = false;
  private hasReached(): boolean {
    return this.reached;
  }

  /** Change a source that moves to a value, evenly within a time, s, or at once. */
  moveSource(name: string, to: number, within = 0): void {
    const m = this.layout.moving.indexOf(name);
    if (m < 0) throw new Error(`The source ${name} does not move in this run.`);
    const { source, rate } = this.layout;
    const ticks = Math.round(within / this.tickTime);
    if (ticks <= 0) {
      this.z[source + m] = to;
      this.z[rate + m] = 0;
      this.rateEnds[m] = Infinity;
    } else {
      this.z[rate + m] = (to - (this.z[source + m] as number)) / (ticks * this.tickTime);
      this.rateEnds[m] = this.tick + ticks;
    }
    this.rateTargets[m] = to;
    this.due = -Infinity;
  }

  /** The value a moving source has, or the fixed one. */
  sourceNow(name: string): number {
    const m = this.layout.moving.indexOf(name);
    return m < 0 ? sourceValue(this.drawn.circuits.free, name) : (this.z[this.layout.source + m] as number);
  }

  /** After something from outside has changed: switches, diodes and amplifier find their places. */
  settle(): void {
    let rounds = 0;
    const most = AT_ONCE * this.phases.length;
    for (;;) {
      this.placeDiodes();
      this.refreshGuards();
      const due = this.firstDue();
      if (!due) break;
      rounds += 1;
      this.count();
      if (rounds > most) {
        // What still wants to change at this instant waits for the next tick.
        this.chattered += 1;
        this.mute = this.tick + 1;
        this.due = -Infinity;
        break;
      }
      due.trips(this);
      if (this.heldBack && this.reached) break;
    }
    this.watch.changed?.(this);
  }
  private mute = -1;

  private count(): void {
    this.changes += 1;
    if (this.tick >= this.countedFrom + this.period || this.tick < this.countedFrom) {
      this.countedFrom = this.tick;
      this.changesSince = 0;
    }
    this.changesSince += 1;
    if (this.changesSince > MOST_CHANGES * this.phases.length)
      throw new StalledRun(
        `the switches would have to change more than ${String(MOST_CHANGES)} times within a clock period at ${this.time.toExponential(3)} s: a limit and what it limits answer each other at once`,
      );
  }

  // — what is due by the clock —

  private nextDue(): number {
    let due = Math.min(this.resumes, this.softStartEnds);
    for (const end of this.rateEnds) if (end < due) due = end;
    for (const update of this.nextUpdates) if (update < due) due = update;
    if (this.mute >= this.tick) due = Math.min(due, Math.max(this.mute, this.tick + 1));
    for (const phase of this.phases) {
      due = Math.min(due, phase.nextClock);
      if (phase.on) {
        due = Math.min(due, this.pulseEnd(phase));
        const blanked = phase.began + this.blanking;
        if (blanked > this.tick) due = Math.min(due, blanked);
      } else if (this.drawn.decides === 'turn-on') {
        const again = this.mayTurnOn(phase);
        if (again > this.tick) due = Math.min(due, again);
      }
      for (const leg of phase.legs) {
        if (leg.settles > this.tick) due = Math.min(due, leg.settles);
        if (leg.until > this.tick) due = Math.min(due, leg.until);
      }
    }
    return due;
  }

  /** Go on to a tick at most, or to the next that something is due at, and let it happen. */
  private proceed(until: number): void {
    if (this.due <= this.tick) this.due = this.nextDue();
    const to = Math.min(until, this.due);
    // By the grid, where guards are looked at.
    while (this.tick < to && this.due !== -Infinity) {
      const cell = CELL >> this.configuration.halvings(this.z);
      const grid = this.tick - (this.tick % cell) + cell;
      this.pass(grid < to ? grid : to);
    }
    if (this.tick < until && this.due !== -Infinity && this.due <= this.tick) {
      this.due = -Infinity;
      this.meet();
    }
  }

  /** When a comparator may turn a phase on again: after a pulse that the limit ended, not at once. */
  private mayTurnOn({ ended, limited }: PhaseState): number {
    return ended + (limited ? Math.max(this.minimumOff, Math.round(OFF_AFTER_LIMIT * this.period)) : this.minimumOff);
  }

  /** When a pulse ends by time, whatever else holds. */
  private pulseEnd(phase: PhaseState): number {
    if (this.drawn.decides === 'turn-on') return phase.began + Math.max(1, Math.round(this.onTime / this.tickTime));
    const { dutyMax } = this.drawn.complete.stage.control;
    const duty = this.fixedDuty ?? dutyMax;
    return duty >= 1 ? Infinity : phase.clock + Math.round(duty * this.period);
  }
  /** Ticks from the clock of phase 1 to that of phase k. */
  private clockOffset(k: number): number {
    return (k * this.period) / this.drawn.phases.length;
  }

  /** Everything that is due at this very tick. */
  private meet(): void {
    let changed = false;
    const { tick } = this;
    const { source, rate } = this.layout;
    for (let m = 0; m < this.rateEnds.length; m += 1) {
      if (this.rateEnds[m] !== tick) continue;
      this.z[source + m] = this.rateTargets[m] as number;
      this.z[rate + m] = 0;
      this.rateEnds[m] = Infinity;
      changed = true;
    }
    if (this.softStartEnds === tick) this.softStartEnds = Infinity;
    if (this.resumes === tick) {
      this.resumes = Infinity;
      this.awaken();
      changed = true;
    }
    changed = this.update() || changed;
    for (let k = 0; k < this.phases.length; k += 1) {
      const phase = this.phases[k] as PhaseState;
      if (phase.on && this.pulseEnd(phase) <= tick) {
        this.endPulse(k, this.drawn.decides === 'turn-on' ? 'on-time' : 'duty-limit');
        changed = true;
      }
      if (phase.nextClock <= tick) {
        this.clockComes(k);
        changed = true;
      }
      for (const [i, leg] of phase.legs.entries()) {
        if (leg.until === tick) {
          leg.until = Infinity;
          this.drive(k, i, 'off');
          changed = true;
        }
        if (leg.settles === tick) changed = true;
      }
      if (phase.on && phase.began + this.blanking === tick) changed = true;
      if (this.drawn.decides === 'turn-on' && !phase.on && this.mayTurnOn(phase) === tick) changed = true;
    }
    if (this.mute === tick) changed = true;
    if (changed) this.settle();
  }

  /** Registers of a sampled controller are set, each from what stood before. */
  private update(): boolean {
    const updates = this.drawn.controller?.updates ?? [];
    let changed = false;
    updates.forEach(({ assignments }, u) => {
      if (this.nextUpdates[u] !== this.tick) return;
      this.nextUpdates[u] = this.tick + this.period / this.phases.length;
      const { indexOfCapacitor } = stateLayout(this.drawn.circuits.free);
      const values = assignments.map(({ terms }) =>
        terms.reduce((sum, { node, weight }) => sum + weight * valueOf(this.configuration.node(node), this.z), 0),
      );
      assignments.forEach(({ capacitor }, i) => {
        this.z[indexOfCapacitor.get(capacitor) ?? 0] = values[i] as number;
      });
      changed = true;
    });
    return changed;
  }

  // — the controller —

  /** The clock of a phase: the ramp starts again, and a pulse begins unless something holds it back. */
  private clockComes(k: number): void {
    const phase = this.phases[k] as PhaseState;
    const { critical } = this;
    phase.clock = this.tick;
    phase.nextClock = this.tick + (critical ? LATEST * this.period : this.period);
    phase.rampAt = this.z[this.layout.ramp] as number;
    if (k === 0) {
      this.giveUpWhenLimited(phase);
    }
    phase.limited = false;
    if (!this.enabled) return;
    const drives = this.drawn.drivesAt(this.sourceNow('source'));
    for (const [i, leg] of phase.legs.entries()) {
      const drive = drives[i];
      if (drive && 'until' in drive && drive.until !== 'command-end') {
        this.drive(k, i, 'on');
        leg.until = this.tick + Math.round(drive.until * this.period);
      }
    }
    if (this.mayBegin(k)) this.beginPulse(k);
    else {
      if (phase.on) this.endPulse(k, 'comparator');
      this.watch.pulse?.(this, k, 'skipped');
      // In critical conduction nothing but the clock tries again.
      if (critical) phase.nextClock = this.tick + this.period;
    }
  }

  /** Whether a pulse may start at a clock: nothing is tripped already. */
  private mayBegin(k: number): boolean {
    if (this.fixedDuty !== undefined) return this.fixedDuty > 0;
    const { drawn, configuration, z } = this;
    const { control, operatingMode } = drawn.complete.stage;
    const phase = this.phases[k] as PhaseState;
    const inductor = drawn.phases[k]?.inductor ?? '';
    if (this.comparatorLevel(k) >= 0) return false;
    const { currentLimit } = control;
    if (currentLimit !== undefined && valueOf(configuration.current(inductor), z) >= currentLimit) return false;
    if (this.amplifier !== this.lowest) return true;
    if (operatingMode === 'pulse-skipping') return false;
    if (operatingMode !== 'ultrasonic') return true;
    // Above hearing: a pulse that has been waited for too long comes all the same.
    return (this.tick - phase.began) * this.tickTime >= 1 / ABOVE_AUDIO - this.period * this.tickTime;
  }

  /** The limit of the amplifier at which it asks for least. */
  private get lowest(): AmplifierState {
    return this.drawn.sign > 0 ? 'low' : 'high';
  }

  private beginPulse(k: number): void {
    const phase = this.phases[k] as PhaseState;
    phase.on = true;
    phase.began = this.tick;
    if (this.drawn.decides === 'turn-on') {
      phase.clock = this.tick;
      if (k === 0) this.giveUpWhenLimited(phase);
      phase.limited = false;
      if (!this.enabled) {
        phase.on = false;
        return;
      }
    }
    this.driveCommanded(k, 'on');
    this.watch.pulse?.(this, k, 'begins');
  }

  private endPulse(k: number, by: PulseEnd): void {
    const phase = this.phases[k] as PhaseState;
    phase.on = false;
    phase.ended = this.tick;
    if (by === 'limit') phase.limited = true;
    this.driveCommanded(k, 'off');
    this.watch.pulse?.(this, k, by);
  }

  /** After so many limited periods in a row the controller gives up for a while, then starts softly. */
  private giveUpWhenLimited({ limited }: PhaseState): void {
    const { hiccup } = this.drawn.complete.stage.control;
    if (!hiccup || !this.enabled) return;
    this.hiccupCount = limited ? this.hiccupCount + 1 : 0;
    if (this.hiccupCount < hiccup.periods) return;
    this.stop();
    this.resumes = this.tick + Math.max(1, Math.round(hiccup.offTime / this.tickTime));
  }

  /** No pulses, and every switch open. */
  private stop(): void {
    this.enabled = false;
    this.hiccupCount = 0;
    for (let k = 0; k < this.phases.length; k += 1) if (this.phases[k]?.on) this.endPulse(k, 'stopped');
    if (this.layout.moving.includes(LOOP.reference)) this.moveSource(LOOP.reference, 0);
    this.driveLegs();
  }

  /** Begin to work, where the input voltage lets it: the reference rises on its soft start. */
  private awaken(): void {
    const { undervoltageLockout, softStartTime } = this.drawn.complete.stage.control;
    this.enabled = !undervoltageLockout || this.sourceNow('source') >= undervoltageLockout.rising;
    if (this.layout.moving.includes(LOOP.reference)) {
      this.moveSource(LOOP.reference, 0);
      if (this.enabled)
        this.moveSource(LOOP.reference, sourceValue(this.drawn.circuits.free, LOOP.reference), softStartTime ?? 0);
    }
    this.driveLegs();
  }

  private driveLegs(): void {
    const drives = this.drawn.drivesAt(this.sourceNow('source'));
    for (const [k, phase] of this.phases.entries())
      for (const [i, leg] of phase.legs.entries()) {
        const drive = drives[i];
        if (!this.enabled) this.drive(k, i, 'idle');
        else if (drive && 'resting' in drive) this.drive(k, i, drive.resting);
        else if (drive?.until === 'command-end') this.drive(k, i, phase.on ? 'on' : 'off');
        else if (drive) {
          const end = phase.clock + Math.round(drive.until * this.period);
          this.drive(k, i, end > this.tick && phase.clock < this.tick ? 'on' : 'off');
          leg.until = end > this.tick ? end : Infinity;
        }
        leg.settles = Math.min(leg.settles, this.tick);
      }
  }

  private driveCommanded(k: number, to: 'on' | 'off'): void {
    const drives = this.drawn.drivesAt(this.sourceNow('source'));
    for (const i of (this.phases[k] as PhaseState).legs.keys()) {
      const drive = drives[i];
      if (!drive || !this.enabled) this.drive(k, i, 'idle');
      else if ('resting' in drive) this.drive(k, i, drive.resting);
      else if (drive.until === 'command-end') this.drive(k, i, to);
    }
  }

  /** Drive a leg: what opens opens at once, what closes waits for the dead time. */
  private drive(k: number, i: number, to: LegState['target']): void {
    const leg = (this.phases[k] as PhaseState).legs[i];
    if (!leg || leg.target === to) return;
    leg.target = to;
    const cell = this.drawn.phases[k]?.legs[i]?.cell;
    const dead = cell?.diodeRectifier === true ? 0 : Math.round(this.drawn.complete.stage.deadTime / this.tickTime);
    leg.settles = this.tick + dead;
  }

  // — comparators, limits, diodes —

  /** V/s, of the modulator's ramp now. */
  private rampSlope(): number {
    const { constant, perSource } = this.drawn.ramp;
    return constant + (perSource ? perSource.factor * this.sourceNow(perSource.name) : 0);
  }

  private comparatorRowOf(k: number): Float64Array {
    const { comparator, phases } = this.drawn;
    const { size, ramp } = this.layout;
    const { configuration } = this;
    return configuration.derived(this.names.comparator[k] as string, () => {
      if (!comparator) return new Float64Array(size);
      const rows = {
        current: { get: (name: string) => configuration.current(name) },
        node: { get: (name: string) => configuration.node(name) },
      };
      const row = comparatorRow(comparator, rows, k, phases[k]?.inductor ?? '', size).slice();
      row[ramp] = 1;
      return row;
    });
  }

  /** −row, made once. */
  private negated(name: string, row: Float64Array): Float64Array {
    return this.configuration.derived(`-${name}`, () => row.map((value) => -value));
  }

  private comparatorLevel(k: number): number {
    const phase = this.phases[k] as PhaseState;
    const row = this.comparatorRowOf(k);
    return valueOf(row, this.z) - (this.drawn.decides === 'turn-off' ? phase.rampAt : 0);
  }

  private refreshGuards(): void {
    const guards: Guard[] = [];
    const { drawn, configuration, tick } = this;
    const { control } = drawn.complete.stage;
    const amps = ROUNDING * this.scaleCurrent;
    const volts = ROUNDING * this.scaleVoltage;
    const critical = this.critical;
    for (const [k, phase] of this.phases.entries()) {
      const { inductor, diodes } = drawn.phases[k] as SimulatedStage['phases'][number];
      const current = configuration.current(inductor);
      if (phase.on && this.fixedDuty === undefined && tick >= phase.began + this.blanking) {
        if (drawn.decides === 'turn-off')
          guards.push({
            row: this.comparatorRowOf(k),
            offset: -phase.rampAt,
            tolerance: volts,
            trips: (run) => run.endPulse(k, 'comparator'),
          });
        const { currentLimit } = control;
        if (currentLimit !== undefined)
          guards.push({
            row: current,
            offset: -currentLimit,
            tolerance: amps,
            trips: (run) => run.endPulse(k, 'limit'),
          });
      }
      if (!phase.on && drawn.decides === 'turn-on' && this.enabled && tick >= this.mayTurnOn(phase)) {
        const { currentLimit = Infinity } = control;
        // At its limit the current has to fall before a pulse may begin.
        if (valueOf(current, this.z) >= currentLimit)
          guards.push({
            row: this.negated(`i ${inductor}`, current),
            offset: currentLimit,
            tolerance: amps,
            trips: () => undefined,
          });
        else
          guards.push({
            row: this.comparatorRowOf(k),
            offset: 0,
            tolerance: volts,
            trips: (run) => {
              if (run.heldBack) run.reached = true;
              else run.beginPulse(k);
            },
          });
      }
      if (critical && !phase.on && phase.nextClock > tick + SOONEST * this.period)
        guards.push({
          row: this.negated(`i ${inductor}`, current),
          offset: 0,
          tolerance: -amps,
          trips: () => (phase.nextClock = Math.max(tick + 1, phase.clock + SOONEST * this.period, this.tick + 1)),
        });
      diodes.forEach((name, d) => {
        const conducts = (phase.conducting >> d) & 1;
        const row = conducts ? this.negated(`i ${name}`, configuration.current(name)) : configuration.voltage(name);
        guards.push({
          row,
          offset: conducts ? 0 : -(this.forward.get(name) ?? 0),
          tolerance: conducts ? amps : volts,
          trips: () => undefined,
        });
      });
    }
    guards.push(...this.amplifierGuards(volts));
    guards.push(...this.lockoutGuards(volts));
    this.guards = guards;
    const { size } = this.layout;
    if (this.guardLimits.length < guards.length) {
      this.guardRows = new Float64Array(2 * guards.length * size);
      this.guardLimits = new Float64Array(2 * guards.length);
    } else if (this.guardRows.length < guards.length * size)
      this.guardRows = new Float64Array(2 * guards.length * size);
    for (let g = 0; g < guards.length; g += 1) {
      const { row, offset, tolerance } = guards[g] as Guard;
      this.guardRows.set(row, g * size);
      this.guardLimits[g] = tolerance - offset;
    }
    this.due = -Infinity;
  }

  private amplifierGuards(volts: number): readonly Guard[] {
    const { limits } = this.drawn;
    if (!limits) return [];
    const { configuration } = this;
    const { one } = this.layout;
    if (this.amplifier === 'free') {
      const row = configuration.node(limits.node);
      const shifted = (factor: number, by: number) => (): Float64Array => {
        const out = row.map((value) => factor * value);
        out[one] = (out[one] as number) + by;
        return out;
      };
      return [
        { row: configuration.derived('over', shifted(1, -limits.high)), offset: 0, tolerance: volts, trips: TO_HIGH },
        { row: configuration.derived('under', shifted(-1, limits.low)), offset: 0, tolerance: volts, trips: TO_LOW },
      ];
    }
    // It lets go when what drives it turns inward.
    const outward = this.amplifier === 'high' ? 1 : -1;
    const [plus, minus] = limits.inputs;
    const row = configuration.derived('lets go', () =>
      limits.letsGoBy === 'inputs'
        ? configuration.node(plus).map((value, i) => -outward * (value - (configuration.node(minus)[i] as number)))
        : configuration.current(LIMITER).map((value) => -outward * value),
    );
    return [{ row, offset: 0, tolerance: limits.letsGoBy === 'inputs' ? volts : LIMITER_AMPS, trips: TO_FREE }];
  }

  private lockoutGuards(volts: number): readonly Guard[] {
    const lockout = this.drawn.complete.stage.control.undervoltageLockout;
    if (!lockout || this.resumes !== Infinity) return [];
    const input = this.configuration.node('in');
    if (this.enabled)
      return [
        {
          row: this.negated('n in', input),
          offset: lockout.falling,
          tolerance: volts,
          trips: (run) => run.stop(),
        },
      ];
    return [{ row: input, offset: -lockout.rising, tolerance: volts, trips: (run) => run.awaken() }];
  }

  private firstDue(): Guard | undefined {
    const g = this.tick < this.mute ? -1 : this.dueGuard(this.z);
    return g < 0 ? undefined : this.guards[g];
  }

  /** The number of the first guard that is due at a state; −1 where none is. */
  private dueGuard(z: Float64Array): number {
    const { guardRows, guardLimits } = this;
    const { length } = this.guards;
    const { size } = this.layout;
    for (let g = 0, at = 0; g < length; g += 1) {
      let sum = 0;
      for (let i = 0; i < size; i += 1, at += 1) sum += (guardRows[at] as number) * (z[i] as number);
      if (sum > (guardLimits[g] as number)) return g;
    }
    return -1;
  }

  // — passing time —

  /** Pass to a tick, or to the first at which a guard is due, and let it act. */
  private pass(to: number): void {
    const { configuration, path } = this;
    const ticks = to - this.tick;
    const muted = this.tick < this.mute;
    let parts = 0;
    if (ticks === CELL) configuration.step(this.next, this.z, 0);
    else {
      // A part of a cell, by its binary digits.
      let from = this.z;
      for (let level = 1; level <= LEVELS; level += 1) {
        if ((ticks & (CELL >> level)) === 0) continue;
        const onto = path[parts] as Float64Array;
        configuration.step(onto, from, level);
        parts += 1;
        from = onto;
      }
      this.next.set(from);
    }
    if (!muted && this.dueGuard(this.next) >= 0) {
      this.descend(ticks);
      return;
    }
    if (ticks === CELL) this.moments.add(configuration, 0, this.z, this.next);
    else {
      let from = this.z;
      parts = 0;
      for (let level = 1; level <= LEVELS; level += 1) {
        if ((ticks & (CELL >> level)) === 0) continue;
        const onto = path[parts] as Float64Array;
        this.moments.add(configuration, level, from, onto);
        from = onto;
        parts += 1;
      }
    }
    this.arrive(to);
  }

  /** `next` is where the run stands now. */
  private arrive(to: number): void {
    const from = this.tick;
    const before = this.z;
    this.steps += 1;
    this.tick = to;
    this.z = this.next;
    this.next = before;
    this.watch.step(this, from, before, to, this.z);
  }

  /** Halve the step down to the tick at which the first guard is due, and let it act there. */
  private descend(ticks: number): void {
    const { configuration, moments } = this;
    let from = this.first;
    let onto = this.trial;
    from.set(this.z);
    let passed = 0;
    for (let level = 0; level <= LEVELS; level += 1) {
      const bit = CELL >> level;
      if (passed + bit >= ticks) continue;
      configuration.step(onto, from, level);
      if (this.dueGuard(onto) >= 0) continue;
      moments.add(configuration, level, from, onto);
      passed += bit;
      [from, onto] = [onto, from];
    }
    configuration.step(this.next, from, LEVELS);
    moments.add(configuration, LEVELS, from, this.next);
    this.arrive(this.tick + passed + 1);
    this.settle();
  }

  // — switches and diodes —

  private closedBy(k: number, i: number): readonly string[] {
    const leg = (this.phases[k] as PhaseState).legs[i];
    const cell = this.drawn.phases[k]?.legs[i]?.cell;
    if (!leg || !cell || leg.settles > this.tick || leg.target === 'idle') return [];
    return leg.target === 'on' ? cell.on : cell.off;
  }

  private configurationWith(changed = -1, mask = 0): Configuration {
    const { phases, codes } = this;
    const numbered = codes ** phases.length < 2 ** 48;
    let number = (this.amplifier === 'free' ? 0 : this.amplifier === 'low' ? 1 : 2) + (this.shorted ? 3 : 0);
    let text = '';
    for (let k = 0; k < phases.length; k += 1) {
      const phase = phases[k] as PhaseState;
      let code = k === changed ? mask : phase.conducting;
      for (const leg of phase.legs)
        code = code * 3 + (leg.settles > this.tick || leg.target === 'idle' ? 0 : leg.target === 'on' ? 1 : 2);
      if (numbered) number = number * codes + code;
      else text += `,${String(code)}`;
    }
    const key = numbered ? number : `${String(number)}${text}`;
    const known = this.drawn.configurations.get(key);
    if (known) return known;
    const conducting = this.phases.flatMap((phase, k) => [
      ...phase.legs.flatMap((_, i) => this.closedBy(k, i)),
      ...(this.drawn.phases[k]?.diodes ?? []).filter((_, d) => ((k === changed ? mask : phase.conducting) >> d) & 1),
    ]);
    const made = new Configuration(
      this.drawn.circuits[this.amplifier],
      new Set([...conducting.sort(), this.shorted ? SHORT : 'load']),
      this.layout,
      CELL * this.tickTime,
      this.drawn.powerStage.outputNode,
      this.drawn.ramp,
      this.drawn.saturating,
    );
    this.drawn.configurations.set(key, made);
    return made;
  }

  /** The state as a configuration is entered. */
  private entered(configuration: Configuration): Float64Array {
    const { entry } = configuration;
    if (!entry) return this.z;
    const { active, size } = this.layout;
    const out = this.z.slice();
    for (let i = 0; i < active; i += 1) {
      let sum = 0;
      for (let j = 0; j < size; j += 1) sum += (entry[i * size + j] as number) * (this.z[j] as number);
      out[i] = sum;
    }
    return out;
  }

  /** How wrong the diodes of a phase would be in a configuration: 0 where each does what it must. */
  private wrongness(k: number, mask: number, configuration: Configuration): number {
    const { inductor, diodes } = this.drawn.phases[k] as SimulatedStage['phases'][number];
    const after = this.entered(configuration);
    const row = configuration.current(inductor);
    const amps = ROUNDING * this.scaleCurrent;
    const volts = ROUNDING * this.scaleVoltage;
    const before = valueOf(this.placed ? this.configuration.current(inductor) : row, this.z);
    const jump = Math.abs(valueOf(row, after) - before) / this.scaleCurrent;
    let wrong = jump > JUMP ? jump : 0;
    diodes.forEach((name, d) => {
      const conducts = (mask >> d) & 1;
      const own = conducts ? configuration.current(name) : configuration.voltage(name);
      const forward = conducts ? 0 : (this.forward.get(name) ?? 0);
      const value = conducts ? -valueOf(own, after) : valueOf(own, after) - forward;
      const tolerance = conducts ? amps : volts;
      const scale = conducts ? this.scaleCurrent : this.scaleVoltage;
      if (value > tolerance) wrong += value / scale;
      else if (value > -tolerance) {
        const slope = valueOf(configuration.slopeOf(own), after) * (conducts ? -1 : 1);
        if (slope * this.tickTime > tolerance * 1e-3) wrong += ROUNDING;
      }
    });
    return wrong;
  }

  /** Let the diodes find who conducts, phase by phase, and enter the configuration. */
  private placeDiodes(): void {
    for (let round = 0; round < 2; round += 1) {
      let moved = false;
      for (let k = 0; k < this.phases.length; k += 1) {
        const phase = this.phases[k] as PhaseState;
        const count = this.drawn.phases[k]?.diodes.length ?? 0;
        if (count === 0) continue;
        let best = phase.conducting;
        let least = Infinity;
        for (let difference = 0; difference < 1 << count; difference += 1) {
          const mask = phase.conducting ^ difference;
          const wrong = this.wrongness(k, mask, this.configurationWith(k, mask));
          if (wrong < least) {
            best = mask;
            least = wrong;
          }
          if (wrong === 0) break;
        }
        if (best !== phase.conducting) {
          phase.conducting = best;
          moved = true;
        }
      }
      if (!moved) break;
    }
    const configuration = this.configurationWith();
    if (configuration === this.configuration) return;
    if (configuration.entry) {
      const after = this.entered(configuration);
      this.moments.jump(this.configuration, configuration, this.z, after);
      this.z = after;
    }
    this.configuration = configuration;
    this.placed = true;
  }
}

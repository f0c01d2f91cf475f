import { stateLayout } from '../circuit/stateLayout.js';
import type { AmplifierState } from './amplifierLimits.js';
import { bandAt } from './biasBands.js';
import { Commutation } from './commutation.js';
import { CELL, LEVELS, runLayout, stepped, valueOf, type Configuration, type RunLayout } from './configuration.js';
import { Guards } from './guards.js';
import { Moments } from './moments.js';
import { phaseAt, type PhaseState, type PulseEnd } from './phaseState.js';
import { Pulses, type PulseRules, type PulsesState } from './pulses.js';
import { RecurringParts } from './recurringParts.js';
import type { Running } from './running.js';
import { phasesAtWork } from '../stage/coupling.js';
import { sourceValue, type SimulatedStage } from './simulatedStage.js';

/** Grid cells in a clock period at least; a multiple of the phases, so that every clock lies on the grid. */
const LEAST_CELLS = 32;
/** As many with a saturating inductor, whose step is not exact. */
const LEAST_CELLS_SATURATING = 64;
/** As many where the switch node rings: a few to each of its oscillations. */
const LEAST_CELLS_RINGING = 1536;
/** Changes at one instant, for each phase, after which the rest wait for the next tick. */
const AT_ONCE = 12;
/** Changes in one clock period, for each phase, beyond which a run makes no headway. */
const MOST_CHANGES = 2000;
/** Ticks before an expected crossing from which it is looked for tick by tick, and how many of them. */
const BEFORE = 1;
const NEAR = 4;

/** Why a run cannot go on, in a sentence. */
export class StalledRun extends Error {}

/** What is told of a run as it goes: each step from one accepted state to the next, and each change in between. */
export interface RunWatch {
  readonly step: (run: Run, from: number, before: Float64Array, to: number, after: Float64Array) => void;
  /** The state right after a change, with the tick. */
  readonly changed?: (run: Run) => void;
  readonly pulse?: (run: Run, phase: number, what: 'begins' | 'skipped' | PulseEnd) => void;
}

/** Everything a run stands at, ticks counted from it: what goes on from here goes on the same. */
export interface RunSnapshot {
  readonly z: Float64Array;
  readonly phases: readonly PhaseState[];
  readonly pulses: PulsesState;
  readonly amplifier: AmplifierState;
  readonly shorted: boolean;
  readonly bands: readonly number[];
  readonly mute: number;
  readonly rateEnds: readonly number[];
  readonly rateTargets: readonly number[];
  readonly nextUpdates: readonly number[];
}

/** How a run begins. */
export interface RunStart extends PulseRules {
  /** States of the circuit. */
  readonly x: Float64Array;
  /** What moving sources begin at, where it is not what they were drawn with. */
  readonly sources?: Readonly<Record<string, number>>;
  /** Of each phase: whether a pulse is running, and for how long it has, s, as its clock came. */
  readonly running?: readonly { readonly on: boolean; readonly sinceClock: number }[];
  /** Whether the controller has been at work: else its soft start and its lock-out come first. */
  readonly atWork: boolean;
}

/**
 * A stage simulated switch by switch. Between two changes the state moves by matrix exponentials, exactly; comparators, diodes and
 * limits are rows over the state, looked at on a grid of the clock period, and the instant at which one crosses is found to a tick of
 * some 10⁻⁸ of the period: looked for tick by tick where a cubic through both ends of the cell expects it, else by halving the step. Time is counted in ticks, whole numbers, so nothing is ever nearly due.
 *
 * Method of the location: Hermite's cubic as a guess that the exact states confirm, descending dyadic steps where they do not. The circuit, its comparators and its limits are those that the loop draws.
 */
export class Run implements Running {
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
  shorted = false;
  bands: number[];
  phases: readonly PhaseState[];
  moments: Moments;
  /** Set as the diodes are first placed. */
  configuration!: Configuration;
  changes = 0;
  /** Steps taken between changes and grid points. */
  steps = 0;
  readonly scale: Running['scale'];
  private readonly pulses: Pulses;
  private readonly guards: Guards;
  private readonly commutation: Commutation;
  /** The next tick at which something is due by the clock; found anew after every change. */
  private due = -Infinity;
  private next: Float64Array;
  private readonly trial: Float64Array;
  /** States on the way through a part of a cell, by its binary digits. */
  private readonly path: readonly Float64Array[];
  private readonly first: Float64Array;
  /** States tick by tick about a crossing. */
  private readonly near: readonly Float64Array[];
  private readonly rateEnds: number[];
  private readonly rateTargets: number[];
  private nextUpdates: number[] = [];
  /** Changes since a tick, within a period. */
  private changesSince = 0;
  private countedFrom = 0;

  constructor(
    readonly drawn: SimulatedStage,
    start: RunStart,
    private readonly watch: RunWatch,
    /** Whether energies and squares are added up: a run that is asked for voltages alone is half again as quick without. */
    readonly counted = true,
  ) {
    const { complete, moving, circuits, phases } = drawn;
    this.layout = runLayout(drawn.order, moving, drawn.oscillation);
    const { size, source, one } = this.layout;
    const least = drawn.rings
      ? LEAST_CELLS_RINGING
      : drawn.saturating.length > 0
        ? LEAST_CELLS_SATURATING
        : LEAST_CELLS;
    // Of twice the phases, so that half a period lies on the grid too.
    this.cells = 2 * phases.length * Math.ceil(least / (2 * phases.length));
    this.period = this.cells * CELL;
    this.tickTime = 1 / complete.clock / this.period;
    this.z = new Float64Array(size);
    this.z.set(start.x.subarray(0, drawn.order));
    this.z[one] = 1;
    moving.forEach((name, m) => (this.z[source + m] = start.sources?.[name] ?? sourceValue(circuits.free, name)));
    this.bands = drawn.biased.map((bank) => bandAt(bank, this.z[bank.state] as number));
    this.path = Array.from({ length: LEVELS + 2 }, () => new Float64Array(size));
    this.first = new Float64Array(size);
    this.near = Array.from({ length: NEAR + 1 }, () => new Float64Array(size));
    this.next = new Float64Array(size);
    this.trial = new Float64Array(size);
    this.rateEnds = moving.map(() => Infinity);
    this.rateTargets = moving.map((_, m) => this.z[source + m] as number);
    const { targets } = complete.stage;
    this.scale = {
      voltage: Math.max(Math.abs(targets.outputVoltage), targets.inputVoltage.max),
      current: Math.max(targets.outputCurrent.max / phases.length, 1e-3),
    };
    this.moments = new Moments(this.layout, CELL * this.tickTime, this.counted);
    const { constant, perSource } = drawn.ramp;
    const slope = constant + (perSource ? perSource.factor * this.sourceNow(perSource.name) : 0);
    this.phases = phases.map(({ legs }, k) => {
      const running = start.running?.[k];
      const sinceClock = Math.round((running?.sinceClock ?? 0) / this.tickTime);
      const on = running?.on === true && sinceClock > 0;
      const next = (k * this.period) / phases.length;
      return {
        on,
        resting: false,
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
    this.pulses = new Pulses(this, start, (k) => this.guards.comparatorLevel(k));
    this.commutation = new Commutation(this);
    this.guards = new Guards(this, this.pulses, this.commutation.forward, (k) => {
      if (this.heldBack) this.heldBack.reached = true;
      else this.pulses.beginPulse(k);
    });
    this.pulses.start(start.atWork);
    this.nextUpdates = (drawn.controller?.updates ?? []).map(({ at }) =>
      Math.round((at * this.period) / phases.length),
    );
    this.settle();
  }

  readonly enterBand = (bank: number, band: number): void => {
    this.bands[bank] = band;
  };
  readonly tell: Running['tell'] = (phase, what) => this.watch.pulse?.(this, phase, what);

  /** s from time 0. */
  get time(): number {
    return this.tick * this.tickTime;
  }

  /** Everything it stands at, as if this were time 0 and nothing had been added up. */
  snapshot(): RunSnapshot {
    const { tick, z } = this;
    const { ramp, integral } = this.layout;
    const from = z.slice();
    from[ramp] = 0;
    from[integral] = 0;
    return {
      z: from,
      phases: this.phases.map((phase) => phaseAt(phase, tick, z[ramp] as number)),
      pulses: this.pulses.state(tick),
      amplifier: this.amplifier,
      shorted: this.shorted,
      bands: [...this.bands],
      mute: this.mute - tick,
      rateEnds: this.rateEnds.map((end) => end - tick),
      rateTargets: [...this.rateTargets],
      nextUpdates: this.nextUpdates.map((at) => at - tick),
    };
  }

  /** Stand at a snapshot of a run of the same drawing; time 0 is now. */
  resume(from: RunSnapshot): void {
    this.z.set(from.z);
    this.phases = from.phases.map((phase) => phaseAt(phase, 0, 0));
    this.pulses.resume(from.pulses);
    this.amplifier = from.amplifier;
    this.shorted = from.shorted;
    this.bands = [...from.bands];
    this.mute = from.mute;
    from.rateEnds.forEach((end, m) => (this.rateEnds[m] = end));
    from.rateTargets.forEach((target, m) => (this.rateTargets[m] = target));
    this.nextUpdates = [...from.nextUpdates];
    this.tick = 0;
    this.countedFrom = 0;
    this.changesSince = 0;
    this.splitMoments();
    this.configuration = this.commutation.standing();
    this.refresh();
  }

  /** Look anew at what may become due, by the clock and by the state. */
  private refresh(): void {
    this.guards.refresh();
    this.due = -Infinity;
  }

  /** The moments so far are left as they are; what follows is added up anew. */
  splitMoments(): void {
    this.moments = new Moments(this.layout, CELL * this.tickTime, this.counted);
  }

  /** Where a source that moves is on its way to. */
  sourceTarget(name: string): number {
    return this.rateTargets[this.layout.moving.indexOf(name)] ?? 0;
  }
  /** The value of a source as it was drawn. */
  sourceAtRest(name: string): number {
    return sourceValue(this.drawn.circuits.free, name);
  }
  /** The first tick from which no source moves. */
  get restsFrom(): number {
    return this.rateEnds.reduce((latest, end) => (end === Infinity ? latest : Math.max(latest, end)), this.tick);
  }

  /** Go on until a tick. Nothing that becomes due at that very tick has happened yet. */
  advance(until: number): void {
    while (this.tick < until) this.proceed(until);
  }

  /** Go on until a pulse of phase 1 is about to begin, or to a tick where none does in time. */
  advanceToBegin(until: number): void {
    const held = { reached: false };
    this.heldBack = held;
    while (this.tick < until && !held.reached) this.proceed(until);
    this.heldBack = undefined;
  }
  /** While set, a turn-on by the comparator is only noted. */
  private heldBack: { reached: boolean } | undefined;

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

  /** Let so many phases work, interleaved evenly after the next clock of the first, and the others rest. */
  letWork(working: number): void {
    const first = (this.phases[0] as PhaseState).nextClock;
    const order = phasesAtWork(this.drawn.complete.stage, working) ?? [];
    for (const [k, phase] of this.phases.entries()) {
      const slot = order.indexOf(k);
      phase.resting = slot < 0;
      if (phase.resting && phase.on) this.pulses.endPulse(k, 'stopped');
      let next = first + Math.round((slot * this.period) / working) - this.period;
      while (next <= this.tick) next += this.period;
      if (k > 0) phase.nextClock = phase.resting ? Infinity : next;
    }
    this.pulses.driveLegs();
    this.due = -Infinity;
  }

  /** Set the source that oscillates going, from zero upward. @param amplitude V */
  oscillate(amplitude: number): void {
    const { oscillation, moving, rate } = this.layout;
    if (!oscillation) throw new Error('Nothing oscillates in this run.');
    this.z[rate + moving.indexOf(oscillation.name)] = amplitude * oscillation.angular;
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
      this.commutate();
      this.refresh();
      const due = this.tick < this.mute ? undefined : this.guards.firstDue();
      if (!due) break;
      rounds += 1;
      this.count();
      if (rounds > most) {
        // What still wants to change at this instant waits for the next tick.
        this.mute = this.tick + 1;
        this.due = -Infinity;
        break;
      }
      due.trips();
      if (this.heldBack?.reached === true) break;
    }
    this.watch.changed?.(this);
  }
  private mute = -1;

  /** Let switches and diodes find their places, and enter the configuration they make. */
  private commutate(): void {
    const { configuration, z } = this.commutation.place();
    if (z !== this.z) {
      this.moments.jump(this.z, z);
      this.z = z;
    }
    this.configuration = configuration;
  }

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

  private nextDue(): number {
    const { pulses } = this;
    let due = pulses.resumes;
    for (const end of this.rateEnds) if (end < due) due = end;
    for (const update of this.nextUpdates) if (update < due) due = update;
    if (this.mute >= this.tick) due = Math.min(due, Math.max(this.mute, this.tick + 1));
    for (const phase of this.phases) {
      due = Math.min(due, phase.nextClock);
      if (phase.on) {
        due = Math.min(due, pulses.pulseEnd(phase));
        const blanked = phase.began + pulses.blanking;
        if (blanked > this.tick) due = Math.min(due, blanked);
      } else if (this.drawn.decides === 'turn-on') {
        const again = pulses.mayTurnOn(phase);
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
      // By a power of two, exactly; a remainder of such large numbers takes many times as long.
      const grid = (Math.floor(this.tick / cell) + 1) * cell;
      this.pass(grid < to ? grid : to);
    }
    if (this.tick < until && this.due !== -Infinity && this.due <= this.tick) {
      this.due = -Infinity;
      this.meet();
    }
  }

  /** Everything that is due at this very tick. */
  private meet(): void {
    let changed = false;
    const { tick, pulses } = this;
    const { source, rate } = this.layout;
    for (let m = 0; m < this.rateEnds.length; m += 1) {
      if (this.rateEnds[m] !== tick) continue;
      this.z[source + m] = this.rateTargets[m] as number;
      this.z[rate + m] = 0;
      this.rateEnds[m] = Infinity;
      changed = true;
    }
    if (pulses.resumes === tick) {
      pulses.resumes = Infinity;
      pulses.awaken();
      changed = true;
    }
    changed = this.update() || changed;
    for (let k = 0; k < this.phases.length; k += 1) {
      const phase = this.phases[k] as PhaseState;
      if (phase.on && pulses.pulseEnd(phase) <= tick) {
        pulses.endPulse(k, this.drawn.decides === 'turn-on' ? 'on-time' : 'duty-limit');
        changed = true;
      }
      if (phase.nextClock <= tick) {
        pulses.clockComes(k);
        changed = true;
      }
      for (const [i, leg] of phase.legs.entries()) {
        if (leg.until === tick) {
          leg.until = Infinity;
          pulses.drive(k, i, 'off');
          changed = true;
        }
        if (leg.settles === tick) changed = true;
      }
      if (phase.on && phase.began + pulses.blanking === tick) changed = true;
      if (this.drawn.decides === 'turn-on' && !phase.on && pulses.mayTurnOn(phase) === tick) changed = true;
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

  /** Pass to a tick, or to the first at which a guard is due, and let it act. */
  private pass(to: number): void {
    const ticks = to - this.tick;
    this.walk(this.next, ticks);
    if (this.tick >= this.mute && this.guards.dueAt(this.next) >= 0) {
      this.descend(ticks);
      return;
    }
    this.account(ticks);
    this.arrive(to);
  }

  /** out ← the state so many ticks on, a cell at most; its way there is kept for `account`. */
  private walk(out: Float64Array, ticks: number): void {
    const { configuration, path, layout } = this;
    this.part = undefined;
    if (ticks === CELL) {
      configuration.step(out, this.z, 0);
      return;
    }
    this.part = this.parts.stepOver(configuration, ticks);
    if (this.part) {
      stepped(out, this.z, this.part, layout);
      return;
    }
    let from = this.z;
    let parts = 0;
    for (let level = 1; level <= LEVELS; level += 1) {
      if ((ticks & (CELL >> level)) === 0) continue;
      const onto = path[parts] as Float64Array;
      configuration.step(onto, from, level);
      parts += 1;
      from = onto;
    }
    out.set(from);
  }
  private readonly parts = new RecurringParts();
  /** The step of the last walk, where it was one. */
  private part: Float64Array | undefined;

  /** The last walk is what happened: it counts. */
  private account(ticks: number): void {
    const { configuration, moments, path } = this;
    if (ticks === CELL) moments.add(configuration, 0, this.z, this.next);
    else if (this.part) moments.addPart(configuration, ticks, this.z);
    else {
      let from = this.z;
      let parts = 0;
      for (let level = 1; level <= LEVELS; level += 1) {
        if ((ticks & (CELL >> level)) === 0) continue;
        const onto = path[parts] as Float64Array;
        moments.add(configuration, level, from, onto);
        from = onto;
        parts += 1;
      }
    }
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

  /** Go to the tick at which the first guard is due, and let it act there. */
  private descend(ticks: number): void {
    this.guards.suspect(this.next);
    const guess = this.guards.crossing(this.z, this.next, ticks * this.tickTime);
    if (!this.goNear(Math.floor(guess * ticks) - BEFORE, ticks)) this.halve(ticks);
    this.settle();
  }

  /**
   * Go to a tick just before the one at which a guard is expected to come due, and on tick by tick until it does. Where it was due before,
   * or is not within a few ticks, nothing has happened.
   */
  private goNear(before: number, ticks: number): boolean {
    if (!(before >= 1 && before + NEAR < ticks)) return false;
    const { configuration, moments, guards, near } = this;
    const [begin] = near;
    if (!begin) return false;
    this.walk(begin, before);
    if (guards.suspectDue(begin)) return false;
    for (let k = 1; k < near.length; k += 1) {
      const [from, onto] = [near[k - 1] as Float64Array, near[k] as Float64Array];
      configuration.step(onto, from, LEVELS);
      if (!guards.suspectDue(onto)) continue;
      this.account(before);
      for (let j = 0; j < k; j += 1)
        moments.add(configuration, LEVELS, near[j] as Float64Array, near[j + 1] as Float64Array);
      this.next.set(onto);
      this.arrive(this.tick + before + k);
      return true;
    }
    return false;
  }

  /** Halve the step down to the tick at which the first guard is due. */
  private halve(ticks: number): void {
    const { configuration, moments } = this;
    let from = this.first;
    let onto = this.trial;
    from.set(this.z);
    let passed = 0;
    for (let level = 0; level <= LEVELS; level += 1) {
      const bit = CELL >> level;
      if (passed + bit >= ticks) continue;
      configuration.step(onto, from, level);
      if (this.guards.suspectDue(onto)) continue;
      moments.add(configuration, level, from, onto);
      passed += bit;
      [from, onto] = [onto, from];
    }
    configuration.step(this.next, from, LEVELS);
    moments.add(configuration, LEVELS, from, this.next);
    this.arrive(this.tick + passed + 1);
  }
}

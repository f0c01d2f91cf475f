import { LOOP } from '../controller/loopNames.js';
import { ABOVE_AUDIO } from '../modes/operatingMode.js';
import type { AmplifierState } from './amplifierLimits.js';
import { valueOf } from './configuration.js';
import type { LegState, PhaseState, PulseEnd } from './phaseState.js';
import type { Running } from './running.js';
import { sourceValue } from './simulatedStage.js';

/**
 * Least off-time of constant on-time control after a pulse that the current limit ended, as a share of the clock period, where no longer
 * one is stated: without any the comparator and the limit would answer each other at once. Common practice.
 */
const OFF_AFTER_LIMIT = 0.05;
/** In critical conduction the next pulse begins no later than after so many clock periods. */
const LATEST = 20;

/** What of a start concerns the pulses. */
export interface PulseRules {
  /** s, of each pulse, where a comparator turns it on. */
  readonly onTime?: number;
  /** Of every pulse, whatever a comparator says. */
  readonly fixedDuty?: number | undefined;
}

/** What of the controller outlasts a period; the tick counted from where it was taken. */
export interface PulsesState {
  readonly enabled: boolean;
  readonly resumes: number;
  readonly hiccupCount: number;
}

/** The controller: when pulses begin and end, what holds them back, and how the legs are driven for them. */
export class Pulses {
  /** Whether pulses may start; a lock-out and a hiccup keep them from it. */
  enabled = false;
  /** Tick at which a controller that gave up begins again. */
  resumes = Infinity;
  /** Whether the next pulse begins as the current has come to rest. */
  readonly critical: boolean;
  /** Ticks. */
  readonly blanking: number;
  readonly fixedDuty: number | undefined;
  private readonly minimumOff: number;
  private readonly onTime: number;
  private hiccupCount = 0;

  /**
   * @param tripped how far the comparator of a phase is beyond its threshold, V; at or above zero no pulse starts.
   */
  constructor(
    private readonly run: Running,
    { onTime = 0, fixedDuty }: PulseRules,
    private readonly tripped: (phase: number) => number,
  ) {
    const { drawn, tickTime } = run;
    const { minimumOnTime, minimumOffTime = 0 } = drawn.complete.stage.control;
    this.blanking = Math.round(minimumOnTime / tickTime);
    this.minimumOff = Math.round(minimumOffTime / tickTime);
    this.onTime = onTime;
    this.fixedDuty = fixedDuty;
    this.critical = drawn.decides === 'turn-off' && drawn.complete.stage.operatingMode === 'critical-conduction';
  }

  /** When a comparator may turn a phase on again: after a pulse that the limit ended, not at once. */
  mayTurnOn({ ended, limited }: PhaseState): number {
    return (
      ended + (limited ? Math.max(this.minimumOff, Math.round(OFF_AFTER_LIMIT * this.run.period)) : this.minimumOff)
    );
  }

  /** When a pulse ends by time, whatever else holds. */
  pulseEnd(phase: PhaseState): number {
    if (this.run.drawn.decides === 'turn-on')
      return phase.began + Math.max(1, Math.round(this.onTime / this.run.tickTime));
    const { dutyMax } = this.run.drawn.complete.stage.control;
    const duty = this.fixedDuty ?? dutyMax;
    return duty >= 1 ? Infinity : phase.clock + Math.round(duty * this.run.period);
  }

  state(tick: number): PulsesState {
    return { enabled: this.enabled, resumes: this.resumes - tick, hiccupCount: this.hiccupCount };
  }
  resume({ enabled, resumes, hiccupCount }: PulsesState): void {
    this.enabled = enabled;
    this.resumes = resumes;
    this.hiccupCount = hiccupCount;
  }

  /** How a run begins: at work; or with a soft start, once the lock-out lets it. */
  start(atWork: boolean): void {
    const { undervoltageLockout } = this.run.drawn.complete.stage.control;
    if (atWork) this.enabled = true;
    else if (undervoltageLockout) this.holdReference(0);
    else this.awaken();
    this.driveLegs();
  }

  /** The clock of a phase: the ramp starts again, and a pulse begins unless something holds it back. */
  clockComes(k: number): void {
    const phase = this.run.phases[k] as PhaseState;
    const { critical } = this;
    phase.clock = this.run.tick;
    phase.nextClock = this.run.tick + (critical ? LATEST * this.run.period : this.run.period);
    phase.rampAt = this.run.z[this.run.layout.ramp] as number;
    if (k === 0) this.giveUpWhenLimited(phase);
    phase.limited = false;
    if (!this.enabled) return;
    const drives = this.run.drawn.drivesAt(this.run.sourceNow('source'));
    for (const [i, leg] of phase.legs.entries()) {
      const drive = drives[i];
      if (drive && 'until' in drive && drive.until !== 'command-end') {
        this.drive(k, i, 'on');
        leg.until = this.run.tick + Math.round(drive.until * this.run.period);
      }
    }
    if (this.mayBegin(k)) this.beginPulse(k);
    else {
      if (phase.on) this.endPulse(k, 'comparator');
      this.run.tell(k, 'skipped');
      // In critical conduction nothing but the clock tries again.
      if (critical) phase.nextClock = this.run.tick + this.run.period;
    }
  }

  /** Whether a pulse may start at a clock: nothing is tripped already. */
  private mayBegin(k: number): boolean {
    if (this.fixedDuty !== undefined) return this.fixedDuty > 0;
    const { drawn, configuration, z } = this.run;
    const { control, operatingMode } = drawn.complete.stage;
    const phase = this.run.phases[k] as PhaseState;
    const inductor = drawn.phases[k]?.inductor ?? '';
    if (this.tripped(k) >= 0) return false;
    const { currentLimit } = control;
    if (currentLimit !== undefined && valueOf(configuration.current(inductor), z) >= currentLimit) return false;
    if (this.run.amplifier !== this.lowest) return true;
    if (operatingMode === 'pulse-skipping') return false;
    if (operatingMode !== 'ultrasonic') return true;
    // Above hearing: a pulse that has been waited for too long comes all the same.
    return (this.run.tick - phase.began) * this.run.tickTime >= 1 / ABOVE_AUDIO - this.run.period * this.run.tickTime;
  }

  /** The limit of the amplifier at which it asks for least. */
  private get lowest(): AmplifierState {
    return this.run.drawn.sign > 0 ? 'low' : 'high';
  }

  beginPulse(k: number): void {
    const phase = this.run.phases[k] as PhaseState;
    phase.on = true;
    phase.began = this.run.tick;
    if (this.run.drawn.decides === 'turn-on') {
      phase.clock = this.run.tick;
      if (k === 0) this.giveUpWhenLimited(phase);
      phase.limited = false;
      if (!this.enabled) {
        phase.on = false;
        return;
      }
    }
    this.driveCommanded(k, 'on');
    this.run.tell(k, 'begins');
  }

  endPulse(k: number, by: PulseEnd): void {
    const phase = this.run.phases[k] as PhaseState;
    phase.on = false;
    phase.ended = this.run.tick;
    if (by === 'limit') phase.limited = true;
    this.driveCommanded(k, 'off');
    this.run.tell(k, by);
  }

  /** After so many limited periods in a row the controller gives up for a while, then starts softly. */
  private giveUpWhenLimited({ limited }: PhaseState): void {
    const { hiccup } = this.run.drawn.complete.stage.control;
    if (!hiccup || !this.enabled) return;
    this.hiccupCount = limited ? this.hiccupCount + 1 : 0;
    if (this.hiccupCount < hiccup.periods) return;
    this.stop();
    this.resumes = this.run.tick + Math.max(1, Math.round(hiccup.offTime / this.run.tickTime));
  }

  /** No pulses, and every switch open. */
  stop(): void {
    this.enabled = false;
    this.hiccupCount = 0;
    for (let k = 0; k < this.run.phases.length; k += 1) if (this.run.phases[k]?.on) this.endPulse(k, 'stopped');
    this.holdReference(0);
    this.driveLegs();
  }

  /** Begin to work: the reference rises on its soft start. What keeps it from working is looked at by its guard. */
  awaken(): void {
    const { softStartTime } = this.run.drawn.complete.stage.control;
    this.enabled = true;
    this.holdReference(0);
    this.holdReference(sourceValue(this.run.drawn.circuits.free, LOOP.reference), softStartTime);
    this.driveLegs();
  }

  /** Move the reference, where it moves at all. */
  private holdReference(to: number, within = 0): void {
    if (this.run.layout.moving.includes(LOOP.reference)) this.run.moveSource(LOOP.reference, to, within);
  }

  driveLegs(): void {
    const drives = this.run.drawn.drivesAt(this.run.sourceNow('source'));
    for (const [k, phase] of this.run.phases.entries())
      for (const [i, leg] of phase.legs.entries()) {
        const drive = drives[i];
        if (!this.enabled || phase.resting) this.drive(k, i, 'idle');
        else if (drive && 'resting' in drive) this.drive(k, i, drive.resting);
        else if (drive?.until === 'command-end') this.drive(k, i, phase.on ? 'on' : 'off');
        else if (drive) {
          const end = phase.clock + Math.round(drive.until * this.run.period);
          this.drive(k, i, end > this.run.tick && phase.clock < this.run.tick ? 'on' : 'off');
          leg.until = end > this.run.tick ? end : Infinity;
        }
        leg.settles = Math.min(leg.settles, this.run.tick);
      }
  }

  private driveCommanded(k: number, to: 'on' | 'off'): void {
    const drives = this.run.drawn.drivesAt(this.run.sourceNow('source'));
    const phase = this.run.phases[k] as PhaseState;
    for (const i of phase.legs.keys()) {
      const drive = drives[i];
      if (!drive || !this.enabled || phase.resting) this.drive(k, i, 'idle');
      else if ('resting' in drive) this.drive(k, i, drive.resting);
      else if (drive.until === 'command-end') this.drive(k, i, to);
    }
  }

  /** Drive a leg: what opens opens at once, what closes waits for the dead time. */
  drive(k: number, i: number, to: LegState['target']): void {
    const leg = (this.run.phases[k] as PhaseState).legs[i];
    if (!leg || leg.target === to) return;
    leg.target = to;
    const cell = this.run.drawn.phases[k]?.legs[i]?.cell;
    const dead =
      cell?.diodeRectifier === true ? 0 : Math.round(this.run.drawn.complete.stage.deadTime / this.run.tickTime);
    leg.settles = this.run.tick + dead;
  }
}

import { comparatorRow } from '../orbit/comparator.js';
import { LIMITER, type AmplifierState } from './amplifierLimits.js';
import { multiply } from '../linalg/dense.js';
import { valueOf } from './configuration.js';
import { crossingOfCubic } from './crossingOfCubic.js';
import type { PhaseState } from './phaseState.js';
import type { Pulses } from './pulses.js';
import { ROUNDING, type Running } from './running.js';
import type { SimulatedStage } from './simulatedStage.js';

/** In critical conduction the next pulse begins no sooner than this share of the clock period. */
const SOONEST = 0.25;
/** Current of an ideal limiter that counts as none, A: that of an amplifier is of microamperes. */
const LIMITER_AMPS = 1e-15;

/** Something that may become due between two instants: it has when its row over the state, and what is added, rise above nothing. */
interface Guard {
  readonly row: Float64Array;
  readonly offset: number;
  readonly tolerance: number;
  readonly trips: () => void;
}

interface BankRows {
  readonly plus: Float64Array;
  readonly minus: Float64Array;
}

/** What is looked at as time passes: comparators, limits, diodes, the amplifier's clamps and the lock-out, each a row over the state. */
export class Guards {
  private guards: readonly Guard[] = [];
  /** Rows of the guards one after another, and the value above which each is due. */
  private guardRows = new Float64Array(64);
  private guardLimits = new Float64Array(8);
  /** The voltage of each biased bank, and that turned round. */
  private readonly bankRows: readonly BankRows[];
  /** Under which names the comparators' rows are kept. */
  private readonly names: readonly string[];

  /**
   * @param forward forward voltage of each diode, V.
   * @param begins what a comparator does that turns a phase on.
   */
  constructor(
    private readonly run: Running,
    private readonly pulses: Pick<
      Pulses,
      'enabled' | 'resumes' | 'critical' | 'blanking' | 'fixedDuty' | 'mayTurnOn' | 'endPulse' | 'stop' | 'awaken'
    >,
    private readonly forward: ReadonlyMap<string, number>,
    private readonly begins: (phase: number) => void,
  ) {
    this.bankRows = run.drawn.biased.map(({ state }) => {
      const plus = new Float64Array(run.layout.size);
      const minus = new Float64Array(run.layout.size);
      plus[state] = 1;
      minus[state] = -1;
      return { plus, minus };
    });
    this.names = run.drawn.phases.map((_, k) => `comparator ${String(k)}`);
  }

  private comparatorRowOf(k: number): Float64Array {
    const { comparator, phases } = this.run.drawn;
    const { configuration, layout } = this.run;
    const { size, ramp } = layout;
    return configuration.derived(this.names[k] as string, () => {
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
    return this.run.configuration.derived(`-${name}`, () => row.map((value) => -value));
  }

  /** How far the comparator of a phase is beyond its threshold, V. */
  comparatorLevel(k: number): number {
    const phase = this.run.phases[k] as PhaseState;
    const row = this.comparatorRowOf(k);
    return valueOf(row, this.run.z) - (this.run.drawn.decides === 'turn-off' ? phase.rampAt : 0);
  }

  /** Which guards there are now, after a change. */
  refresh(): void {
    const { run, pulses } = this;
    const guards: Guard[] = [];
    const { drawn, configuration, tick } = run;
    const { control } = drawn.complete.stage;
    const amps = ROUNDING * run.scale.current;
    const volts = ROUNDING * run.scale.voltage;
    for (const [k, phase] of run.phases.entries()) {
      const { inductor, diodes } = drawn.phases[k] as SimulatedStage['phases'][number];
      const current = configuration.current(inductor);
      if (phase.on && pulses.fixedDuty === undefined && tick >= phase.began + pulses.blanking) {
        if (drawn.decides === 'turn-off')
          guards.push({
            row: this.comparatorRowOf(k),
            offset: -phase.rampAt,
            tolerance: volts,
            trips: () => pulses.endPulse(k, 'comparator'),
          });
        const { currentLimit } = control;
        if (currentLimit !== undefined)
          guards.push({
            row: current,
            offset: -currentLimit,
            tolerance: amps,
            trips: () => pulses.endPulse(k, 'limit'),
          });
      }
      if (!phase.on && drawn.decides === 'turn-on' && pulses.enabled && tick >= pulses.mayTurnOn(phase)) {
        const { currentLimit = Infinity } = control;
        // At its limit the current has to fall before a pulse may begin.
        if (valueOf(current, run.z) >= currentLimit)
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
            trips: () => this.begins(k),
          });
      }
      if (pulses.critical && !phase.on && phase.nextClock > tick + SOONEST * run.period)
        guards.push({
          row: this.negated(`i ${inductor}`, current),
          offset: 0,
          tolerance: -amps,
          trips: () => (phase.nextClock = Math.max(phase.clock + SOONEST * run.period, run.tick + 1)),
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
    guards.push(...this.bandGuards(volts));
    this.guards = guards;
    const { size } = run.layout;
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
  }

  private amplifierGuards(volts: number): readonly Guard[] {
    const { configuration, layout, amplifier, drawn } = this.run;
    const { limits } = drawn;
    if (!limits) return [];
    const { one } = layout;
    const to = (state: AmplifierState) => () => {
      this.run.amplifier = state;
    };
    if (amplifier === 'free') {
      const row = configuration.node(limits.node);
      const shifted = (factor: number, by: number) => (): Float64Array => {
        const out = row.map((value) => factor * value);
        out[one] = (out[one] as number) + by;
        return out;
      };
      return [
        {
          row: configuration.derived('over', shifted(1, -limits.high)),
          offset: 0,
          tolerance: volts,
          trips: to('high'),
        },
        { row: configuration.derived('under', shifted(-1, limits.low)), offset: 0, tolerance: volts, trips: to('low') },
      ];
    }
    // It lets go when what drives it turns inward.
    const outward = amplifier === 'high' ? 1 : -1;
    const [plus, minus] = limits.inputs;
    const row = configuration.derived('lets go', () =>
      limits.letsGoBy === 'inputs'
        ? configuration.node(plus).map((value, i) => -outward * (value - (configuration.node(minus)[i] as number)))
        : configuration.current(LIMITER).map((value) => -outward * value),
    );
    return [{ row, offset: 0, tolerance: limits.letsGoBy === 'inputs' ? volts : LIMITER_AMPS, trips: to('free') }];
  }

  private lockoutGuards(volts: number): readonly Guard[] {
    const { pulses } = this;
    const lockout = this.run.drawn.complete.stage.control.undervoltageLockout;
    if (!lockout || pulses.resumes !== Infinity) return [];
    const input = this.run.configuration.node('in');
    if (pulses.enabled)
      return [
        {
          row: this.negated('n in', input),
          offset: lockout.falling,
          tolerance: volts,
          trips: () => pulses.stop(),
        },
      ];
    return [{ row: input, offset: -lockout.rising, tolerance: volts, trips: () => pulses.awaken() }];
  }

  /** At the ends of the band each biased bank is in. */
  private bandGuards(volts: number): readonly Guard[] {
    const { bands, drawn, enterBand, z } = this.run;
    return drawn.biased.flatMap(({ state, from }, k) => {
      const band = bands[k] ?? 0;
      const outward = (z[state] as number) < 0 ? 'minus' : 'plus';
      const inward = outward === 'plus' ? 'minus' : 'plus';
      const passes = (way: 'plus' | 'minus', offset: number, to: number): Guard => ({
        row: (this.bankRows[k] as BankRows)[way],
        offset,
        tolerance: volts,
        trips: () => enterBand(k, to),
      });
      const above = from[band + 1];
      return [
        ...(above === undefined ? [] : [passes(outward, -above, band + 1)]),
        // The first band is left both ways.
        ...(above === undefined || band > 0 ? [] : [passes(inward, -above, band + 1)]),
        ...(band === 0 ? [] : [passes(inward, from[band] ?? 0, band - 1)]),
      ];
    });
  }

  /** The first guard that is due where the run stands. */
  firstDue(): Guard | undefined {
    return this.guards[this.dueAt(this.run.z)];
  }

  /** The number of the first guard that is due at a state; −1 where none is. */
  dueAt(z: Float64Array): number {
    return this.firstOf(z, 0);
  }

  private firstOf(z: Float64Array, from: number): number {
    const { guardRows, guardLimits } = this;
    const { length } = this.guards;
    const { size } = this.run.layout;
    for (let g = from, at = from * size; g < length; g += 1) {
      let sum = 0;
      for (let i = 0; i < size; i += 1, at += 1) sum += (guardRows[at] as number) * (z[i] as number);
      if (sum > (guardLimits[g] as number)) return g;
    }
    return -1;
  }

  /** Single out the guards that are due at a state, for `suspectDue`. */
  suspect(z: Float64Array): void {
    this.suspects = 0;
    for (let g = this.firstOf(z, 0); g >= 0; g = this.firstOf(z, g + 1)) {
      this.suspected[this.suspects] = g;
      this.suspects += 1;
    }
  }
  private readonly suspected: number[] = [];
  private suspects = 0;

  /**
   * Where between two states the first of those singled out comes due, as a share of the step, by the cubic through its values and
   * slopes at both: a guess, far off where something much faster than the step is in the slopes. NaN where there is none.
   */
  crossing(from: Float64Array, to: Float64Array, step: number): number {
    const { guardRows, guardLimits, suspected, rates } = this;
    const { size } = this.run.layout;
    const { dynamics } = this.run.configuration;
    if (rates.from.length !== size) {
      rates.from = new Float64Array(size);
      rates.to = new Float64Array(size);
    }
    multiply(rates.from, dynamics, from, size, size, 1);
    multiply(rates.to, dynamics, to, size, size, 1);
    let first = NaN;
    for (let s = 0; s < this.suspects; s += 1) {
      const g = suspected[s] as number;
      const limit = guardLimits[g] as number;
      let [v0, v1, s0, s1] = [-limit, -limit, 0, 0];
      for (let i = 0, at = g * size; i < size; i += 1, at += 1) {
        const row = guardRows[at] as number;
        v0 += row * (from[i] as number);
        v1 += row * (to[i] as number);
        s0 += row * (rates.from[i] as number);
        s1 += row * (rates.to[i] as number);
      }
      const u = crossingOfCubic(v0, v1, s0 * step, s1 * step);
      if (!(first <= u)) first = u;
    }
    return first;
  }
  private readonly rates = { from: new Float64Array(0), to: new Float64Array(0) };

  /** Whether one of those singled out is due at a state. */
  suspectDue(z: Float64Array): boolean {
    const { guardRows, guardLimits, suspected } = this;
    const { size } = this.run.layout;
    for (let s = 0; s < this.suspects; s += 1) {
      const g = suspected[s] as number;
      let sum = 0;
      for (let i = 0, at = g * size; i < size; i += 1, at += 1) sum += (guardRows[at] as number) * (z[i] as number);
      if (sum > (guardLimits[g] as number)) return true;
    }
    return false;
  }
}

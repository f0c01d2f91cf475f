import { CELL, type Configuration } from './configuration.js';
import type { PulseEnd } from './phaseState.js';
import type { Run, RunWatch } from './run.js';
import { SparseRows } from './sparseRows.js';

/** Points kept for averages and pictures; a longer run keeps every so manieth, with the least and the greatest in between. */
const MOST_POINTS = 400_000;

/** A growing column of numbers. */
class Column {
  private data: Float64Array;
  length = 0;
  constructor(capacity: number) {
    this.data = new Float64Array(Math.max(64, capacity));
  }
  push(value: number): void {
    if (this.length === this.data.length) {
      const grown = new Float64Array(2 * this.data.length);
      grown.set(this.data);
      this.data = grown;
    }
    this.data[this.length] = value;
    this.length += 1;
  }
  values(): Float64Array {
    return this.data.subarray(0, this.length);
  }
}

/** Something that happened at an instant, for the bands that show what the controller does. @public */
export interface Occurrence {
  /** s */
  readonly time: number;
  readonly phase: number;
  readonly what: 'begins' | 'skipped' | PulseEnd;
}

/** Waveforms of a run. Between two points lies nothing above `most` or below `least`. @public */
export interface Waveforms {
  /** s from time 0, ascending. */
  readonly time: Float64Array;
  readonly signals: readonly {
    readonly name: string;
    readonly unit: 'V' | 'A';
    readonly least: Float64Array;
    readonly most: Float64Array;
  }[];
}

/** A signal to keep: how it is read in a configuration. */
export interface Kept {
  readonly name: string;
  readonly unit: 'V' | 'A';
  readonly row: (configuration: Configuration) => Float64Array;
}

/** Extremes of a waveform. */
interface Extremes {
  least: number;
  most: number;
}
const NONE = (): Extremes => ({ least: Infinity, most: -Infinity });

/**
 * The least and greatest of a cubic between two points from values and slopes, beyond its ends; undefined where it has no turning
 * point inside, or where the slopes belong to something much faster than the step, which no cubic pictures.
 */
function turningPoint(v0: number, v1: number, s0: number, s1: number, h: number): number | undefined {
  if (s0 * s1 >= 0) return undefined;
  const ratio = Math.abs(s0 / s1);
  if (ratio > 30 || ratio < 1 / 30) return undefined;
  // Hermite cubic in u = t/h: derivative a u² + b u + c.
  const d = v1 - v0;
  const a = 3 * (h * (s0 + s1) - 2 * d);
  const b = 2 * (3 * d - h * (2 * s0 + s1));
  const c = h * s0;
  const root = Math.sqrt(Math.max(0, b * b - 4 * a * c));
  const q = -(b + Math.sign(b === 0 ? 1 : b) * root) / 2;
  for (const u of [q / a, c / q]) {
    if (!(u > 0 && u < 1)) continue;
    return v0 + u * (c + u * (b / 2 + (u * a) / 3));
  }
  return undefined;
}

/** How many times steeper than the secants about it a slope may be to be believed. */
const TRUSTED = 6;

/** What a run is measured by, taken as it goes. */
export class Recorder implements RunWatch {
  readonly output = { whole: NONE(), late: NONE() };
  readonly inductor: Extremes = NONE();
  /** V, the most that a switch or diode has borne either way. */
  switchVoltage = 0;
  readonly turnOns: number[] = [];
  readonly occurrences: Occurrence[] = [];
  /** What averages are taken from: every point, or in a long run one at each half of a clock period. */
  readonly averages: { readonly time: Column; readonly integral: Column; readonly output: Column };
  private readonly time: Column;
  /** Least and most are one where every point is kept and nothing turns in between. */
  private readonly columns: { readonly least: Column; readonly most: Column }[];
  private readonly between: Extremes[];
  /** Points drawn as one. */
  readonly stride: number;
  private since = 0;
  private known: Configuration | undefined;
  /** Rows of the kept signals, then the slope of the output and the voltages of the switches, one after another. */
  private rows = new SparseRows([]);
  /** Under which a configuration keeps them. */
  private readonly name: string;
  private readonly values: Float64Array;
  private readonly scratch: Float64Array;
  /** Of the output, where the last step ended, in the same configuration. */
  private value = 0;
  private stale = true;
  private slope = 0;
  /** Tick of the last change. */
  private changedAt = -Infinity;
  /** V/s over the step before. */
  private secant = 0;

  /**
   * @param kept the signals to keep, the output voltage first.
   * @param late tick from which the second half counts.
   */
  constructor(
    private readonly sign: 1 | -1,
    private readonly kept: readonly Kept[],
    private readonly inductors: { readonly from: number; readonly to: number },
    private readonly late: number,
    points: number,
    size: number,
    /** Level of the step after which a change is looked at: see `lookedAtAfter`. */
    private readonly after: number,
    /** Switches and diodes whose voltage is watched. */
    private readonly switches: readonly string[],
  ) {
    this.name = `kept, ${String(switches.length)} switches`;
    this.stride = Math.max(1, Math.ceil(points / MOST_POINTS));
    const capacity = Math.ceil(points / this.stride);
    const column = (): Column => new Column(capacity);
    this.time = column();
    const few = (): Column => new Column(this.stride === 1 ? capacity : 0);
    this.averages = { time: few(), integral: few(), output: few() };
    this.columns = kept.map((_, s) => {
      const least = column();
      return { least, most: this.stride > 1 || s === 0 ? column() : least };
    });
    this.between = kept.map(NONE);
    this.values = new Float64Array(kept.length + 1 + switches.length);
    this.scratch = new Float64Array(size);
  }

  private look(configuration: Configuration, z: Float64Array): void {
    if (configuration !== this.known) {
      this.known = configuration;
      this.stale = true;
      this.rows = configuration.sparse(this.name, () => {
        const rows = this.kept.map(({ row }) => row(configuration));
        const [output = z] = rows;
        const across = this.switches.map((name) => configuration.voltage(name));
        return [...rows, configuration.slopeOf(output), ...across];
      });
    }
    this.rows.at(this.values, z);
  }

  step(run: Run, from: number, before: Float64Array, to: number, after: Float64Array): void {
    const { values, sign } = this;
    const last = this.kept.length;
    const moment = CELL >> this.after;
    // Still in the moment of a change: neither measured nor drawn.
    if (to - this.changedAt < moment) {
      this.stale = true;
      return;
    }
    if (from === this.changedAt) this.lookAfterChange(run, before);
    if (run.configuration !== this.known || this.stale) {
      this.look(run.configuration, before);
      this.value = sign * (values[0] as number);
      this.slope = sign * (values[last] as number);
      this.stale = false;
    }
    const v0 = this.value;
    const s0 = this.slope;
    this.look(run.configuration, after);
    const v1 = sign * (values[0] as number);
    const s1 = sign * (values[last] as number);
    this.reach(v1, to);
    const secant = (v1 - v0) / ((to - from) * run.tickTime);
    // Slopes many times steeper than the waveform belong to a mode of femtoseconds, and say nothing but rounding.
    const steepest = TRUSTED * (Math.abs(secant) + Math.abs(this.secant));
    const trusted = s0 * s1 < 0 && Math.abs(s0) <= steepest && Math.abs(s1) <= steepest;
    const turned = trusted ? turningPoint(v0, v1, s0, s1, (to - from) * run.tickTime) : undefined;
    this.secant = secant;
    if (turned !== undefined) this.reach(turned, to);
    this.value = v1;
    this.slope = s1;
    for (let s = this.inductors.from; s < this.inductors.to; s += 1) {
      const current = values[s] as number;
      if (current > this.inductor.most) this.inductor.most = current;
      if (current < this.inductor.least) this.inductor.least = current;
    }
    for (let s = last + 1; s < values.length; s += 1) {
      const across = Math.abs(values[s] as number);
      if (across > this.switchVoltage) this.switchVoltage = across;
    }
    this.keep(run, to, after, turned);
  }

  /** A change at an instant: what it makes of the output is looked at a moment later, if nothing else has changed by then. */
  changed(run: Run): void {
    this.changedAt = run.tick;
    this.stale = true;
  }

  /** The output a moment after a change that began at `before`. */
  private lookAfterChange(run: Run, before: Float64Array): void {
    run.configuration.step(this.scratch, before, this.after);
    this.look(run.configuration, this.scratch);
    this.reach(this.sign * (this.values[0] as number), this.changedAt);
    this.keep(run, this.changedAt, this.scratch, undefined);
  }

  pulse(run: Run, phase: number, what: Occurrence['what']): void {
    if (what === 'begins' && phase === 0) this.turnOns.push(run.tick);
    if (this.occurrences.length < MOST_POINTS) this.occurrences.push({ time: run.time, phase, what });
  }

  private reach(value: number, tick: number): void {
    const { whole, late } = this.output;
    if (value < whole.least) whole.least = value;
    if (value > whole.most) whole.most = value;
    if (tick < this.late) return;
    if (value < late.least) late.least = value;
    if (value > late.most) late.most = value;
  }

  private keep(run: Run, tick: number, z: Float64Array, turned: number | undefined): void {
    const { values, stride } = this;
    if (stride === 1 || tick % (run.period / 2) === 0) {
      this.averages.time.push(tick * run.tickTime);
      this.averages.integral.push(this.sign * (z[run.layout.integral] as number));
      this.averages.output.push(this.sign * (values[0] as number));
    }
    if (stride === 1) {
      this.time.push(tick * run.tickTime);
      const [output] = this.columns;
      const value = values[0] as number;
      const beyond = turned === undefined ? value : this.sign * turned;
      output?.least.push(value < beyond ? value : beyond);
      output?.most.push(value > beyond ? value : beyond);
      for (let s = 1; s < this.columns.length; s += 1) this.columns[s]?.least.push(values[s] as number);
      return;
    }
    for (let s = 0; s < this.between.length; s += 1) {
      const value = values[s] as number;
      const between = this.between[s] as Extremes;
      const beyond = s === 0 && turned !== undefined ? this.sign * turned : value;
      between.least = Math.min(between.least, value, beyond);
      between.most = Math.max(between.most, value, beyond);
    }
    this.since += 1;
    this.lastTime = tick * run.tickTime;
    if (this.since >= stride) this.flush();
  }
  /** s, of the last point kept. */
  private lastTime = 0;

  /** What has been seen since the last point drawn becomes a point. */
  private flush(): void {
    if (this.since === 0) return;
    this.since = 0;
    this.time.push(this.lastTime);
    for (let s = 0; s < this.between.length; s += 1) {
      const between = this.between[s] as Extremes;
      const column = this.columns[s] as (typeof this.columns)[number];
      column.least.push(between.least);
      column.most.push(between.most);
      between.least = Infinity;
      between.most = -Infinity;
    }
  }

  /** What has been kept; a run that goes on may be asked on the way, and shows the points that are whole. */
  waveforms(over: boolean): Waveforms {
    if (over) this.flush();
    return {
      time: this.time.values(),
      signals: this.kept.map(({ name, unit }, s) => ({
        name,
        unit,
        least: this.columns[s]?.least.values() ?? new Float64Array(0),
        most: this.columns[s]?.most.values() ?? new Float64Array(0),
      })),
    };
  }
}

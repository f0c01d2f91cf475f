import {
  asBuilt,
  BenchBoard,
  boardRun,
  completeStage,
  evenly,
  InstrumentErrors,
  loadStep,
  loopGain,
  operatingPoint,
  random,
  simulate,
  type BoardState,
  type Channel,
  type Instruments,
  type LoadSetting,
  type Stage,
  type SupplySetting,
  type Waveforms,
} from '@yundro/core';

/** What the load does. */
export type LoadMode = 'current' | 'resistance' | 'step';

/** A waveform as the oscilloscope has it in memory. */
export interface Taken {
  readonly start: number;
  readonly increment: number;
  readonly unit: string;
  readonly values: Float64Array;
}

/** Points of a record, and share of a volt or ampere of the range that is its noise where none is stated. */
const RECORD = 2_000;
/** Clock periods of a step that are looked at. */
const STEP_CYCLES = 400;
/** How far real leads are from their stated resistance, a ratio each way. */
const LEADS_WITHIN = 0.15;

/** A table with a board as it was built, a supply, a load, meters, an oscilloscope and an analyser about it. */
export class Table {
  readonly supply: SupplySetting & { on: boolean; voltage: number; limit: number } = {
    on: false,
    voltage: 0,
    limit: 0.1,
  };
  readonly load = { on: false, mode: 'current' as LoadMode, current: 0, resistance: 1e3, from: 0, to: 0 };
  private readonly board: BenchBoard;
  private readonly built: Stage;
  private readonly errors: InstrumentErrors;
  private readonly next: () => number;

  constructor(
    stage: Stage,
    readonly instruments: Instruments,
    seed: number,
  ) {
    const complete = completeStage(stage);
    this.built = complete.ok ? asBuilt(complete.value, seed).stage : stage;
    this.next = random(seed + 11);
    const lead = (stated: number): number => stated * (1 + LEADS_WITHIN * (2 * this.next() - 1));
    this.board = new BenchBoard(this.built, {
      input: lead(instruments.leads.input),
      output: lead(instruments.leads.output),
    });
    this.errors = new InstrumentErrors(instruments, seed);
  }

  /** How the load stands for a board that is at rest. */
  private settledLoad(): LoadSetting {
    const { on, mode, current, resistance, from } = this.load;
    if (mode === 'resistance') return { on, mode, value: resistance };
    return { on, mode: 'current', value: mode === 'step' ? from : current };
  }

  state(): BoardState {
    return this.board.at(this.supply, this.settledLoad());
  }

  /** What an instrument shows of a true value. */
  shown(channel: Channel, value: number): number {
    return this.errors.shown(channel, value) ?? value;
  }

  /** The places that can be probed, by the names of their waveforms. */
  places(): readonly string[] {
    const probe = this.instruments.oscilloscope?.currentProbe !== undefined;
    return ['output voltage', 'input voltage', 'switch node', 'feedback', ...(probe ? ['inductor current'] : [])];
  }

  peakToPeak(place: string): number {
    const state = this.state();
    if (place === 'output voltage') return this.shown('outputRipple', state.outputRipple);
    if (place === 'inductor current') return this.shown('inductorRipple', state.inductorRipple);
    const taken = this.capture(place, false);
    if (typeof taken === 'string') return NaN;
    return Math.max(...taken.values) - Math.min(...taken.values);
  }

  /** The waveform at a place: over some periods, or about a step of the load. */
  capture(place: string, stepping: boolean): Taken | string {
    const complete = completeStage(this.built);
    if (!complete.ok) return 'the board is not complete';
    const { inputVoltage, outputVoltage, outputCurrent, limited } = this.state();
    if (!this.supply.on || limited || Math.abs(outputVoltage) < 1e-3) return this.flat(place);
    const { from, to } = this.load;
    let waveforms: Waveforms;
    if (stepping) {
      const run = simulate(
        complete.value,
        { inputVoltage, load: { kind: 'current', current: from } },
        loadStep(to - from, this.instruments.load.slewRate, STEP_CYCLES),
      );
      if (run.kind !== 'run') return run.reason;
      ({ waveforms } = run);
    } else {
      const run = boardRun(complete.value, {
        inputVoltage,
        loadResistance: Math.abs(outputVoltage) / Math.max(outputCurrent, 1e-3),
      });
      if (typeof run === 'string') return run;
      ({ waveforms } = run);
    }
    const { time } = waveforms;
    const signal = waveforms.signals.find(({ name }) => name === place);
    if (!signal) return 'there is no such place';
    const start = time[0] ?? 0;
    const increment = ((time.at(-1) ?? 0) - start) / (RECORD - 1);
    const { noise = 0, accuracy = 0 } = this.instruments.oscilloscope ?? {};
    const gain = 1 + accuracy * (2 * random(place.length * 977 + 5)() - 1);
    const values = evenly(time, signal.least, RECORD).map((value) => gain * value + noise * this.noise());
    return { start, increment, unit: signal.unit, values };
  }

  /** The loop of the board as it stands, as an analyser that injects into it has it: Hz, dB, degrees. */
  sweep(from: number, to: number, count: number): readonly (readonly [number, number, number])[] | string {
    const complete = completeStage(this.built);
    if (!complete.ok) return 'the board is not complete';
    const { inputVoltage, outputCurrent } = this.state();
    const condition = { inputVoltage, load: { kind: 'current' as const, current: outputCurrent } };
    const point = operatingPoint(complete.value, condition);
    if (point.kind !== 'solved') return point.reason;
    const loop = loopGain(complete.value, condition, point);
    if (typeof loop === 'string') return loop;
    return Array.from({ length: count }, (_, k) => {
      const frequency = from * (to / from) ** (k / Math.max(1, count - 1));
      const { re, im } = loop(frequency);
      // What the injected sine leaves of noise: some thousandths, some tenths of a degree.
      return [
        frequency,
        20 * Math.log10(Math.hypot(re, im) * (1 + 0.003 * this.noise())),
        (Math.atan2(im, re) * 180) / Math.PI + 0.2 * this.noise(),
      ] as const;
    });
  }

  private flat(place: string): Taken {
    const { outputVoltage, inputVoltage } = this.state();
    const value = place === 'output voltage' ? outputVoltage : place === 'input voltage' ? inputVoltage : 0;
    return {
      start: 0,
      increment: 1e-8,
      unit: place.includes('current') ? 'A' : 'V',
      values: new Float64Array(RECORD).fill(value),
    };
  }

  /** From three even numbers, near enough to a normal one. */
  private noise(): number {
    return 2 * (this.next() + this.next() + this.next() - 1.5);
  }
}

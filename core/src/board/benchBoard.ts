import type { Instruments } from '../instruments/instruments.js';
import { accuracyOf } from '../readings/derived.js';
import { CHANNEL_NAMES, type Channel, type Reading } from '../readings/reading.js';
import { completeStage, type CompleteStage } from '../stage/completeStage.js';
import type { Stage } from '../stage/schema.js';
import { random } from '../tolerance/random.js';
import { simulate } from '../transient/simulate.js';
import { normal } from '../uncertainty/coverageInterval.js';
import { ReadingPredictor, type Leads, type PredictedReading } from './predictReading.js';

/** How the supply is set. @public */
export interface SupplySetting {
  readonly on: boolean;
  /** V */
  readonly voltage: number;
  /** A */
  readonly limit: number;
}

/** How the electronic load is set. @public */
export interface LoadSetting {
  readonly on: boolean;
  readonly mode: 'current' | 'resistance';
  /** A or ohm. */
  readonly value: number;
}

/** What is true of a board on a bench: what perfect instruments would read. @public */
export interface BoardState extends PredictedReading {
  readonly inputVoltage: number;
  readonly outputCurrent: number;
  /** Whether the supply limits its current. */
  readonly limited: boolean;
}

const DEAD: BoardState = {
  supplyVoltage: 0,
  inputVoltage: 0,
  inputCurrent: 0,
  outputVoltage: 0,
  outputCurrent: 0,
  loadVoltage: 0,
  outputRipple: 0,
  inductorRipple: 0,
  limited: false,
};

/** Rounds in which the drop of the lead is found. */
const ROUNDS = 4;
/** Clock periods a supply in its limit is given to settle, and over which its readings are averaged. */
const SETTLING = 600;
const AVERAGED = 40;

/** A board as it was built, between a supply and a load: a stand-in for one on the table. @public */
export class BenchBoard {
  private readonly predictor: ReadingPredictor;
  private readonly complete: CompleteStage | undefined;
  private readonly known = new Map<string, BoardState>();

  /**
   * @param stage as it was built.
   * @param leads as they are, ohm.
   */
  constructor(
    stage: Stage,
    private readonly leads: Leads,
    private readonly ambient = 25,
  ) {
    this.predictor = new ReadingPredictor(stage);
    const made = completeStage(stage);
    this.complete = made.ok ? made.value : undefined;
  }

  /** What is true at a setting of supply and load. */
  at(supply: SupplySetting, load: LoadSetting): BoardState {
    if (!supply.on || supply.voltage <= 0) return DEAD;
    const key = JSON.stringify([supply, load]);
    const state = this.known.get(key) ?? this.solved(supply, load);
    this.known.set(key, state);
    return state;
  }

  private solved(supply: SupplySetting, load: LoadSetting): BoardState {
    const { leads, ambient } = this;
    let inputVoltage = supply.voltage;
    let outputCurrent = load.on && load.mode === 'current' ? load.value : 0;
    let predicted: PredictedReading | undefined;
    for (let round = 0; round < ROUNDS; round += 1) {
      predicted = this.predictor.at(inputVoltage, outputCurrent, leads, ambient);
      if (!predicted) break;
      inputVoltage = supply.voltage - leads.input * predicted.inputCurrent;
      if (load.on && load.mode === 'resistance')
        outputCurrent = Math.abs(predicted.outputVoltage) / (load.value + leads.output);
    }
    if (predicted && predicted.inputCurrent <= supply.limit)
      return { ...predicted, supplyVoltage: supply.voltage, inputVoltage, outputCurrent, limited: false };
    return this.simulated(supply, load);
  }

  /** A supply in its limit, or a stage that has no steady state there: the switched simulation says where they stand. */
  private simulated(supply: SupplySetting, load: LoadSetting): BoardState {
    const { complete, leads } = this;
    const set = Math.abs(complete?.stage.targets.outputVoltage ?? 0);
    const stopped: BoardState = { ...DEAD, supplyVoltage: supply.voltage, inputVoltage: supply.voltage };
    if (!complete) return stopped;
    const resistance = !load.on ? 1e4 : load.mode === 'resistance' ? load.value : set / Math.max(load.value, 1e-3);
    const run = simulate(
      complete,
      { inputVoltage: supply.voltage, load: { kind: 'resistance', resistance: resistance + leads.output } },
      { start: 'settled', happenings: [], cycles: AVERAGED, supplyLimit: supply.limit },
      { settling: SETTLING },
    );
    if (run.kind !== 'run') return stopped;
    const { time, signals } = run.waveforms;
    const mean = (name: string): number => {
      const values = signals.find((one) => one.name === name)?.least ?? new Float64Array(0);
      let area = 0;
      for (let k = 1; k < time.length; k += 1)
        area += (((values[k] ?? 0) + (values[k - 1] ?? 0)) / 2) * ((time[k] ?? 0) - (time[k - 1] ?? 0));
      return area / ((time.at(-1) ?? 1) - (time[0] ?? 0));
    };
    const inputCurrent = mean('input current');
    const outputVoltage = mean('output voltage');
    const outputCurrent = Math.abs(outputVoltage) / (resistance + leads.output);
    const inputVoltage = mean('input voltage');
    return {
      supplyVoltage: inputVoltage + leads.input * inputCurrent,
      inputVoltage,
      inputCurrent,
      outputVoltage,
      outputCurrent,
      loadVoltage: outputVoltage - Math.sign(outputVoltage) * leads.output * outputCurrent,
      outputRipple: run.measures.steadyOutputRipple,
      inductorRipple: run.measures.peakInductorCurrent - run.measures.leastInductorCurrent,
      limited: inputCurrent >= 0.98 * supply.limit,
    };
  }
}

/** The errors that a set of instruments has, by a seed: within what their data sheets allow. @public */
export class InstrumentErrors {
  private readonly byChannel: ReadonlyMap<Channel, { readonly gain: number; readonly offset: number }>;
  private readonly next: () => number;

  constructor(
    private readonly instruments: Instruments,
    seed: number,
  ) {
    this.next = random(seed * 2_654_435 + 17);
    this.byChannel = new Map(
      CHANNEL_NAMES.map((channel) => [channel, { gain: 2 * this.next() - 1, offset: 2 * this.next() - 1 }] as const),
    );
  }

  /** What an instrument shows for a true value; undefined where there is no such instrument. */
  shown(channel: Channel, value: number): number | undefined {
    const accuracy = accuracyOf(this.instruments, channel);
    const errors = this.byChannel.get(channel);
    if (!accuracy || !errors) return undefined;
    const { ofReading, fixed, resolution } = accuracy;
    const off = value * (1 + errors.gain * ofReading) + errors.offset * fixed;
    // What is read off a screen wavers by half a hundredth.
    const wavered =
      channel === 'outputRipple' || channel === 'inductorRipple' ? off * (1 + 0.005 * normal(this.next)) : off;
    // The last digit wavers: rounding (1/12 of its square) and this (1/4) make the one digit that is stated, 1/3.
    return resolution > 0 ? Math.round(wavered / resolution + normal(this.next) / 2) * resolution : wavered;
  }

  /** A whole line of the log. */
  reading(state: BoardState): Reading {
    const read = Object.fromEntries(
      (
        [
          'supplyVoltage',
          'inputVoltage',
          'inputCurrent',
          'outputVoltage',
          'outputCurrent',
          'loadVoltage',
          'outputRipple',
          'inductorRipple',
        ] as const
      ).flatMap((channel) => {
        const shown = this.shown(channel, state[channel]);
        return shown === undefined ? [] : [[channel, shown]];
      }),
    );
    return state.limited ? { ...read, limited: true } : read;
  }
}

import type { Instruments } from '../instruments/instruments.js';
import { accuracyOf, isRead } from '../readings/derived.js';
import { CHANNEL_NAMES, type Channel, type Reading } from '../readings/reading.js';
import type { Stage } from '../stage/schema.js';
import { random } from '../tolerance/random.js';
import { evenly } from '../transient/evenly.js';
import { normal } from '../uncertainty/coverageInterval.js';
import { boardRun } from './boardRun.js';
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
/** Samples of a period then. */
const SAMPLES = 100;
/** Share of its limit at which a supply says that it limits. */
const LIMITS = 0.98;
/** ohm, of a load that is off. */
const UNLOADED = 1e4;

/** A board as it was built, between a supply and a load: a stand-in for one on the table. @public */
export class BenchBoard {
  private readonly predictor: ReadingPredictor;
  private readonly known = new Map<string, BoardState>();

  /**
   * @param stage as it was built.
   * @param leads as they are, ohm.
   */
  constructor(
    private readonly stage: Stage,
    private readonly leads: Leads,
    private readonly ambient = 25,
  ) {
    this.predictor = new ReadingPredictor(stage);
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

  /**
   * A supply in its limit, or a stage that has no steady state there: the switched simulation says where they stand. Throws where it
   * cannot say.
   */
  private simulated(supply: SupplySetting, load: LoadSetting): BoardState {
    const { stage, leads } = this;
    const set = Math.abs(stage.targets.outputVoltage);
    const resistance = !load.on ? UNLOADED : load.mode === 'resistance' ? load.value : set / Math.max(load.value, 1e-3);
    const run = boardRun(
      { stage },
      { inputVoltage: supply.voltage, supplyLimit: supply.limit, loadResistance: resistance + leads.output },
      { cycles: AVERAGED, settling: SETTLING },
    );
    if (typeof run === 'string') throw new Error(`the board cannot be simulated there: ${run}`);
    const { time, signals } = run.waveforms;
    const samples = (name: string): Float64Array =>
      evenly(
        time,
        signals.find((one) => one.name === name)?.least ?? new Float64Array(time.length),
        AVERAGED * SAMPLES,
      );
    const mean = (name: string): number => samples(name).reduce((sum, value) => sum + value, 0) / (AVERAGED * SAMPLES);
    const height = (name: string): number => {
      const sorted = samples(name).sort();
      return (sorted.at(-1) ?? 0) - (sorted[0] ?? 0);
    };
    const inputCurrent = mean('input current');
    const inputVoltage = mean('input voltage');
    const outputVoltage = mean('output voltage');
    const outputCurrent = Math.abs(outputVoltage) / (resistance + leads.output);
    return {
      supplyVoltage: inputVoltage + leads.input * inputCurrent,
      inputVoltage,
      inputCurrent,
      outputVoltage,
      outputCurrent,
      loadVoltage: outputVoltage - Math.sign(outputVoltage) * leads.output * outputCurrent,
      outputRipple: height('output voltage'),
      inductorRipple: height(stage.phases === 1 ? 'inductor current' : 'inductor current 1'),
      limited: inputCurrent >= LIMITS * supply.limit,
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
    const errors = this.byChannel.get(channel);
    if (!isRead(this.instruments, channel) || !errors) return undefined;
    const { ofReading, fixed, resolution } = accuracyOf(this.instruments, channel);
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

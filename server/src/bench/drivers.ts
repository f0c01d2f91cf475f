import { floatsOf, type Addresses, type Capture, type Channel } from '@yundro/core';
import { addressOf } from './address.js';
import { InstrumentLine, LostInstrument } from './line.js';

/** ms: a response is swept, and a step simulated, for as long. */
const LONG = 120_000;

/** A supply with a current limit. */
export class Supply {
  constructor(private readonly line: InstrumentLine) {}
  set = (voltage: number, limit: number): Promise<void> =>
    this.line.tell(`VOLTage ${String(voltage)};:CURRent ${String(limit)}`);
  on = (): Promise<void> => this.line.tell('OUTPut ON');
  off = (): Promise<void> => this.line.tell('OUTPut OFF');
  voltage = (): Promise<number> => this.line.number('MEASure:VOLTage?');
  current = (): Promise<number> => this.line.number('MEASure:CURRent?');
  /** Whether it limits its current. */
  limits = async (): Promise<boolean> => (await this.line.number('STATus:LIMit?')) === 1;
}

/** An electronic load. */
export class Load {
  constructor(private readonly line: InstrumentLine) {}
  draw = (current: number): Promise<void> => this.line.tell(`MODE CURRent;:CURRent ${String(current)}`);
  step = (from: number, to: number): Promise<void> =>
    this.line.tell(`MODE STEP;:STEP:FROM ${String(from)};:STEP:TO ${String(to)}`);
  on = (): Promise<void> => this.line.tell('INPut ON');
  off = (): Promise<void> => this.line.tell('INPut OFF');
  voltage = (): Promise<number> => this.line.number('MEASure:VOLTage?');
  current = (): Promise<number> => this.line.number('MEASure:CURRent?');
}

/** Meters at the board, under one address. */
export class Meter {
  constructor(private readonly line: InstrumentLine) {}
  channels = async (): Promise<readonly string[]> => (await this.line.ask('CHANnel:LIST?')).split(',');
  read = (channel: Channel): Promise<number> => this.line.number(`MEASure? ${channel}`);
}

/** An oscilloscope: a place is probed, and its waveform read. */
export class Oscilloscope {
  constructor(private readonly line: InstrumentLine) {}
  places = async (): Promise<readonly string[]> => (await this.line.ask('CHANnel:LIST?')).split('|');
  peakToPeak = (place: string): Promise<number> => this.line.number(`MEASure:PTPeak? ${place}`);
  /** The waveforms of places, over some periods or about a step of the load. */
  async capture(title: string, places: readonly string[], trigger: 'CLOCk' | 'STEP'): Promise<Capture> {
    const columns: { name: string; unit: string; values: number[] }[] = [];
    let x: number[] = [];
    for (const place of places) {
      await this.line.ask(`CAPTure ${place},${trigger};*OPC?`, LONG);
      const increment = await this.line.number('WAVeform:INCRement?');
      const start = await this.line.number('WAVeform:STARt?');
      const values = [...floatsOf(await this.line.block('WAVeform:DATA?', LONG))];
      x = values.map((_, k) => start + k * increment);
      columns.push({ name: place, unit: await this.line.ask('WAVeform:UNIT?'), values });
    }
    return { title, against: 'time', x, columns };
  }
}

/** A response analyser that injects into the loop. */
export class Analyser {
  constructor(private readonly line: InstrumentLine) {}
  async sweep(title: string, from: number, to: number, points: number): Promise<Capture> {
    await this.line.tell(`SWEep:FROM ${String(from)};:SWEep:TO ${String(to)};:SWEep:POINts ${String(points)}`);
    await this.line.ask('SWEep:RUN;*OPC?', LONG);
    const rows = new TextDecoder()
      .decode(await this.line.block('SWEep:DATA?', LONG))
      .trim()
      .split('\n')
      .map((row) => row.split(',').map(Number));
    return {
      title,
      against: 'frequency',
      x: rows.map(([frequency = 0]) => frequency),
      columns: [
        { name: 'gain', unit: 'dB', values: rows.map(([, gain = 0]) => gain) },
        { name: 'phase', unit: 'deg', values: rows.map(([, , phase = 0]) => phase) },
      ],
    };
  }
}

/** The instruments of a bench, called. */
export interface Instrumentation {
  readonly supply: Supply;
  readonly load: Load;
  readonly meter: Meter | undefined;
  readonly oscilloscope: Oscilloscope | undefined;
  readonly analyser: Analyser | undefined;
  readonly close: () => void;
}

const WORDS: Readonly<Record<keyof Addresses, string>> = {
  supply: 'The supply',
  load: 'The load',
  meter: 'The meter',
  oscilloscope: 'The oscilloscope',
  analyser: 'The analyser',
};

/**
 * Call every instrument that has an address, and let it say who it is. Rejects with a LostInstrument where one does not answer; those that
 * were reached are left again.
 *
 * @param allowed hosts beside the loopback that may be spoken to.
 */
export async function calledInstruments(addresses: Addresses, allowed: readonly string[]): Promise<Instrumentation> {
  const lines = new Map<string, InstrumentLine>();
  const close = (): void => {
    for (const line of lines.values()) line.close();
  };
  try {
    for (const [role, text] of Object.entries(addresses) as readonly [keyof Addresses, string | undefined][]) {
      if (text === undefined || text === '') continue;
      const address = addressOf(text, allowed);
      if (typeof address === 'string') throw new LostInstrument(address);
      const line = await InstrumentLine.to(WORDS[role], address);
      lines.set(role, line);
      await line.ask('*IDN?');
      await line.tell('*CLS');
    }
    const [supply, load] = [lines.get('supply'), lines.get('load')];
    if (!supply || !load) throw new LostInstrument('A run needs a supply and a load.');
    const { meter, oscilloscope, analyser } = Object.fromEntries(lines);
    return {
      supply: new Supply(supply),
      load: new Load(load),
      meter: meter && new Meter(meter),
      oscilloscope: oscilloscope && new Oscilloscope(oscilloscope),
      analyser: analyser && new Analyser(analyser),
      close,
    };
  } catch (error) {
    close();
    throw error;
  }
}

import { bytesOf, CHANNEL_NAMES, definiteBlock, ERRORS, type Addresses, type Channel } from '@yundro/core';
import { numberIn, StandIn, switchIn, type Answer, type Commands } from './standIn.js';
import type { LoadMode, Table, Taken } from './table.js';

const number = (value: number): string => value.toPrecision(9).replace(/\.?0+(e|$)/, '$1');

/** A command that sets a number within limits. */
const sets =
  (low: number, high: () => number, put: (value: number) => void) =>
  ([text]: readonly string[]): Answer => {
    const value = numberIn(text, low, high());
    if (typeof value !== 'number') return value;
    put(value);
    return undefined;
  };
const switches =
  (put: (on: boolean) => void) =>
  ([text]: readonly string[]): Answer => {
    const on = switchIn(text);
    if (typeof on !== 'boolean') return on;
    put(on);
    return undefined;
  };

function supplyOf({ supply, instruments, state, shown }: Bound): Commands {
  return {
    VOLTage: sets(
      0,
      () => instruments.supply.voltageMax,
      (value) => (supply.voltage = value),
    ),
    'VOLTage?': () => number(supply.voltage),
    CURRent: sets(
      0,
      () => instruments.supply.currentMax,
      (value) => (supply.limit = value),
    ),
    'CURRent?': () => number(supply.limit),
    OUTPut: switches((on) => (supply.on = on)),
    'OUTPut?': () => (supply.on ? '1' : '0'),
    'MEASure:VOLTage?': () => number(shown('supplyVoltage', state().supplyVoltage)),
    'MEASure:CURRent?': () => number(shown('inputCurrent', state().inputCurrent)),
    'STATus:LIMit?': () => (state().limited ? '1' : '0'),
  };
}

const MODES: Readonly<Record<string, LoadMode>> = { CURR: 'current', RES: 'resistance', STEP: 'step' };

function loadOf({ load, instruments, state, shown }: Bound): Commands {
  const most = (): number => instruments.load.currentMax;
  return {
    MODE: ([text = '']) => {
      const mode = MODES[text.toUpperCase().replace(/ENT$|ISTANCE$/, '')];
      if (!mode) return { error: ERRORS.data };
      load.mode = mode;
      return undefined;
    },
    'MODE?': () => ({ current: 'CURR', resistance: 'RES', step: 'STEP' })[load.mode],
    CURRent: sets(0, most, (value) => (load.current = value)),
    'CURRent?': () => number(load.current),
    RESistance: sets(
      1e-3,
      () => 1e6,
      (value) => (load.resistance = value),
    ),
    'STEP:FROM': sets(0, most, (value) => (load.from = value)),
    'STEP:TO': sets(0, most, (value) => (load.to = value)),
    INPut: switches((on) => (load.on = on)),
    'INPut?': () => (load.on ? '1' : '0'),
    'MEASure:VOLTage?': () => number(shown('loadVoltage', state().loadVoltage)),
    'MEASure:CURRent?': () => number(shown('outputCurrent', state().outputCurrent)),
  };
}

function meterOf({ instruments, state, shown }: Bound): Commands {
  const channels = Object.keys(instruments.meters) as readonly Channel[];
  return {
    'CHANnel:LIST?': () => channels.join(','),
    'MEASure?': ([text = '']) => {
      const channel = CHANNEL_NAMES.find((name) => name === text);
      if (!channel || !channels.includes(channel)) return { error: ERRORS.data };
      const value = state()[channel as keyof ReturnType<typeof state>];
      return typeof value === 'number' ? number(shown(channel, value)) : { error: ERRORS.data };
    },
  };
}

function oscilloscopeOf(table: Table): Commands {
  let taken: Taken | undefined;
  const held = (read: (record: Taken) => Answer): Answer => (taken ? read(taken) : { error: ERRORS.stale });
  const place = (text: string | undefined): string | undefined => table.places().find((one) => one === text);
  return {
    'CHANnel:LIST?': () => table.places().join('|'),
    CAPTure: ([text, trigger = 'CLOC']) => {
      const at = place(text);
      if (at === undefined) return { error: ERRORS.data };
      const found = table.capture(at, trigger.toUpperCase() === 'STEP');
      if (typeof found === 'string') return { error: ERRORS.conflict };
      taken = found;
      return undefined;
    },
    'WAVeform:STARt?': () => held(({ start }) => start.toExponential(9)),
    'WAVeform:INCRement?': () => held(({ increment }) => increment.toExponential(9)),
    'WAVeform:UNIT?': () => held(({ unit }) => unit),
    'WAVeform:DATA?': () => held(({ values }) => definiteBlock(bytesOf(values))),
    'MEASure:PTPeak?': ([text]) => {
      const at = place(text);
      return at === undefined ? { error: ERRORS.data } : number(table.peakToPeak(at));
    },
  };
}

function analyserOf(table: Table): Commands {
  const sweep = { from: 100, to: 1e5, points: 40 };
  let rows: readonly (readonly number[])[] | undefined;
  return {
    'SWEep:FROM': sets(
      0.1,
      () => 1e9,
      (value) => (sweep.from = value),
    ),
    'SWEep:TO': sets(
      0.1,
      () => 1e9,
      (value) => (sweep.to = value),
    ),
    'SWEep:POINts': sets(
      2,
      () => 2_000,
      (value) => (sweep.points = Math.round(value)),
    ),
    'SWEep:RUN': () => {
      const found = table.sweep(sweep.from, sweep.to, sweep.points);
      if (typeof found === 'string') return { error: ERRORS.conflict };
      rows = found;
      return undefined;
    },
    'SWEep:DATA?': () =>
      rows
        ? definiteBlock(new TextEncoder().encode(`${rows.map((row) => row.map(number).join(',')).join('\n')}\n`))
        : { error: ERRORS.stale },
  };
}

interface Bound {
  readonly supply: Table['supply'];
  readonly load: Table['load'];
  readonly instruments: Table['instruments'];
  readonly state: () => ReturnType<Table['state']>;
  readonly shown: Table['shown'];
}

/** Every simulated instrument about a table, each listening on a port of its own. */
export async function standInsAbout(table: Table): Promise<{
  readonly addresses: Addresses;
  readonly standIns: Readonly<Partial<Record<keyof Addresses, StandIn>>>;
  readonly close: () => Promise<void>;
}> {
  const bound: Bound = {
    supply: table.supply,
    load: table.load,
    instruments: table.instruments,
    state: () => table.state(),
    shown: (channel, value) => table.shown(channel, value),
  };
  const nothing = (): void => undefined;
  const standIns: Partial<Record<keyof Addresses, StandIn>> = {
    supply: new StandIn('simulated supply', supplyOf(bound), () => (table.supply.on = false)),
    load: new StandIn('simulated load', loadOf(bound), () => (table.load.on = false)),
    ...(Object.keys(table.instruments.meters).length > 0 && {
      meter: new StandIn('simulated meter', meterOf(bound), nothing),
    }),
    ...(table.instruments.oscilloscope && {
      oscilloscope: new StandIn('simulated oscilloscope', oscilloscopeOf(table), nothing),
    }),
    ...(table.instruments.analyser && { analyser: new StandIn('simulated analyser', analyserOf(table), nothing) }),
  };
  const ports = await Promise.all(
    Object.entries(standIns).map(async ([role, one]) => [role, `127.0.0.1:${String(await one.listen())}`] as const),
  );
  return {
    addresses: Object.fromEntries(ports) as Addresses,
    standIns,
    close: async () => {
      await Promise.all(Object.values(standIns).map((one) => one.close()));
    },
  };
}

import { fitRamp, fitRing, readRecord, type FittedRamp, type FittedRing, type ReadRecord } from '@yundro/core';

/** Points of a record that are kept and fitted: evenly taken from a longer one. */
const MOST = 4000;

/** How a record is to be taken. */
export interface MeasuredHow {
  readonly kind: 'ramp' | 'ring';
  /** Numbers of the traces. */
  readonly voltage: number;
  readonly current: number;
  /** Ω */
  readonly resistance: number;
  /** Limits of the errors of gain, ratios. */
  readonly volts: number;
  readonly amps: number;
  /** F, and its limit of error, a ratio. */
  readonly capacitance: number;
  readonly tolerance: number;
}

/** What a record says of a choke. */
export interface MeasuredFit {
  readonly ramp?: FittedRamp;
  readonly ring?: FittedRing;
}

/** A record as it is kept: at so many points at most. */
export function keptRecord(text: string): ReadRecord | string {
  const read = readRecord(text);
  if (typeof read === 'string') return read;
  const every = Math.ceil(read.time.length / MOST);
  const few = (of: Float64Array): Float64Array => of.filter((_, k) => k % every === 0);
  return { ...read, time: few(read.time), traces: read.traces.map((one) => ({ ...one, values: few(one.values) })) };
}

/** What a record says; the sentence for why it says nothing. */
export function measuredFit({ time, traces }: ReadRecord, how: MeasuredHow): MeasuredFit | string {
  const voltage = traces[how.voltage]?.values;
  const current = traces[how.current]?.values;
  if (!voltage) return 'The record has no such trace: choose another for the voltage.';
  if (how.kind === 'ring') {
    const ring = fitRing(time, voltage, { capacitance: how.capacitance, tolerance: how.tolerance });
    return typeof ring === 'string' ? ring : { ring };
  }
  if (!current || how.current === how.voltage)
    return 'A ramp takes two traces: the voltage across the winding, and its current.';
  const ramp = fitRamp(
    { time, voltage, current },
    { resistance: how.resistance, voltageAccuracy: how.volts, currentAccuracy: how.amps },
  );
  return typeof ramp === 'string' ? ramp : { ramp };
}

import { standardUncertainty, type Accuracy } from '../instruments/accuracy.js';
import type { Instruments } from '../instruments/instruments.js';
import { propagate, type Estimate } from '../uncertainty/propagate.js';
import type { Channel, Reading } from './reading.js';

/** A figure worked from readings, with its standard uncertainty; where it is the board's own, leads are taken off. @public */
export interface DerivedReading {
  readonly inputVoltage: Estimate | undefined;
  readonly outputVoltage: Estimate | undefined;
  readonly inputPower: Estimate | undefined;
  readonly outputPower: Estimate | undefined;
  readonly loss: Estimate | undefined;
  readonly efficiency: Estimate | undefined;
  /** How the voltages at the board were come by, where a lead was taken off. */
  readonly corrected: readonly string[];
}

/** Whether there is an instrument for a channel. */
export function isRead({ meters, oscilloscope }: Instruments, channel: Channel): boolean {
  if (channel === 'inputVoltage' || channel === 'outputVoltage') return meters[channel] !== undefined;
  if (channel === 'outputRipple') return oscilloscope !== undefined;
  if (channel === 'inductorRipple') return oscilloscope?.currentProbe !== undefined;
  return true;
}

/** Of an oscilloscope and a current probe that are not stated: a ratio, and A. Common practice. */
const USUAL_SCREEN = { accuracy: 0.03, noise: 0.001 };
const USUAL_CURRENT_PROBE = { accuracy: 0.03 };
/** A, that a current probe drifts, and a step of its screen. */
const PROBE_OFFSET = 0.01;
/** °C, of a thermocouple or a camera. */
const THERMOMETER: Accuracy = { ofReading: 0, fixed: 2, resolution: 0.1 };

/**
 * With what accuracy each channel is read: that of the meter; where none is stated, the read-back's of supply or load, or a usual one. A
 * reading is never taken for exact.
 *
 * @public
 */
export function accuracyOf({ meters, supply, load, oscilloscope }: Instruments, channel: Channel): Accuracy {
  const screen = oscilloscope ?? USUAL_SCREEN;
  const accuracies: Readonly<Record<Channel, Accuracy>> = {
    supplyVoltage: supply.readback.voltage,
    inputVoltage: meters.inputVoltage ?? supply.readback.voltage,
    inputCurrent: meters.inputCurrent ?? supply.readback.current,
    outputVoltage: meters.outputVoltage ?? load.readback.voltage,
    outputCurrent: meters.outputCurrent ?? load.readback.current,
    loadVoltage: load.readback.voltage,
    outputRipple: { ofReading: screen.accuracy, fixed: 2 * screen.noise, resolution: 0 },
    inductorRipple: {
      ofReading: (oscilloscope?.currentProbe ?? USUAL_CURRENT_PROBE).accuracy,
      fixed: PROBE_OFFSET,
      resolution: PROBE_OFFSET,
    },
    temperature: THERMOMETER,
  };
  return accuracies[channel];
}

/** A lead's resistance is known to so much of itself where it was only stated. Common practice. */
const LEAD_KNOWN_TO = 0.2;

/** Standard uncertainty of a lead's stated resistance, ohm. */
export const leadUncertainty = (resistance: number): number => (LEAD_KNOWN_TO * resistance) / Math.sqrt(3);

/**
 * Power, loss and efficiency of one line of the log, with what the accuracy of the instruments makes of them. A voltage that was read at
 * the supply or at the load is brought to the board with the resistance of its lead; one that was read at the board (four wires) is taken.
 *
 *     Pin = Vin Iin,  Pout = Vout Iout,  η = Pout/Pin,  Vin = Vsupply − R Iin,  Vout = Vload + R Iout
 *
 * Uncertainties by the law of propagation (JCGM 100:2008, 5.1), the readings independent of each other.
 *
 * @public
 */
export function derivedReading(reading: Reading, instruments: Instruments): DerivedReading {
  const inputs: { readonly name: string; readonly estimate: Estimate }[] = [];
  const given = (channel: Channel): boolean => {
    const value = reading[channel];
    if (value === undefined) return false;
    const standard = standardUncertainty(accuracyOf(instruments, channel), value);
    inputs.push({ name: channel, estimate: { value, standard } });
    return true;
  };
  const lead = (name: 'input' | 'output'): void => {
    const resistance = instruments.leads[name];
    inputs.push({ name, estimate: { value: resistance, standard: leadUncertainty(resistance) } });
  };
  const currents = { input: given('inputCurrent'), output: given('outputCurrent') };
  const corrected: string[] = [];
  const atInput = given('inputVoltage');
  const fromSupply = !atInput && currents.input && given('supplyVoltage');
  if (fromSupply) {
    lead('input');
    corrected.push('input voltage: from the supply, less the drop of the lead');
  }
  const atOutput = given('outputVoltage');
  const fromLoad = !atOutput && currents.output && given('loadVoltage');
  if (fromLoad) {
    lead('output');
    corrected.push('output voltage: from the load, with the drop of the lead');
  }
  const at = (values: readonly number[], name: string): number =>
    values[inputs.findIndex((one) => one.name === name)] ?? NaN;
  const sign = Math.sign(reading.outputVoltage ?? reading.loadVoltage ?? 1) || 1;
  const { values, standard } = propagate(
    inputs.map(({ estimate }) => estimate),
    (read) => {
      const iin = at(read, 'inputCurrent');
      const iout = at(read, 'outputCurrent');
      const vin = atInput ? at(read, 'inputVoltage') : at(read, 'supplyVoltage') - at(read, 'input') * iin;
      const vout = atOutput ? at(read, 'outputVoltage') : at(read, 'loadVoltage') + sign * at(read, 'output') * iout;
      const pin = vin * iin;
      const pout = Math.abs(vout) * iout;
      return [vin, vout, pin, pout, pin - pout, pin > 0 ? pout / pin : NaN];
    },
  );
  const figure = (k: number): Estimate | undefined => {
    const value = values[k];
    return value !== undefined && Number.isFinite(value) ? { value, standard: standard[k] ?? 0 } : undefined;
  };
  return {
    inputVoltage: figure(0),
    outputVoltage: figure(1),
    inputPower: figure(2),
    outputPower: figure(3),
    loss: figure(4),
    efficiency: figure(5),
    corrected,
  };
}

/** How the output goes with the load, or with the input, over the readings of a run. @public */
export interface Regulation {
  /** Largest less smallest output, over their middle; a ratio. */
  readonly value: number;
  readonly standard: number;
  readonly from: number;
  readonly to: number;
}

/**
 * Regulation over the readings of a run: by load at one input, by line at one load. Common practice: (max − min)/middle. What of the
 * meter's error is common to both ends falls out, but for its gain on the difference.
 *
 * @param by which of the two is moved.
 * @public
 */
export function regulationOf(
  readings: readonly Reading[],
  instruments: Instruments,
  by: 'outputCurrent' | 'inputVoltage',
): Regulation | undefined {
  const points = readings.flatMap((reading) => {
    const { outputVoltage } = derivedReading(reading, instruments);
    const along = reading[by] ?? (by === 'inputVoltage' ? reading.supplyVoltage : undefined);
    return outputVoltage && along !== undefined && reading.limited !== true
      ? [{ along, output: outputVoltage.value }]
      : [];
  });
  if (points.length < 2) return undefined;
  const outputs = points.map(({ output }) => output);
  const most = Math.max(...outputs);
  const least = Math.min(...outputs);
  const middle = Math.abs((most + least) / 2);
  const accuracy = accuracyOf(instruments, 'outputVoltage');
  // Two roundings, each ± half a step.
  const standard = Math.hypot(
    (accuracy.resolution / 2) * Math.sqrt(2 / 3),
    ((most - least) * accuracy.ofReading) / Math.sqrt(3),
  );
  const alongs = points.map(({ along }) => along);
  return {
    value: middle > 0 ? (most - least) / middle : 0,
    standard: middle > 0 ? standard / middle : 0,
    from: Math.min(...alongs),
    to: Math.max(...alongs),
  };
}

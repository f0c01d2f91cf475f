import { z } from 'zod';
import { accuracySchema, type Accuracy } from './accuracy.js';

const positive = (max: number) => z.number().positive().max(max);
const atLeastZero = (max: number) => z.number().min(0).max(max);

/** The instruments at hand: what they reach, and how well they know it. SI units. @public */
export const instrumentsSchema = z.strictObject({
  supply: z.strictObject({
    voltageMax: positive(1e4),
    currentMax: positive(1e4),
    /** W; the product of both where it is not stated. */
    powerMax: positive(1e6).optional(),
    readback: z.strictObject({ voltage: accuracySchema, current: accuracySchema }),
  }),
  load: z.strictObject({
    currentMax: positive(1e4),
    voltageMax: positive(1e4),
    powerMax: positive(1e6),
    /** V: below it the load cannot draw its full current. */
    voltageMin: atLeastZero(100),
    /** A/s */
    slewRate: positive(1e12),
    readback: z.strictObject({ voltage: accuracySchema, current: accuracySchema }),
  }),
  /** Meters at the board's own terminals; without one the read-back of supply or load stands in, with its lead. */
  meters: z.strictObject({
    inputVoltage: accuracySchema.optional(),
    inputCurrent: accuracySchema.optional(),
    outputVoltage: accuracySchema.optional(),
    outputCurrent: accuracySchema.optional(),
  }),
  oscilloscope: z
    .strictObject({
      /** Hz */
      bandwidth: positive(1e11),
      /** V, root mean square, at the input of the probe, its bandwidth limited to 20 MHz. */
      noise: atLeastZero(1),
      /** Ratio, of a height on the screen. */
      accuracy: atLeastZero(0.2),
      /** Of a current probe, where there is one. */
      currentProbe: z.strictObject({ bandwidth: positive(1e10), accuracy: atLeastZero(0.2) }).optional(),
    })
    .optional(),
  analyser: z.strictObject({ from: positive(1e9), to: positive(1e9) }).optional(),
  /** ohm, there and back, from the supply to the board and from the board to the load; H of the former. */
  leads: z.strictObject({ input: atLeastZero(10), output: atLeastZero(10), inductance: atLeastZero(1e-3) }),
});
/** @public */
export type Instruments = z.infer<typeof instrumentsSchema>;

const accuracy = (ofReading: number, fixed: number, resolution: number): Accuracy => ({ ofReading, fixed, resolution });

/** A usual small bench: the figures are common practice, to be replaced by those of the data sheets at hand. @public */
export const USUAL_INSTRUMENTS: Instruments = {
  supply: {
    voltageMax: 30,
    currentMax: 5,
    readback: { voltage: accuracy(5e-4, 0.01, 0.001), current: accuracy(1e-3, 0.005, 0.001) },
  },
  load: {
    currentMax: 30,
    voltageMax: 120,
    powerMax: 200,
    voltageMin: 0.5,
    slewRate: 2.5e6,
    readback: { voltage: accuracy(5e-4, 0.01, 0.001), current: accuracy(1e-3, 0.005, 0.001) },
  },
  meters: {
    inputVoltage: accuracy(3e-4, 0.001, 0.0001),
    inputCurrent: accuracy(1e-3, 0.001, 0.0001),
    outputVoltage: accuracy(3e-4, 0.001, 0.0001),
    outputCurrent: accuracy(1e-3, 0.001, 0.0001),
  },
  oscilloscope: {
    bandwidth: 100e6,
    noise: 0.0003,
    accuracy: 0.02,
    currentProbe: { bandwidth: 50e6, accuracy: 0.02 },
  },
  leads: { input: 0.02, output: 0.01, inductance: 1e-6 },
};

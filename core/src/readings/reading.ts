import { z } from 'zod';
import type { Unit } from '../quantity/unit.js';

/** What is read at one operating point, in the order of the log's columns. SI units. @public */
export const CHANNELS = {
  supplyVoltage: { words: 'supply voltage', short: 'V supply', unit: 'V' },
  inputVoltage: { words: 'input voltage', short: 'Vin', unit: 'V' },
  inputCurrent: { words: 'input current', short: 'Iin', unit: 'A' },
  outputVoltage: { words: 'output voltage', short: 'Vout', unit: 'V' },
  outputCurrent: { words: 'output current', short: 'Iout', unit: 'A' },
  loadVoltage: { words: 'voltage at the load', short: 'V load', unit: 'V' },
  outputRipple: { words: 'output ripple', short: 'ripple', unit: 'V' },
  inductorRipple: { words: 'inductor ripple current', short: 'ΔiL', unit: 'A' },
  temperature: { words: 'temperature', short: 'T', unit: 'degC' },
} as const satisfies Record<string, { words: string; short: string; unit: Unit }>;
/** @public */
export type Channel = keyof typeof CHANNELS;
/** @public */
export const CHANNEL_NAMES = Object.keys(CHANNELS) as readonly Channel[];

const value = z.number().min(-1e5).max(1e5).optional();

/** One line of the log. What was not read is left out. @public */
export const readingSchema = z.strictObject({
  supplyVoltage: value,
  inputVoltage: value,
  inputCurrent: value,
  outputVoltage: value,
  outputCurrent: value,
  loadVoltage: value,
  outputRipple: value,
  inductorRipple: value,
  temperature: value,
  /** Whether the supply said that it was limiting. */
  limited: z.boolean().optional(),
  /** s from the start of the run. */
  at: z.number().min(0).max(1e9).optional(),
  note: z.string().max(500).optional(),
});
/** @public */
export type Reading = z.infer<typeof readingSchema>;

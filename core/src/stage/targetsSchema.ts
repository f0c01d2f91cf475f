import { z } from 'zod';
import type { Relation } from '../result.js';
import { FEATURES } from './features.js';
import { atLeastZero, positive, signed } from './field.js';

type Range = { readonly min: number; readonly max: number };

const relation = (key: string, lower: string, upper: string): Relation => ({
  lower: ['targets', key, lower],
  upper: ['targets', key, upper],
  strict: false,
});

/** Attached to a range of the targets: the lower end may not lie above the upper. */
const inOrder = (quantity: string, key: string) => ({
  check: (range: Range) => range.min <= range.max,
  problem: {
    path: ['min'],
    params: {
      expected: `a minimum ${quantity} that is not above the maximum`,
      relation: relation(key, 'min', 'max'),
    },
  },
});
const inputOrder = inOrder('input voltage', 'inputVoltage');
const outputOrder = inOrder('output current', 'outputCurrent');
const ambientOrder = inOrder('ambient temperature', 'ambientTemperature');
const frequencyOrder = inOrder('switching frequency', 'switchingFrequency');
const NOMINAL = 'a nominal input voltage between the minimum and the maximum';

export const targetsSchema = z.strictObject({
  inputVoltage: z
    .strictObject({
      min: positive('minimum input voltage', 'V'),
      nominal: positive('nominal input voltage', 'V').optional(),
      max: positive('maximum input voltage', 'V'),
    })
    .refine(inputOrder.check, inputOrder.problem)
    .refine((v) => v.nominal === undefined || v.nominal >= v.min, {
      path: ['nominal'],
      params: { expected: NOMINAL, relation: relation('inputVoltage', 'min', 'nominal') },
    })
    .refine((v) => v.nominal === undefined || v.nominal <= v.max, {
      path: ['nominal'],
      params: { expected: NOMINAL, relation: relation('inputVoltage', 'nominal', 'max') },
    }),
  outputVoltage: signed('output voltage', 'V', { note: 'Negative for the inverting stage.' }),
  outputVoltageTolerance: positive('output voltage tolerance', 'ratio', { max: 0.5 }).optional(),
  outputCurrent: z
    .strictObject({
      min: atLeastZero('minimum load current', 'A').default(0),
      max: positive('maximum load current', 'A'),
    })
    .refine(outputOrder.check, outputOrder.problem),
  outputRipple: positive('output ripple', 'V', { note: 'Peak to peak.' }).optional(),
  inputRipple: positive('input ripple', 'V', { note: 'Peak to peak.' }).optional(),
  inductorRippleRatio: positive('inductor ripple ratio', 'ratio', {
    max: 2,
    note: 'Peak-to-peak ripple over the average inductor current of one phase at full load.',
  }).optional(),
  loadStep: z
    .strictObject({
      from: atLeastZero('load step start', 'A'),
      to: atLeastZero('load step end', 'A'),
      slewRate: positive('load step slew rate', 'A/s').optional(),
      deviation: positive('allowed load step deviation', 'V').optional(),
      recoveryTime: positive('allowed recovery time', 's').optional(),
    })
    .optional(),
  efficiency: z
    .strictObject({
      outputCurrent: positive('load current of the efficiency target', 'A'),
      min: positive('minimum efficiency', 'ratio'),
    })
    .optional(),
  phaseMargin: positive('phase margin', 'deg', { max: 180 }).optional(),
  gainMargin: positive('gain margin', 'dB', { max: 100 }).optional(),
  ambientTemperature: z
    .strictObject({
      min: signed('minimum ambient temperature', 'degC', { min: -200 }),
      max: signed('maximum ambient temperature', 'degC', { min: -200 }),
    })
    .refine(ambientOrder.check, ambientOrder.problem)
    .optional(),
  junctionTemperatureMax: positive('maximum junction temperature', 'degC').optional(),
  switchingFrequency: z
    .strictObject({
      min: positive('lowest allowed switching frequency', 'Hz', { min: 100, max: 1e8 }),
      max: positive('highest allowed switching frequency', 'Hz', { min: 100, max: 1e8 }),
    })
    .refine(frequencyOrder.check, frequencyOrder.problem)
    .optional(),
  /** What the controller must offer. */
  features: z.array(z.enum(FEATURES)).max(FEATURES.length).optional(),
});

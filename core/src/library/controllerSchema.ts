import { z } from 'zod';
import { FEATURES } from '../stage/features.js';
import { atLeastZero, positive, text } from '../stage/field.js';
import { TOPOLOGY_NAMES } from '../topology/topologies.js';

/**
 * A controller that drives switches outside itself: what it fixes of a stage, and what it offers. Where it senses the current across a
 * resistor of the stage, gain and limit are those of the sensed voltage.
 */
export const controllerSchema = z.strictObject({
  name: text(120).trim().min(1),
  notes: text(2000).optional(),
  scheme: z.enum([
    'voltage-mode',
    'voltage-mode-feedforward',
    'peak-current-mode',
    'average-current-mode',
    'constant-on-time',
    'digital',
  ]),
  topologies: z.array(z.enum(TOPOLOGY_NAMES)).min(1),
  rectifier: z.enum(['synchronous', 'diode', 'either']),
  modes: z.array(z.enum(['forced-pwm', 'pulse-skipping', 'ultrasonic', 'critical-conduction'])).min(1),
  features: z.array(z.enum(FEATURES)),
  inputMin: positive('lowest input voltage', 'V'),
  inputMax: positive('highest input voltage', 'V'),
  phasesMax: positive('phases at most', 'count', { min: 1, max: 16 }).default(1),
  reference: positive('reference voltage', 'V', { max: 100 }),
  referenceTolerance: atLeastZero('tolerance of the reference', 'ratio', { max: 0.2 }),
  frequencyMin: positive('lowest switching frequency', 'Hz'),
  frequencyMax: positive('highest switching frequency', 'Hz'),
  minimumOnTime: atLeastZero('minimum on-time', 's', { max: 1e-3 }),
  minimumOffTime: atLeastZero('minimum off-time', 's', { max: 1e-3 }),
  deadTime: positive('dead time', 's', { max: 1e-3 }).optional(),
  gateDriveVoltage: positive('gate drive voltage', 'V', { max: 30 }),
  turnOnResistance: positive('turn-on resistance', 'ohm'),
  turnOffResistance: positive('turn-off resistance', 'ohm'),
  amplifier: z.enum(['op-amp', 'ota', 'inside']),
  gainBandwidth: positive('gain-bandwidth product', 'Hz').optional(),
  transconductance: positive('transconductance', 'S', { max: 1 }).optional(),
  outputResistance: positive('output resistance', 'ohm').optional(),
  outputMin: atLeastZero('lowest output voltage of the amplifier', 'V', { max: 100 }).optional(),
  outputMax: positive('highest output voltage of the amplifier', 'V', { max: 100 }).optional(),
  rampAmplitude: positive('ramp amplitude', 'V', { max: 1e3 }).optional(),
  rampRatio: positive('input voltage over ramp amplitude', 'count').optional(),
  senseGain: positive('gain from sensed voltage to the comparator', 'count').optional(),
  limitVoltage: positive('sensed voltage of the current limit', 'V', { max: 10 }).optional(),
  limitTolerance: atLeastZero('tolerance of the current limit', 'ratio', { max: 0.9 }).optional(),
  loopTolerance: atLeastZero('tolerance of ramp, gain and amplifier', 'ratio', { max: 0.9 }).optional(),
  softStartTime: positive('soft-start time', 's', { max: 10 }).optional(),
  supplyCurrent: atLeastZero('supply current', 'A', { max: 1 }),
  sleepCurrent: atLeastZero('supply current between pulses', 'A', { max: 1 }).optional(),
  length: positive('length', 'm').optional(),
  width: positive('width', 'm').optional(),
  height: positive('height', 'm').optional(),
  price: positive('price each', 'ratio', { max: 1e5 }).optional(),
});

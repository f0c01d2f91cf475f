import { z } from 'zod';
import { atLeastZero, positive, text } from './field.js';

/** Between which voltages an amplifier's output stays. */
const clamps = {
  outputMin: atLeastZero('lowest amplifier output', 'V', { max: 100 }).optional(),
  outputMax: positive('highest amplifier output', 'V', { max: 100 }).optional(),
};

const amplifierSchema = z.union([
  z.strictObject({
    kind: z.literal('op-amp'),
    ...clamps,
    openLoopGain: positive('amplifier open-loop gain', 'ratio', { max: 1e9 }).optional(),
    gainBandwidth: positive('amplifier gain-bandwidth product', 'Hz', { max: 1e10 }).optional(),
  }),
  z.strictObject({
    kind: z.literal('ota'),
    ...clamps,
    transconductance: positive('amplifier transconductance', 'S'),
    outputResistance: positive('amplifier output resistance', 'ohm'),
  }),
]);

const componentsSchema = z.strictObject({
  rUpper: positive('upper divider resistor', 'ohm').optional(),
  rLower: positive('lower divider resistor', 'ohm').optional(),
  rFeedforward: atLeastZero('feed-forward resistor', 'ohm').optional(),
  cFeedforward: positive('feed-forward capacitor', 'F').optional(),
  rZero: positive('zero resistor', 'ohm').optional(),
  cZero: positive('zero capacitor', 'F').optional(),
  cPole: positive('pole capacitor', 'F').optional(),
});

/** The amplifier of the current loop in average current mode; one for each phase. */
const currentAmplifierSchema = z.strictObject({
  rInput: positive('input resistor of the current amplifier', 'ohm').optional(),
  rZero: positive('zero resistor of the current amplifier', 'ohm').optional(),
  cZero: positive('zero capacitor of the current amplifier', 'F').optional(),
  cPole: positive('pole capacitor of the current amplifier', 'F').optional(),
});

/** A sampled PID controller: d = Kp e + Ki Σe + Kd (e − e₋), e at the feedback node. */
const digitalSchema = z.strictObject({
  proportional: atLeastZero('proportional gain', '1/V', {
    note: 'Duty ratio per volt at the feedback node.',
  }).optional(),
  integral: atLeastZero('integral gain', '1/V', { note: 'Per volt and sample.' }).optional(),
  derivative: atLeastZero('derivative gain', '1/V', { note: 'Per volt of change from sample to sample.' }).optional(),
  delay: positive('delay from the sample to the clock at which it acts', 's', {
    max: 1e-2,
    note: 'A whole sampling period where it is not given.',
  }).optional(),
});

/** Makes ripple for a constant on-time comparator out of the swing of the switch node. */
const rippleInjectionSchema = z.strictObject({
  resistance: positive('ripple resistor', 'ohm'),
  capacitance: positive('ripple capacitor', 'F'),
  coupling: positive('coupling capacitor', 'F'),
});

/** Tolerances of what makes the loop, for its spread; those of the power parts are stated with the parts. */
const tolerancesSchema = z.strictObject({
  resistors: atLeastZero('tolerance of the resistors', 'ratio', { max: 0.5 }).optional(),
  capacitors: atLeastZero('tolerance of the capacitors', 'ratio', { max: 0.5 }).optional(),
  controller: atLeastZero('tolerance of the controller', 'ratio', {
    max: 0.9,
    note: 'Of ramp, current sense, slope, on-time and amplifier.',
  }).optional(),
});

/** Below what the crossover should stay: sources differ, so the shares are settings. */
const crossoverLimitsSchema = z.strictObject({
  ofSwitchingFrequency: positive('crossover over switching frequency', 'ratio', { max: 0.5 }).optional(),
  ofRightHalfPlaneZero: positive('crossover over right-half-plane zero', 'ratio', { max: 1 }).optional(),
});

/** What charges and discharges the gates. */
const gateDriverSchema = z.strictObject({
  voltage: positive('gate drive voltage', 'V', { max: 30 }).optional(),
  turnOnResistance: atLeastZero('turn-on resistance of driver and gate resistor', 'ohm', { max: 1e3 }).optional(),
  turnOffResistance: atLeastZero('turn-off resistance of driver and gate resistor', 'ohm', { max: 1e3 }).optional(),
});

export const controlSchema = z.strictObject({
  scheme: z
    .enum([
      'voltage-mode',
      'voltage-mode-feedforward',
      'peak-current-mode',
      'average-current-mode',
      'constant-on-time',
      'digital',
      'open-loop',
    ])
    .default('voltage-mode'),
  /** Name of its record: what that fixes is taken from there. */
  controller: text(120).optional(),
  reference: positive('reference voltage', 'V', { max: 100 }).optional(),
  referenceTolerance: atLeastZero('tolerance of the reference', 'ratio', { max: 0.2 }).optional(),
  dutyMax: positive('maximum duty ratio', 'ratio').default(1),
  minimumOnTime: atLeastZero('minimum on-time', 's', { max: 1e-3 }).default(0),
  minimumOffTime: atLeastZero('minimum off-time', 's', { max: 1e-3, note: 'Of constant on-time control.' }).optional(),
  rampAmplitude: positive('ramp amplitude', 'V', { max: 1e3, note: 'Peak to peak.' }).optional(),
  currentLimit: positive('current limit', 'A', { note: 'Peak inductor current of one phase.' }).optional(),
  softStartTime: positive('soft-start time', 's', {
    max: 10,
    note: 'The reference rises from zero in a straight line.',
  }).optional(),
  preBias: atLeastZero('pre-bias of the output', 'V', { note: 'Its magnitude when switching begins.' }).optional(),
  hiccup: z
    .strictObject({
      periods: positive('limited periods in a row before the controller gives up', 'count', { max: 1e4 }),
      offTime: positive('time the controller stays off', 's', { max: 10 }),
    })
    .optional(),
  undervoltageLockout: z
    .strictObject({
      rising: positive('input voltage at which the controller starts', 'V'),
      falling: positive('input voltage at which the controller stops', 'V'),
    })
    .refine((lockout) => lockout.falling <= lockout.rising, {
      path: ['falling'],
      params: { expected: 'a stopping voltage that is not above the starting voltage' },
    })
    .optional(),
  senseResistance: positive('sense resistor', 'ohm', {
    max: 10,
    note: 'In series with the inductor of each phase.',
  }).optional(),
  currentSenseGain: positive('current sense gain', 'V/A').optional(),
  slopeCompensation: atLeastZero('slope compensation', 'V/s').default(0),
  currentAmplifier: currentAmplifierSchema.optional(),
  digital: digitalSchema.optional(),
  rippleInjection: rippleInjectionSchema.optional(),
  tolerances: tolerancesSchema.optional(),
  crossoverLimits: crossoverLimitsSchema.optional(),
  onTime: atLeastZero('on-time', 's', { max: 1e-3 }).default(0),
  gateDriver: gateDriverSchema.optional(),
  supplyCurrent: atLeastZero('supply current of the controller', 'A', {
    max: 1,
    note: 'From the input, while it switches, without the gate charge.',
  }).optional(),
  sleepCurrent: atLeastZero('supply current of the controller between pulses', 'A', { max: 1 }).optional(),
  compensator: z
    .strictObject({
      network: z.enum(['type-2', 'type-3', 'integrator']),
      amplifier: amplifierSchema.default({ kind: 'op-amp' }),
      components: componentsSchema.default({}),
    })
    .optional(),
});

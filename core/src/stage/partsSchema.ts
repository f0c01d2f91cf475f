import { z } from 'zod';
import { atLeastZero, positive, signed, text } from './field.js';

/** Facts any part may carry beside its electrical model. */
const partFacts = {
  name: text(120).optional(),
  notes: text(2000).optional(),
  price: atLeastZero('price each', 'ratio', { max: 1e5, note: 'In the currency of the parts library.' }).optional(),
  length: positive('body length', 'm').optional(),
  width: positive('body width', 'm').optional(),
  height: positive('body height', 'm').optional(),
};

/** A list of [x, y] points with x rising: a part curve. */
function curve(quantity: string, x: z.ZodType<number>, y: z.ZodType<number>) {
  return z
    .array(z.tuple([x, y]))
    .min(1)
    .max(200)
    .refine((points) => points.every((p, i) => i === 0 || p[0] > (points[i - 1]?.[0] ?? -Infinity)), {
      params: { expected: `the points of the ${quantity} in rising order` },
    });
}

export const inductorSchema = z.strictObject({
  ...partFacts,
  inductance: positive('inductance', 'H', { note: 'Per phase, at zero current.' }),
  resistance: atLeastZero('inductor resistance', 'ohm', { max: 1e3 }).default(0),
  saturationCurrent: positive('saturation current', 'A').optional(),
  tolerance: atLeastZero('inductance tolerance', 'ratio').optional(),
  saturationDrop: positive('inductance drop at the saturation current', 'ratio', { max: 0.95 }).optional(),
  heatingCurrent: positive('heating current', 'A').optional(),
  alternatingResistance: positive('resistance at the switching frequency', 'ohm', {
    note: 'For the alternating part of the current; the winding resistance where it is not given.',
  }).optional(),
  coreLossCoefficient: positive('core loss at 100 kHz and 1 µWb', 'W', {
    note: 'For a swing of the flux linkage of 1 µWb peak to peak.',
  }).optional(),
  coreLossFrequencyExponent: positive('frequency exponent of the core loss', 'ratio', { max: 4 }).optional(),
  coreLossFluxExponent: positive('flux exponent of the core loss', 'ratio', { max: 4 }).optional(),
  inductanceCurve: curve(
    'inductance curve',
    atLeastZero('inductor current', 'A'),
    positive('inductance', 'H'),
  ).optional(),
});

export const capacitorBankSchema = z.strictObject({
  ...partFacts,
  kind: z.enum(['ceramic', 'polymer', 'electrolytic', 'film', 'tantalum']).default('ceramic'),
  capacitance: positive('capacitance', 'F', { note: 'Of one part, without bias.' }),
  esr: atLeastZero('equivalent series resistance', 'ohm', { max: 1e3, note: 'Of one part.' }).default(0),
  esl: atLeastZero('equivalent series inductance', 'H', { max: 1e-3, note: 'Of one part.' }).default(0),
  count: positive('number in parallel', 'count', { max: 1000 }).default(1),
  ratedVoltage: positive('rated voltage', 'V').optional(),
  rippleCurrentRating: positive('rated ripple current', 'A', { note: 'RMS, of one part.' }).optional(),
  biasCurve: curve(
    'bias curve',
    atLeastZero('bias voltage', 'V'),
    positive('remaining capacitance', 'ratio', { max: 2 }),
  ).optional(),
  tolerance: atLeastZero('capacitance tolerance', 'ratio').optional(),
  temperatureDrop: atLeastZero('loss of capacitance over temperature', 'ratio', {
    max: 0.95,
    note: 'The most within the temperature class.',
  }).optional(),
  agingDrop: atLeastZero('loss of capacitance by aging', 'ratio', { max: 0.95 }).optional(),
  ratedLife: positive('rated life', 's', { max: 1e9, note: 'At the rated temperature of the core.' }).optional(),
  ratedTemperature: atLeastZero('rated temperature', 'degC').optional(),
});

export const mosfetSchema = z.strictObject({
  ...partFacts,
  count: positive('number in parallel', 'count', { max: 32 }).optional(),
  onResistance: atLeastZero('on-resistance', 'ohm', {
    max: 1e3,
    note: 'Of one device at its gate drive; at 25 °C where a temperature coefficient is given, else as it is in operation.',
  }),
  drainSourceVoltageMax: positive('drain-source voltage rating', 'V').optional(),
  drainCurrentMax: positive('drain current rating', 'A').optional(),
  onResistanceTemperatureCoefficient: signed('on-resistance temperature coefficient', 'ratio', {
    max: 0.1,
    note: 'Per kelvin.',
  }).optional(),
  gateCharge: positive('total gate charge', 'C').optional(),
  gateDrainCharge: positive('gate-drain charge', 'C').optional(),
  gateSourceCharge: positive('gate-source charge', 'C').optional(),
  gateDriveVoltage: positive('gate drive voltage', 'V', { max: 30 }).optional(),
  gateResistance: atLeastZero('internal gate resistance', 'ohm', { max: 1e3 }).optional(),
  thresholdVoltage: positive('gate threshold voltage', 'V', { max: 30 }).optional(),
  plateauVoltage: positive('gate plateau voltage', 'V', { max: 30 }).optional(),
  outputCharge: positive('output charge', 'C').optional(),
  outputChargeVoltage: positive('voltage at which output charge and energy are stated', 'V').optional(),
  outputEnergy: positive('output energy', 'J').optional(),
  bodyDiodeVoltage: positive('body diode voltage', 'V', { max: 10 }).optional(),
  bodyDiodeResistance: atLeastZero('body diode dynamic resistance', 'ohm', { max: 1e3 }).optional(),
  recoveryCharge: atLeastZero('reverse recovery charge', 'C').optional(),
  junctionToCase: positive('junction-to-case thermal resistance', 'K/W').optional(),
  junctionToAmbient: positive('junction-to-ambient thermal resistance', 'K/W').optional(),
});

export const diodeSchema = z.strictObject({
  ...partFacts,
  forwardVoltage: atLeastZero('diode forward voltage', 'V', { max: 10 }),
  dynamicResistance: atLeastZero('diode dynamic resistance', 'ohm', { max: 1e3 }).default(0),
  reverseVoltageMax: positive('reverse voltage rating', 'V').optional(),
  currentMax: positive('forward current rating', 'A').optional(),
  junctionCapacitance: atLeastZero('junction capacitance', 'F', {
    note: 'At the voltage it blocks.',
  }).optional(),
  recoveryCharge: atLeastZero('reverse recovery charge', 'C').optional(),
  leakageCurrent: atLeastZero('leakage current', 'A', { note: 'At 25 °C and the voltage it blocks.' }).optional(),
  leakageDoubling: positive('temperature rise that doubles the leakage', 'K').optional(),
  junctionToCase: positive('junction-to-case thermal resistance', 'K/W').optional(),
  junctionToAmbient: positive('junction-to-ambient thermal resistance', 'K/W').optional(),
});

/** How the heat of each switch leaves it, where its record's own figure is not to be taken. */
const coolingSchema = z.strictObject({
  copperArea: positive('copper area a switch', 'm²', { max: 0.1, note: 'On each side that carries air.' }).optional(),
  copperSides: positive('cooled sides', 'count', { max: 2 }).optional(),
  heatsink: positive('heatsink to ambient', 'K/W', { note: 'Its share of one switch.' }).optional(),
  pad: atLeastZero('interface pad', 'K/W').optional(),
});

const capacitorBanks = z.array(capacitorBankSchema).max(12);

export const partsSchema = z.strictObject({
  inductor: inductorSchema.optional(),
  outputCapacitors: capacitorBanks.min(1).optional(),
  inputCapacitors: capacitorBanks.optional(),
  highSide: mosfetSchema.optional(),
  lowSide: mosfetSchema.optional(),
  outputHighSide: mosfetSchema.optional(),
  outputLowSide: mosfetSchema.optional(),
  diode: diodeSchema.optional(),
  cooling: coolingSchema.optional(),
  source: z
    .strictObject({
      resistance: atLeastZero('source resistance', 'ohm', { max: 1e3 }).default(0),
      inductance: atLeastZero('source inductance', 'H').default(0),
    })
    .optional(),
  /** Between the source and the input filter. */
  fuse: z
    .strictObject({
      ...partFacts,
      // Stated, be it as 0: one that is left out would lose nothing.
      resistance: atLeastZero('resistance of the fuse', 'ohm', { max: 1e3, note: 'Warm, at its usual current.' }),
      ratedCurrent: positive('rated current of the fuse', 'A').optional(),
    })
    .optional(),
  /** After the fuse: a switch is its resistance, a diode has a forward voltage too and lets nothing back. */
  reversePolarity: z
    .strictObject({
      ...partFacts,
      forwardVoltage: atLeastZero('forward voltage of the reverse-polarity element', 'V', {
        max: 10,
        note: 'Of a diode; 0 of a switch.',
      }).default(0),
      resistance: atLeastZero('resistance of the reverse-polarity element', 'ohm', { max: 1e3 }),
      blockingVoltageMax: positive('voltage that the reverse-polarity element blocks', 'V').optional(),
    })
    .optional(),
  /** Across the input. Below its clamping voltage it carries nothing. */
  suppressor: z
    .strictObject({
      ...partFacts,
      clampingVoltage: positive('clamping voltage', 'V', { note: 'At the current of the surge.' }),
      standOffVoltage: positive('stand-off voltage', 'V').optional(),
    })
    .optional(),
  /** In series with the input until its capacitors are charged, then bridged. */
  precharge: z.strictObject({ ...partFacts, resistance: positive('precharge resistance', 'ohm') }).optional(),
  /** Across the output. */
  preload: z.strictObject({ ...partFacts, resistance: positive('preload resistance', 'ohm') }).optional(),
  inputFilter: z
    .strictObject({
      ...partFacts,
      inductance: positive('input filter inductance', 'H'),
      resistance: atLeastZero('input filter resistance', 'ohm', { max: 1e3 }).default(0),
      damping: z
        .strictObject({
          ...partFacts,
          capacitance: positive('damping capacitance', 'F'),
          resistance: atLeastZero('damping resistance', 'ohm', { max: 1e4 }),
        })
        .optional(),
      /** Across the terminals, before the choke. A source without impedance leaves it idle. */
      terminal: z
        .strictObject({
          ...partFacts,
          capacitance: positive('capacitance at the terminals', 'F'),
          esr: atLeastZero('equivalent series resistance at the terminals', 'ohm', { max: 1e3 }).default(0),
          esl: atLeastZero('equivalent series inductance at the terminals', 'H', { max: 1e-3 }).default(0),
        })
        .optional(),
    })
    .optional(),
  outputFilter: z
    .strictObject({
      ...partFacts,
      inductance: positive('output filter inductance', 'H'),
      resistance: atLeastZero('output filter resistance', 'ohm', { max: 1e3 }).default(0),
      capacitors: capacitorBanks.min(1),
    })
    .optional(),
});

export type Inductor = z.infer<typeof inductorSchema>;
/** @public */
export type CapacitorBank = z.infer<typeof capacitorBankSchema>;
export type Mosfet = z.infer<typeof mosfetSchema>;
export type Diode = z.infer<typeof diodeSchema>;

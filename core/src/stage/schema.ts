import { z } from 'zod';
import type { Relation } from '../result.js';
import { controlSchema } from './controlSchema.js';
import { atLeastZero, fieldMetaAt, positive, text, type FieldMeta } from './field.js';
import { partsSchema } from './partsSchema.js';
import { targetsSchema } from './targetsSchema.js';

export const STAGE_FORMAT = 'yundro-stage';
/** The version this program writes. A newer file is refused; an older one is migrated (stage/migrate.ts). */
export const STAGE_VERSION = 1;

/** Places a designer may pin: what `size` must leave alone. */
export const PINNABLE = [
  'switchingFrequency',
  'parts.inductor',
  'parts.outputCapacitors',
  'parts.inputCapacitors',
  'parts.highSide',
  'parts.lowSide',
  'parts.outputHighSide',
  'parts.outputLowSide',
  'parts.diode',
  'control.compensator',
] as const;
export type Pinnable = (typeof PINNABLE)[number];

const couplingSchema = z.union([
  z.strictObject({ kind: z.literal('none') }),
  z.strictObject({
    kind: z.enum(['inverse', 'direct']),
    coefficient: atLeastZero('coupling coefficient', 'ratio', { max: 0.95 }),
  }),
]);

/**
 * One stage: the single definition of the stage file. What the database stores, the browser edits, export and import
 * carry and the command line reads. SI units throughout (temperatures in degrees Celsius).
 */
export const stageSchema = z
  .strictObject({
    format: z.literal(STAGE_FORMAT),
    version: z.literal(STAGE_VERSION),
    name: text(120).min(1).default('Untitled stage'),
    notes: text(20000).default(''),
    topology: z.enum(['buck', 'boost', 'inverting-buck-boost', 'four-switch-buck-boost']),
    rectifier: z.enum(['synchronous', 'diode']).default('synchronous'),
    phases: positive('number of phases', 'count', { min: 1, max: 16 }).default(1),
    coupling: couplingSchema.default({ kind: 'none' }),
    targets: targetsSchema,
    switchingFrequency: positive('switching frequency', 'Hz', { min: 100, max: 1e8 }).optional(),
    operatingMode: z.enum(['forced-pwm', 'pulse-skipping', 'ultrasonic', 'critical-conduction']).default('forced-pwm'),
    parts: partsSchema.default({}),
    deadTime: atLeastZero('dead time', 's', { max: 1e-3 }).default(0),
    legs: z.enum(['regions', 'simultaneous']).optional(),
    control: controlSchema.prefault({}),
    pinned: z.array(z.enum(PINNABLE)).max(PINNABLE.length).default([]),
  })
  .refine((s) => (s.topology === 'inverting-buck-boost') === s.targets.outputVoltage < 0, {
    path: ['targets', 'outputVoltage'],
    params: {
      expected: 'a negative output voltage for the inverting buck-boost and a positive one for every other topology',
    },
  })
  .refine((s) => s.topology !== 'buck' || s.targets.outputVoltage < s.targets.inputVoltage.min, {
    path: ['targets', 'outputVoltage'],
    params: {
      expected: 'an output voltage below the minimum input voltage, as a buck stage only steps down',
      relation: {
        lower: ['targets', 'outputVoltage'],
        upper: ['targets', 'inputVoltage', 'min'],
        strict: true,
        because: 'a buck stage only steps down',
      } satisfies Relation,
    },
  })
  .refine((s) => s.topology !== 'boost' || s.targets.outputVoltage > s.targets.inputVoltage.max, {
    path: ['targets', 'outputVoltage'],
    params: {
      expected: 'an output voltage above the maximum input voltage, as a boost stage only steps up',
      relation: {
        lower: ['targets', 'inputVoltage', 'max'],
        upper: ['targets', 'outputVoltage'],
        strict: true,
        because: 'a boost stage only steps up',
      } satisfies Relation,
    },
  })
  .refine((s) => s.coupling.kind === 'none' || s.phases % 2 === 0, {
    path: ['coupling', 'kind'],
    params: { expected: '"none" for an odd number of phases, as coupling joins phases in pairs half a period apart' },
  })
  .refine((s) => s.switchingFrequency === undefined || 2 * s.deadTime * s.switchingFrequency < 0.5, {
    path: ['deadTime'],
    params: { expected: 'two dead times that together last less than half a switching period' },
  })
  .refine((s) => new Set(s.pinned).size === s.pinned.length, {
    path: ['pinned'],
    params: { expected: 'each pinned value named once' },
  });

export type Stage = z.infer<typeof stageSchema>;
export type StageInput = z.input<typeof stageSchema>;
export type Topology = Stage['topology'];

/** The numeric field at a place of the stage file, such as `['targets', 'inputVoltage', 'min']`. */
export function stageField(path: readonly PropertyKey[]): FieldMeta | undefined {
  return fieldMetaAt(stageSchema, path);
}

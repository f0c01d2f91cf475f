import { z } from 'zod';
import { TOPOLOGY_NAMES, topologyOf } from '../topology/topologies.js';
import type { Topology } from '../topology/topology.js';
import type { Relation } from '../result.js';
import { controlSchema } from './controlSchema.js';
import { atLeastZero, fieldMetaAt, positive, text, type FieldMeta } from './field.js';
import { partsSchema } from './partsSchema.js';
import { targetsSchema } from './targetsSchema.js';

/** @public */
export const STAGE_FORMAT = 'yundro-stage';
/** The version this program writes. A newer file is refused; an older one is migrated (stage/migrate.ts). @public */
export const STAGE_VERSION = 1;

/** Places a designer may pin: what `size` must leave alone. @public */
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
/** @public */
export type Pinnable = (typeof PINNABLE)[number];

const couplingSchema = z.union([
  z.strictObject({ kind: z.literal('none') }),
  z.strictObject({
    kind: z.enum(['inverse', 'direct']),
    coefficient: atLeastZero('coupling coefficient', 'ratio', { max: 0.95 }),
    /** Which phases share a core: pairs half a period apart where nothing is said, or all of them. */
    core: z.enum(['pairs', 'all']).optional(),
  }),
]);

/** Why a topology cannot make an output of its input, in the terms of a problem; undefined where it can. */
function misfit(
  {
    inputVoltage,
    outputVoltage,
  }: { readonly inputVoltage: { readonly min: number; readonly max: number }; readonly outputVoltage: number },
  { sign, reach, words }: Topology,
): { readonly expected: string; readonly relation?: Relation } | undefined {
  const output = ['targets', 'outputVoltage'];
  if (Math.sign(outputVoltage) !== sign)
    return { expected: `a ${sign < 0 ? 'negative' : 'positive'} output voltage, as that of the ${words} stage is` };
  if (reach === 'below' && outputVoltage >= inputVoltage.min) {
    const because = `a ${words} stage only steps down`;
    return {
      expected: `an output voltage below the minimum input voltage, as ${because}`,
      relation: { lower: output, upper: ['targets', 'inputVoltage', 'min'], strict: true, because },
    };
  }
  if (reach === 'above' && outputVoltage <= inputVoltage.max) {
    const because = `a ${words} stage only steps up`;
    return {
      expected: `an output voltage above the maximum input voltage, as ${because}`,
      relation: { lower: ['targets', 'inputVoltage', 'max'], upper: output, strict: true, because },
    };
  }
  return undefined;
}

/**
 * One stage: the single definition of the stage file. What the database stores, the browser edits, export and import
 * carry and the command line reads. SI units throughout (temperatures in degrees Celsius).
 *
 * @public
 */
export const stageSchema = z
  .strictObject({
    format: z.literal(STAGE_FORMAT),
    version: z.literal(STAGE_VERSION),
    name: text(120).min(1).default('Untitled stage'),
    /** The stage of the same project whose output is this one's input, by its name. */
    fedBy: text(120).min(1).optional(),
    notes: text(20000).default(''),
    topology: z.enum(TOPOLOGY_NAMES),
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
  .superRefine((s, context) => {
    const params = misfit(s.targets, topologyOf(s));
    if (params) context.addIssue({ code: 'custom', path: ['targets', 'outputVoltage'], params });
  })
  .refine((s) => s.coupling.kind === 'none' || s.coupling.core === 'all' || s.phases % 2 === 0, {
    path: ['coupling', 'kind'],
    params: {
      expected:
        '"none" for an odd number of phases, as coupling joins phases in pairs half a period apart where it does not join all on one core',
    },
  })
  .refine((s) => s.coupling.kind === 'none' || s.phases > 1, {
    path: ['coupling', 'kind'],
    params: { expected: '"none" for a single phase, which has nothing to be coupled with' },
  })
  .refine((s) => s.switchingFrequency === undefined || 2 * s.deadTime * s.switchingFrequency < 0.5, {
    path: ['deadTime'],
    params: { expected: 'two dead times that together last less than half a switching period' },
  })
  .refine((s) => new Set(s.pinned).size === s.pinned.length, {
    path: ['pinned'],
    params: { expected: 'each pinned value named once' },
  });

/** @public */
export type Stage = z.infer<typeof stageSchema>;
/** @public */
export type StageInput = z.input<typeof stageSchema>;

/** The numeric field at a place of the stage file, such as `['targets', 'inputVoltage', 'min']`. @public */
export function stageField(path: readonly PropertyKey[]): FieldMeta | undefined {
  return fieldMetaAt(stageSchema, path);
}

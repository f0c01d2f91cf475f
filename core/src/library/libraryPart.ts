import { z } from 'zod';
import { controllerSchema } from './controllerSchema.js';
import { CORE_MATERIALS, CORE_SHAPES } from './coreKinds.js';
import { atLeastZero, fieldMetaAt, positive, schemaAt, text, type FieldMeta } from '../stage/field.js';
import { capacitorBankSchema, diodeSchema, inductorSchema, mosfetSchema } from '../stage/partsSchema.js';

const named = { name: text(120).trim().min(1) };

/** A magnetic core to wind an inductor on. */
const coreSchema = z.strictObject({
  ...named,
  notes: text(2000).optional(),
  material: z.enum(CORE_MATERIALS),
  shape: z.enum(CORE_SHAPES).optional(),
  effectiveArea: positive('effective area', 'm²', { max: 0.1, least: 1e-9 }),
  effectiveLength: positive('effective magnetic length', 'm'),
  relativePermeability: positive('relative permeability', 'count', { max: 1e5 }),
  saturationFluxDensity: positive('saturation flux density', 'T', { max: 3, note: 'At 25 °C.' }),
  lossDensity: positive('core loss at 100 kHz and 0.1 T', 'W', {
    max: 1e9,
    note: 'Of a cubic metre, B the amplitude; that of the material in general where it is not given.',
  }).optional(),
  windowBreadth: positive('window breadth', 'm', {
    note: 'Along which turns lie side by side: inner circumference of a ring, height of a window within its former.',
  }).optional(),
  windowDepth: positive('window depth', 'm', { note: 'In which layers lie over each other.' }).optional(),
  turnLength: positive('length of the innermost turn', 'm').optional(),
  legWidth: positive('width of the leg', 'm', { note: 'Of the leg with the gap.' }).optional(),
  legDepth: positive('depth of the leg', 'm').optional(),
  airGap: atLeastZero('gap of the shape', 'm', { note: 'That an open shape, as a drum, has by itself.' }).optional(),
  price: atLeastZero('price each', 'ratio', { max: 1e5, note: 'In the currency of the parts library.' }).optional(),
  length: positive('body length', 'm').optional(),
  width: positive('body width', 'm').optional(),
  height: positive('body height', 'm').optional(),
});

const capacitorSchema = capacitorBankSchema.omit({ count: true, name: true }).extend({
  ...named,
  kind: z.enum(['ceramic', 'polymer', 'electrolytic', 'film', 'tantalum']),
});

/** The schema of a part of the library, by kind. The electrical fields are those of the stage file. @public */
export const LIBRARY_SCHEMAS = {
  inductor: inductorSchema.omit({ name: true }).extend({
    ...named,
    couplingCoefficient: positive('coupling coefficient', 'ratio', {
      max: 0.95,
      note: 'Of two windings on one core, wound against each other; everything else is of one winding, size and price of the pair.',
    }).optional(),
  }),
  capacitor: capacitorSchema,
  mosfet: mosfetSchema.omit({ name: true, count: true }).extend(named),
  diode: diodeSchema.omit({ name: true }).extend(named),
  core: coreSchema,
  controller: controllerSchema,
} as const;

/** @public */
export type PartKind = keyof typeof LIBRARY_SCHEMAS;
/** @public */
export const PART_KINDS = Object.keys(LIBRARY_SCHEMAS) as readonly PartKind[];
/** A part of one kind. @public */
export type PartOf<K extends PartKind> = z.infer<(typeof LIBRARY_SCHEMAS)[K]>;

/** What a library part can hold in one cell of a table. @public */
export interface PartColumn {
  readonly key: string;
  readonly words: string;
  /** Present for numbers. */
  readonly meta?: FieldMeta;
  /** The words allowed, where it is a choice between words. */
  readonly choices?: readonly string[];
  /** A curve of [x, y] points, written `0:1; 12:0.55` in one cell. */
  readonly curve: boolean;
  /** Some of its choices, written with spaces between them in one cell. */
  readonly list: boolean;
  readonly required: boolean;
}

const WORDS: Readonly<Record<string, string>> = {
  name: 'name',
  notes: 'notes',
  kind: 'kind',
  material: 'material',
  shape: 'shape',
  biasCurve: 'bias curve',
  inductanceCurve: 'inductance curve',
  scheme: 'control scheme',
  topologies: 'topologies',
  rectifier: 'rectifier',
  modes: 'operating modes',
  features: 'features',
  amplifier: 'amplifier',
};

/** What is not electrical stands last. */
const FACTS = new Set(['price', 'length', 'width', 'height', 'notes']);

/** The columns of a kind of part, in the order of its schema, the name first. @public */
export function partColumns(kind: PartKind): readonly PartColumn[] {
  const schema = LIBRARY_SCHEMAS[kind];
  const shape = schema.shape as Readonly<Record<string, z.ZodType>>;
  const others = Object.keys(shape).filter((key) => key !== 'name');
  const keys = ['name', ...others.filter((key) => !FACTS.has(key)), ...others.filter((key) => FACTS.has(key))];
  return keys.map((key) => {
    const meta = fieldMetaAt(schema, [key]);
    const inner = schemaAt(schema, [key]);
    const element = inner instanceof z.ZodArray ? inner.element : undefined;
    const list = element instanceof z.ZodEnum;
    const words = list ? element : inner;
    const choices = words instanceof z.ZodEnum ? words.options.map(String) : undefined;
    return {
      key,
      words: meta?.quantity ?? WORDS[key] ?? key,
      ...(meta && { meta }),
      ...(choices && { choices }),
      curve: element !== undefined && !list,
      list,
      required: shape[key]?.safeParse(undefined).success === false,
    };
  });
}

import { z } from 'zod';
import type { Unit } from '../quantity/unit.js';

/** What the schema knows of a numeric field: the interface takes its unit, range and name from here, and so do errors. @public */
export interface FieldMeta {
  /** The quantity in the field's standard words, lower case. */
  readonly quantity: string;
  readonly unit: Unit;
  readonly min: number;
  readonly max: number;
  /** The smallest magnitude that means something; zero, where it is allowed, is apart from it. */
  readonly least: number;
  /** One sentence more, where the name alone leaves room for a misreading. */
  readonly note?: string;
}

type FieldOptions = Partial<Omit<FieldMeta, 'quantity' | 'unit'>>;

/** Widest range a quantity may take when a field says nothing narrower; in SI units. */
const DEFAULT_MAX: Readonly<Record<Unit, number>> = {
  V: 1e4,
  A: 1e4,
  Hz: 1e9,
  H: 1,
  F: 100,
  ohm: 1e9,
  s: 1e3,
  W: 1e6,
  J: 1e3,
  T: 1e3,
  Wb: 1,
  C: 1e-3,
  S: 1e3,
  degC: 300,
  'K/W': 1e4,
  K: 1e3,
  'm²': 1,
  h: 1e6,
  'A/s': 1e12,
  'V/s': 1e12,
  'V/A': 1e3,
  '1/V': 1e4,
  deg: 360,
  dB: 200,
  m: 10,
  ratio: 1,
  count: 1e4,
};

/**
 * Smallest magnitude of each quantity beside zero, in SI units: far below what any stage has, far above where arithmetic loses its
 * digits. A picoohm is nothing that carries current, a femtofarad the end of a trace, a picohenry a micrometre of wire.
 */
const LEAST: Readonly<Record<Unit, number>> = {
  V: 1e-6,
  A: 1e-12,
  Hz: 1e-3,
  H: 1e-12,
  F: 1e-15,
  ohm: 1e-12,
  s: 1e-12,
  W: 1e-9,
  J: 1e-15,
  T: 1e-9,
  Wb: 1e-15,
  C: 1e-15,
  S: 1e-9,
  degC: 1e-6,
  'K/W': 1e-4,
  K: 1e-6,
  'm²': 1e-9,
  h: 1e-6,
  'A/s': 1e-3,
  'V/s': 1e-3,
  'V/A': 1e-6,
  '1/V': 1e-9,
  deg: 1e-6,
  dB: 1e-6,
  m: 1e-6,
  ratio: 1e-9,
  count: 1,
};

/** Marks the issue of a number that is too near zero, for its sentence. */
export const BELOW_LEAST = 'below-least';

function numeric(meta: FieldMeta) {
  let schema = meta.unit === 'count' ? z.int() : z.number();
  schema = schema.gte(meta.min).lte(meta.max);
  if (meta.min < meta.least)
    schema = schema.refine((value) => value === 0 || Math.abs(value) >= meta.least, { params: { code: BELOW_LEAST } });
  return schema.meta({ ...meta });
}

/** Words of a designer, kept as typed: no character that the database or a file could not give back. */
export const text = (most: number) =>
  z
    .string()
    .max(most)
    .refine((words) => !words.includes('\u0000') && words.isWellFormed(), {
      params: { expected: 'a text without zero bytes and broken characters' },
    });

/** A quantity that must be above zero: at least the smallest that means something (or `min`). */
export function positive(quantity: string, unit: Unit, options: FieldOptions = {}) {
  const least = options.least ?? LEAST[unit];
  return numeric({ quantity, unit, min: least, max: DEFAULT_MAX[unit], least, ...options });
}

/** A quantity that may be zero and not negative, unless `min` says otherwise. */
export function atLeastZero(quantity: string, unit: Unit, options: FieldOptions = {}) {
  return numeric({ quantity, unit, min: 0, max: DEFAULT_MAX[unit], least: LEAST[unit], ...options });
}

/** A quantity of either sign, within plus and minus `max`. */
export function signed(quantity: string, unit: Unit, options: FieldOptions = {}) {
  const max = options.max ?? DEFAULT_MAX[unit];
  return numeric({ quantity, unit, min: -max, max, least: LEAST[unit], ...options });
}

/** Strip the wrappers (optional, default) that stand between a path and the schema that rules it. */
function unwrapped(schema: z.core.$ZodType): z.core.$ZodType {
  let inner = schema;
  while (inner instanceof z.ZodOptional || inner instanceof z.ZodDefault || inner instanceof z.ZodPrefault) {
    inner = inner.unwrap();
  }
  return inner;
}

function step(schema: z.core.$ZodType, key: PropertyKey): z.core.$ZodType | undefined {
  const here = unwrapped(schema);
  if (here instanceof z.ZodObject) {
    const shape = here.shape as Record<PropertyKey, z.core.$ZodType | undefined>;
    return shape[key];
  }
  if (here instanceof z.ZodArray) return here.element;
  if (here instanceof z.ZodTuple) return here._zod.def.items[Number(key)];
  if (here instanceof z.ZodUnion) {
    for (const option of here.options) {
      const found = step(option, key);
      if (found) return found;
    }
  }
  return undefined;
}

/** The schema at a path of the stage file, or undefined when the file has no such place. */
export function schemaAt(root: z.core.$ZodType, path: readonly PropertyKey[]): z.core.$ZodType | undefined {
  let here: z.core.$ZodType | undefined = root;
  for (const key of path) {
    here = step(here, key);
    if (!here) return undefined;
  }
  return unwrapped(here);
}

/** The numeric field's meta at a path, or undefined when the place holds something else. */
export function fieldMetaAt(root: z.core.$ZodType, path: readonly PropertyKey[]): FieldMeta | undefined {
  const schema = schemaAt(root, path);
  const meta = schema instanceof z.ZodType ? schema.meta() : undefined;
  return meta && 'quantity' in meta && 'unit' in meta ? (meta as unknown as FieldMeta) : undefined;
}

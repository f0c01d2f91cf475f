import type { ClosedForm } from '../firstcut/closedForm.js';

/** How far a part or a datum may be from what is stated: a share of it, or in its own unit. */
export interface Tolerance {
  readonly share?: number;
  readonly by?: number;
}

/** A result with its parts as stated, and at their worst. */
export interface Spread {
  readonly nominal: number;
  readonly least: number;
  readonly most: number;
}

/** Both ends of a value. */
export const endsOf = (value: number, { share = 0, by = 0 }: Tolerance = {}): readonly [number, number] => {
  const reach = Math.abs(value) * share + by;
  return [value - reach, value + reach];
};

/**
 * A closed form over the tolerances of what goes into it, at every combination of their ends. Exact where the form rises or falls with each of
 * them throughout, as all forms of this folder do.
 *
 * @throws where a form meets more than a dozen tolerances.
 */
export function spreadOf<K extends string>(
  form: ClosedForm<K>,
  values: Readonly<Record<K, number>>,
  tolerances: Readonly<Partial<Record<K, Tolerance>>>,
): Spread {
  const keys = (Object.keys(form.inputs) as K[]).filter((key) => tolerances[key] !== undefined);
  if (keys.length > 12) throw new RangeError('A worst case of more than twelve tolerances is not enumerated.');
  const ends = keys.map((key) => endsOf(values[key], tolerances[key]));
  let least = Infinity;
  let most = -Infinity;
  for (let corner = 0; corner < 2 ** keys.length; corner += 1) {
    const there: Record<K, number> = { ...values };
    keys.forEach((key, k) => (there[key] = (ends[k] as readonly [number, number])[(corner >> k) & 1] as number));
    const value = form.compute(there);
    least = Math.min(least, value);
    most = Math.max(most, value);
  }
  return { nominal: form.compute(values), least, most };
}

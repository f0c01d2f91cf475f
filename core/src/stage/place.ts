/** A place in the stage file, such as `['targets', 'inputVoltage', 'min']`. @public */
export type StagePath = readonly (string | number)[];

/** @public */
export const pathKey = (path: StagePath): string => path.join('.');

/** `parts.outputCapacitors[0].esr`, the way a designer would point at it. @public */
export function pathText(path: readonly PropertyKey[]): string {
  return path.reduce<string>((text, key) => {
    if (typeof key === 'number') return `${text}[${String(key)}]`;
    return text === '' ? String(key) : `${text}.${String(key)}`;
  }, '');
}

/** The value at a place of a document, or undefined. @public */
export function valueAt(document: unknown, path: readonly PropertyKey[]): unknown {
  return path.reduce<unknown>(
    (here, key) =>
      typeof here === 'object' && here !== null ? (here as Record<PropertyKey, unknown>)[key] : undefined,
    document,
  );
}

/** A copy of `here` with the value at a place replaced; `undefined` removes the key, and objects emptied by that. @public */
export function withValue(here: unknown, path: StagePath, value: unknown): unknown {
  const [key, ...rest] = path;
  if (key === undefined) return value;
  if (Array.isArray(here) && typeof key === 'number')
    return here.map((item: unknown, i) => (i === key ? withValue(item, rest, value) : item));
  const { [key]: inner, ...others } = (here ?? {}) as Record<string | number, unknown>;
  const next = withValue(inner, rest, value);
  const gone =
    next === undefined ||
    (rest.length > 0 &&
      typeof next === 'object' &&
      next !== null &&
      !Array.isArray(next) &&
      Object.keys(next).length === 0);
  return gone ? others : { ...others, [key]: next };
}

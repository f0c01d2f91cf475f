import type { Stage } from '@yundro/core';

/** A place in the stage file, such as `['targets', 'inputVoltage', 'min']`. */
export type StagePath = readonly (string | number)[];

export const pathKey = (path: StagePath): string => path.join('.');

/** The value at a place, or undefined. */
export function valueAt(stage: Stage, path: StagePath): unknown {
  return path.reduce<unknown>(
    (here, key) =>
      typeof here === 'object' && here !== null ? (here as Record<string | number, unknown>)[key] : undefined,
    stage,
  );
}

/** A copy of `here` with the value at a place replaced; `undefined` removes the key, and objects emptied by that. */
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

import { kindAt, LIBRARY_SCHEMAS, type Inventory, type PartKind, type Stage } from '@yundro/core';

/** The named parts of some stages as records of the library, each once. How many stand in parallel is the stage's own. */
export function demoParts(stages: readonly Stage[]): Partial<Inventory> {
  const found: Partial<Record<PartKind, Map<string, unknown>>> = {};
  for (const { parts } of stages)
    for (const [place, part] of Object.entries(parts)) {
      const kind = kindAt(place);
      if (!kind) continue;
      for (const one of (Array.isArray(part) ? part : [part]) as readonly Readonly<Record<string, unknown>>[]) {
        if (typeof one['name'] !== 'string') continue;
        const record = Object.fromEntries(Object.entries(one).filter(([key]) => key !== 'count'));
        (found[kind] ??= new Map<string, unknown>()).set(one['name'], LIBRARY_SCHEMAS[kind].parse(record));
      }
    }
  return Object.fromEntries(Object.entries(found).map(([kind, records]) => [kind, [...records.values()]]));
}

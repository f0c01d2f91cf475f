import { formatQuantity, marginText, stageField, type Stage, type Verdict } from '@yundro/core';

/** One thing in which designs differ, written for each of them in their order. */
export interface Difference {
  readonly what: string;
  readonly values: readonly string[];
}

type Leaf = number | string | boolean;

/** Every value of a document by its place. */
function leavesOf(value: unknown, place: string, into: Map<string, Leaf>): Map<string, Leaf> {
  if (typeof value === 'number' || typeof value === 'string' || typeof value === 'boolean') into.set(place, value);
  else if (Array.isArray(value)) value.forEach((one, i) => leavesOf(one, `${place}.${String(i)}`, into));
  else if (typeof value === 'object' && value !== null)
    for (const [key, one] of Object.entries(value)) leavesOf(one, place === '' ? key : `${place}.${key}`, into);
  return into;
}

/** What tells a value from its like: the part it belongs to. */
function wordsOf(place: string): string {
  const path = place.split('.').map((step) => (/^\d+$/.test(step) ? Number(step) : step));
  const field = stageField(path);
  const bank = path.find((step): step is number => typeof step === 'number');
  const owner =
    path[0] === 'parts' && typeof path[1] === 'string' ? path[1] : path[0] === 'targets' ? 'targets' : undefined;
  const spoken = owner?.replace(/([A-Z])/g, (letter) => ` ${letter.toLowerCase()}`);
  const of = spoken === undefined ? '' : `, ${spoken}${bank === undefined ? '' : ` ${String(bank + 1)}`}`;
  return `${field?.quantity ?? String(path.at(-1))}${of}`;
}

const written = (place: string, value: Leaf | undefined): string => {
  if (value === undefined) return '–';
  const field = stageField(place.split('.').map((step) => (/^\d+$/.test(step) ? Number(step) : step)));
  if (typeof value !== 'number' || !field) return String(value);
  return field.unit === 'count' && Number.isInteger(value)
    ? formatQuantity(value, field.unit)
    : formatQuantity(value, field.unit, 4);
};

/** Places that say nothing of the design. */
const ASIDE = /^(name|notes|format|version|pinned)(\.|$)/;

/** The values in which stages differ, in the order of the first. */
export function valueDifferences(stages: readonly Stage[]): readonly Difference[] {
  const leaves = stages.map((stage) => leavesOf(stage, '', new Map()));
  const places = [...new Set(leaves.flatMap((one) => [...one.keys()]))].filter((place) => !ASIDE.test(place));
  return places.flatMap((place): readonly Difference[] => {
    const values = leaves.map((one) => one.get(place));
    if (values.every((value) => value === values[0])) return [];
    return [{ what: wordsOf(place), values: values.map((value) => written(place, value)) }];
  });
}

/** The margins in which designs differ on the screen. */
export function marginDifferences(designs: readonly (readonly Verdict[])[]): readonly Difference[] {
  const targets = new Map(designs.flat().map(({ target, quantity }) => [target, quantity]));
  return [...targets].flatMap(([target, what]): readonly Difference[] => {
    const values = designs.map((verdicts) => {
      const found = verdicts.find((one) => one.target === target);
      if (!found) return '–';
      return found.margin === null ? 'fails' : `${marginText(found.margin)}${found.pass ? '' : ', fails'}`;
    });
    return values.every((value) => value === values[0]) ? [] : [{ what, values }];
  });
}

import type { Axis, Curve, Mark, Region } from '../charts/curves';
import type { FoundChokes } from '../engine/windingSurvey';

/** A picture of chokes as plain data. */
export interface ChokeChart {
  readonly x: Axis;
  readonly y: Axis;
  readonly curves: readonly Curve[];
  readonly marks: readonly Mark[];
  readonly regions?: readonly Region[];
}

type Table = readonly (readonly [number, number])[];

const LOOKS = [
  ['--trace-1', []],
  ['--trace-2', [6, 3]],
  ['--trace-3', [2, 2]],
] as const;
const ROOM = 1.12;

/** Inductance against current of some chokes, with full load and the limit drawn in. */
export function inductanceChart(
  of: readonly { readonly words: string; readonly table: Table }[],
  { full, limit, inductance }: { readonly full: number; readonly limit: number; readonly inductance: number },
  most = Math.max(...of.flatMap(({ table }) => table.map(([, value]) => value)), inductance),
): ChokeChart {
  const end = 1.25 * limit;
  return {
    x: { words: 'current', unit: 'A', min: 0, max: end },
    y: { words: 'incremental inductance', unit: 'H', min: 0, max: ROOM * most },
    curves: of.map(({ words, table }, k): Curve => {
      const [colour, dash] = LOOKS[k % LOOKS.length] ?? ['--ink', []];
      const shown = table.filter(([at]) => at <= end);
      return {
        words,
        x: shown.map(([at]) => at),
        y: shown.map(([, value]) => value),
        colour,
        dash: [...dash],
        labelAt: end * (0.12 + 0.2 * k),
        labelAbove: true,
      };
    }),
    marks: [{ x: full, y: inductance, label: 'wanted at full load', here: true }],
    regions: [{ fromX: limit, words: 'beyond the current limit', limit: true }],
  };
}

/** Loss over volume of what a search found, the present choke beside it. */
export function searchChart({ designs, present }: FoundChokes): ChokeChart {
  const losses = [...designs.map(({ loss }) => loss), present.loss];
  const volumes = [...designs.map(({ volume }) => volume), ...(present.volume === undefined ? [] : [present.volume])];
  const cm3 = (volume: number): number => volume * 1e6;
  return {
    x: {
      words: 'volume, cm³',
      unit: 'count',
      min: cm3(Math.min(...volumes)) / 1.4,
      max: cm3(Math.max(...volumes)) * 1.4,
      logarithmic: true,
      label: (value) => `${Number(value.toPrecision(2)).toString()} cm³`,
    },
    y: { words: 'loss, worst corner', unit: 'W', min: 0, max: ROOM * Math.max(...losses) },
    curves: [],
    marks: [
      // Named are those that are best in something: more names would lie on each other.
      ...designs.map(({ loss, volume, spec, best }) => ({
        x: cm3(volume),
        y: loss,
        ...(best.length > 0 && { label: spec.core }),
        here: false,
      })),
      ...(present.volume === undefined
        ? []
        : [{ x: cm3(present.volume), y: present.loss, label: `now: ${present.name}`, here: false }]),
    ],
  };
}

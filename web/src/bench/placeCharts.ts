import type { ExpectedNode, SeenEdge, Unit } from '@yundro/core';
import type { Axis, Curve } from '../charts/curves';
import type { PlaceTrace } from '../engine/benchSurvey';

export interface PlaceChart {
  readonly x: Axis;
  readonly y: Axis;
  readonly curves: readonly Curve[];
  readonly marks: readonly [];
}

/** An axis that holds all values with a little room. */
export function axisOf(values: readonly number[], words: string, unit: Unit): Axis {
  const finite = values.filter(Number.isFinite);
  const low = Math.min(...finite);
  const high = Math.max(...finite);
  const room = Math.max(0.08 * (high - low), 1e-3 * Math.max(Math.abs(low), Math.abs(high)), 1e-9);
  return { words, unit, min: low - room, max: high + 1.6 * room };
}

const time = (x: readonly number[]): Axis => ({ words: 'time', unit: 's', min: x[0] ?? 0, max: x.at(-1) ?? 1 });

/** What is to be seen at a place, within the band of boards in tolerance. */
export function expectedChart({ name, unit, time: t, value, least, most }: ExpectedNode): PlaceChart {
  const x = [...t];
  const all = [...least, ...most];
  return {
    x: time(x),
    y: axisOf(all, name, unit),
    curves: [
      {
        words: 'least within tolerance',
        x,
        y: [...least],
        colour: '--trace-3',
        dash: [2, 2],
        labelAt: (x.at(-1) ?? 1) * 0.25,
      },
      {
        words: 'most within tolerance',
        x,
        y: [...most],
        colour: '--trace-3',
        dash: [2, 2],
        labelAt: (x.at(-1) ?? 1) * 0.7,
        labelAbove: true,
      },
      {
        words: 'as stated',
        x,
        y: [...value],
        colour: '--trace-1',
        dash: [],
        labelAt: (x.at(-1) ?? 1) * 0.45,
        labelAbove: true,
      },
    ],
    marks: [],
  };
}

/** An edge as it is, and as two probes show it. */
export function edgeChart({ time: t, edge, withSpring, withLead }: SeenEdge): PlaceChart {
  const x = [...t];
  const end = x.at(-1) ?? 1;
  return {
    x: time(x),
    y: axisOf([...edge, ...withLead], 'switch node, one edge', 'V'),
    curves: [
      { words: 'as it is', x, y: [...edge], colour: '--trace-1', dash: [], labelAt: end * 0.85 },
      { words: 'with a ground spring', x, y: [...withSpring], colour: '--trace-2', dash: [6, 3], labelAt: end * 0.5 },
      {
        words: 'with a ground lead of 15 cm',
        x,
        y: [...withLead],
        colour: '--trace-4',
        dash: [2, 2],
        labelAt: end * 0.2,
        labelAbove: true,
      },
    ],
    marks: [],
  };
}

/** One place of a board, beside the same place of another. */
export function placeChart(
  shown: PlaceTrace,
  words: string,
  beside?: { readonly trace: PlaceTrace | undefined; readonly words: string },
): PlaceChart {
  const end = shown.x.at(-1) ?? 1;
  const other = beside?.trace;
  return {
    x: time(shown.x),
    y: axisOf([...shown.y, ...(other?.y ?? [])], shown.name, shown.unit),
    curves: [
      ...(other
        ? [{ words: beside.words, x: other.x, y: other.y, colour: '--trace-3', dash: [5, 3], labelAt: end * 0.3 }]
        : []),
      { words, x: shown.x, y: shown.y, colour: '--trace-1', dash: [], labelAt: end * 0.7, labelAbove: true },
    ],
    marks: [],
  };
}

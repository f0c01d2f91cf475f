import type { Unit } from '@yundro/core';

/** A curve of a {@link CurveChart}. */
export interface Curve {
  readonly words: string;
  readonly x: readonly number[];
  /** NaN or undefined leaves a gap. */
  readonly y: readonly (number | undefined)[];
  /** Name of a colour token. */
  readonly colour: string;
  readonly dash: number[];
  /** Where the label stands below the curve; without it, above the last point inside the picture. */
  readonly labelAt?: number;
  /** Set with it: above the curve instead. */
  readonly labelAbove?: boolean;
  /** Shaded down to the axis, or to the curve before: a stack. Its label stands in the middle of the band. */
  readonly fill?: 'axis' | 'previous';
}

/** A point on the chart, with a label where there is room. */
export interface Mark {
  readonly x: number;
  readonly y: number;
  readonly label?: string;
  /** Drawn filled: the one looked at. */
  readonly here: boolean;
  /** One of very many. */
  readonly small?: boolean;
}

export interface Axis {
  readonly words: string;
  readonly unit: Unit;
  readonly min: number;
  readonly max: number;
  readonly logarithmic?: boolean;
  /** Distance between grid lines, where round numbers are not what the quantity is read by. */
  readonly step?: number;
  /** How a value is written on the axis, where not by its unit. */
  readonly label?: (value: number) => string;
}

/** A part of the picture that is hatched, in axis values, with the words written in it; an edge left out is that of the picture. */
export interface Region {
  readonly fromX?: number;
  readonly toX?: number;
  readonly fromY?: number;
  readonly toY?: number;
  readonly words: string;
  /** Beyond a limit: drawn in the colour of what fails. */
  readonly limit?: boolean;
}

/** What lies above a limit, or below one, hatched. */
export const beyond = (limit: number, side: 'above' | 'below', words: string): Region => ({
  ...(side === 'above' ? { fromY: limit } : { toY: limit }),
  words,
  limit: true,
});

/** Ticks of a logarithmic axis: 1, 2 and 5 of every decade within it. */
export function decadeTicks(min: number, max: number): readonly number[] {
  const ticks: number[] = [];
  for (let decade = Math.floor(Math.log10(min)); decade <= Math.ceil(Math.log10(max)); decade += 1) {
    for (const step of [1, 2, 5]) {
      const value = Number((step * 10 ** decade).toPrecision(3));
      if (value >= min * (1 - 1e-9) && value <= max * (1 + 1e-9)) ticks.push(value);
    }
  }
  return ticks;
}

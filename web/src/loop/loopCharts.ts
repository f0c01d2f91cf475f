import { decibels, unwrapped, type Complex, type LoopReport } from '@yundro/core';
import type { Axis, Curve, Mark, Region } from '../charts/curves';

/** One picture for a {@link CurveChart}. */
export interface LoopChart {
  readonly x: Axis;
  readonly y: Axis;
  readonly curves: readonly Curve[];
  readonly marks: readonly Mark[];
  readonly regions?: readonly Region[];
}

/** A loop gain that is not the stage's: one being shaped, or that of another corner. */
export interface OtherLoop {
  readonly words: string;
  readonly frequencies: readonly number[];
  readonly values: readonly Complex[];
  readonly quiet: boolean;
}

const PARTS = [
  { of: 'plant', words: 'plant', colour: '--trace-3', dash: [2, 2] },
  { of: 'compensator', words: 'compensator', colour: '--trace-2', dash: [6, 3] },
  { of: 'loop', words: 'loop', colour: '--trace-1', dash: [] },
] as const;

/** Where the labels of the three curves stand, as shares of their points: apart, as the curves cross. */
const LABEL_AT = { plant: 0.12, compensator: 0.42, loop: 0.02 } as const;

const frequencyAxis = (points: LoopReport['points']): Axis => ({
  words: 'frequency',
  unit: 'Hz',
  min: points[0]?.frequency ?? 1,
  max: points.at(-1)?.frequency ?? 10,
  logarithmic: true,
});

const round = (value: number, step: number, up: boolean): number =>
  step * (up ? Math.ceil(value / step) : Math.floor(value / step));

const otherCurve = (other: OtherLoop, y: readonly number[]): Curve => ({
  words: other.words,
  x: other.frequencies,
  y,
  colour: other.quiet ? '--rule' : '--trace-4',
  dash: other.quiet ? [] : [8, 3, 2, 3],
  ...(other.words === '' ? {} : { labelAt: other.frequencies[Math.floor(0.6 * other.frequencies.length)] ?? 0 }),
});

/** Magnitudes in dB over frequency, the crossover marked. */
export function gainChart(report: LoopReport, others: readonly OtherLoop[] = []): LoopChart {
  const { points, crossover, gainMargin } = report;
  const x = frequencyAxis(points);
  const curves = PARTS.map(({ of, words, colour, dash }): Curve => ({
    words,
    x: points.map(({ frequency }) => frequency),
    y: points.map((point) => decibels(point[of])),
    colour,
    dash: [...dash],
    labelAt: points[Math.floor(LABEL_AT[of] * points.length)]?.frequency ?? 0,
  }));
  const values = curves.flatMap(({ y }) => y).filter((value) => value !== undefined);
  const marks: Mark[] = [];
  if (crossover.kind === 'found') marks.push({ x: crossover.value, y: 0, label: 'crossover', here: true });
  if (gainMargin.kind === 'found')
    marks.push({ x: gainMargin.frequency, y: -gainMargin.value, label: 'gain margin', here: false });
  return {
    x,
    y: {
      words: 'gain',
      unit: 'dB',
      min: Math.max(-100, round(Math.min(...values), 20, false)),
      max: Math.min(120, round(Math.max(...values), 20, true)),
      label: (value) => `${value.toFixed(0)} dB`,
    },
    curves: [
      ...others.map((other) => otherCurve(other, other.values.map(decibels))),
      { words: '', x: [x.min, x.max], y: [0, 0], colour: '--ink-2', dash: [1, 2] },
      ...curves,
    ],
    marks,
  };
}

/** Phases in degrees over frequency, the phase margin marked. */
export function phaseChart(report: LoopReport, others: readonly OtherLoop[] = []): LoopChart {
  const { points, phaseMargin } = report;
  const x = frequencyAxis(points);
  const curves = PARTS.map(({ of, words, colour, dash }): Curve => ({
    words,
    x: points.map(({ frequency }) => frequency),
    y: unwrapped(points.map((point) => point[of])),
    colour,
    dash: [...dash],
    labelAt: points[Math.floor(LABEL_AT[of] * points.length)]?.frequency ?? 0,
  }));
  const values = curves.flatMap(({ y }) => y).filter((value) => value !== undefined);
  const loop = curves.at(-1);
  const marks: Mark[] = [];
  if (phaseMargin.kind === 'found' && loop) {
    const near = loop.x.findIndex((frequency) => frequency >= phaseMargin.frequency);
    const phase = loop.y[near] ?? 0;
    marks.push({
      x: phaseMargin.frequency,
      y: phase,
      label: `phase margin ${phaseMargin.value.toFixed(0)}°`,
      here: true,
    });
  }
  return {
    x,
    y: {
      words: 'phase',
      unit: 'deg',
      min: Math.min(-225, round(Math.max(-540, Math.min(...values)), 45, false)),
      max: Math.max(0, round(Math.min(180, Math.max(...values)), 45, true)),
      label: (value) => `${value.toFixed(0)}°`,
    },
    curves: [
      ...others.map((other) => otherCurve({ ...other, words: '' }, unwrapped(other.values))),
      { words: '', x: [x.min, x.max], y: [-180, -180], colour: '--ink-2', dash: [1, 2] },
      ...curves,
    ],
    marks,
  };
}

/** Half the width of the plane round −1 that is looked at. */
const PLANE = 2.5;

/** The loop gain in the complex plane, −1 marked. */
export function planeChart(report: LoopReport): LoopChart {
  const inside = report.points.filter(({ loop }) => Math.hypot(loop.re, loop.im) < 4 * PLANE);
  const axis = (words: string): Axis => ({
    words,
    unit: 'ratio',
    min: -PLANE,
    max: PLANE,
  });
  return {
    x: axis('real part of the loop gain'),
    y: axis('imaginary part'),
    curves: [
      {
        words: '',
        x: Array.from({ length: 73 }, (_, k) => Math.cos((k * Math.PI) / 36)),
        y: Array.from({ length: 73 }, (_, k) => Math.sin((k * Math.PI) / 36)),
        colour: '--rule',
        dash: [],
      },
      {
        words: 'loop gain',
        x: inside.map(({ loop }) => loop.re),
        y: inside.map(({ loop }) => loop.im),
        colour: '--trace-1',
        dash: [],
      },
    ],
    marks: [{ x: -1, y: 0, label: '−1', here: true }],
  };
}

/** Output impedance with the loop closed, its peak marked. */
export function impedanceChart(report: LoopReport): LoopChart {
  const { points, outputImpedancePeak } = report;
  const values = points.map(({ outputImpedance: { re, im } }) => Math.hypot(re, im));
  return {
    x: frequencyAxis(points),
    y: {
      words: 'output impedance',
      unit: 'ohm',
      min: 10 ** Math.floor(Math.log10(Math.min(...values))),
      max: 10 ** Math.ceil(Math.log10(Math.max(...values))),
      logarithmic: true,
    },
    curves: [
      {
        words: 'with the loop closed',
        x: points.map(({ frequency }) => frequency),
        y: values,
        colour: '--trace-1',
        dash: [],
      },
    ],
    marks: [{ x: outputImpedancePeak.frequency, y: outputImpedancePeak.impedance, label: 'peak', here: true }],
  };
}

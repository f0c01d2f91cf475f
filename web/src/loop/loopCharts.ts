import { decibels, unwrapped, type Complex, type InputImpedances, type LoopReport } from '@yundro/core';
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
  /** Being shaped; another corner, drawn quietly; the averaged model; or a trace laid over. */
  readonly style: 'shaped' | 'quiet' | 'averaged' | 'trace';
}

const PARTS = [
  { of: 'plant', words: 'plant', colour: '--trace-3', dash: [2, 2] },
  { of: 'compensator', words: 'compensator', colour: '--trace-2', dash: [6, 3] },
  { of: 'loop', words: 'loop', colour: '--trace-1', dash: [] },
] as const;

type Part = (typeof PARTS)[number]['of'];
const ALL: readonly Part[] = ['plant', 'compensator', 'loop'];

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

const OTHER_STYLES = {
  shaped: { colour: '--trace-4', dash: [8, 3, 2, 3] },
  quiet: { colour: '--ink-2', dash: [] },
  averaged: { colour: '--ink-2', dash: [3, 3] },
  trace: { colour: '--trace-5', dash: [10, 3] },
} satisfies Record<OtherLoop['style'], Pick<Curve, 'colour' | 'dash'>>;
/** Where the label of each stands, as a share of its points. */
const LABEL_SHARE = { shaped: 0.6, quiet: 0, averaged: 0.8, trace: 0.35 } as const;

const otherCurve = (other: OtherLoop, y: readonly number[]): Curve => ({
  words: other.words,
  x: other.frequencies,
  y,
  ...OTHER_STYLES[other.style],
  ...(other.words === ''
    ? {}
    : { labelAt: other.frequencies[Math.floor(LABEL_SHARE[other.style] * other.frequencies.length)] ?? 0 }),
});

/** Magnitudes in dB over frequency, the crossover marked. */
export function gainChart(
  report: LoopReport,
  others: readonly OtherLoop[] = [],
  parts: readonly Part[] = ALL,
): LoopChart {
  const { points, crossings, crossover, gainMargin } = report;
  const x = frequencyAxis(points);
  const curves = PARTS.filter(({ of }) => parts.includes(of)).map(({ of, words, colour, dash }): Curve => ({
    words,
    x: points.map(({ frequency }) => frequency),
    y: points.map((point) => decibels(point[of])),
    colour,
    dash: [...dash],
    labelAt: points[Math.floor(LABEL_AT[of] * points.length)]?.frequency ?? 0,
  }));
  const values = [...curves.flatMap(({ y }) => y), ...others.flatMap((other) => other.values.map(decibels))].filter(
    (value) => value !== undefined,
  );
  const marks: Mark[] = [];
  for (const { frequency } of crossings) {
    const judged = crossover.kind === 'found' && crossover.value === frequency;
    const label = !judged ? '' : crossings.length > 1 ? 'crossover judged' : 'crossover';
    marks.push({ x: frequency, y: 0, label, here: judged });
  }
  if (gainMargin.kind === 'found')
    marks.push({ x: gainMargin.frequency, y: -gainMargin.value, label: 'gain margin', here: false });
  return {
    // The picture below has the same axis, and names it.
    x: { ...x, words: '' },
    y: {
      words: 'gain',
      unit: 'dB',
      min: Math.max(-100, round(Math.min(...values), 20, false)),
      max: Math.min(120, round(Math.max(...values), 20, true)),
      step: 20,
      label: (value) => `${value.toFixed(0)} dB`,
    },
    curves: [
      ...curves,
      { words: '', x: [x.min, x.max], y: [0, 0], colour: '--ink-2', dash: [1, 2] },
      ...others.map((other) => otherCurve(other, other.values.map(decibels))),
    ],
    marks,
  };
}

/** Phases in degrees over frequency, the phase margin marked. */
export function phaseChart(
  report: LoopReport,
  others: readonly OtherLoop[] = [],
  parts: readonly Part[] = ALL,
): LoopChart {
  const { points, phaseMargin } = report;
  const x = frequencyAxis(points);
  const curves = PARTS.filter(({ of }) => parts.includes(of)).map(({ of, words, colour, dash }): Curve => ({
    words,
    x: points.map(({ frequency }) => frequency),
    y: unwrapped(points.map((point) => point[of])),
    colour,
    dash: [...dash],
    labelAt: points[Math.floor(LABEL_AT[of] * points.length)]?.frequency ?? 0,
  }));
  const values = [...curves.flatMap(({ y }) => y), ...others.flatMap((other) => unwrapped(other.values))].filter(
    (value) => value !== undefined,
  );
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
      step: 45,
      label: (value) => `${value.toFixed(0)}°`,
    },
    curves: [
      ...curves,
      { words: '', x: [x.min, x.max], y: [-180, -180], colour: '--ink-2', dash: [1, 2] },
      ...others.map((other) => otherCurve({ ...other, words: '' }, unwrapped(other.values))),
    ],
    marks,
  };
}

/** Half the height of the plane round −1 that is looked at. */
const PLANE = 2;
/** Width of the picture over its height, so that the unit circle is round. */
const ASPECT = 2.5;

/** The loop gain in the complex plane, −1 marked. */
export function planeChart(report: LoopReport): LoopChart {
  const inside = report.points.filter(({ loop }) => Math.hypot(loop.re, loop.im) < 8 * PLANE);
  const axis = (words: string, half: number): Axis => ({ words, unit: 'ratio', min: -half, max: half, step: 1 });
  return {
    x: axis('real part of the loop gain', PLANE * ASPECT),
    y: axis('imaginary part', PLANE),
    curves: [
      {
        words: '',
        x: Array.from({ length: 73 }, (_, k) => Math.cos((k * Math.PI) / 36)),
        y: Array.from({ length: 73 }, (_, k) => Math.sin((k * Math.PI) / 36)),
        colour: '--ink-2',
        dash: [1, 2],
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

/** Line rejection with the loop closed, and control voltage to inductor current, in dB. */
export function otherCharts({ points }: LoopReport): readonly (readonly [string, LoopChart])[] {
  const x = frequencyAxis(points);
  const chart = (of: 'line' | 'inductorCurrent', words: string, label: string, last: boolean): LoopChart => {
    const values = points.map((point) => decibels(point[of]));
    const finite = values.filter(Number.isFinite);
    return {
      x: last ? x : { ...x, words: '' },
      y: {
        words,
        unit: 'dB',
        min: Math.max(-160, round(Math.min(...finite), 20, false)),
        max: round(Math.max(...finite) + 1e-9, 20, true),
        step: 20,
        label: (value) => `${value.toFixed(0)} dB`,
      },
      curves: [
        {
          words: label,
          x: points.map(({ frequency }) => frequency),
          y: values,
          colour: of === 'line' ? '--trace-1' : '--trace-3',
          dash: [],
          labelAt: points[Math.floor(0.05 * points.length)]?.frequency ?? 0,
        },
      ],
      marks: [],
    };
  };
  return [
    ['Input to output against frequency', chart('line', 'input to output', 'loop closed', false)],
    [
      'Control to inductor current against frequency',
      chart('inductorCurrent', 'current, 0 dB = 1 A/V', 'control to inductor current', true),
    ],
  ];
}

const INPUT_PARTS = [
  ['filter', 'what feeds it', '--trace-2', []],
  ['closed', 'loop closed', '--trace-1', []],
  ['driven', 'Z_D, control held', '--trace-3', [6, 3]],
  ['nulled', 'Z_N, ideal loop', '--trace-4', [2, 2]],
] as const;

/** What feeds the stage and the stage itself, impedances over frequency. */
export function inputChart({ points, nearest }: InputImpedances): LoopChart {
  const sizes = INPUT_PARTS.map(([key, words, colour, dash], part): Curve => ({
    words,
    x: points.map(({ frequency }) => frequency),
    y: points.map((point) => {
      const value = point[key];
      return value && Math.hypot(value.re, value.im);
    }),
    colour,
    dash: [...dash],
    labelAt: points[Math.floor((0.05 + 0.22 * part) * points.length)]?.frequency ?? 0,
  })).filter(({ y }) => y.some((value) => value !== undefined));
  const values = sizes.flatMap(({ y }) => y.filter((value) => value !== undefined && value > 0)) as number[];
  const near = points.find(({ frequency }) => frequency === nearest.closed.frequency);
  return {
    x: {
      words: 'frequency',
      unit: 'Hz',
      min: points[0]?.frequency ?? 1,
      max: points.at(-1)?.frequency ?? 10,
      logarithmic: true,
    },
    y: {
      words: 'impedance',
      unit: 'ohm',
      min: 10 ** Math.floor(Math.log10(Math.min(...values))),
      max: 10 ** Math.ceil(Math.log10(Math.max(...values))),
      logarithmic: true,
    },
    curves: sizes,
    marks: near
      ? [{ x: near.frequency, y: Math.hypot(near.filter.re, near.filter.im), label: 'nearest', here: true }]
      : [],
  };
}

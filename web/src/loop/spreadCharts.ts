import type { Axis, Mark } from '../charts/curves';
import type { Stage } from '@yundro/core';
import type { DrawnSample, SampleBatch } from '../engine/loopSurvey';
import type { LoopChart } from './loopCharts';

/** Points drawn at most: beyond, a cloud only gets darker. */
const MOST_POINTS = 800;

/** Phase margin over crossover, a point for each set of parts; those that fail are filled. */
export function cloudChart(samples: readonly DrawnSample[], { phaseMargin }: Stage['targets']): LoopChart {
  const drawn = samples.filter(
    (one): one is DrawnSample & { crossover: number; phaseMargin: number } =>
      one.crossover !== undefined && one.phaseMargin !== undefined,
  );
  const stride = Math.max(1, Math.ceil(drawn.length / MOST_POINTS));
  const marks = drawn
    .filter((_, k) => k % stride === 0)
    .map((one): Mark => ({ x: one.crossover, y: one.phaseMargin, here: one.misses.length > 0, small: true }));
  const crossovers = drawn.map(({ crossover }) => crossover);
  const margins = [...drawn.map((one) => one.phaseMargin), ...(phaseMargin === undefined ? [] : [phaseMargin])];
  const [least, most] = [0.9 * Math.min(...crossovers), 1.1 * Math.max(...crossovers)];
  const step = Math.max(...margins) - Math.min(...margins) > 40 ? 15 : 5;
  const x: Axis = { words: 'crossover frequency', unit: 'Hz', min: least, max: most };
  return {
    x,
    y: {
      words: 'phase margin',
      unit: 'deg',
      min: step * Math.floor(Math.min(...margins) / step),
      max: step * Math.ceil(Math.max(...margins) / step),
      step,
      label: (value) => `${value.toFixed(0)}°`,
    },
    curves:
      phaseMargin === undefined
        ? []
        : [{ words: 'asked', x: [least, most], y: [phaseMargin, phaseMargin], colour: '--ink-2', dash: [4, 3] }],
    marks,
  };
}

/** Least and most of the loop gains of all sets, over frequency. */
export function bandChart(batches: readonly SampleBatch[]): LoopChart {
  const frequencies = batches[0]?.frequencies ?? [];
  const least = frequencies.map((_, k) => Math.min(...batches.map((batch) => batch.least[k] ?? Infinity)));
  const most = frequencies.map((_, k) => Math.max(...batches.map((batch) => batch.most[k] ?? -Infinity)));
  const first = frequencies[0] ?? 1;
  const last = frequencies.at(-1) ?? 10;
  return {
    x: {
      words: 'frequency',
      unit: 'Hz',
      min: first,
      max: last,
      logarithmic: true,
    },
    y: {
      words: 'loop gain',
      unit: 'dB',
      min: Math.max(-100, 20 * Math.floor(Math.min(...least) / 20)),
      max: Math.min(120, 20 * Math.ceil(Math.max(...most) / 20)),
      step: 20,
      label: (value) => `${value.toFixed(0)} dB`,
    },
    curves: [
      { words: '', x: [...frequencies], y: least, colour: '--trace-1', dash: [] },
      { words: 'all sets of parts', x: [...frequencies], y: most, colour: '--trace-1', dash: [], fill: 'previous' },
      { words: '', x: [first, last], y: [0, 0], colour: '--ink-2', dash: [1, 2] },
    ],
    marks: [],
  };
}

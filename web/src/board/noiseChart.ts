import { ditheredBy, limitAt } from '@yundro/core';
import type { Axis, Curve, Mark } from '../charts/curves';

type LimitLine = Parameters<typeof limitAt>[0];

/** dBµV between grid lines, and below the least that is drawn. */
const STEP = 20;
/** Points of a limit line between its corners. */
const BETWEEN = 20;

export interface NoiseChart {
  readonly x: Axis;
  readonly y: Axis;
  readonly curves: readonly Curve[];
  readonly marks: readonly Mark[];
}

/** Levels of the harmonics, with the limit they are held against. */
export function noiseChart({ lines }: { readonly lines: LimitLine }, limit: LimitLine, deviation: number): NoiseChart {
  const levels = lines.map(({ frequency, level }) => level - ditheredBy(frequency, deviation));
  const all = [...levels, ...limit.map(({ level }) => level)].filter(Number.isFinite);
  const [first, last] = [limit[0], limit.at(-1)];
  const span = first && last ? Math.log(last.frequency / first.frequency) : 0;
  const drawn = first
    ? Array.from(
        { length: BETWEEN * limit.length + 1 },
        (_, k) => first.frequency * Math.exp((k / (BETWEEN * limit.length)) * span),
      )
    : [];
  return {
    x: {
      words: 'frequency',
      unit: 'Hz',
      min: Math.min(150e3, lines[0]?.frequency ?? 150e3),
      max: 30e6,
      logarithmic: true,
    },
    y: {
      words: 'at the receiver, dBµV',
      unit: 'dB',
      min: STEP * Math.floor(Math.min(0, ...all.map((level) => Math.max(level, -STEP))) / STEP),
      max: STEP * Math.ceil(Math.max(STEP, ...all) / STEP),
      step: STEP,
    },
    curves: [
      {
        words: 'harmonics of the stage',
        x: lines.map(({ frequency }) => frequency),
        y: levels,
        colour: '--trace-1',
        dash: [],
        labelAt: 1e6,
        labelAbove: true,
      },
      ...(limit.length > 1
        ? [
            {
              words: 'limit',
              x: drawn,
              y: drawn.map((frequency) => limitAt(limit, frequency)),
              colour: '--fails',
              dash: [6, 3],
              labelAt: drawn[BETWEEN] ?? 0,
              labelAbove: true,
            },
          ]
        : []),
    ],
    marks: [],
  };
}

import { LOSS_KINDS, lossesByKind, type EfficiencyCurve, type OperatingMode } from '@yundro/core';
import type { Axis, Curve } from '../charts/curves';

/** The modes in the words of the screen. */
export const MODE_WORDS: Readonly<Record<OperatingMode, string>> = {
  'forced-pwm': 'forced PWM',
  'pulse-skipping': 'pulse skipping',
  ultrasonic: 'skipping, held above audio',
  'critical-conduction': 'critical conduction',
};

const STYLES = [
  { colour: '--trace-1', dash: [] },
  { colour: '--trace-2', dash: [6, 3] },
  { colour: '--trace-3', dash: [2, 2] },
  { colour: '--trace-4', dash: [8, 3, 2, 3] },
] as const;
const STYLE_OF = (i: number) => STYLES[i % STYLES.length] ?? STYLES[0];
const percent = (value: number): string => `${(100 * value).toFixed(0)} %`;

/** Picture of several curves over load. */
export interface LoadChart {
  readonly x: Axis;
  readonly y: Axis;
  readonly curves: readonly Curve[];
}

const loadAxis = (curves: readonly EfficiencyCurve[]): Axis => {
  const loads = curves.flatMap(({ points }) => points.map(({ outputCurrent }) => outputCurrent));
  return { words: 'load', unit: 'A', min: Math.min(...loads), max: Math.max(...loads), logarithmic: true };
};

/** Where along a curve its label stands, as a share of its points, and on which side. */
interface LabelPlace {
  readonly share: number;
  readonly above: boolean;
}
/** The curves meet at full load: each is named where it is by itself. */
const byMode: Readonly<Record<OperatingMode, LabelPlace>> = {
  'forced-pwm': { share: 0.2, above: false },
  'pulse-skipping': { share: 0.2, above: true },
  ultrasonic: { share: 0.5, above: true },
  'critical-conduction': { share: 0.02, above: false },
};
const byInput = (i: number): LabelPlace => ({ share: 0.2 + 0.14 * i, above: i === 0 });
const labelOf = ({ points }: EfficiencyCurve, { share, above }: LabelPlace) => ({
  labelAt: points[Math.floor(share * points.length)]?.outputCurrent ?? 0,
  labelAbove: above,
});

/** Efficiency against load, each curve under its own words; `baseline` is what a linear regulator would do at best. */
export function efficiencyChart(
  curves: readonly EfficiencyCurve[],
  words: (curve: EfficiencyCurve) => string,
  baseline?: { readonly words: string; readonly efficiency: number },
): LoadChart | undefined {
  const drawn = curves.filter(({ points }) => points.length > 1);
  if (drawn.length === 0) return undefined;
  const x = loadAxis(drawn);
  const values = drawn.flatMap(({ points }) => points.map(({ efficiency }) => efficiency));
  const least = Math.min(...values, baseline?.efficiency ?? 1);
  return {
    x,
    y: {
      words: 'efficiency',
      unit: 'ratio',
      min: Math.max(0, Math.floor(10 * least - 0.2) / 10),
      max: 1,
      label: percent,
    },
    curves: [
      ...drawn.map((curve, i): Curve => {
        const { colour, dash } = STYLE_OF(i);
        return {
          words: words(curve),
          x: curve.points.map(({ outputCurrent }) => outputCurrent),
          y: curve.points.map(({ efficiency }) => efficiency),
          colour,
          dash: [...dash],
          ...labelOf(curve, drawn.some(({ mode }) => mode !== curve.mode) ? byMode[curve.mode] : byInput(i)),
        };
      }),
      ...(baseline
        ? [
            {
              words: baseline.words,
              x: [x.min, x.max],
              y: [baseline.efficiency, baseline.efficiency],
              colour: '--ink-2',
              dash: [1, 3],
            },
          ]
        : []),
    ],
  };
}

/** Switching frequency against load, on two logarithmic axes. */
export function frequencyChart(curves: readonly EfficiencyCurve[]): LoadChart | undefined {
  const drawn = curves.filter(({ points }) => points.length > 1);
  if (drawn.length === 0) return undefined;
  const values = drawn.flatMap(({ points }) => points.map(({ switchingFrequency }) => switchingFrequency));
  return {
    x: loadAxis(drawn),
    y: {
      words: 'switching frequency',
      unit: 'Hz',
      min: Math.min(...values) / 1.5,
      max: Math.max(...values) * 1.5,
      logarithmic: true,
    },
    curves: drawn.map((curve, i): Curve => {
      const { colour, dash } = STYLE_OF(i);
      return {
        words: MODE_WORDS[curve.mode],
        x: curve.points.map(({ outputCurrent }) => outputCurrent),
        y: curve.points.map(({ switchingFrequency }) => switchingFrequency),
        colour,
        dash: [...dash],
        ...labelOf(curve, byMode[curve.mode]),
      };
    }),
  };
}

const KIND_COLOURS = ['--trace-1', '--trace-2', '--trace-3', '--trace-4', '--trace-5', '--trace-6'] as const;
/** A kind is drawn when it ever makes this share of the loss. */
const WORTH_DRAWING = 0.01;

/** Losses stacked against load as shares of the loss, kind upon kind; the last line is all of it. */
export function lossChart(curve: EfficiencyCurve): LoadChart | undefined {
  const { points } = curve;
  if (points.length < 2) return undefined;
  const byKind = points.map(({ losses }) => lossesByKind(losses));
  const total = points.map(({ losses }) => losses['total'] ?? 0);
  const kinds = LOSS_KINDS.filter((kind) =>
    byKind.some((sums, i) => sums[kind] > WORTH_DRAWING * (total[i] ?? Infinity)),
  );
  let below = points.map(() => 0);
  const x = points.map(({ outputCurrent }) => outputCurrent);
  return {
    x: loadAxis([curve]),
    y: { words: 'share of the loss', unit: 'ratio', min: 0, max: 1, label: percent },
    curves: kinds.map((kind, i): Curve => {
      const above = below.map((sum, k) => sum + (byKind[k]?.[kind] ?? 0) / (total[k] ?? 1));
      below = above;
      return {
        words: kind,
        x,
        y: above,
        colour: KIND_COLOURS[i % KIND_COLOURS.length] ?? '--ink',
        dash: [],
        fill: i === 0 ? 'axis' : 'previous',
      };
    }),
  };
}

import type { Meeting } from '@yundro/core';
import type { Axis, Curve, Mark } from '../charts/curves';

/** Where a stage feeds others: its output impedance and their input impedance over frequency, by magnitude. */
export function meetingChart({ points, nearest }: Meeting): {
  readonly x: Axis;
  readonly y: Axis;
  readonly curves: readonly Curve[];
  readonly marks: readonly Mark[];
} {
  const x = points.map(({ frequency }) => frequency);
  const [output, input] = (['output', 'input'] as const).map((which) =>
    points.map((point) => Math.hypot(point[which].re, point[which].im)),
  );
  const all = [...(output ?? []), ...(input ?? [])].filter((value) => value > 0);
  const [first = 1, last = 10] = [x[0], x.at(-1)];
  const at = points.findIndex(({ frequency }) => frequency === nearest.frequency);
  return {
    x: { words: 'frequency', unit: 'Hz', min: first, max: last, logarithmic: true },
    y: { words: 'impedance', unit: 'ohm', min: Math.min(...all) / 2, max: Math.max(...all) * 2, logarithmic: true },
    curves: [
      { words: 'of what feeds', x, y: output ?? [], colour: '--trace-1', dash: [], labelAt: Math.sqrt(first * last) },
      {
        words: 'of what is fed',
        x,
        y: input ?? [],
        colour: '--trace-2',
        dash: [5, 3],
        labelAt: Math.sqrt(first * last),
        labelAbove: true,
      },
    ],
    marks: at < 0 ? [] : [{ x: nearest.frequency, y: output?.[at] ?? NaN, here: true, label: 'nearest' }],
  };
}

import {
  buckInputCapacitorRms,
  steadyInductance,
  modeInductances,
  summedRipple,
  type CoupledWindings,
  type CouplingSweep,
  type PhaseCount,
  type SharingStudy,
  type Shedding,
} from '@yundro/core';
import type { ChangedPhases } from '../engine/phaseSurvey';
import type { Axis, Curve, Mark, Region } from '../charts/curves';

/** A picture of phases as plain data. */
export interface PhaseChart {
  readonly x: Axis;
  readonly y: Axis;
  readonly curves: readonly Curve[];
  readonly marks: readonly Mark[];
  readonly regions?: readonly Region[];
}

const COLOURS = ['--trace-1', '--trace-2', '--trace-3', '--trace-4', '--trace-5', '--trace-6'] as const;
const DASHES = [[], [6, 3], [2, 2], [8, 3, 2, 3], [1, 3], [10, 4]] as const;
const look = (k: number): Pick<Curve, 'colour' | 'dash'> => ({
  colour: COLOURS[k % COLOURS.length] ?? '--ink',
  dash: [...(DASHES[k % DASHES.length] ?? [])],
});

/** Points of a curve over the duty ratio. */
const POINTS = 240;
const DUTIES: readonly number[] = Array.from({ length: POINTS + 1 }, (_, k) =>
  Math.min(1 - 1e-6, Math.max(1e-6, k / POINTS)),
);
const DUTY: Axis = { words: 'duty ratio', unit: 'ratio', min: 0, max: 1, step: 0.1 };
const NARROWEST = 0.004;

/** The duty ratios of a design as a band. */
function dutyBand(duties: readonly number[]): readonly Region[] {
  if (duties.length === 0) return [];
  const [least, most] = [Math.min(...duties), Math.max(...duties)];
  const more = Math.max(0, NARROWEST - (most - least)) / 2;
  return [{ fromX: least - more, toX: most + more, words: 'this design' }];
}

/** Numbers of phases drawn together: the usual ones, and that of the design. */
export const drawnCounts = (phases: number): readonly number[] =>
  [...new Set([1, 2, 3, 4, 6, phases])]
    .filter((n) => n > 0)
    .sort((a, b) => a - b)
    .slice(-COLOURS.length);

/** Ripple of the sum over that of one phase, against the duty ratio; the nulls of the design's number are marked. */
export function cancellationChart(phases: number, duties: readonly number[]): PhaseChart {
  const counts = drawnCounts(phases);
  const ratio = (n: number, duty: number): number => summedRipple.compute({ ripple: 1, duty, phases: n });
  const mean = duties.reduce((sum, one) => sum + one, 0) / (duties.length || 1);
  return {
    x: DUTY,
    y: { words: 'ripple of the sum / of one phase', unit: 'ratio', min: 0, max: 1.05, step: 0.25 },
    curves: counts.map((n, k) => ({
      words: n === phases ? `${String(n)}, this design` : String(n),
      x: DUTIES,
      y: DUTIES.map((duty) => ratio(n, duty)),
      ...look(k),
      labelAt: Math.min(0.97, 1 - 0.42 / n),
    })),
    marks: [
      ...Array.from({ length: Math.max(0, phases - 1) }, (_, k): Mark => ({
        x: (k + 1) / phases,
        y: 0,
        here: false,
        ...(k === 0 && { label: 'nulls' }),
      })),
      ...(duties.length > 0 ? [{ x: mean, y: ratio(phases, mean), here: true }] : []),
    ],
    regions: dutyBand(duties),
  };
}

/** RMS current of the input capacitors of a buck over the load, against the duty ratio. */
export function inputRmsChart(phases: number, duties: readonly number[], rippleRatio: number): PhaseChart {
  const counts = drawnCounts(phases);
  const rms = (n: number, duty: number): number =>
    buckInputCapacitorRms.compute({ loadCurrent: 1, duty, phases: n, ripple: rippleRatio / n });
  return {
    x: DUTY,
    y: { words: 'input capacitor RMS / load', unit: 'ratio', min: 0, max: 0.55, step: 0.1 },
    curves: counts.map((n, k) => ({
      words: n === phases ? `${String(n)}, this design` : String(n),
      x: DUTIES,
      y: DUTIES.map((duty) => rms(n, duty)),
      ...look(k),
      labelAt: 0.5 / n,
      labelAbove: true,
    })),
    marks: [],
    regions: dutyBand(duties),
  };
}

const ROOM = 1.12;

/** A figure of every number of phases; the recommended one filled, those that miss something small. */
export function countChart(
  counts: readonly PhaseCount[],
  recommended: number | undefined,
  words: string,
  unit: Axis['unit'],
  of: (count: PhaseCount) => number,
  label?: Axis['label'],
): PhaseChart {
  const values = counts.map(of).filter(Number.isFinite);
  return {
    x: {
      words: 'phases',
      unit: 'count',
      min: 0,
      max: Math.max(...counts.map(({ phases }) => phases), 4) + 1,
      step: 1,
      label: (value) => (value > 0 ? String(value) : ''),
    },
    y: { words, unit, min: 0, max: Math.max(...values, 0) * ROOM || 1, ...(label && { label }) },
    curves: [{ words: '', x: counts.map(({ phases }) => phases), y: counts.map(of), colour: '--trace-1', dash: [] }],
    marks: counts.map((count): Mark => ({
      x: count.phases,
      y: of(count),
      here: count.phases === recommended,
      small: count.misses.length > 0,
      ...(count.phases === recommended && { label: 'recommended' }),
    })),
  };
}

/** Ripple of a winding and of all together against the coefficient, wound either way. */
export function sweepChart({ points: swept, uncoupled }: CouplingSweep, lookedAt: number): PhaseChart {
  const curves = (['inverse', 'direct'] as const).flatMap((kind, k) => {
    const points = swept.filter((one) => one.kind === kind);
    const x = [0, ...points.map(({ coefficient }) => coefficient)];
    return (
      [
        ['winding', [uncoupled.winding, ...points.map(({ winding }) => winding)]],
        ['sum', [uncoupled.summed, ...points.map(({ summed }) => summed)]],
      ] as const
    ).map(([what, y], w): Curve => ({
      words: `${kind}, ${what}`,
      x,
      y,
      colour: COLOURS[k] ?? '--ink',
      dash: w === 0 ? [] : [6, 3],
      labelAt: w === 0 ? 0.7 : 0.5,
    }));
  });
  const most = Math.max(
    0,
    ...curves.flatMap(({ y }) => y.filter((one) => one !== undefined && Number.isFinite(one)) as number[]),
  );
  return {
    x: { words: 'coupling coefficient', unit: 'ratio', min: 0, max: 0.9, step: 0.1 },
    y: { words: 'ripple, peak to peak', unit: 'A', min: 0, max: most * ROOM || 1 },
    curves,
    marks: [{ x: lookedAt, y: 0, here: true }],
  };
}

/** Equivalent inductances over the self-inductance, against the duty ratio: of the steady state, and to a load step. */
export function equivalentChart(of: CoupledWindings, duties: readonly number[]): PhaseChart {
  const unit: CoupledWindings = { ...of, inductance: 1 };
  const steady = DUTIES.map((duty) => steadyInductance(unit, duty));
  const { common } = modeInductances(unit);
  return {
    x: DUTY,
    y: {
      words: 'equivalent / self-inductance',
      unit: 'ratio',
      min: 0,
      max: Math.max(1.05, common * 1.05, ...steady.map((one) => one * 1.05)),
    },
    curves: [
      { words: 'steady state', x: DUTIES, y: steady, ...look(0), labelAt: 0.5, labelAbove: true },
      { words: 'to a load step', x: [0, 1], y: [common, common], ...look(1), labelAt: 0.8 },
    ],
    marks: [],
    regions: dutyBand(duties),
  };
}

/** Efficiency over load with all phases at work, and with as many as lose least. */
export function sheddingChart({ points, thresholds }: Shedding): PhaseChart {
  const loads = points.map(({ load }) => load);
  const [least = 1, most = 10] = [loads[0], loads.at(-1)];
  const low = Math.min(...points.map(({ efficiencyOfAll }) => efficiencyOfAll));
  return {
    x: { words: 'load', unit: 'A', min: least, max: most, logarithmic: true },
    y: {
      words: 'efficiency',
      unit: 'ratio',
      min: Math.max(0, Math.floor(10 * low) / 10),
      max: 1,
      label: (value) => `${(100 * value).toFixed(0)} %`,
    },
    curves: [
      {
        words: 'as many as lose least',
        x: loads,
        y: points.map(({ efficiency }) => efficiency),
        ...look(0),
        labelAt: Math.sqrt(least * most),
        labelAbove: true,
      },
      {
        words: 'all at work',
        x: loads,
        y: points.map(({ efficiencyOfAll }) => efficiencyOfAll),
        ...look(1),
        labelAt: Math.sqrt(least * most),
      },
    ],
    marks: thresholds.map(({ to, add }): Mark => {
      const near = points.find(({ load }) => load >= add) ?? points.at(-1);
      return { x: add, y: near?.efficiency ?? low, here: false, label: `${String(to)} at work` };
    }),
  };
}

/** The output as a phase is added at each threshold, from a little before it. */
export function changeChart(changes: readonly ChangedPhases[]): PhaseChart | undefined {
  const shown = changes.flatMap(({ from, to, added }) => (typeof added === 'string' ? [] : [{ from, to, added }]));
  const times = shown.flatMap(({ added }) => [added.x[0] ?? 0, added.x.at(-1) ?? 0]);
  const values = shown.flatMap(({ added }) => added.y.filter((value) => value !== undefined));
  if (values.length === 0) return undefined;
  const [low, high] = values.reduce(([a, b], value) => [Math.min(a, value), Math.max(b, value)], [Infinity, -Infinity]);
  const [begin, end] = [Math.min(...times), Math.max(...times)];
  const room = 0.08 * (high - low);
  return {
    x: { words: 'time from the change', unit: 's', min: begin, max: end },
    y: { words: 'output', unit: 'V', min: low - room, max: high + room },
    curves: shown.map(({ from, to, added: { x, y } }, k) => ({
      words: `${String(from)} to ${String(to)} phases`,
      x,
      y,
      ...look(k),
      labelAt: begin + (0.35 + 0.2 * k) * (end - begin),
      labelAbove: k % 2 === 0,
    })),
    marks: [],
  };
}

/** The value that a share of a list stays below. */
export function quantile(values: readonly number[], part: number): number {
  const sorted = [...values].sort((a, b) => a - b);
  return sorted[Math.min(sorted.length - 1, Math.max(0, Math.ceil(part * sorted.length) - 1))] ?? NaN;
}

/** The share of boards whose heaviest phase stays below what it carries, over the mean. */
export function sharingChart({ samples }: SharingStudy): PhaseChart {
  const curve = (words: string, of: readonly number[], k: number): Curve => {
    const x = [...of].sort((a, b) => a - b);
    return { words, x, y: x.map((_, i) => (i + 1) / x.length), ...look(k), labelAt: quantile(of, 0.6) };
  };
  const curves = [
    curve(
      'one duty ratio',
      samples.map(({ open }) => open),
      0,
    ),
    curve(
      'a loop that makes them alike',
      samples.map(({ shared }) => shared),
      1,
    ),
  ];
  const most = Math.max(...curves.flatMap(({ x }) => x));
  const percent = (value: number): string => `${(100 * value).toFixed(0)} %`;
  return {
    x: {
      words: 'heaviest phase / mean',
      unit: 'ratio',
      min: 1,
      max: Math.max(1.05, most),
      label: (value) => `+${percent(value - 1)}`,
    },
    y: { words: 'boards', unit: 'ratio', min: 0, max: 1, step: 0.25, label: percent },
    curves,
    marks: [],
  };
}

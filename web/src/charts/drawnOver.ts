import type { Chart, Plugin } from 'chart.js';
import { token } from '../shown/theme';
import { CURSOR_LETTERS } from './cursors';
import type { Axis, Curve, Mark, Region } from './curves';
import { labelPlaces } from './labelPlaces';

/** Distance between the strokes of a hatch, px. */
const HATCH = 9;
/** Height a band needs for its label, px. */
const LABEL_HEIGHT = 13;

/** What is drawn over and under the curves. */
export interface Over {
  readonly x: Axis;
  readonly y: Axis;
  readonly curves: readonly Curve[];
  readonly marks: readonly Mark[];
  readonly regions: readonly Region[];
  readonly notes: readonly { readonly x: number; readonly y: number; readonly words: string }[];
  /** Where the read-out stands, in axis values. */
  readonly readAt: number | undefined;
  /** Cursors that stay, in axis values. */
  readonly cursors: readonly number[];
}

interface Wanted {
  readonly words: string;
  readonly x: number;
  readonly y: number;
  readonly align: 'left' | 'right' | 'center';
  readonly colour: string;
}

type Scales = { readonly across: Scale; readonly up: Scale };
interface Scale {
  readonly getPixelForValue: (value: number) => number;
}

const pixel = (scale: Scale, value: number | undefined, otherwise: number): number =>
  value === undefined ? otherwise : scale.getPixelForValue(value);

/** The hatch of a region beyond a limit, or of one that is only told apart. */
function hatch({ ctx, chartArea }: Chart, { across, up }: Scales, region: Region): void {
  const { left, right, top, bottom } = chartArea;
  const within = (value: number, low: number, high: number): number => Math.min(high, Math.max(low, value));
  const x0 = within(pixel(across, region.fromX, left), left, right);
  const x1 = within(pixel(across, region.toX, right), left, right);
  const y0 = within(pixel(up, region.toY, top), top, bottom);
  const y1 = within(pixel(up, region.fromY, bottom), top, bottom);
  if (x1 - x0 < 1 || y1 - y0 < 1) return;
  ctx.save();
  ctx.beginPath();
  ctx.rect(x0, y0, x1 - x0, y1 - y0);
  ctx.clip();
  ctx.strokeStyle = token(region.limit === true ? '--fails' : '--rule');
  ctx.globalAlpha = region.limit === true ? 0.45 : 1;
  ctx.lineWidth = 1;
  const height = y1 - y0;
  for (let at = x0 - height; at < x1; at += HATCH) {
    ctx.beginPath();
    ctx.moveTo(at, y1);
    ctx.lineTo(at + height, y0);
    ctx.stroke();
  }
  ctx.restore();
  if (region.words === '' || height < LABEL_HEIGHT) return;
  ctx.save();
  ctx.font = `11px ${token('--sans')}`;
  ctx.fillStyle = token(region.limit === true ? '--fails' : '--ink-2');
  ctx.textAlign = 'right';
  ctx.fillText(region.words, x1 - 4, region.fromY !== undefined && region.toY === undefined ? y0 + 12 : y1 - 5);
  ctx.restore();
}

/** The labels of shaded bands, where each is highest. */
function bandLabels({ y, curves }: Over, { across, up }: Scales): readonly Wanted[] {
  return curves.flatMap((curve, k): readonly Wanted[] => {
    if (!curve.fill) return [];
    const below = (i: number): number => (curve.fill === 'axis' ? y.min : (curves[k - 1]?.y[i] ?? y.min));
    const heights = curve.y.map((value, i) => (value ?? NaN) - below(i));
    const widest = heights.indexOf(Math.max(...heights));
    const top = curve.y[widest] ?? 0;
    if (up.getPixelForValue(below(widest)) - up.getPixelForValue(top) < LABEL_HEIGHT) return [];
    const share = widest / Math.max(1, curve.x.length - 1);
    const align = share < 0.2 ? 'left' : share > 0.8 ? 'right' : 'center';
    const aside = share < 0.2 ? 6 : share > 0.8 ? -6 : 0;
    return [
      {
        words: curve.words,
        x: across.getPixelForValue(curve.x[widest] ?? 0) + aside,
        y: up.getPixelForValue((below(widest) + top) / 2) + 4,
        align,
        colour: '--ink',
      },
    ];
  });
}

/** The labels of curves: where they ask for it, else beside the last point inside the picture. */
function curveLabels({ x, y, curves }: Over, { across, up }: Scales): readonly Wanted[] {
  return curves.flatMap((curve): readonly Wanted[] => {
    if (curve.fill || curve.words === '') return [];
    const { labelAt } = curve;
    if (labelAt !== undefined) {
      const value = curve.y[curve.x.findIndex((at) => at >= labelAt)];
      if (value === undefined) return [];
      const above = curve.labelAbove === true;
      return [
        {
          words: curve.words,
          x: across.getPixelForValue(labelAt) + (above ? -4 : 8),
          y: up.getPixelForValue(value) + (above ? -8 : 16),
          align: above ? 'right' : 'left',
          colour: curve.colour,
        },
      ];
    }
    const last = curve.x.findLastIndex((at, i) => {
      const value = curve.y[i];
      return value !== undefined && value <= y.max && value >= y.min && at <= x.max;
    });
    const value = curve.y[last];
    if (last < 0 || value === undefined) return [];
    return [
      {
        words: curve.words,
        x: across.getPixelForValue(curve.x[last] ?? 0) - 8,
        y: up.getPixelForValue(value) - 6,
        align: 'right',
        colour: curve.colour,
      },
    ];
  });
}

function write(chart: Chart, wanted: readonly Wanted[]): void {
  const { ctx, chartArea } = chart;
  ctx.save();
  ctx.font = `11px ${token('--sans')}`;
  ctx.textAlign = 'left';
  const boxes = wanted.map(({ words, x, y, align }) => {
    const { width } = ctx.measureText(words);
    return { x: align === 'left' ? x : align === 'right' ? x - width : x - width / 2, y, width };
  });
  labelPlaces(boxes, chartArea).forEach(({ x, y }, k) => {
    const one = wanted[k];
    if (!one) return;
    // A little paper under the letters keeps them apart from the lines they cross.
    ctx.lineWidth = 3;
    ctx.lineJoin = 'round';
    ctx.strokeStyle = token('--paper');
    ctx.strokeText(one.words, x, y);
    ctx.fillStyle = token(one.colour);
    ctx.fillText(one.words, x, y);
  });
  ctx.restore();
}

/** What is to be drawn over each chart. */
const overs = new WeakMap<Chart, Over>();

/** Have a chart drawn with other words, hatches and read-out. */
export function drawOver(chart: Chart, over: Over): void {
  overs.set(chart, over);
  chart.draw();
}

const scalesOf = ({ scales }: Chart): Scales | undefined => {
  const [across, up] = [scales['x'], scales['y']];
  return across && up ? { across, up } : undefined;
};
/** Hatched regions under the curves; labels, marks' words and the read-out over them. */
export const OVER: Plugin<'line'> = {
  id: 'over',
  beforeDatasetsDraw: (chart) => {
    const scales = scalesOf(chart);
    for (const region of overs.get(chart)?.regions ?? []) if (scales) hatch(chart, scales, region);
  },
  afterDatasetsDraw: (chart) => {
    const scales = scalesOf(chart);
    const over = overs.get(chart);
    if (!scales || !over) return;
    const { chartArea } = chart;
    const marks = over.marks.flatMap(({ x, y, label }): readonly Wanted[] => {
      if (label === undefined || label === '') return [];
      const at = scales.across.getPixelForValue(x);
      const right = at > (chartArea.left + 3 * chartArea.right) / 4;
      return [
        {
          words: label,
          x: right ? at - 8 : at + 8,
          y: scales.up.getPixelForValue(y) + (right ? -6 : 12),
          align: right ? 'right' : 'left',
          colour: '--ink',
        },
      ];
    });
    const notes = over.notes.map(({ x, y, words }): Wanted => ({
      words,
      x: scales.across.getPixelForValue(x),
      y: scales.up.getPixelForValue(y),
      align: 'left',
      colour: '--ink-2',
    }));
    write(chart, [...marks, ...curveLabels(over, scales), ...bandLabels(over, scales), ...notes]);
    for (const [k, cursor] of over.cursors.entries()) upright(chart, scales.across, cursor, CURSOR_LETTERS[k]);
    if (over.readAt !== undefined) upright(chart, scales.across, over.readAt);
  },
};

/** An upright line through the picture; one that stays is dashed and has its letter. */
function upright({ ctx, chartArea }: Chart, across: Scale, value: number, letter?: string): void {
  const at = across.getPixelForValue(value);
  if (at < chartArea.left || at > chartArea.right) return;
  ctx.save();
  ctx.strokeStyle = token('--ink');
  ctx.lineWidth = 1;
  if (letter !== undefined) {
    ctx.setLineDash([4, 3]);
    ctx.font = `11px ${token('--sans')}`;
    ctx.fillStyle = token('--ink');
    ctx.fillText(letter, at + 3, chartArea.top + 10);
  }
  ctx.beginPath();
  ctx.moveTo(at, chartArea.top);
  ctx.lineTo(at, chartArea.bottom);
  ctx.stroke();
  ctx.restore();
}

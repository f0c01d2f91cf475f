import { formatQuantity } from '@yundro/core';
import {
  Chart,
  Filler,
  LinearScale,
  LineController,
  LineElement,
  LogarithmicScale,
  PointElement,
  type ChartOptions,
  type Plugin,
  type Scale,
} from 'chart.js';
import { useEffect, useLayoutEffect, useMemo, useRef, useState } from 'react';
import { Line } from 'react-chartjs-2';
import { token } from '../shown/theme';
import { decadeTicks, type Axis, type Curve, type Mark, type Region } from './curves';
import { niceTicks } from './niceTicks';

Chart.register(Filler, LinearScale, LogarithmicScale, LineController, LineElement, PointElement);

const MOST_TICKS = 7;
/** Distance between the strokes of a hatch, px. */
const HATCH = 9;
/** Opacity of a shaded band, as the two digits of a colour. */
const SHADE = '40';
/** Height a band needs for its label, px. */
const LABEL_HEIGHT = 13;

interface Props {
  readonly words: string;
  readonly x: Axis;
  readonly y: Axis;
  readonly curves: readonly Curve[];
  readonly marks: readonly Mark[];
  readonly regions?: readonly Region[];
  /** Words written into the picture at axis values. */
  readonly notes?: readonly { readonly x: number; readonly y: number; readonly words: string }[];
}

/** Curves over one quantity with labelled marks, hatched regions and direct labels instead of a legend. */
export function CurveChart({ words, x, y, curves, marks, regions = [], notes = [] }: Props) {
  const [themeRound, setThemeRound] = useState(0);
  useEffect(() => {
    const onTheme = (): void => setThemeRound((n) => n + 1);
    window.addEventListener('yundro-theme', onTheme);
    return () => window.removeEventListener('yundro-theme', onTheme);
  }, []);

  const data = useMemo(
    () => ({
      datasets: [
        ...curves.map((curve) => ({
          label: curve.words,
          data: curve.x.map((at, i) => ({ x: at, y: curve.y[i] ?? NaN })),
          borderColor: token(curve.colour),
          borderDash: curve.dash,
          borderWidth: 1.6,
          pointRadius: 0,
          ...(curve.fill && {
            fill: curve.fill === 'axis' ? ('origin' as const) : ('-1' as const),
            backgroundColor: `${token(curve.colour)}${SHADE}`,
          }),
        })),
        {
          label: 'corners',
          data: marks.map((mark) => ({ x: mark.x, y: mark.y })),
          showLine: false,
          borderColor: token('--ink'),
          backgroundColor: marks.map(({ here }) => token(here ? '--ink' : '--paper')),
          pointRadius: marks.map(({ here, small }) => (small === true ? 1.8 : here ? 5 : 3.5)),
          borderWidth: 1.4,
        },
      ],
    }),
    // The theme changes the tokens behind the colours.
    // eslint-disable-next-line react-hooks/exhaustive-deps
    [curves, marks, themeRound],
  );

  const options = useMemo<ChartOptions<'line'>>(() => {
    const font = { family: token('--sans'), size: 11 };
    const scale = (axis: Axis) => ({
      type: axis.logarithmic === true ? ('logarithmic' as const) : ('linear' as const),
      min: axis.min,
      max: axis.max,
      afterBuildTicks: (built: Scale) => {
        const { step } = axis;
        const ticks =
          axis.logarithmic === true
            ? decadeTicks(axis.min, axis.max)
            : step === undefined
              ? niceTicks(axis.min, axis.max, MOST_TICKS)
              : Array.from({ length: Math.round((axis.max - axis.min) / step) + 1 }, (_, k) => axis.min + k * step);
        built.ticks = ticks.map((value) => ({ value }));
      },
      grid: { color: token('--grid') },
      border: { color: token('--rule') },
      title: { display: axis.words !== '', text: axis.words, color: token('--ink-2'), font, padding: 2 },
      ticks: {
        color: token('--ink-2'),
        font,
        callback: (value: string | number) =>
          axis.label
            ? axis.label(Number(value))
            : axis.unit === 'ratio'
              ? String(Number(Number(value).toPrecision(3)))
              : formatQuantity(Number(Number(value).toPrecision(6)), axis.unit),
      },
    });
    return {
      animation: false,
      responsive: true,
      maintainAspectRatio: false,
      parsing: false,
      spanGaps: false,
      events: [],
      layout: { padding: { right: 8, top: 6 } },
      scales: { x: scale(x), y: scale(y) },
    };
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [x, y, themeRound]);

  // A chart keeps the plugins it was made with: what they draw is read from here, where it is always the latest.
  const latest = useRef({ x, y, curves, marks, regions, notes });
  useLayoutEffect(() => {
    latest.current = { x, y, curves, marks, regions, notes };
  }, [x, y, curves, marks, regions, notes]);

  const drawn = useMemo<Plugin<'line'>>(
    () => ({
      id: 'labels',
      beforeDatasetsDraw: ({ ctx, chartArea, scales }) => {
        const across = scales['x'];
        if (!across) return;
        for (const region of latest.current.regions) {
          const left = Math.max(chartArea.left, across.getPixelForValue(region.fromX));
          const right = Math.min(chartArea.right, across.getPixelForValue(region.toX));
          ctx.save();
          ctx.beginPath();
          ctx.rect(left, chartArea.top, right - left, chartArea.bottom - chartArea.top);
          ctx.clip();
          ctx.strokeStyle = token('--rule');
          ctx.lineWidth = 1;
          const height = chartArea.bottom - chartArea.top;
          for (let at = left - height; at < right; at += HATCH) {
            ctx.beginPath();
            ctx.moveTo(at, chartArea.bottom);
            ctx.lineTo(at + height, chartArea.top);
            ctx.stroke();
          }
          ctx.restore();
          ctx.save();
          ctx.font = `11px ${token('--sans')}`;
          ctx.fillStyle = token('--ink-2');
          ctx.textAlign = 'right';
          ctx.fillText(region.words, right - 4, chartArea.bottom - 8);
          ctx.restore();
        }
      },
      afterDatasetsDraw: ({ ctx, chartArea, scales }) => {
        const across = scales['x'];
        const up = scales['y'];
        if (!across || !up) return;
        const { x, y, curves, marks, notes } = latest.current;
        ctx.save();
        ctx.font = `11px ${token('--sans')}`;
        curves.forEach((curve, k) => {
          if (!curve.fill) return;
          // A band is named where it is highest.
          const below = (i: number): number => (curve.fill === 'axis' ? y.min : (curves[k - 1]?.y[i] ?? y.min));
          const heights = curve.y.map((value, i) => (value ?? NaN) - below(i));
          const widest = heights.indexOf(Math.max(...heights));
          const middle = (below(widest) + (curve.y[widest] ?? 0)) / 2;
          if (up.getPixelForValue(below(widest)) - up.getPixelForValue(curve.y[widest] ?? 0) < LABEL_HEIGHT) return;
          const share = widest / Math.max(1, curve.x.length - 1);
          ctx.textAlign = share < 0.2 ? 'left' : share > 0.8 ? 'right' : 'center';
          ctx.fillStyle = token('--ink');
          const aside = share < 0.2 ? 6 : share > 0.8 ? -6 : 0;
          ctx.fillText(
            curve.words,
            across.getPixelForValue(curve.x[widest] ?? 0) + aside,
            up.getPixelForValue(middle) + 4,
          );
        });
        for (const curve of curves) {
          if (curve.fill) continue;
          // The label stands beside the last point of the curve that lies inside the picture.
          const last = curve.x.findLastIndex((at, i) => {
            const value = curve.y[i];
            return value !== undefined && value <= y.max && value >= y.min && at <= x.max;
          });
          const value = curve.y[last];
          if (last < 0 || value === undefined) continue;
          ctx.fillStyle = token(curve.colour);
          const { labelAt } = curve;
          if (labelAt !== undefined) {
            const beside = curve.y[curve.x.findIndex((at) => at >= labelAt)] ?? value;
            ctx.textAlign = 'left';
            const away = curve.labelAbove === true ? -8 : 16;
            ctx.textAlign = curve.labelAbove === true ? 'right' : 'left';
            ctx.fillText(
              curve.words,
              Math.max(
                curve.labelAbove === true ? chartArea.left + ctx.measureText(curve.words).width + 4 : chartArea.left,
                across.getPixelForValue(labelAt) + (curve.labelAbove === true ? -4 : 8),
              ),
              up.getPixelForValue(beside) + away,
            );
            continue;
          }
          ctx.textAlign = 'right';
          const above = Math.max(chartArea.top + 12, up.getPixelForValue(value) - 6);
          ctx.fillText(
            curve.words,
            Math.max(chartArea.left + 90, across.getPixelForValue(curve.x[last] ?? 0) - 8),
            above,
          );
        }
        ctx.fillStyle = token('--ink-2');
        ctx.textAlign = 'left';
        for (const note of notes)
          ctx.fillText(note.words, across.getPixelForValue(note.x), up.getPixelForValue(note.y));
        ctx.fillStyle = token('--ink');
        for (const mark of marks) {
          if (mark.label === undefined) continue;
          const at = across.getPixelForValue(mark.x);
          const fits = at + 8 + ctx.measureText(mark.label).width < chartArea.right;
          ctx.textAlign = fits ? 'left' : 'right';
          ctx.fillText(mark.label, fits ? at + 8 : at - 8, up.getPixelForValue(mark.y) + (fits ? 12 : -6));
        }
        ctx.restore();
      },
    }),
    [],
  );

  return (
    <div className="chart">
      <Line data={data} options={options} plugins={[drawn]} aria-label={words} role="img" />
    </div>
  );
}

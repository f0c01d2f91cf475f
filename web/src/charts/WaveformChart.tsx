import { formatQuantity } from '@yundro/core';
import {
  Chart,
  LinearScale,
  LineController,
  LineElement,
  PointElement,
  type ChartOptions,
  type Plugin,
  type Scale,
} from 'chart.js';
import { useDeferredValue, useEffect, useMemo, useRef, useState, type PointerEvent } from 'react';
import { Line } from 'react-chartjs-2';
import type { Trace, Waveforms } from '../engine/engine';
import { Quantity } from '../shown/Quantity';
import { token, useThemeRound } from '../shown/theme';
import { niceTicks } from './niceTicks';
import { changeBetween, repeated, valueAtTime } from './traces';

Chart.register(LinearScale, LineController, LineElement, PointElement);

const PERIODS = 2;
/** Room above and below a trace, as a share of its swing. */
const ROOM = 0.08;
/** Labels on an axis of a trace. */
const MOST_TICKS = 4;
/** Steps of a cursor over the picture: the resolution of its slider. */
const CURSOR_STEPS = 400;

/** How the panes look, from the top down. */
const PANES = [
  { colour: '--trace-1', dash: [], weight: 3 },
  { colour: '--trace-2', dash: [6, 3], weight: 2 },
  { colour: '--trace-3', dash: [2, 2], weight: 3 },
] as const;

const paneId = (i: number): string => `pane${String(i)}`;

/** What each trace is of; where two are of one part, what of it. */
function titlesOf(traces: readonly Trace[]): readonly string[] {
  const short = traces.map(({ words }) => words.replace(/^.*, /, ''));
  return short.map((title, i) =>
    short.filter((one) => one === title).length > 1 ? (traces[i]?.words.replace(/( across)?,.*$/, '') ?? title) : title,
  );
}

/** Up to three waveforms over two periods, one above the other, with two cursors. */
export function WaveformChart({
  waveforms: latest,
  ghost,
}: {
  readonly waveforms: Waveforms;
  /** The waveforms of the held design, drawn thin behind. */
  readonly ghost?: Waveforms | undefined;
}) {
  // Drawn after the figures of the same answer are on the screen: both at once would hold a keystroke up.
  const waveforms = useDeferredValue(latest);
  const { period, traces } = waveforms;
  const span = PERIODS * period;
  const [cursors, setCursors] = useState<readonly [number, number]>([CURSOR_STEPS * 0.1, CURSOR_STEPS * 0.35]);
  const themeRound = useThemeRound();
  const chart = useRef<Chart<'line', { x: number; y: number }[]>>(null);
  const dragged = useRef<0 | 1 | undefined>(undefined);
  const drawn = useRef(cursors);

  useEffect(() => {
    drawn.current = cursors;
    chart.current?.draw();
  }, [cursors]);

  const data = useMemo(
    () => ({
      datasets: [
        ...traces.map(({ words, points }, i) => ({
          label: words,
          data: repeated(points, period, PERIODS),
          yAxisID: paneId(i),
          borderColor: token(PANES[i]?.colour ?? '--ink'),
          borderDash: [...(PANES[i]?.dash ?? [])],
          borderWidth: 1.5,
          pointRadius: 0,
        })),
        ...(ghost?.traces ?? []).map(({ key, words, points }) => ({
          label: `${words}, held`,
          data: repeated(points, ghost?.period ?? period, PERIODS),
          yAxisID: paneId(
            Math.max(
              0,
              traces.findIndex((trace) => trace.key === key),
            ),
          ),
          borderColor: token('--ink-2'),
          borderDash: [],
          borderWidth: 0.7,
          pointRadius: 0,
        })),
      ],
    }),
    // The theme changes the tokens behind the colours.
    // eslint-disable-next-line react-hooks/exhaustive-deps
    [traces, ghost, period, themeRound],
  );

  const titles = useMemo(() => titlesOf(traces), [traces]);
  const options = useMemo<ChartOptions<'line'>>(() => {
    const ink = token('--ink-2');
    const font = { family: token('--sans'), size: 11 };
    const axis = ({ words, unit }: Trace, i: number) => ({
      type: 'linear' as const,
      stack: 'traces',
      stackWeight: PANES[i]?.weight ?? 1,
      offset: false,
      bounds: 'data' as const,
      afterDataLimits: (scale: Scale) => {
        const room = ROOM * (scale.max - scale.min);
        scale.max += room;
        scale.min -= room;
      },
      afterBuildTicks: (scale: Scale) => {
        scale.ticks = niceTicks(scale.min, scale.max, MOST_TICKS).map((value) => ({ value }));
      },
      grid: { color: token('--grid') },
      border: { color: token('--rule') },
      title: {
        display: true,
        text: titles[i] ?? words,
        color: token(PANES[i]?.colour ?? '--ink'),
        font,
        padding: 2,
      },
      ticks: {
        color: ink,
        font,
        callback: (value: string | number) => formatQuantity(Number(Number(value).toPrecision(7)), unit),
      },
    });
    return {
      animation: false,
      responsive: true,
      maintainAspectRatio: false,
      parsing: false,
      events: [],
      scales: {
        x: {
          type: 'linear',
          min: 0,
          max: span,
          grid: { color: token('--grid') },
          border: { color: token('--rule') },
          ticks: {
            color: ink,
            font,
            maxTicksLimit: 9,
            callback: (value) => formatQuantity(Number(Number(value).toPrecision(4)), 's'),
          },
        },
        // Stacked from the bottom up: listed in reverse, so that the first is on top.
        ...Object.fromEntries(traces.map((trace, i) => [paneId(i), axis(trace, i)] as const).reverse()),
      },
    };
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [span, traces, titles, themeRound]);

  const cursorLines = useMemo<Plugin<'line'>>(
    () => ({
      id: 'cursors',
      afterDatasetsDraw: ({ ctx, chartArea, scales }) => {
        const time = scales['x'];
        if (!time) return;
        drawn.current.forEach((step, i) => {
          const x = time.getPixelForValue((step / CURSOR_STEPS) * span);
          ctx.save();
          ctx.strokeStyle = token('--ink');
          ctx.fillStyle = token('--ink');
          ctx.lineWidth = 1;
          ctx.setLineDash(i === 0 ? [] : [4, 3]);
          ctx.beginPath();
          ctx.moveTo(x, chartArea.top);
          ctx.lineTo(x, chartArea.bottom);
          ctx.stroke();
          ctx.font = `11px ${token('--sans')}`;
          ctx.fillText(i === 0 ? 'A' : 'B', x + 3, chartArea.top + 10);
          ctx.restore();
        });
      },
    }),
    [span],
  );

  const timeOf = (cursor: 0 | 1): number => (cursors[cursor] / CURSOR_STEPS) * span;
  const move = (cursor: 0 | 1, step: number): void => {
    const kept = Math.min(CURSOR_STEPS, Math.max(0, step));
    setCursors(cursor === 0 ? [kept, cursors[1]] : [cursors[0], kept]);
  };
  const stepUnder = (event: PointerEvent<HTMLDivElement>): number | undefined => {
    const time = chart.current?.scales['x'];
    if (!time) return undefined;
    const left = event.currentTarget.getBoundingClientRect().left;
    const value = time.getValueForPixel(event.clientX - left);
    return value === undefined ? undefined : (value / span) * CURSOR_STEPS;
  };

  return (
    <>
      <div
        className="chart"
        onPointerDown={(event) => {
          const step = stepUnder(event);
          if (step === undefined) return;
          const nearest = Math.abs(step - cursors[0]) <= Math.abs(step - cursors[1]) ? 0 : 1;
          dragged.current = nearest;
          event.currentTarget.setPointerCapture(event.pointerId);
          move(nearest, step);
        }}
        onPointerMove={(event) => {
          const step = stepUnder(event);
          if (dragged.current !== undefined && step !== undefined) move(dragged.current, step);
        }}
        onPointerUp={() => {
          dragged.current = undefined;
        }}
      >
        <Line
          ref={chart}
          data={data}
          options={options}
          plugins={[cursorLines]}
          aria-label={`${traces.map(({ words }) => words).join('; ')}, over two periods`}
          role="img"
        />
      </div>
      <div className={`cursors of-${String(traces.length)}`} data-testid="cursors">
        <span />
        <span className="quiet">drag in the picture, or use the slider's keys</span>
        <span className="quiet value">time</span>
        {traces.map(({ words }, i) => (
          <span key={paneId(i)} className="quiet value">
            {titles[i] ?? words}
          </span>
        ))}
        {([0, 1] as const).map((cursor) => (
          <CursorRow
            key={cursor}
            cursor={cursor}
            step={cursors[cursor]}
            time={timeOf(cursor)}
            waveforms={waveforms}
            onMove={(step) => move(cursor, step)}
          />
        ))}
        <span>B − A</span>
        <span />
        <span className="value">
          <Quantity value={timeOf(1) - timeOf(0)} unit="s" />
        </span>
        {traces.map(({ unit, points }, i) => (
          <span key={paneId(i)} className="value">
            <Quantity value={changeBetween(points, period, timeOf(0), timeOf(1))} unit={unit} />
          </span>
        ))}
      </div>
    </>
  );
}

interface CursorRowProps {
  readonly cursor: 0 | 1;
  readonly step: number;
  readonly time: number;
  readonly waveforms: Waveforms;
  readonly onMove: (step: number) => void;
}

function CursorRow({ cursor, step, time, waveforms, onMove }: CursorRowProps) {
  const name = cursor === 0 ? 'A' : 'B';
  return (
    <>
      <span>{name}</span>
      <input
        type="range"
        min={0}
        max={CURSOR_STEPS}
        value={Math.round(step)}
        aria-label={`Cursor ${name}`}
        aria-valuetext={formatQuantity(time, 's', 4)}
        onChange={(event) => onMove(Number(event.target.value))}
      />
      <span className="value">
        <Quantity value={time} unit="s" />
      </span>
      {waveforms.traces.map(({ unit, points }, i) => (
        <span key={paneId(i)} className="value">
          <Quantity value={valueAtTime(points, waveforms.period, time)} unit={unit} digits={5} />
        </span>
      ))}
    </>
  );
}

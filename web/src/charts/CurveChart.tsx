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
  type Scale,
} from 'chart.js';
import zoomPlugin from 'chartjs-plugin-zoom';
import {
  useDeferredValue,
  useEffect,
  useId,
  useMemo,
  useRef,
  useState,
  type KeyboardEvent,
  type PointerEvent,
} from 'react';
import { Button } from 'react-bootstrap';
import { Line } from 'react-chartjs-2';
import { useParams } from 'react-router';
import { download } from '../shown/download';
import { token, useThemeRound } from '../shown/theme';
import { cursorWords, withCursor } from './cursors';
import { decadeTicks, type Axis, type Curve, type Mark, type Region } from './curves';
import { drawOver, OVER, type Over } from './drawnOver';
import { dropCurves, keepCurves, useKeptCurves, withKept } from './keptCurves';
import { niceTicks } from './niceTicks';
import { pictureAsCsv, pictureInWords, readAt, written } from './reading';

Chart.register(Filler, LinearScale, LogarithmicScale, LineController, LineElement, PointElement, zoomPlugin);

const MOST_TICKS = 7;
/** Opacity of a shaded band, as the two digits of a colour. */
const SHADE = '40';
/** Steps of the read-out over the picture, by key; with Shift ten at once. */
const READ_STEPS = 100;
/** Pointer travel from which a press is a drag, px. */
const DRAG = 8;
/** Distance from a mark within which a press is meant for it, px. */
const PICK = 12;
const PLUGINS = [OVER];
const NO_REGIONS: readonly Region[] = [];
const NO_NOTES: Over['notes'] = [];

interface Props<M extends Mark> {
  readonly words: string;
  readonly x: Axis;
  readonly y: Axis;
  readonly curves: readonly Curve[];
  readonly marks: readonly M[];
  readonly regions?: readonly Region[];
  /** Words written into the picture at axis values. */
  readonly notes?: Over['notes'];
  /** A small picture that is a door to a larger one: without read-out, zoom and files. */
  readonly still?: boolean;
  /** Its view holds earlier traces in a way of its own. */
  readonly holds?: boolean;
  /** What it shows its words of, where the same picture shows others too: a corner, a place. Kept curves are named after it. */
  readonly of?: string;
  /** Told the part of the axis that was drawn out with the pointer, by a view that draws it anew with more points. */
  readonly onZoom?: (from: number, to: number) => void;
  /** Told the mark that was pressed on, in a picture whose marks lead somewhere. */
  readonly onPick?: (mark: M) => void;
}

/** A place on an axis from the share of its length, and back. */
const placeAt = ({ min, max, logarithmic }: Axis, share: number): number =>
  logarithmic === true ? min * (max / min) ** share : min + share * (max - min);

/** Curves over one quantity with labelled marks, hatched limits and direct labels instead of a legend; read under the pointer and by keys. */
export function CurveChart<M extends Mark>(latest: Props<M>) {
  // Drawn after what else the same answer or the same hand has changed: all at once would hold the hand up.
  const {
    words,
    x,
    y,
    curves: present,
    marks,
    regions = NO_REGIONS,
    notes = NO_NOTES,
    still = false,
    holds = false,
    of,
    onZoom,
    onPick,
  } = useDeferredValue(latest);
  const themeRound = useThemeRound();
  const { id = '' } = useParams();
  const picture = `${id} ${words}`;
  const kept = useKeptCurves(picture);
  const curves = useMemo(() => (still ? present : withKept(present, kept)), [still, kept, present]);
  const [read, setRead] = useState<number>();
  const [cursors, setCursors] = useState<readonly number[]>([]);
  const pressedAt = useRef<number>(undefined);
  /** The axis that was zoomed into: another picture is whole again. */
  const [zoomedInto, setZoomedInto] = useState<Axis>();
  const chart = useRef<Chart<'line', { x: number; y: number }[]>>(null);
  const told = useId();

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
        const { min, max } = built;
        const whole = min === axis.min && max === axis.max;
        const ticks =
          axis.logarithmic === true && max / min > 5
            ? decadeTicks(min, max)
            : step === undefined || !whole
              ? niceTicks(min, max, MOST_TICKS)
              : Array.from({ length: Math.round((max - min) / step) + 1 }, (_, k) => min + k * step);
        built.ticks = ticks.map((value) => ({ value }));
      },
      grid: { color: token('--grid') },
      border: { color: token('--rule') },
      title: { display: axis.words !== '' && !still, text: axis.words, color: token('--ink-2'), font, padding: 2 },
      ticks: {
        color: token('--ink-2'),
        font,
        maxRotation: 0,
        autoSkip: true,
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
      ...(still && { events: [] }),
      layout: { padding: { right: 8, top: 6 } },
      // One width for every vertical axis, so that pictures over each other share their places.
      scales: { x: scale(x), y: { ...scale(y), afterFit: (built: Scale) => void (built.width = still ? 46 : 58) } },
      plugins: {
        zoom: still
          ? {}
          : {
              zoom: {
                drag: { enabled: true, threshold: DRAG, backgroundColor: `${token('--accent')}22` },
                mode: 'x' as const,
                onZoom: ({ chart: zoomed }: { chart: Chart }) => {
                  const across = zoomed.scales['x'];
                  if (onZoom && across) onZoom(across.min, across.max);
                  else setZoomedInto(x);
                },
              },
            },
      },
    };
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [x, y, still, themeRound, onZoom]);

  useEffect(() => {
    if (chart.current) drawOver(chart.current, { x, y, curves, marks, regions, notes, readAt: read, cursors });
  }, [x, y, curves, marks, regions, notes, read, cursors, data, options]);

  /** The value under the pointer; undefined beside the picture. */
  const valueUnder = (event: PointerEvent<HTMLDivElement>): number | undefined => {
    const drawn = chart.current;
    const scale = drawn?.scales['x'];
    if (!drawn || !scale) return undefined;
    const at = event.clientX - event.currentTarget.getBoundingClientRect().left;
    const { left, right } = drawn.chartArea;
    return at < left || at > right ? undefined : scale.getValueForPixel(at);
  };
  /** The mark under the pointer. */
  const markUnder = (event: PointerEvent<HTMLDivElement>): M | undefined => {
    const { x: across, y: up } = chart.current?.scales ?? {};
    if (!across || !up) return undefined;
    const { left, top } = event.currentTarget.getBoundingClientRect();
    const away = (mark: M): number =>
      Math.hypot(
        across.getPixelForValue(mark.x) - (event.clientX - left),
        up.getPixelForValue(mark.y) - (event.clientY - top),
      );
    const [nearest] = [...marks].sort((a, b) => away(a) - away(b));
    return nearest && away(nearest) < PICK ? nearest : undefined;
  };
  const lift = (event: PointerEvent<HTMLDivElement>): void => {
    const at = valueUnder(event);
    // A drag draws out a part of the axis; a press without one picks a mark, or sets a cursor.
    if (at === undefined || Math.abs(event.clientX - (pressedAt.current ?? NaN)) >= DRAG) return;
    const mark = onPick && markUnder(event);
    if (mark) onPick(mark);
    else setCursors((before) => withCursor(before, at));
  };
  const press = (event: KeyboardEvent): void => {
    const by = event.key === 'ArrowRight' ? 1 : event.key === 'ArrowLeft' ? -1 : 0;
    if (event.key === 'Escape') {
      setRead(undefined);
      setCursors([]);
    }
    if (event.key === 'Enter' && read !== undefined) setCursors((before) => withCursor(before, read));
    if (by === 0) return;
    event.preventDefault();
    const log = x.logarithmic === true;
    const share =
      read === undefined
        ? 0.5
        : log
          ? Math.log(read / x.min) / Math.log(x.max / x.min)
          : (read - x.min) / (x.max - x.min);
    const next = share + (by * (event.shiftKey ? 10 : 1)) / READ_STEPS;
    setRead(placeAt(x, Math.min(1, Math.max(0, next))));
  };
  const readings = read === undefined ? [] : readAt(curves, read, x.logarithmic === true);
  const alternative = useMemo(
    () => pictureInWords(words, { x, y, curves, marks, regions }),
    [words, x, y, curves, marks, regions],
  );
  const name = words.toLowerCase().replace(/[^a-z0-9]+/g, '-');
  if (still)
    return (
      <div className="chart still">
        <Line ref={chart} data={data} options={options} plugins={PLUGINS} aria-label={alternative} role="img" />
      </div>
    );
  return (
    <figure className="chart-figure">
      <div
        className="chart"
        role="group"
        tabIndex={0}
        aria-label={`${words}: arrow keys read it off, Enter sets a cursor`}
        aria-describedby={told}
        onPointerMove={(event) => setRead(valueUnder(event))}
        onPointerDown={(event) => (pressedAt.current = event.clientX)}
        onPointerUp={lift}
        onPointerLeave={() => setRead(undefined)}
        onKeyDown={press}
      >
        <Line ref={chart} data={data} options={options} plugins={PLUGINS} aria-label={alternative} role="img" />
      </div>
      <figcaption className="read-out small">
        <span id={told} aria-live="polite">
          {read !== undefined && (
            <>
              <b>{written(read, x)}</b>
              {readings.map((one) => `  ${one.words} ${written(one.value, y)}`).join(',')}
            </>
          )}
          {cursors.length > 0 && <span className="set-cursors">{cursorWords(cursors, { x, y, curves })}</span>}
        </span>
        <span className="chart-acts">
          {cursors.length > 0 && (
            <Button variant="plain" onClick={() => setCursors([])}>
              Clear cursors
            </Button>
          )}
          {zoomedInto === x && (
            <Button
              variant="plain"
              onClick={() => {
                const scale = chart.current?.options.scales?.['x'];
                if (scale) Object.assign(scale, { min: x.min, max: x.max });
                chart.current?.update('none');
                setZoomedInto(undefined);
              }}
            >
              Whole picture
            </Button>
          )}
          {!holds && present.length > 0 && (
            <Button
              variant="plain"
              aria-label={`${words}: keep its curves`}
              title="Keeps these curves in the picture while the design changes, as long as the page is open"
              onClick={() => keepCurves(picture, present, of)}
            >
              Keep
            </Button>
          )}
          {kept.length > 0 && (
            <Button variant="plain" aria-label={`${words}: without kept curves`} onClick={() => dropCurves(picture)}>
              Without kept
            </Button>
          )}
          <Button
            variant="plain"
            aria-label={`${words} as PNG`}
            onClick={() => {
              const link = document.createElement('a');
              link.href = chart.current?.toBase64Image('image/png') ?? '';
              link.download = `${name}.png`;
              link.click();
            }}
          >
            PNG
          </Button>
          <Button
            variant="plain"
            aria-label={`${words} as CSV`}
            onClick={() => download(`${name}.csv`, 'text/csv', pictureAsCsv({ x, y, curves }))}
          >
            CSV
          </Button>
        </span>
      </figcaption>
    </figure>
  );
}

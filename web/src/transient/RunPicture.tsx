import type { Stage, Waveforms } from '@yundro/core';
import { useMemo } from 'react';
import { Button } from 'react-bootstrap';
import { CurveChart } from '../charts/CurveChart';
import { beyond, type Axis, type Curve, type Mark, type Region } from '../charts/curves';
import type { WorkedRun } from '../engine/transientSurvey';
import { ViewPick } from '../station/ViewPick';
import type { Overlay } from './overlays';
import { runCurve, type View } from './runCurves';

export const LANES = ['Output', 'Currents', 'Control', 'Switch node', 'Input'] as const;
export type Lane = (typeof LANES)[number];
const NO_MARKS: readonly Mark[] = [];

/** Which signals a lane shows. */
const SIGNALS: Readonly<Record<Lane, RegExp>> = {
  Output: /^output voltage/,
  Currents: /^(load|inductor) current/,
  Control: /^control voltage/,
  'Switch node': /^switch node/,
  Input: /^input voltage/,
};

/** What of a run that is laid over is shown beside them: one signal a lane. */
const LAID_OVER: Readonly<Record<Lane, RegExp>> = { ...SIGNALS, Currents: /^inductor current/ };

const COLOURS = 4;
const curveColour = (k: number): string => `--trace-${String((k % COLOURS) + 1)}`;

/** A run as it is drawn: one that is over, or what there is of one that goes on. */
export interface DrawnRun extends Partial<Pick<WorkedRun, 'bands' | 'linear' | 'beside'>> {
  readonly run: { readonly waveforms: Waveforms };
}

/** How a run is looked at; that stays while one question follows another. */
export interface Look {
  readonly lane: Lane;
  /** The part drawn out, and of the answer to which question: another run is whole again. */
  readonly zoomed?: View & { readonly of: object };
}

/** The signals of a run in a lane, and what is laid over them. */
function curvesOf({ run, beside }: DrawnRun, overlays: readonly Overlay[], lane: Lane, view: View): readonly Curve[] {
  const own = run.waveforms.signals
    .filter(({ name }) => SIGNALS[lane].test(name))
    .map((signal, k): Curve => ({
      words: signal.name,
      ...runCurve(run.waveforms, signal, view),
      colour: curveColour(k),
      dash: [],
      labelAt: view.from + 0.7 * (view.to - view.from),
      labelAbove: k % 2 === 0,
    }));
  const besides = beside ? [{ words: beside.words, waveforms: beside.run.waveforms, shift: 0, lift: 0 }] : [];
  const laid = [...besides, ...overlays].flatMap(({ words, waveforms, shift, lift }, o) =>
    waveforms.signals
      .filter(({ name }) => LAID_OVER[lane].test(name))
      .slice(0, 1)
      .map((signal): Curve => ({
        words,
        ...runCurve(waveforms, signal, view, { shift, lift }),
        colour: curveColour(o + 1),
        dash: [5, 3],
        labelAt: view.from + (0.35 + 0.12 * o) * (view.to - view.from),
        labelAbove: o % 2 === 1,
      })),
  );
  return [...own, ...laid];
}

interface Props {
  readonly drawn: DrawnRun;
  /** The question it answers. */
  readonly of: object;
  /** s, where the run ends, or will. */
  readonly until: number;
  readonly stage: Stage;
  readonly overlays: readonly Overlay[];
  readonly look: Look;
  readonly onLook: (look: Look) => void;
}

/** One lane of a run: its signals, what is laid over them, the allowed band, and what the controller was doing. */
export function RunPicture({ drawn, of, until, stage, overlays, look, onLook }: Props) {
  const { lane, zoomed } = look;
  const part = zoomed?.of === of ? zoomed : undefined;
  const chart = useMemo(() => {
    const view = part ?? { from: 0, to: until };
    const curves = curvesOf(drawn, overlays, lane, view);
    let [low, high] = [Infinity, -Infinity];
    for (const { y } of curves)
      for (const value of y) {
        low = Math.min(low, value ?? Infinity);
        high = Math.max(high, value ?? -Infinity);
      }
    const { loadStep, outputVoltage } = stage.targets;
    const allowed = lane === 'Output' && drawn.linear ? loadStep?.deviation : undefined;
    const bands = (drawn.bands ?? []).map(({ from, to, words }): Region => ({
      fromX: from,
      toX: to,
      words,
    }));
    const limits = allowed === undefined ? [] : [outputVoltage + allowed, outputVoltage - allowed];
    // Drawn out, the picture is that of the waveform: a limit far away does not flatten it.
    const shown = part ? [] : limits;
    const span = Math.max(high, ...shown) - Math.min(low, ...shown) || 1;
    const x: Axis = { words: 'time', unit: 's', min: view.from, max: view.to };
    const y: Axis = {
      words: lane === 'Currents' ? 'current' : 'voltage',
      unit: lane === 'Currents' ? 'A' : 'V',
      min: Math.min(low, ...shown) - 0.08 * span,
      max: Math.max(high, ...shown) + 0.08 * span,
    };
    const [above, below] = limits;
    const hatched =
      above === undefined || below === undefined
        ? []
        : [beyond(above, 'above', 'not allowed'), beyond(below, 'below', 'not allowed')];
    return { x, y, curves, regions: [...bands, ...hatched] };
  }, [drawn, overlays, stage, lane, part, until]);
  const zoom = useMemo(
    () => (from: number, to: number) => onLook({ lane, zoomed: { from, to, of } }),
    [onLook, lane, of],
  );
  return (
    <>
      <div className="lane-head">
        <ViewPick
          what="Lane"
          views={LANES.map((view) => ({ view, words: view }))}
          shown={lane}
          onPick={(picked) => onLook({ ...look, lane: picked })}
        />
        {part && (
          <Button variant="plain" onClick={() => onLook({ lane })}>
            Whole run
          </Button>
        )}
      </div>
      {chart.curves.length > 0 ? (
        <CurveChart
          words={`${lane} over time`}
          x={chart.x}
          y={chart.y}
          curves={chart.curves}
          marks={NO_MARKS}
          regions={chart.regions}
          onZoom={zoom}
          holds
        />
      ) : (
        <p className="quiet my-3">There is nothing of it in this scheme.</p>
      )}
    </>
  );
}

import type { Stage } from '@yundro/core';
import { useMemo, useState } from 'react';
import { CurveChart } from '../charts/CurveChart';
import { beyond, type Axis, type Curve, type Mark, type Region } from '../charts/curves';
import type { WorkedRun } from '../engine/transientSurvey';
import { ViewPick } from '../station/ViewPick';
import { bandsOf } from './bands';

const LANES = ['Output', 'Currents', 'Control', 'Switch node'] as const;
type Lane = (typeof LANES)[number];
const NO_MARKS: readonly Mark[] = [];
/** Points of a curve that a picture still shows one by one. */
const MOST_POINTS = 6000;

/** Which signals a lane shows. */
const SIGNALS: Readonly<Record<Lane, RegExp>> = {
  Output: /^output voltage/,
  Currents: /^(load|inductor) current/,
  Control: /^control voltage/,
  'Switch node': /^switch node/,
};

/** A signal as a curve: where there are more points than a picture shows, the least and the greatest of each stretch in turn. */
function curveOf(
  time: Float64Array,
  { name, least, most }: WorkedRun['run']['waveforms']['signals'][number],
  k: number,
): Curve {
  const stride = Math.max(1, Math.ceil((2 * time.length) / MOST_POINTS));
  const x: number[] = [];
  const y: number[] = [];
  for (let from = 0; from < time.length; from += stride) {
    let low = Infinity;
    let high = -Infinity;
    for (let i = from; i < Math.min(time.length, from + stride); i += 1) {
      low = Math.min(low, least[i] ?? Infinity);
      high = Math.max(high, most[i] ?? -Infinity);
    }
    const at = time[from] ?? 0;
    if (stride === 1 && low === high) {
      x.push(at);
      y.push(low);
    } else {
      x.push(at, at);
      y.push(low, high);
    }
  }
  return {
    words: name,
    x,
    y,
    colour: `--trace-${String((k % 4) + 1)}`,
    dash: [],
    labelAt: 0.7 * (time.at(-1) ?? 0),
    labelAbove: k % 2 === 0,
  };
}

/** One lane of a run: its signals, the allowed band, and what the controller was doing. */
export function RunPicture({ worked, stage }: { readonly worked: WorkedRun; readonly stage: Stage }) {
  const [lane, setLane] = useState<Lane>('Output');
  const chart = useMemo(() => {
    const { waveforms, occurrences } = worked.run;
    const curves = waveforms.signals
      .filter(({ name }) => SIGNALS[lane].test(name))
      .map((signal, k) => curveOf(waveforms.time, signal, k));
    const values = curves.flatMap(({ y }) => y.filter((value): value is number => value !== undefined));
    const [low, high] = values.reduce(
      ([a, b], value) => [Math.min(a, value), Math.max(b, value)],
      [Infinity, -Infinity],
    );
    const { loadStep, outputVoltage } = stage.targets;
    const before = Math.abs(outputVoltage);
    const allowed = lane === 'Output' && worked.linear ? loadStep?.deviation : undefined;
    const bands = bandsOf(occurrences, worked.period).map(({ from, to, words }): Region => ({
      fromX: from,
      toX: to,
      words,
    }));
    const sign = Math.sign(outputVoltage);
    const limits = allowed === undefined ? [] : [sign * before + allowed, sign * before - allowed];
    const span = Math.max(high, ...limits) - Math.min(low, ...limits) || 1;
    const x: Axis = { words: 'time', unit: 's', min: 0, max: waveforms.time.at(-1) ?? 1 };
    const y: Axis = {
      words: lane === 'Currents' ? 'current' : 'voltage',
      unit: lane === 'Currents' ? 'A' : 'V',
      min: Math.min(low, ...limits) - 0.08 * span,
      max: Math.max(high, ...limits) + 0.08 * span,
    };
    const hatched =
      allowed === undefined
        ? []
        : [
            beyond(sign * before + allowed, 'above', 'not allowed'),
            beyond(sign * before - allowed, 'below', 'not allowed'),
          ];
    return { x, y, curves, regions: [...bands, ...hatched] };
  }, [worked, stage, lane]);
  return (
    <>
      <ViewPick what="Lane" views={LANES.map((view) => ({ view, words: view }))} shown={lane} onPick={setLane} />
      {chart.curves.length > 0 ? (
        <CurveChart
          words={`${lane} over time`}
          x={chart.x}
          y={chart.y}
          curves={chart.curves}
          marks={NO_MARKS}
          regions={chart.regions}
        />
      ) : (
        <p className="quiet my-3">There is nothing of it in this scheme.</p>
      )}
    </>
  );
}

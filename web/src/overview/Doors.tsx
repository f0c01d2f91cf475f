import { decibels, formatQuantity, type Stage } from '@yundro/core';
import type { ReactNode } from 'react';
import { Link, useParams } from 'react-router';
import { CurveChart } from '../charts/CurveChart';
import { beyond, type Axis, type Curve, type Mark, type Region } from '../charts/curves';
import { repeated } from '../charts/traces';
import { efficiencyChart } from '../efficiency/efficiencyCharts';
import type { Waveforms } from '../engine/engine';
import type { WorkedLoop } from '../engine/loopSurvey';
import type { NoRun, WorkedRun } from '../engine/transientSurvey';
import type { EfficiencyCurves } from '../engine/survey';
import type { Asked } from '../engine/useInquiry';
import { useSurvey } from '../engine/useSurvey';
import { useWorked } from '../engine/useWorked';
import { useLedger } from '../ledger/judgements';
import { markOf, ofStation, type Mark as LedgerMark } from '../ledger/lines';
import { Answered } from '../shown/Answered';
import { VerdictMark } from '../shown/VerdictMark';
import type { Station } from '../stage/stations';
import { useLookedAt, useWorkedStage } from '../stage/useCorner';
import { showLoopPicture } from '../stage/stageView';
import { runCurve } from '../transient/runCurves';
import { useRun } from '../transient/useRun';

const NO_MARKS: readonly Mark[] = [];
const PERIODS = 2;

/** A small picture, and the words beside it. */
interface Small {
  readonly x: Axis;
  readonly y: Axis;
  readonly curves: readonly Curve[];
  readonly marks?: readonly Mark[];
  readonly regions?: readonly Region[];
  /** The number that counts, and what it is of. */
  readonly number: string;
  readonly says: string;
}

interface DoorProps<Q, T> {
  readonly title: string;
  readonly to: Station;
  readonly mark: LedgerMark | undefined;
  readonly asked: Asked<Q, T>;
  readonly draw: (value: T, question: Q) => Small | string;
  readonly onOpen?: () => void;
}

/** A picture that is a door to the station which decides it. */
function Door<Q, T>({ title, to, mark, asked, draw, onOpen }: DoorProps<Q, T>) {
  const { id = '' } = useParams();
  return (
    <Link
      className={`door-box ${mark?.replace(' ', '-') ?? ''}`}
      to={`/stages/${id}/${to}`}
      onClick={onOpen}
      aria-label={`${title}: open ${to}`}
      data-door={title}
    >
      <span className="door-head">
        <b>{title}</b>
        {mark !== undefined && <VerdictMark word={mark} />}
      </span>
      <Answered of={asked} what={title.toLowerCase()} wait={<span className="quiet small">being worked …</span>}>
        {(value, question) => <Drawn small={draw(value, question)} title={title} />}
      </Answered>
    </Link>
  );
}

function Drawn({ small, title }: { readonly small: Small | string; readonly title: string }): ReactNode {
  if (typeof small === 'string') return <span className="quiet small">{small}</span>;
  const { number, says, x, y, curves, marks = NO_MARKS, regions } = small;
  return (
    <>
      <CurveChart words={title} x={x} y={y} curves={curves} marks={marks} {...(regions && { regions })} still />
      <span className="door-foot small">
        <b>{number}</b> <span className="quiet">{says}</span>
      </span>
    </>
  );
}

/** The inductor current over two periods, with the saturation current drawn in. */
function currentPicture({ period, traces }: Waveforms, stage: Stage): Small | string {
  const [trace] = traces;
  if (!trace) return 'There is no operating point here.';
  const points = repeated(trace.points, period, PERIODS);
  const { peak, valley, ripple, average } = trace.measures;
  const limit = stage.parts.inductor?.saturationCurrent;
  const top = Math.max(limit ?? 0, peak) * 1.08;
  return {
    x: { words: '', unit: 's', min: 0, max: PERIODS * period },
    y: { words: '', unit: 'A', min: Math.min(0, 1.1 * valley), max: top },
    curves: [{ words: '', x: points.map(({ x }) => x), y: points.map(({ y }) => y), colour: '--trace-1', dash: [] }],
    regions: limit === undefined ? [] : [beyond(limit, 'above', 'saturates')],
    number:
      limit === undefined
        ? formatQuantity(peak, 'A', 3)
        : `${formatQuantity(peak, 'A', 3)} of ${formatQuantity(limit, 'A', 3)}`,
    says: `peak; ripple ratio ${(ripple / Math.abs(average)).toFixed(3)}`,
  };
}

/** The load step up, simulated, with what is allowed about the output before. */
function stepPicture(worked: WorkedRun | NoRun, stage: Stage): Small | string {
  if (worked.kind === 'none') return `There is no step to show: ${worked.reason}.`;
  const { waveforms, measures } = worked.run;
  const [output] = waveforms.signals;
  if (!output) return 'There is no step to show.';
  const allowed = stage.targets.loadStep?.deviation;
  const deviation = Math.max(measures.undershoot, measures.overshoot);
  const nominal = stage.targets.outputVoltage;
  const end = Math.min(
    waveforms.time.at(-1) ?? 1,
    Math.max(SHOWN * measures.recoveryTime, SHOWN_PERIODS * worked.period),
  );
  const reach = 1.12 * Math.max(deviation, allowed ?? 0);
  return {
    x: { words: '', unit: 's', min: 0, max: end },
    y: { words: '', unit: 'V', min: -reach, max: reach },
    curves: [
      {
        words: '',
        ...runCurve(waveforms, output, { from: 0, to: end }, { lift: -nominal }),
        colour: '--trace-1',
        dash: [],
      },
    ],
    regions: allowed === undefined ? [] : [beyond(allowed, 'above', 'not allowed'), beyond(-allowed, 'below', '')],
    number:
      allowed === undefined
        ? formatQuantity(deviation, 'V', 3)
        : `${formatQuantity(deviation, 'V', 3)} of ${formatQuantity(allowed, 'V', 3)}`,
    says: 'simulated, at the clock',
  };
}
/** Shown until so many recovery times and clock periods are over. */
const SHOWN = 4;
const SHOWN_PERIODS = 40;

/** The loop gain, its crossover marked. */
function loopPicture({ loop }: WorkedLoop): Small | string {
  if (loop.kind !== 'solved') return `There is no loop yet: ${loop.reason}.`;
  const { points, crossover, phaseMargin, stable } = loop;
  const values = points.map((point) => decibels(point.loop));
  const found = crossover.kind === 'found';
  const [low, high] = [Math.min(...values), Math.max(...values)];
  const x: Axis = {
    words: '',
    unit: 'Hz',
    min: points[0]?.frequency ?? 1,
    max: points.at(-1)?.frequency ?? 10,
    logarithmic: true,
  };
  return {
    x,
    y: {
      words: '',
      unit: 'dB',
      min: 20 * Math.floor(low / 20),
      max: 20 * Math.ceil(high / 20),
      label: (value) => `${value.toFixed(0)} dB`,
    },
    curves: [
      { words: '', x: points.map(({ frequency }) => frequency), y: values, colour: '--trace-1', dash: [] },
      { words: '', x: [x.min, x.max], y: [0, 0], colour: '--ink-2', dash: [1, 2] },
    ],
    marks: found ? [{ x: crossover.value, y: 0, here: true }] : [],
    number: found
      ? `${formatQuantity(crossover.value, 'Hz', 3)}${phaseMargin.kind === 'found' ? `, ${phaseMargin.value.toFixed(1)}°` : ''}`
      : 'no crossover',
    says: stable ? 'stable at this corner' : 'unstable at this corner',
  };
}

/** Efficiency against load at every input, with the target. */
function efficiencyPicture(curves: EfficiencyCurves | undefined, stage: Stage): Small | string {
  const chart = curves && efficiencyChart(curves.byInput, ({ inputVoltage }) => formatQuantity(inputVoltage, 'V', 3));
  if (!chart) return 'There is no operating point to draw.';
  const asked = stage.targets.efficiency;
  const full = Math.min(...curves.byInput.flatMap(({ points }) => points.at(-1)?.efficiency ?? []));
  return {
    ...chart,
    x: { ...chart.x, words: '' },
    y: { ...chart.y, words: '' },
    // Asked for at one load: hatched about there.
    regions: asked
      ? [{ ...beyond(asked.min, 'below', `below ${(100 * asked.min).toFixed(0)} %`), fromX: asked.outputCurrent / 2 }]
      : [],
    number: `${(100 * full).toFixed(1)} %`,
    says: 'at full load, worst input',
  };
}

/** Four small pictures with their limits drawn in, each a door to its station. */
export function Doors() {
  const looked = useLookedAt();
  const worked = useWorkedStage();
  const groups = useLedger();
  const mark = (station: Station): LedgerMark | undefined => markOf(ofStation(groups, station));
  const of = (words: readonly string[]): LedgerMark | undefined =>
    markOf({
      ...groups,
      fails: groups.fails.filter(({ verdict }) => words.includes(verdict.target)),
      tight: groups.tight.filter(({ verdict }) => words.includes(verdict.target)),
      holds: groups.holds.filter(({ verdict }) => words.includes(verdict.target)),
      unjudged: groups.unjudged.filter(({ quantity }) => words.includes(quantity)),
    });
  const current = useWorked(looked, (engine, question) =>
    engine.waveforms(question.work, question.corner, ['current:inductor1']),
  );
  const { asked: step } = useRun('load-up');
  const loop = useSurvey(looked, (survey, { stage, inputVoltage, outputCurrent }) =>
    survey.loopAt(stage, inputVoltage, outputCurrent),
  );
  const efficiency = useSurvey(worked, (survey, { stage }) => survey.efficiencyCurves(stage));
  return (
    <div className="doors">
      <Door
        title="Inductor current"
        to="inductor"
        mark={mark('inductor')}
        asked={current}
        draw={(value, { stage }) => (value ? currentPicture(value, stage) : 'There is no operating point here.')}
      />
      <Door
        title="Load step"
        to="transient"
        mark={mark('transient')}
        asked={step}
        draw={(value, { stage }) => (value ? stepPicture(value, stage) : 'The stage lacks a part.')}
      />
      <Door
        title="Loop gain"
        to="loop"
        mark={of(['loopStability', 'phaseMargin', 'gainMargin', 'subharmonicMargin', 'phase margin', 'gain margin'])}
        asked={loop}
        draw={(value) => (value ? loopPicture(value) : 'The stage lacks a part.')}
        onOpen={() => showLoopPicture('gain')}
      />
      <Door
        title="Efficiency"
        to="efficiency"
        mark={mark('efficiency')}
        asked={efficiency}
        draw={(value, { stage }) => efficiencyPicture(value, stage)}
      />
    </div>
  );
}

import { formatQuantity, usesNetwork, type LoopReport } from '@yundro/core';
import { useMemo, useState } from 'react';
import { useParams } from 'react-router';
import { CurveChart } from '../charts/CurveChart';
import type { WorkedLoop } from '../engine/loopSurvey';
import { useSurvey } from '../engine/useSurvey';
import { Failed } from '../shown/Answered';
import type { LoopPicture } from '../stage/stageView';
import type { LookedAt } from '../stage/useCorner';
import { InputPicture } from './InputPicture';
import {
  gainChart,
  impedanceChart,
  otherCharts,
  phaseChart,
  planeChart,
  type LoopChart,
  type OtherLoop,
} from './loopCharts';
import { LoopReading } from './LoopReading';
import { ShapeHandles } from './ShapeHandles';
import { SpreadPicture } from './SpreadPicture';
import { StepPicture } from './StepPicture';
import { useShaped } from './shaping';
import { drawnTrace, useTraces } from './traces';
import { TraceTools } from './TraceTools';

export const LOOP_PICTURES: readonly { readonly view: LoopPicture; readonly words: string }[] = [
  { view: 'gain', words: 'Gain and phase' },
  { view: 'corners', words: 'All corners' },
  { view: 'plane', words: 'Complex plane' },
  { view: 'impedance', words: 'Output impedance' },
  { view: 'others', words: 'Line and current' },
  { view: 'step', words: 'Load step' },
  { view: 'input', words: 'Input side' },
  { view: 'spread', words: 'Tolerance' },
];

interface Props {
  readonly found: WorkedLoop;
  readonly report: LoopReport;
  readonly picture: LoopPicture;
  /** The corner and stage that were worked: every word of a picture is theirs. */
  readonly looked: LookedAt;
}

/** One picture of the loop at the corner looked at, and what it says in figures. */
export function LoopPictures({ found, report, picture, looked }: Props) {
  switch (picture) {
    case 'step':
      return <StepPicture />;
    case 'input':
      return <InputPicture />;
    case 'spread':
      return <SpreadPicture />;
    default:
      return <Responses found={found} report={report} picture={picture} looked={looked} />;
  }
}

interface ResponsesProps extends Props {
  readonly picture: 'gain' | 'corners' | 'plane' | 'impedance' | 'others';
}

function Responses({ found, report, picture, looked }: ResponsesProps) {
  const { id = '' } = useParams();
  const shaped = useShaped();
  const traces = useTraces(id);
  const [averaged, showAveraged] = useState(false);
  const { stage } = looked;
  const corner = `${formatQuantity(looked.inputVoltage, 'V', 3)}, ${formatQuantity(looked.outputCurrent, 'A', 3)}`;
  const overlay = useSurvey(picture === 'corners' ? { stage } : undefined, (survey, question) =>
    survey.loopGains(question.stage),
  );
  const overlaid = overlay.answer?.question.stage === stage ? overlay.answer.value : undefined;
  const charts = useMemo((): readonly (readonly [string, LoopChart])[] => {
    const laidOver: OtherLoop[] = traces.map(drawnTrace);
    switch (picture) {
      case 'gain': {
        if (shaped) laidOver.push(shaped);
        if (averaged && found.averaged)
          laidOver.push({
            words: 'plant, averaged',
            frequencies: report.points.map(({ frequency }) => frequency),
            values: found.averaged,
            style: 'averaged',
          });
        return [
          ['Gain against frequency', gainChart(report, laidOver)],
          ['Phase against frequency', phaseChart(report, laidOver)],
        ];
      }
      case 'corners': {
        for (const { points } of overlaid ?? [])
          laidOver.push({
            words: '',
            frequencies: points.map(({ frequency }) => frequency),
            values: points.map(({ value }) => value),
            style: 'quiet',
          });
        return [
          ['Loop gain of every corner', gainChart(report, laidOver, ['loop'])],
          ['Loop phase of every corner', phaseChart(report, laidOver, ['loop'])],
        ];
      }
      case 'plane':
        return [['Loop gain in the complex plane', planeChart(report)]];
      case 'impedance':
        return [['Output impedance against frequency', impedanceChart(report)]];
      case 'others':
        return otherCharts(report);
    }
  }, [report, picture, shaped, overlaid, traces, averaged, found.averaged]);
  return (
    <>
      <div className={charts.length > 1 ? 'two-charts' : ''}>
        {charts.map(([words, chart]) => (
          <CurveChart
            key={words}
            words={words}
            {...chart}
            of={corner}
            holds={picture === 'gain' || picture === 'corners'}
          />
        ))}
      </div>
      {overlay.failure && (
        <Failed what="loop of the other corners" sentence={overlay.failure.sentence} retry={overlay.retry} />
      )}
      {picture === 'gain' && (
        <>
          {usesNetwork(stage.control.scheme) && <ShapeHandles report={report} looked={looked} />}
          {found.averaged && (
            <label className="small">
              <input type="checkbox" checked={averaged} onChange={() => showAveraged(!averaged)} /> plant by the
              averaged model too
            </label>
          )}
        </>
      )}
      {(picture === 'gain' || picture === 'corners') && <TraceTools report={report} corner={corner} looked={looked} />}
      <LoopReading report={report} />
    </>
  );
}

import { formatQuantity } from '@yundro/core';
import { useMemo } from 'react';
import { Button } from 'react-bootstrap';
import { CurveChart } from '../charts/CurveChart';
import type { Worked } from '../engine/engine';
import type { WorkedRatio } from '../engine/rareSurvey';
import { useSurvey } from '../engine/useSurvey';
import { Answered } from '../shown/Answered';
import { dutyAs, useDutyConvention } from '../shown/dutyConvention';
import { SurveyWait } from './SurveyWait';
import { useSession } from './stageSession';
import { openWorking } from './stageView';
import { useLookedAt, type LookedAt } from './useCorner';

/** A pulse ratio as it stands on an axis. */
const pulseRatio = (duty: number): string => String(Number((1 / duty).toPrecision(3)));

/** Room above the highest point shown. */
const HEADROOM = 1.25;

/** Output over input voltage against the duty ratio, with and without losses, and the corners on it. */
export function ConversionView() {
  const worked = useSession((session) => session.worked);
  const looked = useLookedAt();
  const asked = useSurvey(looked && { ...looked, corners: worked?.corners }, (survey, question) =>
    survey.conversionRatio(question.stage, question.inputVoltage, question.outputCurrent),
  );
  return (
    <Answered of={asked} what="conversion ratio" wait={<SurveyWait working />}>
      {(ratio, question) =>
        ratio ? (
          <Ratio ratio={ratio} looked={question} corners={question.corners ?? []} />
        ) : (
          <SurveyWait working={false} />
        )
      }
    </Answered>
  );
}

interface RatioProps {
  readonly ratio: WorkedRatio;
  readonly looked: LookedAt;
  readonly corners: Worked['corners'];
}

function Ratio({ ratio, looked: { corner }, corners }: RatioProps) {
  const convention = useDutyConvention((chosen) => chosen.convention);
  const shown = useMemo(() => {
    const marks = corners.flatMap(({ point }, i) =>
      point ? [{ x: point.duty, y: Math.abs(point.outputVoltage) / point.inputVoltage, here: i === corner }] : [],
    );
    const { peak } = ratio;
    const top = Math.max(peak?.ratio ?? 1, ...marks.map(({ y }) => y)) * HEADROOM;
    return {
      x: {
        words: convention === 'q' ? 'pulse ratio q = T/ton' : 'duty ratio',
        unit: 'ratio',
        min: 0,
        max: 1,
        ...(convention === 'q' && { label: (duty: number) => (duty > 0 ? pulseRatio(duty) : '') }),
      } as const,
      y: { words: 'output over input voltage', unit: 'ratio', min: 0, max: top } as const,
      curves: [
        { words: 'without losses', x: ratio.duties, y: ratio.lossFree, colour: '--trace-2', dash: [6, 3] },
        { words: 'with losses', x: ratio.duties, y: ratio.withLosses, colour: '--trace-1', dash: [], labelAt: 0.74 },
      ],
      marks,
      regions: peak ? [{ fromX: peak.duty, toX: 1, words: 'more duty, less output' }] : [],
      peak,
    };
  }, [ratio, corners, corner, convention]);
  const dutyWords = convention === 'q' ? 'pulse ratio' : 'duty ratio';
  const { peakWorking } = ratio;
  return (
    <>
      <CurveChart words="Conversion ratio against the duty ratio" {...shown} />
      <p className="small quiet mb-1">
        Curves at {formatQuantity(ratio.inputVoltage, 'V', 3)} input with a load resistance of{' '}
        {formatQuantity(ratio.loadResistance, 'ohm', 3)}; circles are the corners, the filled one is looked at.{' '}
        {shown.peak
          ? `The ratio turns over at a ${dutyWords} of ${dutyAs(convention, shown.peak.duty).toFixed(3)}, where it is ${shown.peak.ratio.toFixed(2)}: beyond it more duty gives less output.`
          : 'The ratio rises with the duty ratio over the whole range.'}{' '}
        {peakWorking && (
          <Button variant="plain" className="small" onClick={() => openWorking({ working: peakWorking })}>
            Working
          </Button>
        )}
      </p>
    </>
  );
}

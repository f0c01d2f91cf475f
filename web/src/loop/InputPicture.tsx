import { formatQuantity, type InputImpedances } from '@yundro/core';
import type { Remote } from 'comlink';
import { useMemo } from 'react';
import { CurveChart } from '../charts/CurveChart';
import type { Survey } from '../engine/survey.worker';
import { useSurvey } from '../engine/useSurvey';
import { SurveyWait } from '../stage/SurveyWait';
import { useSession } from '../stage/stageSession';
import { inputChart } from './loopCharts';

const NEAREST = [
  ['closed', 'the stage with its loop closed'],
  ['driven', 'the stage with the control voltage held, Z_D'],
  ['nulled', 'the stage with an ideal loop, Z_N'],
] as const;

/** The impedance of what feeds the stage, drawn over that of the stage. */
export function InputPicture({
  inputVoltage,
  outputCurrent,
}: {
  readonly inputVoltage: number;
  readonly outputCurrent: number;
}) {
  const stage = useSession((session) => session.worked?.stage);
  const ask = useMemo(
    () =>
      stage ? async (survey: Remote<Survey>) => survey.inputImpedances(stage, inputVoltage, outputCurrent) : undefined,
    [stage, inputVoltage, outputCurrent],
  );
  const { found, working } = useSurvey(ask);
  if (!found) return <SurveyWait working={working} />;
  if (typeof found === 'string')
    return (
      <p className="quiet">There is nothing to lay over each other: {found}. Both are given at the station Stage.</p>
    );
  return <Impedances found={found} />;
}

function Impedances({ found }: { readonly found: InputImpedances }) {
  const chart = useMemo(() => inputChart(found), [found]);
  return (
    <>
      <CurveChart words="Impedances at the input" {...chart} />
      <ul className="small quiet" data-testid="input-nearest">
        {NEAREST.map(([key, words]) => {
          const near = found.nearest[key];
          return (
            near && (
              <li key={key}>
                {near.share >= 1 ? <b>Above: </b> : ''}what feeds it reaches {near.share.toPrecision(2)} of {words}, at{' '}
                {formatQuantity(near.frequency, 'Hz', 3)}
              </li>
            )
          );
        })}
      </ul>
      <p className="small quiet">
        Seen from the switching cell: source, filter and input capacitors against the stage. Well below one everywhere,
        the filter leaves the loop alone; near or above one, look at margins and multipliers, which count the filter in.
      </p>
    </>
  );
}

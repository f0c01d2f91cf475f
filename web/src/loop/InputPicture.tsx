import { formatQuantity, type InputImpedances } from '@yundro/core';
import { useMemo } from 'react';
import { CurveChart } from '../charts/CurveChart';
import { useSurvey } from '../engine/useSurvey';
import { Answered } from '../shown/Answered';
import { SurveyWait } from '../stage/SurveyWait';
import { useLookedAt } from '../stage/useCorner';
import { inputChart } from './loopCharts';

const NEAREST = [
  ['closed', 'the stage with its loop closed'],
  ['driven', 'the stage with the control voltage held, Z_D'],
  ['nulled', 'the stage with an ideal loop, Z_N'],
] as const;

/** The impedance of what feeds the stage, drawn over that of the stage. */
export function InputPicture() {
  const asked = useSurvey(useLookedAt(), async (survey, { stage, inputVoltage, outputCurrent }) =>
    survey.inputImpedances(stage, inputVoltage, outputCurrent),
  );
  return (
    <Answered of={asked} what="impedance" wait={<SurveyWait working />}>
      {(found) =>
        typeof found === 'string' ? (
          <p className="quiet">
            There is nothing to lay over each other: {found}. Both are given at the station Stage.
          </p>
        ) : (
          <Impedances found={found} />
        )
      }
    </Answered>
  );
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

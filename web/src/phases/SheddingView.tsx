import { formatQuantity, HYSTERESIS, type Shedding } from '@yundro/core';
import { useMemo } from 'react';
import { CurveChart } from '../charts/CurveChart';
import { useSurvey } from '../engine/useSurvey';
import { Answered } from '../shown/Answered';
import { SurveyWait } from '../stage/SurveyWait';
import { useWorkedStage } from '../stage/useCorner';
import { useLoadProfile } from '../switches/profile';
import { sheddingChart } from './phaseCharts';
import type { Framed } from './framed';

/** How many phases should be at work over load, and what that gains. */
export function SheddingView({ frame }: Framed) {
  const worked = useWorkedStage();
  const profile = useLoadProfile((state) => state.profile);
  const question = useMemo(() => worked && { stage: worked.stage, profile }, [worked, profile]);
  const asked = useSurvey<NonNullable<typeof question>, Shedding | string | undefined>(question, (survey, of) =>
    survey.shedding(of.stage, of.profile),
  );
  return frame(
    <Answered of={asked} what="study of shedding" wait={<SurveyWait working />}>
      {(found) =>
        found === undefined ? (
          <SurveyWait working={false} />
        ) : typeof found === 'string' ? (
          <p className="quiet">{found}</p>
        ) : (
          <Found found={found} />
        )
      }
    </Answered>,
  );
}

function Found({ found }: { readonly found: Shedding }) {
  const chart = useMemo(() => sheddingChart(found), [found]);
  const { mean } = found;
  return (
    <>
      <CurveChart words="Efficiency with phases shed" {...chart} />
      {found.thresholds.length === 0 ? (
        <p>At every load looked at the same number of phases loses least: there is nothing to shed.</p>
      ) : (
        <table className="plain" aria-label="Thresholds of shedding">
          <thead>
            <tr>
              <th>phases at work</th>
              <th className="number">added above</th>
              <th className="number">dropped below</th>
            </tr>
          </thead>
          <tbody>
            {found.thresholds.map(({ from, to, add, drop }) => (
              <tr key={to}>
                <td>
                  {from} to {to}
                </td>
                <td className="number">{formatQuantity(add, 'A', 3)}</td>
                <td className="number">{formatQuantity(drop, 'A', 3)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <p className="small">
        {mean
          ? `Over the hours at each load (station Switches) ${formatQuantity(mean.lossOfAll - mean.loss, 'W', 3)} of ${formatQuantity(mean.lossOfAll, 'W', 3)} is saved on average.`
          : 'What it saves on average is not known: no hours are given, or one of their loads has no operating point.'}
      </p>
      <p className="small quiet">
        At {formatQuantity(found.inputVoltage, 'V', 3)} input. A phase that rests loses nothing; those at work are
        interleaved evenly, none carrying more than its share of full load. {(100 * HYSTERESIS).toFixed(0)} % of
        hysteresis either way is common practice; what adding a phase does to the output is not simulated here.
      </p>
    </>
  );
}

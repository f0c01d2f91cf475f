import { formatQuantity, type Shedding } from '@yundro/core';
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
  const asked = useSurvey<NonNullable<typeof worked>, Shedding | string | undefined>(worked, (survey, { stage }) =>
    survey.shedding(stage),
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
  const full = found.points.at(-1)?.load ?? 0;
  const hours = useLoadProfile((state) => state.profile);
  const saved = useMemo(() => savedOver(found, hours, full), [found, hours, full]);
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
      {saved !== undefined && (
        <p className="small">
          Over the hours at each load (station Switches) it saves {formatQuantity(saved.energy, 'W', 3)} on average, of{' '}
          {formatQuantity(saved.of, 'W', 3)}.
        </p>
      )}
      <p className="small quiet">
        At {formatQuantity(found.inputVoltage, 'V', 3)} input. A phase that rests loses nothing; those at work are
        interleaved evenly, none carrying more than its share of full load. 8 % of hysteresis either way is common
        practice; what adding a phase does to the output is not simulated here.
      </p>
    </>
  );
}

/** Mean loss saved over the hours at each load, and the mean loss without shedding, W. */
function savedOver(
  { points }: Shedding,
  profile: readonly { readonly share: number; readonly hours: number }[],
  full: number,
): { readonly energy: number; readonly of: number } | undefined {
  const total = profile.reduce((sum, { hours }) => sum + hours, 0);
  if (total <= 0) return undefined;
  let [energy, of] = [0, 0];
  for (const { share, hours } of profile) {
    const at = points.reduce((near, one) =>
      Math.abs(Math.log(one.load / (share * full))) < Math.abs(Math.log(near.load / (share * full))) ? one : near,
    );
    energy += (hours / total) * (at.lossOfAll - at.loss);
    of += (hours / total) * at.lossOfAll;
  }
  return { energy, of };
}

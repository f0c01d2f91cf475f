import { formatQuantity, HYSTERESIS, type Shedding, type Stage } from '@yundro/core';
import { useMemo } from 'react';
import { CurveChart } from '../charts/CurveChart';
import type { ChangedPhases, ShownChange } from '../engine/phaseSurvey';
import { ToldState } from '../engine/ToldState';
import { useSurvey } from '../engine/useSurvey';
import { useTold } from '../engine/useTold';
import { Answered, Failed } from '../shown/Answered';
import { SurveyWait } from '../stage/SurveyWait';
import { useWorkedStage } from '../stage/useCorner';
import { useLoadProfile } from '../switches/profile';
import { changeChart, sheddingChart } from './phaseCharts';
import type { Framed } from './framed';

/** How far a change takes the output. */
function swing(change: ShownChange | string | undefined) {
  if (change === undefined) return '…';
  if (typeof change === 'string') return <span title={change}>none</span>;
  const { below, above } = change;
  return `−${formatQuantity(below, 'V', 2)}, +${formatQuantity(above, 'V', 2)}`;
}

function sharedWords(change: ShownChange | string | undefined): string {
  if (change === undefined) return '…';
  if (typeof change === 'string') return '–';
  return change.shared === undefined ? 'not while watched' : formatQuantity(change.shared, 's', 2);
}

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
      {(found, { stage }) =>
        found === undefined ? (
          <SurveyWait working={false} />
        ) : typeof found === 'string' ? (
          <p className="quiet">{found}</p>
        ) : (
          <Found found={found} of={stage} />
        )
      }
    </Answered>,
  );
}

function Found({ found, of }: { readonly found: Shedding; readonly of: Stage }) {
  const chart = useMemo(() => sheddingChart(found), [found]);
  const question = useMemo(() => (found.thresholds.length > 0 ? { stage: of, found } : undefined), [found, of]);
  const told = useTold<NonNullable<typeof question>, readonly ChangedPhases[] | undefined>(
    question,
    (survey, asked, tell) => survey.phaseChanges(asked.stage, asked.found, tell),
  );
  const changes = useMemo(() => (told.stale === undefined ? (told.value ?? []) : []), [told.stale, told.value]);
  const changing = useMemo(() => changeChart(changes), [changes]);
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
              <th className="number">output, added</th>
              <th className="number">shared after</th>
              <th className="number">dropped below</th>
              <th className="number">output, dropped</th>
            </tr>
          </thead>
          <tbody>
            {found.thresholds.map(({ from, to, add, drop }) => {
              const change = changes.find((one) => one.to === to);
              return (
                <tr key={to}>
                  <td>
                    {from} to {to}
                  </td>
                  <td className="number">{formatQuantity(add, 'A', 3)}</td>
                  <td className="number">{swing(change?.added)}</td>
                  <td className="number">{sharedWords(change?.added)}</td>
                  <td className="number">{formatQuantity(drop, 'A', 3)}</td>
                  <td className="number">{swing(change?.dropped)}</td>
                </tr>
              );
            })}
          </tbody>
        </table>
      )}
      {question && (
        <p className="small mb-1" role="status">
          <ToldState
            of={told}
            at={`Changes are being simulated, ${String(changes.length)} of ${String(found.thresholds.length)}.`}
          />
        </p>
      )}
      {told.failure && <Failed what="simulation of a change" sentence={told.failure.sentence} retry={told.retry} />}
      {changing && <CurveChart words="Output as a phase is added" {...changing} />}
      <p className="small">
        {mean
          ? `Over the hours at each load (station Switches) ${formatQuantity(mean.lossOfAll - mean.loss, 'W', 3)} of ${formatQuantity(mean.lossOfAll, 'W', 3)} is saved on average.`
          : 'What it saves on average is not known: no hours are given, or one of their loads has no operating point.'}
      </p>
      <p className="small quiet">
        At {formatQuantity(found.inputVoltage, 'V', 3)} input. A phase that rests loses nothing; those at work are
        interleaved evenly, none carrying more than its share of full load. {(100 * HYSTERESIS).toFixed(0)} % of
        hysteresis either way is common practice. Output: how far it goes below and above its ripple as the change is
        simulated with the loop of this stage, a phase coming in without current; shared: until each carries nine tenths
        of its share.
      </p>
    </>
  );
}

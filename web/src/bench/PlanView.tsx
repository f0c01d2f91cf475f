import { formatQuantity, type PlanStep, type Reach } from '@yundro/core';
import { useMemo, useState } from 'react';
import { flushSync } from 'react-dom';
import { Button } from 'react-bootstrap';
import { useSurvey } from '../engine/useSurvey';
import { Answered } from '../shown/Answered';
import { SurveyWait } from '../stage/SurveyWait';
import { useWorkedStage } from '../stage/useCorner';
import type { BenchFramed } from './BenchStation';
import { useSetup } from './setup';

const volts = (value: number): string => formatQuantity(value, 'V', 3);
const amps = (value: number): string => formatQuantity(value, 'A', 3);

/** What to measure, in a safe order, within what the instruments reach. */
export function PlanView({ frame }: BenchFramed) {
  const worked = useWorkedStage();
  const instruments = useSetup((setup) => setup.instruments);
  const question = useMemo(() => worked && { ...worked, instruments }, [worked, instruments]);
  const asked = useSurvey<NonNullable<typeof question>, readonly PlanStep[] | string>(
    question,
    (survey, { stage, instruments: at }) => survey.testPlan(stage, at),
  );
  return frame({
    picture: (
      <Answered of={asked} what="plan" wait={<SurveyWait working />}>
        {(plan) => (typeof plan === 'string' ? <p className="quiet">{plan}</p> : <Steps plan={plan} />)}
      </Answered>
    ),
  });
}

function Steps({ plan }: { readonly plan: readonly PlanStep[] }) {
  const [all, setAll] = useState(false);
  const print = (): void => {
    // What is folded is not printed.
    flushSync(() => setAll(true));
    window.print();
  };
  return (
    <>
      <ol className="plan-steps" aria-label="Plan of tests">
        {plan.map((step) => (
          <li key={step.key} data-step={step.key}>
            <details key={String(all)} open={all || step.key === 'before-power' || step.key === 'first-power'}>
              <summary>
                {step.title} <Reached points={step.points} />
              </summary>
              {step.cautions.map((caution) => (
                <p key={caution} className="notice">
                  {caution}
                </p>
              ))}
              <ul>
                {step.does.map((one) => (
                  <li key={one}>{one}</li>
                ))}
              </ul>
              {step.goOn.length > 0 && (
                <p className="small">
                  <strong>Go on when</strong> {step.goOn.join(' ')}
                </p>
              )}
              {step.points.some(({ reached }) => !reached) && <OutOfReach points={step.points} />}
              {step.concludes.map((one) => (
                <p key={one} className="small">
                  {one}
                </p>
              ))}
            </details>
          </li>
        ))}
      </ol>
      <Button variant="plain" onClick={print}>
        Print
      </Button>
    </>
  );
}

function Reached({ points }: { readonly points: readonly Reach[] }) {
  const reached = points.filter((one) => one.reached).length;
  if (points.length === 0) return null;
  return (
    <span className={`small ${reached === points.length ? 'quiet' : 'tight'}`}>
      {reached === points.length
        ? 'all points within reach'
        : `${String(reached)} of ${String(points.length)} points within reach`}
    </span>
  );
}

function OutOfReach({ points }: { readonly points: readonly Reach[] }) {
  return (
    <table className="plain" aria-label="Points out of reach">
      <thead>
        <tr>
          <th className="number">input</th>
          <th className="number">load</th>
          <th>why not</th>
          <th>nearest within reach</th>
        </tr>
      </thead>
      <tbody>
        {points
          .filter(({ reached }) => !reached)
          .map(({ inputVoltage, outputCurrent, because, nearest }) => (
            <tr key={`${String(inputVoltage)} ${String(outputCurrent)}`}>
              <td className="number">{volts(inputVoltage)}</td>
              <td className="number">{amps(outputCurrent)}</td>
              <td>{because}</td>
              <td>{nearest ? `${amps(nearest.outputCurrent)} at ${volts(nearest.inputVoltage)}` : 'none'}</td>
            </tr>
          ))}
      </tbody>
    </table>
  );
}

import { formatQuantity, type PredictedStep } from '@yundro/core';
import { useMemo } from 'react';
import { CurveChart } from '../charts/CurveChart';
import type { Axis, Curve } from '../charts/curves';
import type { WorkedSteps } from '../engine/loopSurvey';
import { useSurvey } from '../engine/useSurvey';
import { Answered } from '../shown/Answered';
import { SurveyWait } from '../stage/SurveyWait';
import { useLookedAt } from '../stage/useCorner';

/** A step is drawn until this share of its largest change is left. */
const SETTLED = 0.1;

/** Both steps over one time: as long as the slower takes to settle, and a little more. */
function axesOf(steps: readonly PredictedStep[]): { readonly x: Axis; readonly y: Axis } {
  const last = Math.max(
    ...steps.map(({ time, change }) => {
      const largest = Math.max(...change.map(Math.abs));
      const settled = time[change.findLastIndex((value) => Math.abs(value) > SETTLED * largest)] ?? 0;
      return Math.min(time.at(-1) ?? 1, 1.3 * settled);
    }),
  );
  const reach = 1.15 * Math.max(...steps.flatMap(({ signal }) => [Math.max(...signal), -Math.min(...signal)]));
  return {
    x: { words: 'time after the step', unit: 's', min: 0, max: last },
    y: { words: 'output, from its average before', unit: 'V', min: -reach, max: reach },
  };
}

function curvesOf(step: PredictedStep, colour: string, end: number): readonly Curve[] {
  const points = step.time.findIndex((time) => time > end);
  const count = points < 0 ? step.time.length : points;
  const x = [...step.time.subarray(0, count)];
  const words = `${formatQuantity(step.from, 'A', 3)} to ${formatQuantity(step.to, 'A', 3)}`;
  return [
    { words: '', x, y: [...step.signal.subarray(0, count)], colour, dash: [] },
    {
      words,
      x,
      y: [...step.change.subarray(0, count)],
      colour: '--ink-2',
      dash: [4, 3],
      labelAt: 0.25 * end,
      labelAbove: step.to < step.from,
    },
  ];
}

/** The output after a step of load up and down, predicted from the closed loop. */
export function StepPicture() {
  const looked = useLookedAt();
  // The load is that of the step, not of the corner.
  const question = looked && { stage: looked.stage, inputVoltage: looked.inputVoltage };
  const asked = useSurvey(question, (survey, { stage, inputVoltage }) => survey.loadSteps(stage, inputVoltage));
  return (
    <Answered of={asked} what="load step" wait={<SurveyWait working />}>
      {(found, { stage, inputVoltage }) =>
        found ? (
          <Steps found={found} inputVoltage={inputVoltage} allowed={stage.targets.loadStep?.deviation} />
        ) : (
          <SurveyWait working={false} />
        )
      }
    </Answered>
  );
}

interface StepsProps {
  readonly found: WorkedSteps;
  readonly inputVoltage: number;
  readonly allowed: number | undefined;
}

function Steps({ found, inputVoltage, allowed }: StepsProps) {
  const charts = useMemo(() => {
    const steps = [found.up, found.down].filter((one): one is PredictedStep => typeof one === 'object');
    if (steps.length === 0) return undefined;
    const { x, y } = axesOf(steps);
    return { x, y, curves: steps.flatMap((step, k) => curvesOf(step, `--trace-${String(k + 1)}`, x.max)), steps };
  }, [found]);
  const reasons = [found.up, found.down].filter((one) => typeof one === 'string');
  return (
    <>
      {charts && (
        <CurveChart words="Output after a step of load" x={charts.x} y={charts.y} curves={charts.curves} marks={[]} />
      )}
      {reasons.length > 0 && <p className="quiet">There is no step to show: {reasons[0]}.</p>}
      {charts && (
        <table className="plain small" aria-label="Steps of load">
          <thead>
            <tr>
              <th>step</th>
              <th className="number">deviation</th>
              {allowed !== undefined && <th className="number">allowed</th>}
              <th className="number">within the band after</th>
              <th>remark</th>
            </tr>
          </thead>
          <tbody>
            {charts.steps.map(({ from, to, deviation, recoveryTime, band, beyond }) => (
              <tr key={`${String(from)} ${String(to)}`}>
                <td>
                  {formatQuantity(from, 'A', 3)} to {formatQuantity(to, 'A', 3)}
                </td>
                <td className="number">
                  {formatQuantity(deviation, 'V', 3)} {to > from ? 'under' : 'over'}
                </td>
                {allowed !== undefined && <td className="number">{formatQuantity(allowed, 'V', 3)}</td>}
                <td className="number">
                  {formatQuantity(recoveryTime, 's', 3)} (±{formatQuantity(band, 'V', 2)})
                </td>
                <td className="quiet">
                  {beyond
                    ? 'the duty ratio would leave its limits: expect more'
                    : 'the duty ratio keeps within its limits'}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <p className="small quiet">
        At {formatQuantity(inputVoltage, 'V', 3)} input. Linear about the steady state, the step at the clock and in no
        time; dashed without the ripple. Good to some percent while the duty ratio keeps within its limits.
      </p>
    </>
  );
}

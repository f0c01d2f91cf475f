import { formatQuantity, withValue, type Stage } from '@yundro/core';
import { useState } from 'react';
import { Button } from 'react-bootstrap';
import type { WorkedRun } from '../engine/transientSurvey';
import { Answered } from '../shown/Answered';
import { useSession } from '../stage/stageSession';
import { useRunOf, type RunQuestion } from '../transient/useRun';

interface Props {
  /** s, of the ramp at its shortest, over the tolerances: the most is charged in the least time. */
  readonly time: number;
  /** Whether the part is of an earlier edit. */
  readonly stale: boolean;
}

/** The start of the stage with the ramp of a soft-start capacitor, simulated when it is asked for: what its charging current comes to. */
export function SimulatedStart({ time, stale }: Props) {
  const stage = useSession((session) => session.document);
  const [wanted, setWanted] = useState<{ readonly of: Stage; readonly time: number; readonly run: RunQuestion }>();
  // Of another design, or another capacitor, it is asked for anew.
  const run = wanted && wanted.of === stage && wanted.time === time ? wanted.run : undefined;
  const { asked, part, stopped, stop } = useRunOf(run);
  const asks = (of: Stage): RunQuestion => ({
    stage: withValue(of, ['control', 'softStartTime'], time) as Stage,
    watched: 'start-up',
    inputVoltage: of.targets.inputVoltage.max,
  });
  return (
    <>
      <h2>Start, simulated</h2>
      <div className="part-acts mb-2">
        <Button
          variant="outline-secondary"
          disabled={stale || !stage || asked.working}
          onClick={() => stage && setWanted({ of: stage, time, run: asks(stage) })}
        >
          Simulate the start with it
        </Button>
        {asked.working && (
          <>
            <span role="status" className="quiet">
              {Math.round(100 * (part?.share ?? 0))} % of the start is simulated
            </span>
            <Button variant="plain" onClick={stop}>
              Stop
            </Button>
          </>
        )}
      </div>
      {run && !stopped && (
        <Answered of={asked} what="start" wait={null}>
          {(found, { stage: started }) =>
            found === undefined ? (
              <p role="status">The stage still lacks a part.</p>
            ) : found.kind === 'none' ? (
              <p role="status">There is no start to show: {found.reason}.</p>
            ) : (
              <Figures stage={started} run={found.run} />
            )
          }
        </Answered>
      )}
    </>
  );
}

interface FiguresProps {
  readonly stage: Stage;
  readonly run: WorkedRun['run'];
}

function Figures({ stage, run: { measures } }: FiguresProps) {
  const { control, targets } = stage;
  const limit = control.currentLimit;
  return (
    <p role="status">
      With the shortest ramp, {formatQuantity(control.softStartTime ?? 0, 's', 3)}, from{' '}
      {formatQuantity(targets.inputVoltage.max, 'V', 3)} into full load: choke up to{' '}
      {formatQuantity(measures.peakInductorCurrent, 'A', 3)}
      {limit === undefined
        ? ', and no limit is stated'
        : measures.peakInductorCurrent >= 0.99 * limit
          ? `, held by the limit of ${formatQuantity(limit, 'A', 3)}`
          : `, the limit at ${formatQuantity(limit, 'A', 3)}`}
      ; out of the source {measures.inrushIntegral.toPrecision(3)} A²s
      {measures.riseTime !== null && `; risen within ${formatQuantity(measures.riseTime, 's', 3)}`}; over its end by{' '}
      {formatQuantity(measures.overshoot, 'V', 3)}. Its waveforms stand at Transient once the time is taken.
    </p>
  );
}

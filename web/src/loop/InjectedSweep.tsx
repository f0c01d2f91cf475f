import { formatQuantity, type ResponsePoint, type Stage } from '@yundro/core';
import { proxy } from 'comlink';
import { useState } from 'react';
import { Button } from 'react-bootstrap';
import { useParams } from 'react-router';
import type { InjectedSweepEnd } from '../engine/loopTools';
import { useSurvey } from '../engine/useSurvey';
import type { LookedAt } from '../stage/useCorner';
import { addTrace, changeTrace, removeTrace } from './traces';

/** A sweep that was asked for, at the corner of its moment. */
interface Sweep {
  readonly stage: Stage;
  readonly inputVoltage: number;
  readonly outputCurrent: number;
  /** The page it is of, and the trace it is drawn as. */
  readonly page: string;
  readonly trace: string;
}

/**
 * The loop gain measured in the simulator, as a response analyser measures it on a board: a sine is injected and the answer of the
 * switched stage read, point by point, and laid over the calculated loop.
 */
export function InjectedSweep({
  looked,
}: {
  readonly looked: Pick<LookedAt, 'stage' | 'inputVoltage' | 'outputCurrent'>;
}) {
  const { id = '' } = useParams();
  const [sweep, setSweep] = useState<Sweep>();
  const [told, setTold] = useState<{ readonly of: Sweep; readonly points: number; readonly all: number }>();
  const asked = useSurvey<Sweep, InjectedSweepEnd>(sweep, (survey, of) => {
    const points: ResponsePoint[] = [];
    return survey.injectedLoop(
      of.stage,
      of.inputVoltage,
      of.outputCurrent,
      proxy((point: ResponsePoint, all: number) => {
        points.push(point);
        changeTrace(of.page, of.trace, { points: [...points] });
        setTold({ of, points: points.length, all });
      }),
    );
  });
  const answer = asked.answer?.question === sweep ? asked.answer : undefined;
  const reason = answer?.value.kind === 'failed' ? answer.value.reason : asked.failure?.sentence;
  const done = answer?.value.kind === 'swept';
  const begin = (): void => {
    const { stage, inputVoltage, outputCurrent } = looked;
    const words = `injected in the simulator, ${formatQuantity(inputVoltage, 'V', 3)}, ${formatQuantity(outputCurrent, 'A', 3)}`;
    const trace = addTrace(id, { kind: 'injected', words, taken: 'a sine of 0.02 % of the output', points: [] });
    setSweep({ stage, inputVoltage, outputCurrent, page: id, trace });
  };
  /** What was found stays; a trace of nothing does not. */
  const leave = (): void => {
    if (sweep && told?.of !== sweep) removeTrace(sweep.page, sweep.trace);
    setSweep(undefined);
  };
  if (!sweep || done)
    return (
      <Button
        variant="plain"
        onClick={begin}
        title="A response analyser in the simulator: a small sine is injected and the switched stage's answer read, frequency by frequency"
      >
        Inject in the simulator
      </Button>
    );
  if (reason !== undefined)
    return (
      <span role="alert">
        {told?.of === sweep ? 'The sweep ends here' : 'Nothing could be injected'}: {reason}.{' '}
        <Button variant="plain" onClick={leave}>
          Leave it
        </Button>
      </span>
    );
  return (
    <span role="status">
      Injecting{told?.of === sweep ? `, ${String(told.points)} of ${String(told.all)} frequencies` : ''} …{' '}
      <Button variant="plain" onClick={leave}>
        Stop
      </Button>
    </span>
  );
}

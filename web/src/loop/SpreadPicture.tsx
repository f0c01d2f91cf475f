import { formatQuantity, type Corner, type Stage } from '@yundro/core';
import { proxy, type Remote } from 'comlink';
import { useMemo, useState } from 'react';
import { Button } from 'react-bootstrap';
import { CurveChart } from '../charts/CurveChart';
import type { DrawnSample, SampleBatch } from '../engine/loopSurvey';
import type { Survey } from '../engine/survey.worker';
import { useSurvey } from '../engine/useSurvey';
import { useSession } from '../stage/stageSession';
import { useJudgedLoop } from './loopJudgement';
import { bandChart, cloudChart } from './spreadCharts';

/** Sets of parts that are scattered, and the workers that share them. */
const COUNT = 2000;
const PARTS = 2;

/** What one worker has told of so far. */
interface Told {
  readonly samples: readonly DrawnSample[];
  readonly batch: SampleBatch | undefined;
}
const NOTHING: Told = { samples: [], batch: undefined };

/** The samples of one part, as they come. */
function usePart(stage: Stage | undefined, corner: Corner | undefined, part: number) {
  const [told, setTold] = useState<Told & { readonly of: unknown }>();
  const ask = useMemo(
    () =>
      stage && corner
        ? async (survey: Remote<Survey>) => {
            let samples: readonly DrawnSample[] = [];
            return survey.sampleLoop(
              stage,
              corner,
              COUNT,
              part,
              PARTS,
              proxy((batch: SampleBatch) => {
                samples = [...samples, ...batch.samples];
                setTold({ of: stage, samples, batch });
              }),
            );
          }
        : undefined,
    [stage, corner, part],
  );
  const { found, working } = useSurvey(ask);
  const current: Told = told !== undefined && stage !== undefined && told.of === stage ? told : NOTHING;
  return { told: current, reason: found, working: ask !== undefined && working };
}

/** The corner with the least phase margin. */
function useWorstCorner(): Corner | undefined {
  const judged = useJudgedLoop();
  return useMemo(() => {
    let worst: { readonly corner: Corner; readonly margin: number } | undefined;
    for (const { corner, loop } of judged?.corners ?? []) {
      if (loop.kind !== 'solved') continue;
      const margin = !loop.stable ? -360 : loop.phaseMargin.kind === 'found' ? loop.phaseMargin.value : 360;
      if (!worst || margin < worst.margin) worst = { corner, margin };
    }
    return worst?.corner;
  }, [judged]);
}

/** Two thousand sets of parts at the worst corner: the cloud of their margins, the band of their gains, and the yield. */
export function SpreadPicture() {
  const stage = useSession((session) => session.worked?.stage);
  const corner = useWorstCorner();
  const [asked, setAsked] = useState<Stage>();
  // An edit ends what was asked for.
  const running = asked !== undefined && asked === stage ? asked : undefined;
  const even = usePart(running, corner, 0);
  const odd = usePart(running, corner, 1);
  const samples = useMemo(() => [...even.told.samples, ...odd.told.samples], [even.told.samples, odd.told.samples]);
  const batches = useMemo(
    () => [even.told.batch, odd.told.batch].filter((one) => one !== undefined),
    [even.told.batch, odd.told.batch],
  );
  const cloud = useMemo(
    () => (stage && samples.length > 0 ? cloudChart(samples, stage.targets) : undefined),
    [samples, stage],
  );
  const band = useMemo(() => (batches.length > 0 ? bandChart(batches) : undefined), [batches]);
  const working = running !== undefined && (even.working || odd.working);
  const good = samples.filter(({ pass }) => pass).length;
  const reason = even.reason ?? odd.reason;
  if (!stage || !corner) return <p className="quiet">There are no margins to scatter yet.</p>;
  return (
    <>
      <p className="small mb-1" role="status" data-testid="spread-reading">
        {running === undefined && (
          <Button variant="plain" onClick={() => setAsked(stage)}>
            Scatter {COUNT} sets of parts
          </Button>
        )}
        {working && (
          <Button variant="plain" onClick={() => setAsked(undefined)}>
            Stop
          </Button>
        )}{' '}
        {samples.length > 0 &&
          `${working ? `${((100 * samples.length) / COUNT).toFixed(0)} % worked: ` : ''}${String(good)} of ${String(samples.length)} keep margins and stability, a yield of ${((100 * good) / samples.length).toFixed(1)} %. `}
        At the worst corner, {formatQuantity(corner.inputVoltage, 'V', 3)},{' '}
        {formatQuantity(corner.outputCurrent, 'A', 3)}.{reason !== undefined && ` None is worked: ${reason}.`}
      </p>
      {cloud && band && (
        <div className="two-charts">
          <CurveChart words="Margins of every set of parts" {...cloud} />
          <CurveChart words="Loop gain of every set of parts" {...band} />
        </div>
      )}
      <p className="small quiet">
        Filled points fail. Every value lies evenly and independently within its tolerance: as stated with the part,
        else what is usual (inductor 20 %, ceramic 10 %, electrolytic, polymer and tantalum 20 %, ESR 30 %,
        on-resistance 15 %, resistors 1 %, capacitors 5 %, controller 10 %; common practice). The exact loop of each set
        is worked. The input voltage and load stay.
      </p>
    </>
  );
}

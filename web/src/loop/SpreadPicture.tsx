import { formatQuantity, type Corner, type Missed, type Stage } from '@yundro/core';
import { usualTolerances } from './usualTolerances';
import { proxy } from 'comlink';
import { useEffect, useMemo, useState } from 'react';
import { Button } from 'react-bootstrap';
import { CurveChart } from '../charts/CurveChart';
import type { DrawnSample, SampleBatch } from '../engine/loopSurvey';
import { useSurvey } from '../engine/useSurvey';
import { Failed } from '../shown/Answered';
import { useSession } from '../stage/stageSession';
import { useJudgedLoop } from '../ledger/loopJudgement';
import { tellYield } from '../ledger/spreadYield';
import { bandChart, cloudChart } from './spreadCharts';

/** Sets of parts that are scattered, and the workers that share them. */
const COUNT = 2000;
const PARTS = 2;

/** A scatter that was asked for: it stays what it is, whatever is edited or looked at meanwhile. */
interface Scatter {
  readonly stage: Stage;
  readonly corner: Corner;
}

/** What one worker has told of so far, of the scatter it belongs to. */
interface Told {
  readonly of: Scatter;
  readonly samples: readonly DrawnSample[];
  readonly batch: SampleBatch | undefined;
}

/** The samples of one part, as they come; they stay when the work is stopped. */
function usePart(scatter: Scatter, running: boolean, part: number) {
  const [told, setTold] = useState<Told>();
  const asked = useSurvey(running ? { scatter, part } : undefined, (survey, { scatter: of, part: own }) => {
    let samples: readonly DrawnSample[] = [];
    const tell = (batch: SampleBatch): void => {
      samples = [...samples, ...batch.samples];
      setTold({ of, samples, batch });
    };
    return survey.sampleLoop(of.stage, of.corner, COUNT, own, PARTS, proxy(tell));
  });
  return { told: told?.of === scatter ? told : undefined, asked };
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
  const [scatter, setScatter] = useState<Scatter>();
  const [running, setRunning] = useState(false);
  const start = (): void => {
    if (!stage || !corner) return;
    setScatter({ stage, corner });
    setRunning(true);
  };
  if (!scatter && (!stage || !corner)) return <p className="quiet">There are no margins to scatter yet.</p>;
  return (
    <>
      {!(running && scatter?.stage === stage) && (
        <Button variant="plain" disabled={!stage || !corner} onClick={start}>
          Scatter {COUNT} sets of parts
        </Button>
      )}
      {scatter && (
        <Scattered
          scatter={scatter}
          // An edit ends the work; what there is of it stays, and says of what it is.
          running={running && scatter.stage === stage}
          present={scatter.stage === stage}
          onStop={() => setRunning(false)}
        />
      )}
      <p className="small quiet">
        Filled points fail. Every value lies evenly and independently within its tolerance: as stated with the part,
        else what is usual ({usualTolerances()}; common practice). The exact loop of each set is worked. The input
        voltage and load stay.
      </p>
    </>
  );
}

/** What those that fail do not keep, and how many of them, the most first. */
function missedWords(samples: readonly DrawnSample[]): string {
  const counts = new Map<Missed, number>();
  for (const { misses } of samples) for (const one of misses) counts.set(one, (counts.get(one) ?? 0) + 1);
  const words = [...counts].sort(([, a], [, b]) => b - a).map(([what, count]) => `${what} ${String(count)}`);
  return `Missed: ${words.join(', ')}`;
}

interface ScatteredProps {
  readonly scatter: Scatter;
  readonly running: boolean;
  /** Whether the design is still the one that was scattered. */
  readonly present: boolean;
  readonly onStop: () => void;
}

function Scattered({ scatter, running, present, onStop }: ScatteredProps) {
  const { stage, corner } = scatter;
  const even = usePart(scatter, running, 0);
  const odd = usePart(scatter, running, 1);
  const samples = useMemo(() => [...(even.told?.samples ?? []), ...(odd.told?.samples ?? [])], [even.told, odd.told]);
  const batches = useMemo(
    () => [even.told?.batch, odd.told?.batch].filter((one) => one !== undefined),
    [even.told, odd.told],
  );
  useEffect(() => tellYield({ stage, corner, samples }), [stage, corner, samples]);
  const cloud = useMemo(() => (samples.length > 0 ? cloudChart(samples, stage.targets) : undefined), [samples, stage]);
  const band = useMemo(() => (batches.length > 0 ? bandChart(batches) : undefined), [batches]);
  const working = running && (even.asked.working || odd.asked.working);
  const good = samples.filter(({ misses }) => misses.length === 0).length;
  const failed = [even.asked, odd.asked].find(({ failure }) => failure !== undefined);
  const reason = even.asked.answer?.value ?? odd.asked.answer?.value;
  const state = working
    ? `${((100 * samples.length) / COUNT).toFixed(0)} % worked: `
    : samples.length < COUNT
      ? `Stopped at ${((100 * samples.length) / COUNT).toFixed(0)} %: `
      : '';
  return (
    <>
      <p className="small mb-1" role="status" data-testid="spread-reading">
        {working && (
          <Button variant="plain" onClick={onStop}>
            Stop
          </Button>
        )}{' '}
        {samples.length > 0 &&
          `${state}${String(good)} of ${String(samples.length)} keep margins and stability, a yield of ${((100 * good) / samples.length).toFixed(1)} %. `}
        {good < samples.length && `${missedWords(samples)}. `}
        At the worst corner, {formatQuantity(corner.inputVoltage, 'V', 3)},{' '}
        {formatQuantity(corner.outputCurrent, 'A', 3)}.{!present && ' This is the design before the last edit.'}
        {reason !== undefined && ` None is worked: ${reason}.`}
      </p>
      {failed?.failure && (
        <Failed what="further set of parts" sentence={failed.failure.sentence} retry={failed.retry} />
      )}
      {cloud && band && (
        <div className={`two-charts answered ${present ? '' : 'stale'}`}>
          <CurveChart words="Margins of every set of parts" {...cloud} />
          <CurveChart words="Loop gain of every set of parts" {...band} />
        </div>
      )}
    </>
  );
}

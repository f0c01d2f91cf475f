import type { SequenceStep, Stage, Waveforms } from '@yundro/core';
import { proxy } from 'comlink';
import { useMemo, useState } from 'react';
import type { NoRun, RunSofar, Watched, WorkedRun } from '../engine/transientSurvey';
import type { Asked } from '../engine/useInquiry';
import { useSurvey } from '../engine/useSurvey';
import { useLookedAt } from '../stage/useCorner';

/** A run that is asked for. The loads of a load step are those of the targets: then the corner's has no say. */
export interface RunQuestion {
  readonly stage: Stage;
  readonly watched: Watched;
  readonly inputVoltage: number;
  readonly outputCurrent?: number;
  /** Of a sequence alone. */
  readonly sequence?: readonly SequenceStep[];
}

/** What there is of a run that is not over. */
export interface PartOfRun {
  readonly of: RunQuestion;
  /** 0 to 1 */
  readonly share: number;
  readonly waveforms: Waveforms | undefined;
  /** s, where it will end. */
  readonly until: number;
}

export interface AskedRun {
  readonly asked: Asked<RunQuestion, WorkedRun | NoRun | undefined>;
  /** How far the run is that is asked for; undefined while it has not begun. What was there of one that was stopped stays. */
  readonly part: PartOfRun | undefined;
  /** Whether it was stopped by hand. */
  readonly stopped: boolean;
  readonly stop: () => void;
  readonly go: () => void;
}

const LOADS_OF_THE_TARGETS: ReadonlySet<Watched> = new Set(['load-up', 'load-down', 'alternating']);

/** One run at the corner looked at, in a worker that can be stopped. */
export function useRun(watched: Watched, steps?: readonly SequenceStep[]): AskedRun {
  const looked = useLookedAt();
  const stage = looked?.stage;
  const inputVoltage = looked?.inputVoltage;
  const outputCurrent = LOADS_OF_THE_TARGETS.has(watched) ? undefined : looked?.outputCurrent;
  const sequence = watched === 'sequence' ? steps : undefined;
  const question = useMemo(
    (): RunQuestion | undefined =>
      stage && inputVoltage !== undefined
        ? {
            stage,
            watched,
            inputVoltage,
            ...(outputCurrent !== undefined && { outputCurrent }),
            ...(sequence && { sequence }),
          }
        : undefined,
    [stage, watched, inputVoltage, outputCurrent, sequence],
  );
  return useRunOf(question);
}

/** A run of any question, told of as it goes, in a worker that can be stopped; undefined asks for none. */
export function useRunOf(question: RunQuestion | undefined): AskedRun {
  const [told, setTold] = useState<PartOfRun>();
  const [stoppedAt, setStoppedAt] = useState<RunQuestion>();
  const stopped = question !== undefined && stoppedAt === question;
  const asked = useSurvey<RunQuestion, WorkedRun | NoRun | undefined>(
    stopped ? undefined : question,
    (survey, of, alive) =>
      survey.transientRun(
        of,
        proxy(({ share, waveforms, until }: RunSofar) => {
          alive();
          setTold((before) => ({
            of,
            share,
            until,
            waveforms: waveforms ?? (before?.of === of ? before.waveforms : undefined),
          }));
        }),
      ),
  );
  return {
    asked,
    part: question !== undefined && told?.of === question ? told : undefined,
    stopped,
    stop: () => setStoppedAt(question),
    go: () => setStoppedAt(undefined),
  };
}

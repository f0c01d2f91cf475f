import type { JudgedLoop, Stage, Verdict } from '@yundro/core';
import type { Remote } from 'comlink';
import { useEffect, useMemo } from 'react';
import { create } from 'zustand';
import type { Survey } from '../engine/survey.worker';
import { useSurvey } from '../engine/useSurvey';
import { useSession } from '../stage/stageSession';

interface LoopJudgement {
  /** The stage the judgement belongs to. */
  readonly stage: Stage | undefined;
  readonly judged: JudgedLoop | undefined;
}

const useJudgement = create<LoopJudgement>()(() => ({ stage: undefined, judged: undefined }));
const NONE: readonly Verdict[] = [];

/** Keeps the loop judged at every corner, after every edit, in a worker that no edit waits for. To be mounted once. */
export function useWorkLoop(): void {
  const asked = useSession((session) => (session.worked?.evaluation ? session.worked.stage : undefined));
  const ask = useMemo(
    () =>
      asked &&
      (async (survey: Remote<Survey>): Promise<LoopJudgement> => ({
        stage: asked,
        judged: await survey.judgeLoop(asked),
      })),
    [asked],
  );
  const { found } = useSurvey(ask);
  useEffect(() => {
    if (found) useJudgement.setState(found);
  }, [found]);
}

/** The judgement on the stage on the screen; undefined while it is being worked. */
export function useJudgedLoop(): JudgedLoop | undefined {
  const asked = useSession((session) => session.worked?.stage);
  return useJudgement(({ stage, judged }) => (stage !== undefined && stage === asked ? judged : undefined));
}

/** The verdicts on the loop of the stage on the screen. */
export function useLoopVerdicts(): readonly Verdict[] {
  return useJudgedLoop()?.verdicts ?? NONE;
}

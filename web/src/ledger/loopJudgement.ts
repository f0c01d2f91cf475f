import type { JudgedLoop } from '@yundro/core';
import { useEffect } from 'react';
import { create } from 'zustand';
import type { Asked } from '../engine/useInquiry';
import { useSurvey } from '../engine/useSurvey';
import { useJudgedStage, type OfStage } from './fullLedger';
import { useSession } from '../stage/stageSession';

type Judged = JudgedLoop | undefined;
type AskedLoop = Asked<OfStage, Judged>;

const NOT_ASKED: AskedLoop = {
  question: undefined,
  answer: undefined,
  failure: undefined,
  working: false,
  retry: () => undefined,
};
const useJudgement = create<{ readonly asked: AskedLoop }>()(() => ({ asked: NOT_ASKED }));

/** Keeps the loop judged at every corner, after every edit, in a worker that no edit waits for. To be mounted once. */
export function useWorkLoop(): AskedLoop {
  const asked = useSurvey<OfStage, Judged>(useJudgedStage(), (survey, { stage }) => survey.judgeLoop(stage));
  useEffect(() => {
    useJudgement.setState({ asked });
  }, [asked]);
  return asked;
}

/** The judgement as it stands: of the stage on the screen, or of the one before it while that is worked. */
export const useAskedLoop = (): AskedLoop => useJudgement(({ asked }) => asked);

/** The judgement on the stage on the screen; undefined while it is being worked. */
export function useJudgedLoop(): JudgedLoop | undefined {
  const stage = useSession((session) => session.worked?.stage);
  return useJudgement(({ asked: { answer } }) =>
    answer !== undefined && answer.question.stage === stage ? answer.value : undefined,
  );
}

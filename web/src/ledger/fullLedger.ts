import type { LedgerLine, Stage } from '@yundro/core';
import { useEffect, useMemo } from 'react';
import { create } from 'zustand';
import type { Answer } from '../engine/inquiry';
import type { Asked } from '../engine/useInquiry';
import { useSurvey } from '../engine/useSurvey';
import { useSession } from '../stage/stageSession';

/** A question about a stage as a whole. */
export interface OfStage {
  readonly stage: Stage;
}
type Lines = readonly LedgerLine[] | undefined;

const useFullLedger = create<{ readonly answer: Answer<OfStage, Lines> | undefined; readonly working: boolean }>()(
  () => ({ answer: undefined, working: false }),
);

/** The stage on the screen, where it could be worked. */
export function useJudgedStage(): OfStage | undefined {
  const stage = useSession((session) => (session.worked?.evaluation ? session.worked.stage : undefined));
  return useMemo(() => stage && { stage }, [stage]);
}

/** Keeps the full ledger worked, after every edit, in a worker that no edit waits for. To be mounted once. */
export function useWorkFullLedger(): Asked<OfStage, Lines> {
  const asked = useSurvey<OfStage, Lines>(useJudgedStage(), (survey, { stage }) => survey.ledger(stage));
  const { answer, working } = asked;
  useEffect(() => {
    useFullLedger.setState({ answer, working });
  }, [answer, working]);
  return asked;
}

/** The full line of a target for the stage on the screen; undefined while it is being worked. */
export function useFullLine(target: string | undefined): LedgerLine | undefined {
  const stage = useSession((session) => session.worked?.stage);
  return useFullLedger(({ answer }) =>
    answer !== undefined && answer.question.stage === stage
      ? answer.value?.find((line) => line.target === target)
      : undefined,
  );
}

/** The full ledger of the stage on the screen; undefined while it is being worked. */
export function useFullLines(): Lines {
  const stage = useSession((session) => session.worked?.stage);
  return useFullLedger(({ answer }) =>
    answer !== undefined && answer.question.stage === stage ? answer.value : undefined,
  );
}

/** Whether the full ledger is being worked; not once it has failed. */
export const useFullLedgerWorking = (): boolean => useFullLedger(({ working }) => working);

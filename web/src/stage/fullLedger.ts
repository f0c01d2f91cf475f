import type { LedgerLine, Stage } from '@yundro/core';
import type { Remote } from 'comlink';
import { useEffect, useMemo } from 'react';
import { create } from 'zustand';
import type { Survey } from '../engine/survey.worker';
import { useSurvey } from '../engine/useSurvey';
import { useSession } from './stageSession';

interface FullLedger {
  /** The stage the lines belong to. */
  readonly stage: Stage | undefined;
  readonly lines: readonly LedgerLine[];
}

const useFullLedger = create<FullLedger>()(() => ({ stage: undefined, lines: [] }));

/** Keeps the full ledger worked, after every edit, in a worker that no edit waits for. To be mounted once. */
export function useWorkFullLedger(): { readonly working: boolean } {
  const asked = useSession((session) => (session.worked?.evaluation ? session.worked.stage : undefined));
  const ask = useMemo(
    () =>
      asked &&
      (async (survey: Remote<Survey>): Promise<FullLedger> => ({
        stage: asked,
        lines: (await survey.ledger(asked)) ?? [],
      })),
    [asked],
  );
  const { found, working } = useSurvey(ask);
  useEffect(() => {
    if (found) useFullLedger.setState(found);
  }, [found]);
  return { working: working && asked !== undefined };
}

/** The full line of a target for the stage on the screen; undefined while it is being worked. */
export function useFullLine(target: string | undefined): LedgerLine | undefined {
  const asked = useSession((session) => session.worked?.stage);
  return useFullLedger(({ stage, lines }) =>
    stage !== undefined && stage === asked ? lines.find((line) => line.target === target) : undefined,
  );
}

import type { LeastMargin } from '@yundro/core';
import { useEffect, useMemo } from 'react';
import { create } from 'zustand';
import type { Asked } from '../engine/useInquiry';
import { useSession } from '../stage/stageSession';
import { groupsOf, smaller, unjudgedLine, type Groups, type Line, type Unjudged } from './lines';

/** What one source of verdicts has to say of the stage on the screen. */
export interface Judgement {
  /** What is missing where it gives no answer, in words. */
  readonly what: string;
  readonly lines: readonly Line[];
  /** What the evaluation calls not judged, and this judges: by the words it has there. */
  readonly settles: readonly string[];
  /** What of its own it cannot judge as the stage stands. */
  readonly unjudged: readonly Unjudged[];
  /** What of it is nearest to failing at each corner, in the order of the corners worked. */
  readonly least: readonly (LeastMargin | undefined)[];
  readonly asked: Pick<Asked<unknown, unknown>, 'failure' | 'working' | 'retry'>;
}

const useJudgements = create<{ readonly bySource: Readonly<Record<string, Judgement>> }>()(() => ({ bySource: {} }));

/** Lay a judgement before the ledger, for as long as its source lives. */
export function useJudges(source: string, judgement: Judgement): void {
  useEffect(() => {
    useJudgements.setState(({ bySource }) => ({ bySource: { ...bySource, [source]: judgement } }));
  }, [source, judgement]);
  useEffect(
    () => () =>
      useJudgements.setState(({ bySource }) => ({
        bySource: Object.fromEntries(Object.entries(bySource).filter(([key]) => key !== source)),
      })),
    [source],
  );
}

export const useAllJudgements = (): Readonly<Record<string, Judgement>> => useJudgements(({ bySource }) => bySource);

const NONE: readonly string[] = [];

/** The lines of the stage on the screen, in groups. */
export function useLedger(): Groups {
  const bySource = useAllJudgements();
  const notJudged = useSession((session) => session.worked?.evaluation?.notJudged) ?? NONE;
  return useMemo(() => {
    const all = Object.values(bySource);
    const settled = new Set(all.flatMap((one) => one.settles));
    return groupsOf(
      all.flatMap((one) => one.lines),
      [...all.flatMap((one) => one.unjudged), ...notJudged.filter((words) => !settled.has(words)).map(unjudgedLine)],
    );
  }, [bySource, notJudged]);
}

/** What is nearest to failing at each corner, whoever judges it. */
export function useCornerMargins(): readonly (LeastMargin | undefined)[] {
  const bySource = useAllJudgements();
  return useMemo(() => {
    const all = Object.values(bySource).map(({ least }) => least);
    return Array.from({ length: Math.max(0, ...all.map(({ length }) => length)) }, (_, k) =>
      all.reduce<LeastMargin | undefined>((least, source) => smaller(least, source[k]), undefined),
    );
  }, [bySource]);
}

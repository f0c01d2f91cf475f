import {
  evaluateStage,
  judgeLoop,
  judgeTransient,
  unjudgedLoop,
  problemsSentence,
  transientSettles,
  verdictSummary,
  withLoop,
  type Stage,
  type StageRow,
} from '@yundro/core';

export type Summary = StageRow['summary'];

/** Why there are no verdicts, as a summary. */
export const notWorked = (why: string): Summary => ({
  state: 'not-worked',
  verdicts: null,
  tightest: null,
  reason: `Not worked: ${why}`,
});

/** Verdict counts of a stage, loop and all, and what of it is tightest. Takes from milliseconds to longer than anyone waits: not for a thread that answers. */
export function summarise(stage: Stage): Summary {
  try {
    const evaluated = evaluateStage(stage);
    if (!evaluated.ok)
      return { state: 'worked', verdicts: null, tightest: null, reason: problemsSentence(evaluated.problems) };
    const judged = judgeLoop(evaluated.value);
    const withMargins = withLoop(evaluated.value, judged).evaluation;
    const transient = judgeTransient(evaluated.value.complete);
    const settled = transientSettles(transient);
    const verdicts = [...withMargins.verdicts, ...transient.verdicts];
    const notJudged = withMargins.notJudged.filter((words) => !settled.includes(words));
    const withoutLoop = unjudgedLoop(stage, judged) === undefined ? 0 : 1;
    const [tightest] = verdicts.toSorted((a, b) => (a.margin ?? -Infinity) - (b.margin ?? -Infinity));
    return {
      state: 'worked',
      verdicts: { ...verdictSummary(verdicts), notJudged: notJudged.length + withoutLoop },
      tightest: tightest ? { quantity: tightest.quantity, margin: tightest.margin } : null,
      reason: null,
    };
  } catch (error) {
    const cause = error instanceof Error ? (error.message.split('\n')[0] ?? '') : String(error);
    return notWorked(`the engine broke down over it (${cause.slice(0, 120)}).`);
  }
}

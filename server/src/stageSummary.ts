import {
  evaluateStage,
  judgeLoop,
  problemsSentence,
  verdictSummary,
  withLoop,
  type Stage,
  type StageRow,
} from '@yundro/core';

type Summary = StageRow['summary'];

/** Most summaries kept; the oldest goes first. */
const KEPT = 500;

function summarise(stage: Stage): Summary {
  const evaluated = evaluateStage(stage);
  if (!evaluated.ok) return { verdicts: null, reason: problemsSentence(evaluated.problems) };
  const { verdicts } = withLoop(evaluated.value, judgeLoop(evaluated.value)).evaluation;
  return { verdicts: { ...verdictSummary(verdicts) }, reason: null };
}

/** Verdict counts for the shelf, worked once per stage and revision. */
export class StageSummaries {
  private readonly known = new Map<string, Summary>();

  of(id: string, revision: number, stage: Stage): Summary {
    const key = `${id}:${String(revision)}`;
    const found = this.known.get(key);
    if (found) return found;
    const made = summarise(stage);
    this.known.set(key, made);
    const [oldest] = this.known.keys();
    if (this.known.size > KEPT && oldest !== undefined) this.known.delete(oldest);
    return made;
  }
}

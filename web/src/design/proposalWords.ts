import type { Objective } from '@yundro/core';
import type { ProposedDesign } from '../engine/designSurvey';

/** What a design is chosen by, in words. */
export const OBJECTIVE_WORDS = {
  balanced: 'loss, board and price',
  efficiency: 'least loss',
  size: 'least board',
  cost: 'least price',
} as const satisfies Record<Objective, string>;

/** How a proposed design stands to its targets: what it misses, what holds, and of what nothing was judged. */
export function standing({
  missed,
  simulated,
  noLoop,
  notJudged,
}: Pick<ProposedDesign, 'missed' | 'simulated' | 'noLoop' | 'notJudged'>): string {
  const unjudged = notJudged.length > 0 ? ` Not judged: ${notJudged.join(', ')}.` : '';
  if (missed.length > 0) return `It misses ${missed.join(', ')}.${unjudged}`;
  if (noLoop !== undefined) return `What is judged holds, but it has no loop: ${noLoop}.${unjudged}`;
  if (notJudged.length > 0) return `What is judged holds.${unjudged}`;
  return simulated
    ? 'Every target holds, the simulated load step among them.'
    : 'Every target holds; no load step is asked for.';
}

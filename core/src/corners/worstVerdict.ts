import type { Corner } from './corners.js';
import { marginOf, type TargetRule } from './targetRules.js';
import type { Verdict } from './verdict.js';

/** A rule without the way it gets its number. */
export type Judged = Omit<TargetRule, 'actual'>;

/** The number judged at a corner; or why there is none, which fails; or undefined where the target says nothing. */
export interface Actual {
  readonly corner: Corner;
  readonly actual: number | { readonly reason: string } | undefined;
}

/** The verdict of a rule at its worst corner; undefined where no corner has anything to say. */
export function worstVerdict(rule: Judged, actuals: Iterable<Actual>): Verdict | undefined {
  const { target, quantity, unit, sense, required, figure } = rule;
  const base = { target, quantity, unit, sense, required, figure };
  let verdict: Verdict | undefined;
  for (const { corner, actual } of actuals) {
    if (actual === undefined) continue;
    if (typeof actual === 'object')
      return { ...base, worst: null, margin: null, pass: false, corner, reason: actual.reason };
    const margin = marginOf(rule, actual);
    // The first of equal corners is kept, so that the worst one named does not depend on rounding.
    if (verdict?.margin !== undefined && verdict.margin !== null && margin >= verdict.margin - 1e-9) continue;
    verdict = { ...base, worst: actual, margin, pass: margin >= 0, corner };
  }
  return verdict;
}

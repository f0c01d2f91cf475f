import { marginOf } from './targetRules.js';
import type { Judged } from './worstVerdict.js';

/** The target that is nearest to failing at one corner, loop or not. @public */
export interface LeastMargin {
  readonly target: string;
  readonly quantity: string;
  /** As a verdict's; null where the corner gives no number, which fails. */
  readonly margin: number | null;
}

/** A rule and what it finds at one corner. */
export interface Found {
  readonly rule: Judged;
  readonly actual: number | { readonly reason: string } | undefined;
}

/** The least of the margins at one corner; undefined where nothing is asked there. */
export function leastMargin(found: Iterable<Found>): LeastMargin | undefined {
  let least: LeastMargin | undefined;
  for (const { rule, actual } of found) {
    if (actual === undefined) continue;
    const { target, quantity } = rule;
    if (typeof actual === 'object') return { target, quantity, margin: null };
    const margin = marginOf(rule, actual);
    if (least?.margin !== undefined && least.margin !== null && margin >= least.margin) continue;
    least = { target, quantity, margin };
  }
  return least;
}

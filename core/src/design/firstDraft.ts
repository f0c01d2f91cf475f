import type { EvaluatedStage } from '../corners/evaluate.js';
import type { Inventory } from '../library/inventory.js';
import { sizeStage } from '../sizing/size.js';
import type { Stage } from '../stage/schema.js';
import type { Objective } from './merit.js';
import { workedWith } from './powerParts.js';
import { Search, unrecorded } from './search.js';

/** A stage with parts from records for its ripple and its heat, before its loop and its load step: some tenths of a second. */
export interface FirstDraft {
  readonly search: Search;
  readonly evaluated: EvaluatedStage;
  /** Targets it misses, in words. */
  readonly misses: readonly string[];
}

/** The targets at full load alone: a fifth of the corners, and those that decide about ripple, heat and currents. */
const atFullLoad = ({ targets, ...rest }: Stage): Stage => ({
  ...rest,
  targets: { ...targets, outputCurrent: { min: targets.outputCurrent.max, max: targets.outputCurrent.max } },
});

/**
 * The best draft of a stage at the first frequency it allows, chosen at full load and judged at every corner; undefined where its targets
 * make no stage.
 */
export function firstDraft(asked: Stage, inventory: Inventory, objective: Objective): FirstDraft | undefined {
  const heavy = atFullLoad(asked);
  const first = sizeStage(heavy);
  if (!first.ok) return undefined;
  const drafting = new Search(heavy, inventory, objective);
  const [draft] = drafting.drafts(first.value);
  if (!draft) return undefined;
  const chosen = drafting.banked(draft).evaluated.complete.stage;
  const evaluated = workedWith(chosen, { targets: asked.targets });
  if (!evaluated) return undefined;
  const search = new Search(asked, inventory, objective);
  const lacking = unrecorded(asked, evaluated.complete.stage);
  return {
    search,
    evaluated,
    misses: [
      ...evaluated.evaluation.verdicts.flatMap(({ pass, quantity }) => (pass ? [] : [quantity])),
      ...(lacking > 0 ? [`${String(lacking)} part${lacking > 1 ? 's' : ''} that no record is`] : []),
    ],
  };
}

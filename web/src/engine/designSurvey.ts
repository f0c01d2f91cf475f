import {
  designStage,
  problemsSentence,
  type Choice,
  type Figures,
  type Inventory,
  type Concession,
  type Objective,
  type Rival,
  type Stage,
} from '@yundro/core';

/** What of a design crosses to the page: the stage and what is said of it. */
export interface ProposedDesign {
  readonly kind: 'design';
  readonly stage: Stage;
  readonly figures: Figures;
  readonly choices: readonly Choice[];
  /** Targets that are missed, in words. */
  readonly missed: readonly string[];
  /** Whether a load step is among what was judged; targets that nothing judges; what the losses leave out, a sentence each. */
  readonly simulated: boolean;
  readonly notJudged: readonly string[];
  readonly notIncluded: readonly string[];
  readonly noLoop: string | undefined;
  readonly noController: string | undefined;
  /** What else was drafted, the nearest first. */
  readonly drafts: readonly Rival[];
  readonly nearest: readonly (Concession & { readonly words: string })[];
}

export interface NoDesign {
  readonly kind: 'none';
  readonly reason: string;
}

/** Questions about a stage from records. */
export const designSurvey = {
  /** A stage designed from records: what is present stays, what is absent is chosen. */
  designed(
    stage: Stage,
    inventory: Inventory,
    objective: Objective,
    tell: (share: number, leading: string | undefined) => void,
  ): ProposedDesign | NoDesign {
    const found = designStage(stage, inventory, objective, tell);
    if (!found.ok) return { kind: 'none', reason: problemsSentence(found.problems) };
    const { design, drafts, nearest, noController } = found.value;
    const { evaluation } = design.evaluated;
    const names = new Map(evaluation.verdicts.map(({ target, quantity }) => [target, quantity]));
    return {
      kind: 'design',
      stage: evaluation.stage,
      figures: design.figures,
      choices: design.choices,
      missed: evaluation.verdicts.flatMap(({ pass, quantity }) => (pass ? [] : [quantity])),
      simulated: evaluation.verdicts.some(({ figure }) => figure === 'transient'),
      notJudged: evaluation.notJudged,
      notIncluded: evaluation.notIncluded,
      noLoop: design.noLoop,
      noController,
      drafts,
      nearest: nearest.map((one) => ({ ...one, words: names.get(one.target) ?? one.target.replace(/^targets\./, '') })),
    };
  },
};
